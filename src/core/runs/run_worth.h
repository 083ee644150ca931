// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/spark_sweep.h"
#include "core/runs/run_comparison.h"

#include <optional>

namespace wheelwright {

/// What a gain comes to for each unit of something that differs.
struct WorthOf {
    std::string_view what; ///< of the difference: "spark"
    PhraseText title;
    double step = 0; ///< by which it differs
    Dimension dimension = Dimension::none;
    double kwPer = 0, kwPerHalf = 0; ///< for each degree, kPa, per cent of content, 0.01 of λ; ± 95 %, not a
                                     ///< number where not judged
    bool alone = false; ///< nothing else differs that the comparison does not take out
};
/// For spark, boost, content and λ, where they differ.
std::vector<WorthOf> worthOf(const RunComparison &comparison);

/// What a fuel costs at a content: the cheapest mixture of two fuels of the shelf that have a price; empty
/// where none reaches it.
std::optional<double> pricePerLitre(const Job &job, double content);

/// The fuel of some runs against that of others, by the tank.
struct FuelMoney {
    double before = 0, after = 0; ///< content
    double tankL = 0;
    double morePerTank = 0;      ///< money
    std::optional<double> perKw; ///< money a tank for each kW; empty where the gain is nothing or not judged
};
/// Empty where the content does not differ or a price is missing.
std::optional<FuelMoney> moneyOf(const Job &job, const RunComparison &comparison);

/// Power over content, a rung for each content that was run, the drift taken out.
struct ContentRung {
    double content = 0; ///< mean
    std::vector<std::string> runs;
    double meanKw = 0; ///< of the average power over the speeds that all have
    double halfKw = 0; ///< 95 % of it against the first rung; not a number where not judged; of the first 0
    GainEstimate next; ///< to the rung above; of the last none
    double perPercentKw = 0; ///< the same by per cent of content
};
struct ContentLadder {
    std::vector<ContentRung> rungs; ///< ascending
    double scatterKw = 0;           ///< of one run; 0: nobody knows
    /// From this content on the next step brought less than the scatter of a run; empty where every step
    /// brought more, or nobody knows the scatter.
    std::optional<double> sweetSpot;
    std::vector<RunCause> alsoDiffers; ///< what else the rungs differ in: it may be that
};
/// Throws InputError as seen() does, and for runs of fewer than two contents, or whose content nobody knows.
ContentLadder contentLadder(const Job &job, const MeasuredRuns &runs, const RunViewing &how);

/// What a sweep goes over.
enum class SweepOver { spark, content, lambda, boost };
std::string_view keyOf(SweepOver over);
SweepOver sweepOverByKey(std::string_view key); ///< throws InputError naming them
PhraseText titleOf(SweepOver over);
Dimension dimensionOf(SweepOver over);
/// What one of the sweep's numbers is in internal units: a per cent of content is 0.01 of it.
double stepOf(SweepOver over);
/// Power at a speed over spark, content, λ or boost of some runs, with the best by a parabola and its
/// interval (fitSweep()). Numbers of it in degrees, per cent, hundredths of λ and kPa. The drift from run to
/// run is not taken out: runs of a sweep differ one by one. Throws InputError as fitSweep(), and where a run
/// does not say what is swept over, or not at that speed.
SparkSweep sweepOf(const MeasuredRuns &runs, SweepOver over, double rpm, const RunViewing &how);

/// In what else the runs of a sweep differ than in what is swept, weather and heat aside: it may be that.
std::vector<RunCause> alsoDiffering(const Job &job, const MeasuredRuns &runs, SweepOver over);
/// How its best comes about.
Explanation explainSweep(const SparkSweep &sweep, SweepOver over);

/// How many times the power that one dyno shows is that of another.
struct DynoFactor {
    std::string from, to;   ///< names
    double factor = 1;      ///< of `to` over `from`
    double half = 0;        ///< 95 %; not a number: nobody can judge it
    std::size_t shared = 0; ///< sets of the same everything that ran on both
    std::size_t runs = 0;
};
/// From runs of the same everything but the dyno, by the logarithm of their average power. Of shared sets
/// each its own mean, and the runs of both dynos about it.
std::vector<DynoFactor> dynoFactors(const Job &job, const MeasuredRuns &runs, const RunViewing &how);

} // namespace wheelwright
