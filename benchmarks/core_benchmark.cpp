// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"
#include "core/job/work_line.h"
#include "core/practice/practice_run.h"
#include "core/study/fuel_comparison.h"
#include "core/study/headroom.h"
#include "core/study/pour_request.h"
#include "core/study/school.h"
#include "core/study/spark_estimate.h"
#include "core/verify/verdict.h"
#include "formats/job_json.h"
#include "support/random_job.h"

#include <benchmark/benchmark.h>

#include <array>
#include <random>
#include <span>

using namespace wheelwright;

namespace {

// The demo job on 64 × 64 breakpoints: the largest that a job may hold.
Job largestJob() {
    Job job = testing::demoJob();
    for (const TableField &field : allTables()) {
        const Table2D &t = field.of(job);
        std::vector<double> x, y;
        for (std::size_t i = 0; i < Axis::mostPoints; ++i) {
            const double share = static_cast<double>(i) / (Axis::mostPoints - 1);
            x.push_back(t.x().first() + share * (t.x().last() - t.x().first()));
            y.push_back(t.y().first() + share * (t.y().last() - t.y().first()));
        }
        std::vector<double> cells;
        for (double yv : y)
            for (double xv : x)
                cells.push_back(t.lookup(xv, yv).value);
        field.of(job) = Table2D(Axis(x), Axis(y), cells);
    }
    return job;
}

// The whole sweep: 101 contents, cells and mid-points, every check. Marks: 8 ms on 24 × 24 and 60 on 64 × 64,
// on one core.
void verifySweep24(benchmark::State &state) {
    const Job job = testing::demoJob();
    for (auto _ : state)
        benchmark::DoNotOptimize(verify(job));
}
BENCHMARK(verifySweep24)->Unit(benchmark::kMillisecond);

void verifySweep64(benchmark::State &state) {
    const Job job = largestJob();
    for (auto _ : state)
        benchmark::DoNotOptimize(verify(job));
}
BENCHMARK(verifySweep64)->Unit(benchmark::kMillisecond);

// What the sweep is made of: the look-ups, then each check alone.
void evaluate24(benchmark::State &state) {
    const Job job = testing::demoJob();
    for (auto _ : state)
        benchmark::DoNotOptimize(Study(job).evaluation());
}
BENCHMARK(evaluate24)->Unit(benchmark::kMillisecond);

void oneCheck(benchmark::State &state, const Check &check) {
    const Study study(testing::demoJob());
    for (auto _ : state)
        benchmark::DoNotOptimize(check.run(study.evaluation()));
}

void blendOneTable(benchmark::State &state) {
    const Study study(testing::demoJob());
    for (auto _ : state)
        benchmark::DoNotOptimize(study.blended(CalibratedQuantity::spark, 0.52));
}
BENCHMARK(blendOneTable)->Unit(benchmark::kMicrosecond);

void lookUpOnePoint(benchmark::State &state) {
    const Job job = testing::demoJob();
    double rpm = 700;
    for (auto _ : state) {
        rpm = rpm < 7400 ? rpm + 13 : 700;
        benchmark::DoNotOptimize(job.calibration.of(CalibratedQuantity::spark).base.lookup(rpm, 163));
    }
}
BENCHMARK(lookUpOnePoint);

// As benchmarks/against_numpy has it: every per cent of content, all four tables, 24 × 24.
void blendEveryContent(benchmark::State &state) {
    const Job job = testing::demoJob();
    std::array<std::vector<double>, calibratedQuantityCount> out;
    for (const CalibratedQuantity q : allQuantities)
        out[static_cast<std::size_t>(q)].resize(101 * job.calibration.of(q).base.cells().size());
    for (auto _ : state) {
        const SchoolModel school(job);
        for (std::size_t percent = 0; percent <= 100; ++percent) {
            const auto ends = school.at(static_cast<double>(percent) / 100);
            for (std::size_t q = 0; q < out.size(); ++q) {
                const std::size_t cells = ends[q].low->cells().size();
                blendCells(ends[q], std::span(out[q]).subspan(percent * cells, cells));
            }
        }
        benchmark::DoNotOptimize(out);
    }
}
BENCHMARK(blendEveryContent)->Unit(benchmark::kMicrosecond);

void lookUpASeries(benchmark::State &state) {
    constexpr std::size_t points = 100000;
    const Table2D table = testing::demoJob().calibration.of(CalibratedQuantity::spark).base;
    std::mt19937 random(2);
    std::uniform_real_distribution<double> rpm(700, 7400), load(20, 280);
    std::vector<double> x(points), y(points), out(points);
    for (std::size_t i = 0; i < points; ++i) {
        x[i] = rpm(random);
        y[i] = load(random);
    }
    for (auto _ : state) {
        for (std::size_t i = 0; i < points; ++i)
            out[i] = table.lookup(x[i], y[i]).value;
        benchmark::DoNotOptimize(out.data());
    }
}
BENCHMARK(lookUpASeries)->Unit(benchmark::kMicrosecond);

// A job of many dyno days: each revision with a cell of its own changed.
Job jobOfManyDays(std::size_t revisions) {
    Job job = testing::demoJob();
    Table2D &spark = job.calibration.of(CalibratedQuantity::spark).top;
    for (std::size_t i = 0; i < revisions; ++i) {
        const CellIndex cell{i % spark.x().size(), i / spark.x().size()};
        spark.setCell(cell, spark.cell(cell) - 0.5);
        keepRevision(job, "Day " + std::to_string(i), "2001-02-03", "", false);
    }
    spark.setCell({0, 0}, spark.cell(0, 0) - 1);
    return job;
}

// The whole line, as it is opened. Marks: 200 revisions are the most that there may be.
void lineOfWork(benchmark::State &state) {
    const Job job = jobOfManyDays(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state)
        benchmark::DoNotOptimize(workLineOf(job));
}
BENCHMARK(lineOfWork)->Arg(5)->Arg(20)->Arg(200)->Unit(benchmark::kMillisecond);

// How far now is from the last revision, after every edit.
void sinceTheLastRevision(benchmark::State &state) {
    const Job job = jobOfManyDays(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state)
        benchmark::DoNotOptimize(workLineOf(job, ChangesOf::now));
}
BENCHMARK(sinceTheLastRevision)->Arg(5)->Arg(200)->Unit(benchmark::kMillisecond);

void readJobDocument(benchmark::State &state) {
    const std::string text = jobToJson(testing::demoJob());
    for (auto _ : state)
        benchmark::DoNotOptimize(jobFromJson(text));
}
BENCHMARK(readJobDocument)->Unit(benchmark::kMillisecond);

// Every plan of the demo's tank and shelf, whole cans among them. The mark: under 10 ms.
void planEveryPour(benchmark::State &state) {
    const PourRequest request = pourRequestOf(testing::demoJob(), 0.40);
    for (auto _ : state)
        benchmark::DoNotOptimize(planPour(request));
}
BENCHMARK(planEveryPour)->Unit(benchmark::kMicrosecond);

// The worst that a shelf may hold: eight fuels, all in cans of 5 L, a large tank nearly empty.
void planLargestShelf(benchmark::State &state) {
    PourRequest request{120, 10, 0.2, 0.43, std::nullopt, {}};
    for (int i = 0; i < 8; ++i) {
        ShelfFuel fuel;
        fuel.content = 0.05 + 0.12 * i;
        fuel.canL = 5;
        fuel.availableL = 20;
        request.shelf.push_back(fuel);
    }
    for (auto _ : state)
        benchmark::DoNotOptimize(planPour(request));
}
BENCHMARK(planLargestShelf)->Unit(benchmark::kMillisecond);

// What is asked anew after every edit; the mark: under 50 ms.
void frontierOfTheDemo(benchmark::State &state) {
    const Job job = testing::demoJob();
    for (auto _ : state)
        benchmark::DoNotOptimize(frontier(Study(job)));
}
BENCHMARK(frontierOfTheDemo)->Unit(benchmark::kMillisecond);

void compareTheShelf(benchmark::State &state) {
    const Study study(testing::demoJob());
    const auto verdict = verify(study.job());
    for (auto _ : state)
        benchmark::DoNotOptimize(compareFuels(study, "2026-11-23", injectorDutyOver(verdict)));
}
BENCHMARK(compareTheShelf)->Unit(benchmark::kMicrosecond);

// Knock limit and best spark in 24 × 24 cells at eleven contents. Mark: 2 s on one core.
void estimateElevenContents(benchmark::State &state) {
    const Study study(testing::demoJob());
    for (auto _ : state)
        for (int i = 0; i <= 10; ++i)
            benchmark::DoNotOptimize(estimateTable(study, i / 10.0));
}
BENCHMARK(estimateElevenContents)->Unit(benchmark::kMillisecond);

// Cycles at the step of tables and practice: one alone, and eight side by side.
void oneCycle(benchmark::State &state) {
    const Cylinder cylinder(CylinderShape{}, 2);
    const Charge charge{180, 340, 2500, 95, 2};
    for (auto _ : state)
        benchmark::DoNotOptimize(cylinder.cycle(charge, Burn{}, 4000, 20));
}
BENCHMARK(oneCycle)->Unit(benchmark::kMicrosecond);

void eightCycles(benchmark::State &state) {
    const Cylinder cylinder(CylinderShape{}, 2);
    const std::vector<Charge> charges(8, Charge{180, 340, 2500, 95, 2});
    const std::vector<Burn> burns(8);
    const std::vector<double> rpm(8, 4000), spark(8, 20);
    std::vector<CycleResult> out(8);
    for (auto _ : state) {
        cylinder.cycles(charges, burns, rpm, spark, out);
        benchmark::DoNotOptimize(out.data());
    }
    state.SetItemsProcessed(state.iterations() * 8);
}
BENCHMARK(eightCycles)->Unit(benchmark::kMicrosecond);

// A practice engine at 100 rows a second: how many seconds of it go by in one. Mark: 20.
void practiceSeconds(benchmark::State &state) {
    const auto study = std::make_shared<const Study>(testing::demoJob());
    PracticeEngine engine(study, drawEngine(*study, 1));
    Drive drive;
    drive.heldRpm = 4500;
    drive.throttlePercent = 70;
    for (auto _ : state)
        for (int i = 0; i < 100; ++i)
            benchmark::DoNotOptimize(engine.step(drive));
    state.SetItemsProcessed(state.iterations());
}
BENCHMARK(practiceSeconds)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char **argv) {
    for (const Check *check : allChecks())
        if (check->runs(testing::demoJob(), Proof{}))
            benchmark::RegisterBenchmark(("oneCheck/" + std::string(check->id)).c_str(), oneCheck, *check)
                ->Unit(benchmark::kMicrosecond);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
