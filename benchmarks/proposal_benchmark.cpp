// SPDX-License-Identifier: GPL-3.0-or-later
// What proposals cost: ceilings learned from so many logs of a hidden engine, and the same asked for at
// another content; all contents of fuel solved, and shown at another content.
#include "closed_engines.h"
#include "core/proposal/learned_ceilings.h"
#include "core/proposal/proposed_map.h"

#include <benchmark/benchmark.h>

using namespace wheelwright;
using namespace wheelwright::closed;

namespace {

struct Logged {
    std::shared_ptr<const Study> study;
    std::vector<std::shared_ptr<const LogReview>> logs;
};

// Three contents by turns, with pulls that knock here and there.
const Logged &logged() {
    static const Logged made = [] {
        constexpr std::size_t count = 24;
        const Job start = demoWithSpark(1);
        const HiddenEngine engine = drawEngine(Study(start), 3);
        constexpr std::array contents{0.10, 0.60, 0.85};
        Job job = start;
        std::vector<PracticeLog> runs;
        for (std::size_t i = 0; i < count; ++i) {
            runs.emplace_back(withSparkMoved(start, static_cast<double>(i) / 8), engine,
                              pullsAt(contents[i % 3]), 2);
            job = runs.back().in(job, "a" + std::to_string(i));
        }
        Logged out{std::make_shared<const Study>(job), {}};
        for (std::size_t i = 0; i < count; ++i)
            out.logs.push_back(runs[i].review(job, "a" + std::to_string(i)));
        return out;
    }();
    return made;
}

void learnCeilingsOf(benchmark::State &state) {
    const std::span<const std::shared_ptr<const LogReview>> logs(logged().logs.data(),
                                                                 static_cast<std::size_t>(state.range(0)));
    double trials = 0;
    for (auto _ : state) {
        const LearnedCeilings learned = learnCeilings(*logged().study, logs);
        trials = static_cast<double>(learned.trials().trials.size());
    }
    state.counters["trials"] = trials;
}
BENCHMARK(learnCeilingsOf)->Arg(6)->Arg(24)->Unit(benchmark::kMillisecond);

void ceilingsAtAnotherContent(benchmark::State &state) {
    LearnedCeilings learned = learnCeilings(*logged().study, logged().logs);
    double content = 0.2;
    for (auto _ : state) {
        content = content > 0.8 ? 0.2 : content + 0.001; // one that nobody has asked for
        benchmark::DoNotOptimize(learned.at(content));
    }
}
BENCHMARK(ceilingsAtAnotherContent)->Unit(benchmark::kMillisecond);

void jointMapFirst(benchmark::State &state) {
    ProposedOptions options;
    options.content = 0.4;
    for (auto _ : state) {
        ProposalBasis basis(logged().study, logged().logs);
        benchmark::DoNotOptimize(proposedMap(ProposalKind::joint, basis, options));
    }
}
BENCHMARK(jointMapFirst)->Unit(benchmark::kMillisecond);

void jointMapAtAnotherContent(benchmark::State &state) {
    ProposalBasis basis(logged().study, logged().logs);
    ProposedOptions options;
    options.content = 0.4;
    benchmark::DoNotOptimize(proposedMap(ProposalKind::joint, basis, options));
    for (auto _ : state) {
        options.content = options.content > 0.8 ? 0.2 : options.content + 0.01;
        benchmark::DoNotOptimize(proposedMap(ProposalKind::joint, basis, options));
    }
}
BENCHMARK(jointMapAtAnotherContent)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
