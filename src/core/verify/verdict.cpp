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

std::string lowered(std::string_view title) {
    std::string s(title);
    if (s.size() > 1 && s[1] >= 'a') // keep 'MAP'
        s[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(s[0])));
    return s;
}

std::string rangeWords(const Verdict &v, Run run, bool methanol) {
    const std::string from = contentName(v.contents[run.from], methanol);
    const std::string to = contentName(v.contents[run.to], methanol);
    if (run.from == 0 && run.to + 1 == v.contents.size()) return "At every content";
    if (run.from == run.to) return "At " + from;
    if (run.to + 1 == v.contents.size()) return "From " + from;
    return run.from == 0 ? "Up to " + to : "From " + from + " to " + to;
}

Phrase sentenceFor(const Verdict &v, Run run, CheckState state, bool methanol) {
    Phrase p;
    p.text = rangeWords(v, run, methanol) + (state == CheckState::caution ? ", caution: " : ": ");
    const std::vector<Finding> findings = findingsIn(v, run, state);
    for (std::size_t i = 0; i < findings.size(); ++i) {
        const Finding &f = findings[i];
        const std::size_t n = p.values.size();
        const auto mark = [n](std::size_t k) { return "{" + std::to_string(n + k) + "}"; };
        if (i > 0) p.text += "; ";
        if (f.from > run.from && run.from != run.to)
            p.text += "from " + contentName(v.contents[f.from], methanol) + " ";
        p.text += lowered(f.check->title) + " (worst " + mark(0) + " at " + mark(1) + ", " + mark(2) + ", " +
                  contentName(f.worst.content, methanol) + ")";
        p.values.push_back({f.worst.value, f.check->dimension});
        p.values.push_back({f.worst.rpm, Dimension::engineSpeed});
        p.values.push_back({f.worst.loadKpa, Dimension::pressure});
    }
    p.text += ".";
    return p;
}

void speak(Verdict &v) {
    const bool methanol = v.study->job().alcohol == Alcohol::methanol;
    const auto runs = [&](auto holds) { return runsWhere(v.contents.size(), holds); };
    const std::vector<Run> safe = runs([&](std::size_t i) { return v.overall[i] != CheckState::failing; });
    std::string text;
    for (const Run &r : safe) {
        v.safeRanges.emplace_back(v.contents[r.from], v.contents[r.to]);
        const std::string from = contentName(v.contents[r.from], methanol),
                          to = contentName(v.contents[r.to], methanol);
        text += (text.empty() ? "Safe " : " and ") +
                (r.from == r.to ? "at " + from : "from " + from + " to " + to);
    }
    v.sentences.push_back({text.empty() ? "Not safe at any content." : text + ".", {}});
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

std::string notJudgedText(const Verdict &v) {
    std::string missing;
    for (const Check *check : v.notJudged)
        missing += (missing.empty() ? "Not judged: " : "; ") + lowered(check->title) + " (" +
                   std::string(check->unknown) + ")";
    return missing.empty() ? missing : missing + ".";
}

std::string verdictText(const Verdict &verdict, const UnitChoice &units) {
    std::string text;
    for (const Phrase &p : verdict.sentences)
        text += (text.empty() ? "" : " ") + format(p, units);
    return text;
}

std::string_view stateWord(CheckState state) {
    switch (state) {
    case CheckState::clear:
        return "clear";
    case CheckState::caution:
        return "caution";
    case CheckState::failing:
        break;
    }
    return "fails";
}

} // namespace wheelwright
