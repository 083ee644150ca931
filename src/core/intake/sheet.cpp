// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/intake/sheet.h"

#include "core/base/error.h"
#include "core/job/said_content.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

constexpr PhraseText unknownValue = MARKED("sheet.value.unknown", "?");

bool isZero(const Field &f, const Job &job) {
    const FieldContent content = f.read(job);
    const double *value = std::get_if<double>(&content);
    return value && *value == 0;
}

// A choice that says that nothing is stated says so whoever has chosen it.
bool saysNothing(const Field &f, const Job &job) {
    const FieldContent content = f.read(job);
    const auto *words = std::get_if<std::string>(&content);
    return words && *words == "not_stated";
}

FigureState figureOf(const PartFigure &figure, const Job &job) {
    FigureState out{figure.path, {}, Knowledge::unknown};
    Phrase value = unknownValue;
    if (const Field *f = fieldByPath(figure.path)) {
        const bool nothing = saysNothing(*f, job) || (figure.zeroIsUnknown && isZero(*f, job));
        if (!nothing) out.known = knowledgeOf(job, figure.path);
        if (out.known != Knowledge::unknown) value = saidContent(*f, f->read(job));
    } else if (const CurveField *c = curveByPath(figure.path)) {
        out.known = knowledgeOf(job, figure.path);
        if (out.known != Knowledge::unknown) value = saidCurve(*c, c->in(job));
    } else if (const std::size_t records = recordListByPath(figure.path)->size(job); records > 0) {
        out.known = Knowledge::stated;
        value = {MARKED("sheet.value.number", "{0}"), {{static_cast<double>(records), Dimension::count}}};
    }
    out.said = {figure.said, {}, {}, {std::move(value)}};
    return out;
}

std::optional<InspectionMark> lastOf(const Job &job, std::string_view item) {
    const auto &all = job.inspections.values();
    const auto at =
        std::find_if(all.rbegin(), all.rend(), [&](const InspectionMark &i) { return i.item == item; });
    return at == all.rend() ? std::nullopt : std::optional(*at);
}

LookedAt howFar(const std::vector<InspectionState> &items) {
    const auto count = [&](auto what) { return std::ranges::count_if(items, what); };
    if (count([](const InspectionState &i) { return i.last && i.last->wrong; }) > 0) return LookedAt::wrong;
    const auto good = count([](const InspectionState &i) { return i.last.has_value(); });
    if (good == 0) return LookedAt::notYet;
    return good == std::ssize(items) ? LookedAt::good : LookedAt::partly;
}

std::optional<CheckState> worstOf(const Part &part, const Verdict *verdict) {
    std::optional<CheckState> worst;
    if (!verdict) return worst;
    const auto take = [&](CheckState state) { worst = worst ? std::max(*worst, state) : state; };
    for (const Verdict::Row &row : verdict->rows)
        if (std::ranges::find(part.checks, row.check->id) != part.checks.end()) take(row.state);
    for (const Check *check : verdict->notJudged)
        if (std::ranges::find(part.checks, check->id) != part.checks.end()) take(CheckState::notJudged);
    return worst;
}

} // namespace

std::string_view knowledgeKey(Knowledge knowledge) {
    constexpr std::array<std::string_view, 3> keys{"stated", "estimated", "unknown"};
    return keys[static_cast<std::size_t>(knowledge)];
}

PhraseText knowledgeWord(Knowledge knowledge) {
    constexpr std::array words{MARKED("knowledge.stated", "stated"),
                               MARKED("knowledge.estimated", "an estimate"),
                               MARKED("knowledge.unknown", "not stated")};
    return words[static_cast<std::size_t>(knowledge)];
}

std::string_view lookedAtKey(LookedAt state) {
    constexpr std::array<std::string_view, 4> keys{"good", "partly", "not_yet", "wrong"};
    return keys[static_cast<std::size_t>(state)];
}

PhraseText lookedAtWord(LookedAt state) {
    constexpr std::array words{
        MARKED("inspected.good", "looked at, good"), MARKED("inspected.partly", "partly looked at"),
        MARKED("inspected.not_yet", "not looked at"), MARKED("inspected.wrong", "found wrong")};
    return words[static_cast<std::size_t>(state)];
}

PartState partStateOf(const Part &part, const Job &job, const Verdict *verdict) {
    PartState state{.part = &part, .fitted = isFitted(part, job)};
    state.canFit = !state.fitted && part.add;
    state.canRemove = state.fitted && part.remove;
    for (const PartFigure &figure : part.figures) {
        state.figures.push_back(figureOf(figure, job));
        state.known = std::max(state.known, state.figures.back().known);
    }
    for (const InspectionItem &item : part.inspections)
        state.inspections.push_back({&item, lastOf(job, item.id)});
    state.inspected = howFar(state.inspections);
    if (state.fitted) state.verdict = worstOf(part, verdict);
    return state;
}

std::vector<PartState> intakeSheet(const Job &job, const Verdict *verdict) {
    std::vector<PartState> out;
    for (const Part &part : allParts())
        if (belongsTo(part, job)) out.push_back(partStateOf(part, job, verdict));
    return out;
}

void markInspected(Job &job, std::string_view item, const std::string &at, bool wrong,
                   const std::string &note) {
    const InspectionItem &known = inspectionById(item);
    job.inspections.push_back({std::string(known.id), at, wrong, note});
    if (!known.alsoSays.empty()) fieldByPath(known.alsoSays)->write(job, FieldContent{!wrong});
}

void confirmPart(Job &job, const Part &part) {
    for (const std::string_view path : part.fields)
        state(job, path);
}

std::size_t unstatedOf(const Job &job, const Part &part) {
    return static_cast<std::size_t>(std::ranges::count_if(
        part.fields, [&](std::string_view path) { return knowledgeOf(job, path) != Knowledge::stated; }));
}

const PartState *nextPart(const std::vector<PartState> &sheet) {
    const PartState *next = nullptr;
    const auto need = [](const PartState &p) {
        constexpr int most = 9;
        return p.inspected == LookedAt::wrong ? most : static_cast<int>(p.known);
    };
    for (const PartState &p : sheet)
        if (p.fitted && need(p) > (next ? need(*next) : 0)) next = &p;
    return next;
}

bool sheetComplete(const std::vector<PartState> &sheet) {
    return std::ranges::all_of(sheet, [](const PartState &p) {
        return !p.fitted || (p.known == Knowledge::stated && p.inspected != LookedAt::wrong);
    });
}

} // namespace wheelwright
