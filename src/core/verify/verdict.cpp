// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/verdict.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

/// Neighbouring contents that share something: indices into Verdict::contents, both included.
struct Run {
    std::size_t from, to;
};

template <class Predicate>
std::vector<Run> runsWhere(std::size_t count, Predicate holds) {
    std::vector<Run> runs;
    for (std::size_t i = 0; i < count; ++i) {
        if (!holds(i)) continue;
        if (!runs.empty() && runs.back().to + 1 == i)
            runs.back().to = i;
        else
            runs.push_back({i, i});
    }
    return runs;
}

struct Finding {
    const Check *check;
    std::size_t from; ///< first content of the run where it shows
    WorstPlace worst;
};

// What shows in the given state within the run, with its worst place; what begins first, first.
std::vector<Finding> findingsIn(const Verdict &v, Run run, CheckState state) {
    std::vector<Finding> out;
    const auto begins = [&](const Verdict::Row &row) {
        std::size_t i = run.from;
        while (i < run.to && row.check->state(row.outcome.byContent[i]) != state)
            ++i;
        return i;
    };
    for (const Verdict::Row &row : v.rows) {
        const auto first = row.outcome.byContent.begin() + static_cast<std::ptrdiff_t>(run.from);
        const auto last = row.outcome.byContent.begin() + static_cast<std::ptrdiff_t>(run.to) + 1;
        const auto worst = std::min_element(
            first, last, [](const auto &a, const auto &b) { return a.uncapped < b.uncapped; });
        if (row.check->state(*worst) == state) out.push_back({row.check, begins(row), *worst});
    }
    std::ranges::stable_sort(out, [](const Finding &a, const Finding &b) {
        return a.from != b.from ? a.from < b.from : a.worst.margin < b.worst.margin;
    });
    return out;
}

// Where it is, before what it is: {A} stands for the findings.
PhraseText frameOf(const Verdict &v, Run run, bool caution) {
    const bool first = run.from == 0, last = run.to + 1 == v.contents.size();
    if (first && last)
        return caution ? MARKED("verdict.caution.everywhere", "At every content, caution: {A}.")
                       : MARKED("verdict.fails.everywhere", "At every content: {A}.");
    if (run.from == run.to)
        return caution ? MARKED("verdict.caution.at", "At {a}, caution: {A}.")
                       : MARKED("verdict.fails.at", "At {a}: {A}.");
    if (last)
        return caution ? MARKED("verdict.caution.from", "From {a}, caution: {A}.")
                       : MARKED("verdict.fails.from", "From {a}: {A}.");
    if (first)
        return caution ? MARKED("verdict.caution.up_to", "Up to {a}, caution: {A}.")
                       : MARKED("verdict.fails.up_to", "Up to {a}: {A}.");
    return caution ? MARKED("verdict.caution.between", "From {a} to {b}, caution: {A}.")
                   : MARKED("verdict.fails.between", "From {a} to {b}: {A}.");
}

Phrase sentenceFor(const Verdict &v, Run run, CheckState state, bool methanol) {
    std::vector<Phrase> parts;
    for (const Finding &f : findingsIn(v, run, state)) {
        const bool later = f.from > run.from;
        parts.emplace_back(
            later ? MARKED("verdict.finding.later", "from {b} {A} (worst {0} at {1}, {2}, {a})")
                  : MARKED("verdict.finding", "{A} (worst {0} at {1}, {2}, {a})"),
            std::vector<Measured>{{f.worst.value, f.check->dimension},
                                  {f.worst.rpm, Dimension::engineSpeed},
                                  {f.worst.loadKpa, Dimension::pressure}},
            std::vector{contentName(f.worst.content, methanol), contentName(v.contents[f.from], methanol)},
            std::vector<Phrase>{f.check->named});
    }
    std::vector<std::string> ends{contentName(v.contents[run.from], methanol),
                                  contentName(v.contents[run.to], methanol)};
    if (run.from == 0) std::ranges::reverse(ends); // "Up to …" names its end alone
    return {frameOf(v, run, state == CheckState::caution), {}, std::move(ends), {listed(parts)}};
}

// "Safe from E0 to E44 and at E80."
Phrase safeSentence(const Verdict &v, const std::vector<Run> &safe, bool methanol) {
    if (safe.empty()) return MARKED("verdict.safe.none", "Not safe at any content.");
    Phrase ranges;
    for (const Run &r : safe) {
        const Phrase range{
            r.from == r.to ? MARKED("verdict.range.at", "at {a}")
                           : MARKED("verdict.range.between", "from {a} to {b}"),
            {},
            {contentName(v.contents[r.from], methanol), contentName(v.contents[r.to], methanol)}};
        ranges = ranges.empty() ? range
                                : Phrase{MARKED("verdict.range.and", "{A} and {B}"), {}, {}, {ranges, range}};
    }
    return {MARKED("verdict.safe", "Safe {A}."), {}, {}, {ranges}};
}

void speak(Verdict &v) {
    const bool methanol = v.study->job().alcohol == Alcohol::methanol;
    const auto runs = [&](auto holds) { return runsWhere(v.contents.size(), holds); };
    const std::vector<Run> safe = runs([&](std::size_t i) { return v.overall[i] != CheckState::failing; });
    for (const Run &r : safe)
        v.safeRanges.emplace_back(v.contents[r.from], v.contents[r.to]);
    v.sentences.push_back(safeSentence(v, safe, methanol));
    for (const Run &r : runs([&](std::size_t i) { return v.overall[i] == CheckState::failing; }))
        v.sentences.push_back(sentenceFor(v, r, CheckState::failing, methanol));
    for (const Run &r : runs([&](std::size_t i) { return v.overall[i] == CheckState::caution; }))
        v.sentences.push_back(sentenceFor(v, r, CheckState::caution, methanol));
}

} // namespace

std::shared_ptr<const Verdict> verify(std::shared_ptr<const Study> study, std::stop_token stop) {
    auto v = std::make_shared<Verdict>();
    v->study = std::move(study);
    const Job &job = v->study->job();
    const Evaluation &evaluation = v->study->evaluation();
    for (const ContentSlice &s : evaluation.slices())
        v->contents.push_back(s.content);
    v->overall.assign(v->contents.size(), CheckState::clear);
    for (const Check *check : allChecks()) {
        if (stop.stop_requested()) return nullptr;
        if (!check->applies(job)) {
            if (check->mechanical == (job.control == FuelControl::mechanical)) v->notJudged.push_back(check);
            continue;
        }
        CheckOutcome outcome = check->run(evaluation);
        for (std::size_t i = 0; i < v->overall.size(); ++i)
            v->overall[i] = std::max(v->overall[i], check->state(outcome.byContent[i]));
        const CheckState state = check->state(outcome.worst());
        v->rows.push_back({check, std::move(outcome), state});
    }
    speak(*v);
    return v;
}

std::shared_ptr<const Verdict> verify(const Job &job) {
    return verify(std::make_shared<const Study>(job));
}

WorstAtContent worstAt(const Verdict &v, double content) {
    WorstAtContent worst;
    constexpr double sameSlice = 0.005; // half a step of content
    for (const Verdict::Row &row : v.rows)
        for (const WorstPlace &p : row.outcome.byContent)
            if (std::abs(p.content - content) < sameSlice && (!worst.row || p.margin < worst.place.margin))
                worst = {&row, p};
    return worst;
}

std::function<std::optional<double>(double)> injectorDutyOver(std::shared_ptr<const Verdict> verdict) {
    if (!verdict) return {};
    const auto row = std::ranges::find(verdict->rows, std::string_view("flow.duty"),
                                       [](const Verdict::Row &r) { return r.check->id; });
    if (row == verdict->rows.end() || row->outcome.byContent.empty()) return {};
    return [verdict = std::move(verdict), &places = row->outcome.byContent](double content) {
        const auto at = std::ranges::min_element(
            places, {}, [content](const WorstPlace &p) { return std::abs(p.content - content); });
        return std::optional(at->value);
    };
}

Phrase notJudged(const Verdict &v) {
    std::vector<Phrase> missing;
    for (const Check *check : v.notJudged)
        missing.push_back(
            {MARKED("verdict.not_judged.why", "{A} ({B})"), {}, {}, {check->named, check->unknown}});
    if (missing.empty()) return {};
    return {MARKED("verdict.not_judged", "Not judged: {A}."), {}, {}, {listed(missing)}};
}

Phrase inWords(const Verdict &verdict) {
    return together(verdict.sentences);
}

PhraseText stateWord(CheckState state) {
    switch (state) {
    case CheckState::clear:
        return MARKED("state.clear", "clear");
    case CheckState::caution:
        return MARKED("state.caution", "caution");
    case CheckState::failing:
        break;
    }
    return MARKED("state.fails", "fails");
}

} // namespace wheelwright
