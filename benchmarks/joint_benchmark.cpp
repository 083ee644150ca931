// SPDX-License-Identifier: GPL-3.0-or-later
// All contents at once: a million samples, two tables of 24 × 24 and 21 nodes, 1173 unknowns. Samples follow
// one another through the cells as those of a log do.
#include "core/proposal/joint_system.h"
#include "core/tables/table2d.h"

#include <benchmark/benchmark.h>

#include <cmath>
#include <random>

using namespace wheelwright;

namespace {

constexpr std::size_t points = 24, rows = 1'000'000;

std::vector<double> even(double from, double to, std::size_t count) {
    std::vector<double> out;
    for (std::size_t i = 0; i < count; ++i)
        out.push_back(from + (to - from) * static_cast<double>(i) / static_cast<double>(count - 1));
    return out;
}

struct Million {
    std::vector<JointTableShape> shapes;
    std::vector<double> nodes = even(0, 1, 21);
    std::vector<bool> pinned = std::vector<bool>(21);
    std::vector<JointRow> equations;

    Million() {
        const Axis rpm(even(700, 7400, points)), load(even(20, 280, points));
        for (const double value : {70.0, 95.0})
            shapes.push_back({rpm, load, std::vector<double>(points * points, value)});
        pinned[2] = pinned[17] = true;
        std::mt19937 random(1);
        std::normal_distribution<double> step(0, 1), noise(0, 0.01);
        double r = 3000, l = 100, c = 0.1;
        for (std::size_t i = 0; i < rows; ++i) {
            if (i % 100'000 == 0) c = 0.10 + 0.07 * static_cast<double>(i / 100'000);
            r = std::clamp(r + 25 * step(random), 700.0, 7400.0);
            l = std::clamp(l + 1.5 * step(random), 20.0, 280.0);
            JointRow row;
            row.highTable = 1;
            row.lowX = row.highX = rpm.locate(r);
            row.lowY = row.highY = load.locate(l);
            const double w = std::clamp((c - 0.1) / 0.75, 0.0, 1.0), whole = (1 - w) * 70 + w * 95;
            row.lowShare = (1 - w) / whole;
            row.highShare = w / whole;
            row.node = static_cast<std::uint32_t>(std::min(19.0, c * 20));
            row.along = c * 20 - row.node;
            row.error = 0.03 * std::sin(r / 900) + noise(random);
            row.fold = static_cast<std::uint32_t>(i / 100'000);
            equations.push_back(row);
        }
    }
};
const Million &million() {
    static const Million m;
    return m;
}

// Mark: 150 ms on one core: sums, solution and every standard error.
void jointMillion(benchmark::State &state) {
    const Million &m = million();
    JointSystem system(m.shapes, m.nodes, m.pinned);
    system.add(m.equations);
    for (auto _ : state)
        benchmark::DoNotOptimize(system.solve({}, false));
    state.counters["unknowns"] = static_cast<double>(system.unknowns());
}
BENCHMARK(jointMillion)->Unit(benchmark::kMillisecond);

// The same with robust weights: four times over the samples.
void jointMillionRobust(benchmark::State &state) {
    const Million &m = million();
    JointSystem system(m.shapes, m.nodes, m.pinned);
    system.add(m.equations);
    for (auto _ : state)
        benchmark::DoNotOptimize(system.solve({}));
}
BENCHMARK(jointMillionRobust)->Unit(benchmark::kMillisecond);

void jointArrange(benchmark::State &state) {
    const Million &m = million();
    for (auto _ : state) {
        JointSystem system(m.shapes, m.nodes, m.pinned);
        system.add(m.equations);
        benchmark::DoNotOptimize(system.unknowns());
    }
}
BENCHMARK(jointArrange)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
