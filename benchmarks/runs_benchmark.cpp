// SPDX-License-Identifier: GPL-3.0-or-later
// What runs cost: a thousand of them read, told apart, and two sets laid over each other.
#include "core/runs/run_comparison.h"
#include "core/runs/run_intake.h"
#include "support/random_job.h"

#include <benchmark/benchmark.h>

#include <cmath>

using namespace wheelwright;

namespace {

// Three contents by turns, five hundred rows each with torque and three lanes.
const Job &jobOfRuns(std::size_t count) {
    static std::map<std::size_t, Job> made;
    const auto [at, fresh] = made.try_emplace(count, testing::demoJob());
    if (!fresh) return at->second;
    Job &job = at->second;
    for (std::size_t i = 0; i < count; ++i) {
        FoundPull pull;
        pull.samples.columns = {{ChannelRole::rpm, "rpm", "rpm", 1, 0, {}},
                                {ChannelRole::torque, "torque", "nm", 1, 0, {}},
                                {ChannelRole::map, "map", "kPa", 1, 0, {}},
                                {ChannelRole::lambda, "lambda", "", 1, 0, {}},
                                {ChannelRole::spark, "spark", "deg", 1, 0, {}}};
        const double off = std::sin(static_cast<double>(i) * 12.9898);
        for (int k = 0; k < 500; ++k) {
            const double rpm = 2500 + 9 * k;
            pull.samples.columns[0].numbers.push_back(rpm);
            pull.samples.columns[1].numbers.push_back(300 - (rpm - 4500) * (rpm - 4500) * 1e-5 + off);
            pull.samples.columns[2].numbers.push_back(180 + off);
            pull.samples.columns[3].numbers.push_back(0.8);
            pull.samples.columns[4].numbers.push_back(15);
        }
        RunStatement s;
        s.name = "made";
        s.content = 0.1 + 0.3 * static_cast<double>(i % 3);
        s.mode = RunMode::inertia;
        s.order = static_cast<double>(i % 12 + 1);
        s.startIntakeC = 40;
        addRuns(job, {pull}, s);
    }
    return job;
}

MeasuredRuns measuredAll(const Job &job) {
    MeasuredRuns out;
    for (const Run &r : job.runs.values())
        out.push_back(measured(r));
    return out;
}

void readRuns(benchmark::State &state) {
    const Job &job = jobOfRuns(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state)
        benchmark::DoNotOptimize(measuredAll(job));
}
BENCHMARK(readRuns)->Arg(12)->Arg(1000)->Unit(benchmark::kMillisecond);

void tellRunsApart(benchmark::State &state) {
    const Job &job = jobOfRuns(static_cast<std::size_t>(state.range(0)));
    const MeasuredRuns runs = measuredAll(job);
    for (auto _ : state) {
        const RunDifferenceFinder finder(job);
        benchmark::DoNotOptimize(finder.controlSets(runs));
    }
}
BENCHMARK(tellRunsApart)->Arg(12)->Arg(1000)->Unit(benchmark::kMillisecond);

void compareSets(benchmark::State &state) {
    const Job &job = jobOfRuns(1000);
    const MeasuredRuns runs = measuredAll(job);
    MeasuredRuns a, b;
    for (std::size_t i = 0; i < 6; ++i)
        (i % 3 == 0 ? a : b).push_back(runs[i]);
    for (auto _ : state)
        benchmark::DoNotOptimize(compareRuns(job, a, b, {}, runs));
}
BENCHMARK(compareSets)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
