// SPDX-License-Identifier: GPL-3.0-or-later
// Logs coming in and lying there. Marks: a million rows of 20 columns at six times the C reader of pandas on
// one core and ten times on two (against_pandas); ten such logs cost an opening and an edit nothing.
#include "core/evidence/log_review.h"
#include "core/verify/verdict.h"
#include "formats/job_json.h"
#include "formats/log_import/log_import.h"
#include "store/job_editor.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"
#include "support/random_job.h"

#include <benchmark/benchmark.h>

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <random>
#include <unistd.h>

using namespace wheelwright;
namespace fs = std::filesystem;

namespace {

constexpr std::size_t columns = 20;

// Walks with one to three digits behind the point, as sensors are logged.
std::string textOfRows(std::size_t rows, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> step(0, 1);
    std::string text = "time_s,rpm,map_kpa,throttle_percent,lambda,lambda_target,spark_deg,knock_retard_deg,"
                       "ethanol_percent,fuel_c,intake_c,coolant_c,pulse_ms,duty_percent,rail_kpa,oil_kpa,"
                       "battery_v,exhaust_c,boost_target_kpa,solenoid_percent\n";
    constexpr std::array<int, columns> decimals{2, 0, 1, 1, 3, 3, 1, 1, 1, 1, 1, 1, 3, 1, 1, 0, 2, 0, 1, 1};
    std::array<double, columns> at{};
    at.fill(500);
    char number[32];
    for (std::size_t i = 0; i < rows; ++i)
        for (std::size_t c = 0; c < columns; ++c) {
            at[c] = c == 0 ? static_cast<double>(i) * 0.01 : std::abs(at[c] + step(random));
            const int size = std::snprintf(number, sizeof number, "%.*f%c", decimals[c], at[c],
                                           c + 1 < columns ? ',' : '\n');
            text.append(number, static_cast<std::size_t>(size));
        }
    return text;
}

const std::string &million() {
    static const std::string text = textOfRows(1'000'000, 1);
    return text;
}

class Nowhere : public SampleSink {
  public:
    void put(std::size_t, std::span<const double> samples) override {
        benchmark::DoNotOptimize(samples.data());
    }
};

void readMillionRows(benchmark::State &state) {
    const LogText bytes(million());
    LogReading how;
    how.threads = static_cast<unsigned>(state.range(0));
    for (auto _ : state) {
        Nowhere sink;
        openLog(bytes)->read(sink, how);
    }
    state.SetBytesProcessed(static_cast<std::int64_t>(state.iterations() * million().size()));
}
BENCHMARK(readMillionRows)
    ->Arg(1)
    ->Arg(2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime()
    ->MeasureProcessCPUTime();

class Folder {
  public:
    Folder() {
        std::string name = (fs::temp_directory_path() / "benchmark-XXXXXX").string();
        if (!::mkdtemp(name.data())) std::abort();
        m_path = name;
    }
    ~Folder() { fs::remove_all(m_path); }
    fs::path job() const { return m_path / "a.wwjob"; }

  private:
    fs::path m_path;
};

void addRows(JobEditor &editor, std::string_view text, const std::string &name) {
    const LogText bytes(text);
    const auto source = openLog(bytes);
    const TakenLog taken = takeLog(editor.store(), bytes, *source, suggestMap(source->layout()), {}, {});
    editor.write(editor.plan(
                     [&](Job &job) {
                         addLog(job, taken.summary, {name, "2001-02-03", "", {}, ""});
                     },
                     {}),
                 "log", "2001-02-03");
}

// Into a job file, packed and named.
void importMillionRows(benchmark::State &state) {
    for (auto _ : state) {
        state.PauseTiming();
        const Folder folder;
        { JobStore::create(folder.job(), testing::demoJob(), "2001-02-03"); }
        JobEditor editor(JobStore::open(folder.job()));
        state.ResumeTiming();
        addRows(editor, million(), "a.csv");
    }
}
BENCHMARK(importMillionRows)->Unit(benchmark::kMillisecond)->UseRealTime()->MeasureProcessCPUTime();

// A job with so many logs of a million rows in its file.
const Folder &jobWithLogs(int logs) {
    static std::map<int, Folder> folders;
    const auto [at, fresh] = folders.try_emplace(logs);
    if (fresh) {
        { JobStore::create(at->second.job(), testing::demoJob(), "2001-02-03"); }
        JobEditor editor(JobStore::open(at->second.job()));
        for (int i = 0; i < logs; ++i)
            addRows(editor, textOfRows(1'000'000, static_cast<unsigned>(i) + 10), std::to_string(i));
    }
    return at->second;
}

void openJobWithLogs(benchmark::State &state) {
    const fs::path path = jobWithLogs(static_cast<int>(state.range(0))).job();
    for (auto _ : state)
        benchmark::DoNotOptimize(JobStore::open(path).read());
}
BENCHMARK(openJobWithLogs)->Arg(0)->Arg(10)->Unit(benchmark::kMillisecond);

void editJobWithLogs(benchmark::State &state) {
    JobEditor editor(JobStore::open(jobWithLogs(static_cast<int>(state.range(0))).job()));
    int n = 0;
    for (auto _ : state)
        editor.write(editor.plan([&](Job &job) { job.engine.revLimitRpm = 7000 + ++n % 100; }, {}), "edit",
                     "2001-02-03");
}
BENCHMARK(editJobWithLogs)->Arg(0)->Arg(10)->Unit(benchmark::kMillisecond)->UseRealTime();

// What drawing asks for: all levels of a channel, and the samples of a small part.
void levelsOfAChannel(benchmark::State &state) {
    const fs::path path = jobWithLogs(10).job();
    const std::string id = JobStore::open(path).read().logs[0].id;
    const SampleReader reader(path);
    for (auto _ : state)
        benchmark::DoNotOptimize(reader.levels(id, 2));
}
BENCHMARK(levelsOfAChannel)->Unit(benchmark::kMicrosecond);

void samplesOfAChannel(benchmark::State &state) {
    const fs::path path = jobWithLogs(10).job();
    const std::string id = JobStore::open(path).read().logs[0].id;
    const SampleReader reader(path);
    for (auto _ : state)
        benchmark::DoNotOptimize(reader.read(id, 2, 500'000, 20'000));
}
BENCHMARK(samplesOfAChannel)->Unit(benchmark::kMicrosecond);

// All that is said of a log: episodes, rules, cleaning, content, what the tables ask for.
void reviewMillionRows(benchmark::State &state) {
    const fs::path path = jobWithLogs(1).job();
    const Job job = JobStore::open(path).read();
    const SampleReader reader(path);
    const LogInfo &info = job.logs.values()[0];
    for (auto _ : state)
        benchmark::DoNotOptimize(
            LogReview(job, info, [&](std::size_t series) { return reader.read(info.id, series); }));
}
BENCHMARK(reviewMillionRows)->Unit(benchmark::kMillisecond);

// What a click on a cell waits for: when logs have been there.
void visitsOfACellInMillionRows(benchmark::State &state) {
    const fs::path path = jobWithLogs(1).job();
    const Job job = JobStore::open(path).read();
    const SampleReader reader(path);
    const LogInfo &info = job.logs.values()[0];
    const std::vector<std::shared_ptr<const LogReview>> logs{std::make_shared<const LogReview>(
        job, info, [&](std::size_t series) { return reader.read(info.id, series); })};
    const Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
    const CellArea area = areaOf(spark.x(), spark.y(), spark.x().size() / 2, spark.y().size() / 2);
    for (auto _ : state)
        benchmark::DoNotOptimize(visitsOf(logs, area));
}
BENCHMARK(visitsOfACellInMillionRows)->Unit(benchmark::kMillisecond);

void coverageOfMillionRows(benchmark::State &state) {
    const fs::path path = jobWithLogs(1).job();
    const Job job = JobStore::open(path).read();
    const SampleReader reader(path);
    const LogReview review(job, job.logs.values()[0],
                           [&](std::size_t series) { return reader.read(job.logs.values()[0].id, series); });
    const Study study(job);
    for (auto _ : state) {
        Coverage coverage(study);
        coverage.add(review.watched(), review.cleaned(), review.info(), true);
        benchmark::DoNotOptimize(coverage.proof());
    }
}
BENCHMARK(coverageOfMillionRows)->Unit(benchmark::kMillisecond);

// A verdict without and with a proof: the logs themselves are not read for it.
void verdictWithProof(benchmark::State &state) {
    const auto study = std::make_shared<const Study>(testing::demoJob());
    const Coverage coverage(*study);
    const Proof proof = state.range(0) == 0 ? Proof() : coverage.proof();
    for (auto _ : state)
        benchmark::DoNotOptimize(verify(study, proof));
}
BENCHMARK(verdictWithProof)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

} // namespace

// --write-text FILE: the same rows for another program to read.
int main(int argc, char **argv) {
    if (argc == 3 && std::string_view(argv[1]) == "--write-text") {
        std::FILE *f = std::fopen(argv[2], "wb");
        if (!f) return 2;
        std::fwrite(million().data(), 1, million().size(), f);
        return std::fclose(f) == 0 ? 0 : 2;
    }
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
