// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

struct StartKind {
    TableKind kind;
    PhraseText aspect;
};
constexpr std::array kinds{
    StartKind{TableKind::cranking, MARKED("start.cold.aspect.cranking", "cranking")},
    StartKind{TableKind::afterStart, MARKED("start.cold.aspect.after_start", "after start")},
    StartKind{TableKind::prime, MARKED("start.cold.aspect.prime", "prime")}};

constexpr double contentStep = 0.05;

// What is lost going colder or up in content: over 0 is wrong, as a share of what was there.
double lost(double before, double after) {
    return before > 0 ? (before - after) / before : 0;
}

// Where a table gives less for more cold or more alcohol: the most of it at one content.
struct Less {
    double coolantC = 0;
    double share = -1; ///< of what was there
};

Less mostLost(const ExtraTable &extra, double content) {
    const std::vector<double> &coolant = extra.table.x().points();
    const auto at = [&](double c, double e) { return extra.table.lookup(c, e).value; };
    Less most;
    for (std::size_t i = 0; i < coolant.size(); ++i) {
        const double here = at(coolant[i], content);
        double share = content >= contentStep ? lost(at(coolant[i], content - contentStep), here) : -1;
        if (i + 1 < coolant.size()) share = std::max(share, lost(at(coolant[i + 1], content), here));
        if (share > most.share) most = {coolant[i], share};
    }
    return most;
}

constexpr double mostAllowed = 0.02; // two per cent less is rounding

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, mostAllowed);
        for (const StartKind &k : kinds) {
            const ExtraTable *extra = extraInUse(job, k.kind);
            if (!extra) continue;
            const double share = mostLost(*extra, s.content).share;
            worst.consider(mostAllowed - share, 0, e.load().front(), std::max(share, 0.0), mostAllowed,
                           k.aspect);
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const auto kind = std::ranges::find_if(kinds, [&](const StartKind &k) { return k.aspect == p.aspect; });
    const ExtraTable *extra = kind == kinds.end() ? nullptr : extraInUse(e.job(), kind->kind);
    const double coolantC = extra ? mostLost(*extra, p.content).coolantC : 0;
    Explanation x;
    x.title = {MARKED("start.cold.now", "Cold start: {A}"), {}, {}, {p.aspect}};
    x.result = {p.value, Dimension::ratio};
    x.formula = MARKED("start.cold.formula", "colder or more alcohol never gets less");
    x.substituted = {
        MARKED("start.cold.numbers",
               "at {0} and {1} it gives {2} less than when warmer or with 5 % less alcohol; {3} is let pass"),
        {{coolantC, Dimension::temperature},
         {p.content, Dimension::content},
         {p.value, Dimension::ratio},
         {p.limit, Dimension::ratio}}};
    x.inputs = {{"T",
                 MARKED("start.cold.from.start_tables", "start tables"),
                 {coolantC, Dimension::temperature},
                 extra ? "calibration.extras." + extra->name : "calibration.extras"},
                {"E", MARKED("start.cold.from.alcohol", "alcohol"), {p.content, Dimension::content}, ""}};
    x.source = MARKED(
        "start.cold.source",
        "Common practice, from memory: ethanol hardly evaporates under about 15 °C; E85 wants 1.5 to 2.5 "
        "times the cranking fuel near 0 °C");
    x.uncertainty = {MARKED("start.cold.uncertainty", "Only a cold morning proves it."), {}};
    x.change = {
        MARKED("start.cold.change", "Raise it there to what the warmer or weaker neighbour has, at least."),
        {}};
    return x;
}

} // namespace

const Check &startColdCheck() {
    static const Check check{
        "start.cold",
        MARKED("start.cold.title", "Cold start"),
        MARKED("start.cold.named", "cold start"),
        QuestionId::coldStart,
        MARKED("start.cold.question", "Do cranking, after-start and prime grow with content and cold?"),
        Dimension::ratio,
        {},
        CalibratedQuantity::fuel,
        0,
        MARKED("start.cold.help", "A full mark never gets less; an empty one 2 % less."),
        run,
        explain,
        {"starting_tables"}};
    return check;
}

} // namespace wheelwright
