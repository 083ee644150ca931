// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/pour_tables.h"

#include "core/base/error.h"
#include "core/explain/explain_fuel.h"
#include "core/job/said_content.h"
#include "core/report/handover_words.h"
#include "core/report/numbers.h"

#include <algorithm>
#include <array>
#include <memory>

namespace wheelwright {
namespace {

using D = Dimension;

// Of the sizes that a pump's display is read in, the one that fills the room in at most seven steps.
double pumpStep(double roomL) {
    constexpr std::array steps{0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0};
    constexpr double mostColumns = 7;
    const auto *at = std::ranges::find_if(steps, [&](double s) { return roomL <= s * mostColumns; });
    return at == steps.end() ? steps.back() : *at;
}

// Told by a letter, not by colour alone: × fails, ? is not judged.
Sentence contentCell(const Job &job, const Verdict &verdict, double content) {
    const std::vector<Phrase> name{nameOfContent(job, content)};
    switch (worstBetween(verdict, content, content)) {
    case CheckState::failing:
        return {{MARKED("handover.cell.fails", "× {A}"), {}, {}, name}, Tone::trouble};
    case CheckState::notJudged:
        return {{MARKED("handover.cell.not_judged", "? {A}"), {}, {}, name}, Tone::quiet};
    default:
        return {{MARKED("handover.cell", "{A}"), {}, {}, name}};
    }
}

void addPourTable(const Verdict &verdict, const PourTable &made, std::size_t every, WorkedReport &out) {
    const Job &job = verdict.study->job();
    const auto t = std::make_shared<const PourTable>(made); // of all its workings
    out.report.blocks.push_back(Heading{
        {MARKED("handover.pour.title", "{a} onto {0} in the tank"), {litresOf(t->levelL, 0)}, {t->fuel}}, 3});
    Grid grid;
    grid.heads = {MARKED("handover.pour.now", "In it now")};
    for (const double litres : t->litres)
        grid.heads.push_back({MARKED("handover.pour.litres", "+ {0}"), {shortly(litres, D::displacement)}});
    for (std::size_t r = 0; r < t->contents.size(); r += every) {
        std::vector<Sentence> row{
            {strongName(contentName(t->contents[r], job.alcohol == Alcohol::methanol))}};
        for (std::size_t c = 0; c < t->litres.size(); ++c) {
            const Sentence cell = contentCell(job, verdict, t->after[r][c]);
            row.push_back(out.worked(cell.words, cell.tone, [t, r, c] {
                return explainPour({t->levelL, t->contents[r], t->litres[c], t->fuelContent, t->after[r][c]});
            }));
        }
        grid.rows.push_back(std::move(row));
    }
    out.report.blocks.push_back(std::move(grid));
}

} // namespace

bool isPoured(const Fuel &fuel) {
    return fuel.inPlans && fuel.kind != FuelKind::booster;
}

std::vector<std::string> pumpFuels(const Job &job, std::string_view today) {
    const std::vector<Fuel> shelf = shelfOf(job, today);
    const Fuel *weakest = nullptr, *strongest = nullptr;
    for (const Fuel &f : shelf) {
        if (!isPoured(f)) continue;
        if (!weakest || f.alcohol.value < weakest->alcohol.value) weakest = &f;
        if (!strongest || f.alcohol.value > strongest->alcohol.value) strongest = &f;
    }
    std::vector<std::string> out;
    if (weakest) out.push_back(weakest->name);
    if (strongest && strongest != weakest) out.push_back(strongest->name);
    return out;
}

PourTable pourTable(const Job &job, const std::string &fuel, double levelL, std::string_view today) {
    if (!(levelL >= 0 && levelL <= job.tank.capacityL))
        throw InputError(
            "level", Phrase{MARKED("expected.level_in_tank", "0 L to {0}"), {litresOf(job.tank.capacityL)}},
            std::to_string(levelL));
    const std::vector<Fuel> shelf = shelfOf(job, today);
    const auto poured = std::ranges::find(shelf, fuel, &Fuel::name);
    if (poured == shelf.end())
        throw InputError("fuel", MARKED("expected.fuel_on_shelf", "a fuel of the shelf"), "'" + fuel + "'");
    PourTable out{fuel, poured->alcohol.value, levelL, {}, {}, {}};
    const double room = job.tank.capacityL - levelL, step = pumpStep(room);
    constexpr double nearly = 1e-9;
    for (double litres = step; litres <= room + nearly; litres += step)
        out.litres.push_back(litres);
    constexpr int rows = 9;
    for (int i = 0; i < rows; ++i)
        out.contents.push_back(i / 10.0);
    for (const double before : out.contents) {
        std::vector<double> row;
        for (const double litres : out.litres)
            row.push_back(
                contentAfter({levelL, 0}, {before, 0}, {{{litres, 0}, {poured->alcohol.value, 0}}}).value);
        out.after.push_back(std::move(row));
    }
    return out;
}

WorkedReport pourTablesReport(const Verdict &verdict, std::string_view today,
                              const std::vector<double> &shares, std::size_t every) {
    const Job &job = verdict.study->job();
    WorkedReport out;
    const std::vector<std::string> fuels = pumpFuels(job, today);
    if (fuels.empty()) {
        out.say(MARKED("handover.pour.no_fuel", "No pour table: no fuel on the shelf goes into plans."));
        return out;
    }
    for (const std::string &fuel : fuels)
        for (const double share : shares)
            addPourTable(verdict, pourTable(job, fuel, job.tank.capacityL * share, today), every, out);
    out.say(MARKED("handover.pour.legend",
                   "×: the calibration fails there, do not go there. ?: nobody has judged it. Contents of a "
                   "fuel vary: after every fill a tube, or the reading once it has settled."),
            Tone::quiet);
    return out;
}

WorkedReport pocketCard(const Verdict &verdict, std::string_view today) {
    const Job &job = verdict.study->job();
    WorkedReport out;
    out.report.title = {MARKED("handover.card", "{a}: what is in it after a fill"), {}, {job.name}};
    out.report.blocks.emplace_back(OnePage{});
    out.append(pourTablesReport(verdict, today, {0.25, 0.5}, 1));
    out.report.blocks.push_back(stateSentence(job, today));
    return out;
}

} // namespace wheelwright
