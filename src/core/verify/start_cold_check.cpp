// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

#include <algorithm>
#include <array>
#include <cmath>

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

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    constexpr double comfort = 0.02; // two per cent less is rounding
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, comfort);
        for (const StartKind &k : kinds) {
            const ExtraTable *extra = extraInUse(job, k.kind);
            if (!extra) continue;
            const std::vector<double> &coolant = extra->table.x().points();
            for (std::size_t i = 0; i < coolant.size(); ++i) {
                const auto at = [&](double c, double content) {
                    return extra->table.lookup(c, content).value;
                };
                const double here = at(coolant[i], s.content);
                double most =
                    s.content >= contentStep ? lost(at(coolant[i], s.content - contentStep), here) : -1;
                if (i + 1 < coolant.size()) most = std::max(most, lost(at(coolant[i + 1], s.content), here));
                worst.consider(comfort - most, 0, e.load().front(), coolant[i], most, k.aspect);
            }
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = {MARKED("start.cold.now", "Cold start: {A}"), {}, {}, {p.aspect}};
    x.result = {p.value, Dimension::temperature};
    x.formula = MARKED("start.cold.formula", "colder or more alcohol never gets less");
    x.substituted = {
        MARKED("start.cold.numbers",
               "at {0} and {1} it gives {2} less than when warmer or with 5 % less alcohol"),
        {{p.value, Dimension::temperature}, {p.content, Dimension::content}, {p.limit, Dimension::ratio}}};
    x.inputs = {{"T",
                 MARKED("start.cold.from.start_tables", "start tables"),
                 {p.value, Dimension::temperature},
                 "calibration.extras"},
                {"E", MARKED("start.cold.from.alcohol", "alcohol"), {p.content, Dimension::content}, ""}};
    x.source = MARKED(
        "start.cold.source",
        "Common practice, from memory: ethanol hardly evaporates under about 15 °C; E85 wants 1.5 to 2.5 "
        "times the cranking fuel near 0 °C");
    x.uncertainty = {MARKED("start.cold.uncertainty", "Only a cold morning proves it."), {}};
    x.change = {
        MARKED("start.cold.change", "Raise it there to what the warmer or weaker neighbour has, at least."),
        {}};
    (void)job;
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
        Dimension::temperature,
        {},
        CalibratedQuantity::fuel,
        0,
        MARKED("start.cold.help",
               "A full mark never gets less; an empty one 2 % less. The value is the coolant where it does."),
        run,
        explain,
        {"starting_tables"}};
    return check;
}

} // namespace wheelwright
