// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/trainer_reports.h"

#include <algorithm>

namespace wheelwright {
namespace {

Measured trainerCount(int n) {
    return {static_cast<double>(n), Dimension::count};
}

} // namespace

Report scenarioReport(const Scenario &scenario, int hints) {
    Report out{scenario.title, {}};
    out.blocks.emplace_back(Heading{scenario.title, 0});
    out.blocks.emplace_back(Sentence{scenario.goal});
    out.blocks.emplace_back(Sentence{Phrase{MARKED("train.par", "About {0} of engine time are enough."),
                                            {Measured{scenario.parMinutes, Dimension::minutes, 0}}},
                                     Tone::quiet});
    for (int i = 0; i < std::min<int>(hints, static_cast<int>(scenario.hints.size())); ++i)
        out.blocks.emplace_back(Sentence{Phrase{MARKED("train.hint", "Hint {0}: {A}"),
                                                {trainerCount(i + 1)},
                                                {},
                                                {scenario.hints[static_cast<std::size_t>(i)]}}});
    return out;
}

Report trainingReport(const Scenario &scenario, const Training &training) {
    const TrainingScore s = score(scenario, training);
    Report out{scenario.title, {}};
    out.blocks.emplace_back(Heading{
        Phrase{MARKED("train.result", "{0} of 100. {A}"), {trainerCount(s.points)}, {}, {s.verdict}}, 0});
    Grid grid{{MARKED("train.column.item", "What counts"), MARKED("train.column.points", "Points"),
               MARKED("train.column.found", "What was found")},
              {}};
    for (const TrainingItem &i : s.items)
        grid.rows.push_back({Sentence{i.title},
                             Sentence{Phrase{MARKED("train.points", "{0} of {1}"),
                                             {trainerCount(i.points), trainerCount(i.most)}},
                                      i.points == i.most ? Tone::plain : Tone::caution},
                             Sentence{i.words}});
    out.blocks.emplace_back(std::move(grid));
    if (s.hintsTaken > 0)
        out.blocks.emplace_back(
            Sentence{Phrase{MARKED("train.hints_cost", "Hints taken: {0}, {1} points each."),
                            {trainerCount(s.hintsTaken), trainerCount(hintCosts)}},
                     Tone::quiet});
    out.blocks.emplace_back(Heading{MARKED("train.envelope", "The envelope"), 2});
    for (const Phrase &p : debrief(scenario, training))
        out.blocks.emplace_back(Sentence{p});
    return out;
}

} // namespace wheelwright
