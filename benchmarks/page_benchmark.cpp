// SPDX-License-Identifier: GPL-3.0-or-later
// What every edit costs while the hand-over is shown, and what saving it costs.
#include "core/report/handover_reports.h"
#include "core/verify/verdict.h"
#include "pages/fonts.h"
#include "pages/report_pages.h"
#include "support/random_job.h"

#include <QGuiApplication>

#include <benchmark/benchmark.h>

using namespace wheelwright;

namespace {

constexpr const char *today = "2026-11-29";

FlowLook look() {
    FlowLook out{std::make_shared<const Study>(testing::demoJob()), nullptr, 0.4};
    out.verdict = verify(out.study);
    return out;
}

void handoverInWords(benchmark::State &state) {
    const FlowLook of = look();
    for (auto _ : state)
        benchmark::DoNotOptimize(handover(of, {}, today));
}
BENCHMARK(handoverInWords)->Unit(benchmark::kMillisecond);

void handoverAsPictures(benchmark::State &state) {
    const Report report = handover(look(), {}, today).report;
    constexpr int width = 700;
    std::size_t pages = 0;
    for (auto _ : state)
        pages = reportPictures(report, {}, Paper::a4, width).size();
    state.counters["pages"] = static_cast<double>(pages);
}
BENCHMARK(handoverAsPictures)->Unit(benchmark::kMillisecond);

void handoverAsPdf(benchmark::State &state) {
    const Report report = handover(look(), {}, today).report;
    std::size_t bytes = 0;
    for (auto _ : state)
        bytes = reportPdf(report, {}, Paper::a4).size();
    state.counters["kB"] = static_cast<double>(bytes) / 1000;
}
BENCHMARK(handoverAsPdf)->Unit(benchmark::kMillisecond);

void handoverAsHtml(benchmark::State &state) {
    const Report report = handover(look(), {}, today).report;
    for (auto _ : state)
        benchmark::DoNotOptimize(htmlPage(report, {}));
}
BENCHMARK(handoverAsHtml)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char **argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication app(argc, argv);
    loadPageFonts();
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
