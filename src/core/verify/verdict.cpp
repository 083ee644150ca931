// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/verdict.h"

#include "core/study/mechanical_lambda.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

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
        while (i < run.to && row.byContent[i] != state)
            ++i;
        return i;
    };
    for (const Verdict::Row &row : v.rows) {
        const WorstPlace *worst = row.worstIn(state, run.from, run.to);
        if (worst) out.push_back({row.check, begins(row), *worst});
    }
    std::ranges::stable_sort(out, [](const Finding &a, const Finding &b) {
        return a.from != b.from ? a.from < b.from : a.worst.margin < b.worst.margin;
    });
    return out;
}

enum class Beyond { below, inside, above };

// A calibrated content that is no whole per cent has a slice of its own, so that none lies across an end.
Beyond beyond(const Verdict &v, std::size_t i) {
    constexpr double rounding = 1e-9;
    if (v.contents[i] < v.baseContent - rounding) return Beyond::below;
    return v.contents[i] > v.topContent + rounding ? Beyond::above : Beyond::inside;
}

// Where it is, before what it is: {A} stands for the findings.
PhraseText frameOf(const Verdict &v, Run run, bool caution) {
    const bool first = run.from == 0, last = run.to + 1 == v.contents.size();
    if (first && last && v.contents.size() > 1)
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
            std::vector<Measured>{{f.worst.value, f.check->dimensionOf(f.worst)},
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

// "from E0 to E44 and at E80"
Phrase inWords(const Verdict &v, const std::vector<Run> &runs, bool methanol) {
    Phrase ranges;
    for (const Run &r : runs) {
        const Phrase range{
            r.from == r.to ? MARKED("verdict.range.at", "at {a}")
                           : MARKED("verdict.range.between", "from {a} to {b}"),
            {},
            {contentName(v.contents[r.from], methanol), contentName(v.contents[r.to], methanol)}};
        ranges = ranges.empty() ? range
                                : Phrase{MARKED("verdict.range.and", "{A} and {B}"), {}, {}, {ranges, range}};
    }
    return ranges;
}

bool everywhere(const Verdict &v, const std::vector<Run> &runs) {
    return runs.size() == 1 && runs[0].from == 0 && runs[0].to + 1 == v.contents.size();
}

Phrase holdsSentence(const Verdict &v, const std::vector<Run> &holds, bool methanol) {
    const bool nothingJudged = std::ranges::all_of(v.answers, [](const Verdict::Answer &a) {
        return a.question->beside || std::ranges::all_of(a.open, std::identity{});
    });
    if (nothingJudged)
        return MARKED("verdict.nothing", "No question is answered: too little is known of this engine.");
    if (holds.empty()) return MARKED("verdict.holds.none", "Holds its limits at no content.");
    return {MARKED("verdict.holds", "Holds every judged limit {A}."), {}, {}, {inWords(v, holds, methanol)}};
}

// "Knock is not judged: nobody has said what spark this fuel stands."
Phrase openSentence(const Verdict &v, const Verdict::Answer &a, const std::vector<Run> &open, bool methanol) {
    constexpr std::size_t most = 2;
    std::vector<Phrase> why;
    for (const Need *n : a.missing)
        if (why.size() < most) why.emplace_back(n->missing);
    if (a.missing.size() > most)
        why.push_back({MARKED("verdict.open.more", "and {0} more"),
                       {{static_cast<double>(a.missing.size() - most), Dimension::count}}});
    if (everywhere(v, open))
        return {MARKED("verdict.open", "{A} is not judged: {B}."), {}, {}, {a.question->title, listed(why)}};
    return {MARKED("verdict.open.where", "{A} is not judged {C}: {B}."),
            {},
            {},
            {a.question->title, listed(why), inWords(v, open, methanol)}};
}

// What begins or ends at the calibrated contents is two runs: the tables were never meant for what lies
// beyond.
std::vector<Run> splitAtEnds(const Verdict &v, const std::vector<Run> &runs) {
    std::vector<Run> out;
    for (Run r : runs) {
        for (std::size_t i = r.from; i < r.to; ++i)
            if (beyond(v, i) != beyond(v, i + 1)) {
                out.push_back({r.from, i});
                r.from = i + 1;
            }
        out.push_back(r);
    }
    return out;
}

void speak(Verdict &v) {
    const bool methanol = v.study->job().alcohol == Alcohol::methanol;
    const auto runs = [&](auto holds) { return runsWhere(v.contents.size(), holds); };
    const auto judged = [&](std::size_t i) {
        return std::ranges::any_of(
            v.answers, [&](const Verdict::Answer &a) { return !a.question->beside && !a.open[i]; });
    };
    const std::vector<Run> holds =
        runs([&](std::size_t i) { return v.overall[i] != CheckState::failing && judged(i); });
    for (const Run &r : holds)
        v.holdsRanges.emplace_back(v.contents[r.from], v.contents[r.to]);
    v.sentences.push_back(holdsSentence(v, holds, methanol));
    for (const Verdict::Answer &a : v.answers)
        if (const std::vector<Run> open = runs([&](std::size_t i) { return a.open[i]; });
            !open.empty() && !a.question->beside)
            v.sentences.push_back(openSentence(v, a, open, methanol));
    const auto state = [&](std::size_t i) {
        CheckState worst = CheckState::held;
        for (const Verdict::Row &row : v.rows)
            if (row.byContent[i] != CheckState::notJudged) worst = std::max(worst, row.byContent[i]);
        return worst;
    };
    for (const CheckState what : {CheckState::failing, CheckState::caution})
        for (const Run &r : splitAtEnds(v, runs([&](std::size_t i) { return state(i) == what; })))
            v.sentences.push_back(
                beyond(v, r.from) == Beyond::inside
                    ? sentenceFor(v, r, what, methanol)
                    : together({sentenceFor(v, r, what, methanol),
                                MARKED("verdict.beyond", "The tables were never made for this.")}));
}

// What each missing thing keeps from being judged: most for what is missing alone.
void orderByWhatItUnlocks(std::vector<const Need *> &order, const std::map<const Need *, double> &unlocks) {
    std::ranges::stable_sort(order, std::ranges::greater{}, [&](const Need *n) { return unlocks.at(n); });
}

void answer(Verdict &v, const Standing &standing) {
    const auto slices = v.study->evaluation().slices();
    const Job &job = v.study->job();
    std::map<const Need *, double> unlocks;
    const auto inside = [&](std::size_t i) { return beyond(v, i) == Beyond::inside; };
    for (const Question &q : allQuestions()) {
        Verdict::Answer a{&q,
                          std::vector(slices.size(), CheckState::proven),
                          CheckState::proven,
                          std::vector<bool>(slices.size()),
                          {}};
        bool raised = false;
        for (const Check *check : allChecks()) {
            if (check->answers != q.id || !check->asked(job)) continue;
            raised = true;
            const auto row = std::ranges::find(v.rows, check, &Verdict::Row::check);
            std::vector<const Need *> lacking;
            for (const std::string_view id : check->needs)
                if (const Need &n = needById(id); !std::ranges::all_of(standing.met(n), std::identity{}))
                    lacking.push_back(&n);
            for (const Need *n : lacking) {
                if (check->essential && std::ranges::find(a.missing, n) == a.missing.end())
                    a.missing.push_back(n);
                // What only stands beside the answer asks for nothing more where it is judged at some
                // content.
                if (check->essential || std::ranges::none_of(standing.met(*n), std::identity{}))
                    unlocks[n] +=
                        (check->essential && !q.beside ? 10.0 : 1.0) / static_cast<double>(lacking.size());
            }
            for (std::size_t i = 0; i < slices.size(); ++i) {
                const CheckState state = row == v.rows.end() ? CheckState::notJudged : row->byContent[i];
                if (check->essential || state == CheckState::failing)
                    a.byContent[i] = std::max(a.byContent[i], state);
                if (check->essential &&
                    std::ranges::any_of(lacking, [&](const Need *n) { return !standing.met(*n)[i]; }))
                    a.open[i] = true;
            }
        }
        const bool mechanical = job.control == FuelControl::mechanical;
        if (mechanical && !raised && (q.id == QuestionId::knock || q.id == QuestionId::boost)) {
            // The question arises, and nothing in such a job can answer it.
            const Need &elsewhere = needById("elsewhere");
            raised = true;
            a.missing.push_back(&elsewhere);
            a.open.assign(slices.size(), true);
            unlocks[&elsewhere] += 1;
        }
        if (!mechanical && !raised && q.id == QuestionId::sensor) {
            // Blended without a sensor: nobody says how it learns of another fuel.
            const Need &sensor = needById("no_sensor");
            raised = true;
            a.missing.push_back(&sensor);
            a.open.assign(slices.size(), true);
            unlocks[&sensor] += 1;
        }
        if (!raised) continue;
        // What λ and knock say, clean pulls say better than any model.
        if (q.id == QuestionId::mixture || q.id == QuestionId::knock)
            for (std::size_t i = 0; i < slices.size(); ++i)
                if (a.byContent[i] == CheckState::held && v.pulls[i] == BeenThere::proven)
                    a.byContent[i] = CheckState::proven;
        for (std::size_t i = 0; i < slices.size(); ++i) {
            if (a.open[i]) a.byContent[i] = std::max(a.byContent[i], CheckState::notJudged);
            if (inside(i)) a.state = std::max(a.state, a.byContent[i]);
        }
        v.answers.push_back(std::move(a));
    }
    for (Verdict::Answer &a : v.answers) // in the order of their list: what the question turns on first
        std::ranges::sort(a.missing);
    for (const Need &n : allNeeds())
        if (unlocks.contains(&n)) v.next.push_back(&n);
    orderByWhatItUnlocks(v.next, unlocks);
    v.overall.assign(slices.size(), CheckState::proven);
    for (const Verdict::Answer &a : v.answers)
        for (std::size_t i = 0; i < slices.size(); ++i)
            if (!a.question->beside || a.byContent[i] == CheckState::failing)
                v.overall[i] = std::max(v.overall[i], a.byContent[i]);
}

// Inside its limit by numbers that nobody has stated is not judged; outside of it, it fails all the same.
Verdict::Row judged(const Check &check, const Evaluation &evaluation, const Standing &standing) {
    Verdict::Row row{&check,
                     check.runWith ? check.runWith(evaluation, standing.proof()) : check.run(evaluation),
                     CheckState::proven,
                     {}};
    const auto slices = evaluation.slices();
    for (std::size_t i = 0; i < slices.size(); ++i) {
        CheckState state = check.state(row.outcome.byContent[i]);
        if (state != CheckState::failing && !std::ranges::all_of(check.needs, [&](std::string_view id) {
                return standing.met(needById(id))[i];
            }))
            state = CheckState::notJudged;
        row.byContent.push_back(state);
        row.state = std::max(row.state, state);
    }
    return row;
}

} // namespace

const WorstPlace *Verdict::Row::worstIn(CheckState at, std::size_t from, std::size_t to) const {
    const WorstPlace *worst = nullptr;
    for (std::size_t i = from; i <= to && i < byContent.size(); ++i)
        if (byContent[i] == at && (!worst || outcome.byContent[i].uncapped < worst->uncapped))
            worst = &outcome.byContent[i];
    return worst;
}

std::shared_ptr<const Verdict> verify(std::shared_ptr<const Study> study, const Proof &proof,
                                      std::stop_token stop) {
    auto v = std::make_shared<Verdict>();
    v->study = std::move(study);
    v->proof = proof;
    const Job &job = v->study->job();
    const Evaluation &evaluation = v->study->evaluation();
    for (const ContentSlice &s : evaluation.slices())
        v->contents.push_back(s.content);
    v->pulls = proof.pulls(v->study->inPressure(), v->contents);
    v->baseContent = std::min(job.calibration.baseContent, job.calibration.topContent);
    v->topContent = std::max(job.calibration.baseContent, job.calibration.topContent);
    if (job.control == FuelControl::mechanical) v->baseContent = v->topContent = mechanicalContent(job);
    const Standing standing(evaluation, proof);
    for (const Check *check : allChecks()) {
        if (stop.stop_requested()) return nullptr;
        if (!check->asked(job)) continue;
        if (!check->runs(job, proof)) {
            v->notJudged.push_back(check);
            continue;
        }
        v->rows.push_back(judged(*check, evaluation, standing));
    }
    answer(*v, standing);
    speak(*v);
    return v;
}

std::shared_ptr<const Verdict> verify(const Job &job, const Proof &proof) {
    return verify(std::make_shared<const Study>(job), proof);
}

WorstAtContent worstAt(const Verdict &v, double content) {
    WorstAtContent worst;
    constexpr double sameSlice = 0.005; // half a step of content
    for (const Verdict::Row &row : v.rows)
        for (const WorstPlace &p : row.outcome.byContent)
            if (p.asked && std::abs(p.content - content) < sameSlice &&
                (!worst.row || p.margin < worst.place.margin))
                worst = {&row, p};
    return worst;
}

std::size_t sliceNearest(const Verdict &v, double content) {
    const auto at =
        std::ranges::min_element(v.contents, {}, [content](double c) { return std::abs(c - content); });
    return static_cast<std::size_t>(at - v.contents.begin());
}

const Verdict::Row *findRow(const Verdict &v, std::string_view checkId) {
    const auto row = std::ranges::find(v.rows, checkId, [](const Verdict::Row &r) { return r.check->id; });
    return row == v.rows.end() ? nullptr : &*row;
}

std::function<std::optional<double>(double)> injectorDutyOver(std::shared_ptr<const Verdict> verdict) {
    if (!verdict) return {};
    const Verdict::Row *row = findRow(*verdict, "flow.duty");
    if (!row) return {};
    return [verdict, row](double content) {
        return std::optional(row->outcome.byContent[sliceNearest(*verdict, content)].value);
    };
}

Phrase notJudged(const Verdict &v) {
    std::vector<Phrase> missing;
    for (const Check *check : v.notJudged) {
        std::vector<Phrase> why;
        for (const std::string_view id : check->needs)
            if (const Need &n = needById(id); n.there && !n.there(v.study->job()))
                why.emplace_back(n.missing);
        missing.push_back(
            {MARKED("verdict.not_judged.why", "{A} ({B})"), {}, {}, {check->named, listed(why)}});
    }
    if (missing.empty()) return {};
    return {MARKED("verdict.not_judged", "Not judged: {A}."), {}, {}, {listed(missing)}};
}

Phrase missingFor(const Check &check, const Verdict &v) {
    const Standing standing(v.study->evaluation(), v.proof);
    std::vector<Phrase> missing;
    for (const std::string_view id : check.needs) {
        const Need &n = needById(id);
        if (!std::ranges::all_of(standing.met(n), std::identity{})) missing.emplace_back(n.missing);
    }
    return listed(missing);
}

std::vector<OpenStretch> openStretches(const Verdict &v) {
    std::vector<OpenStretch> out;
    const Standing standing(v.study->evaluation(), v.proof);
    for (const Verdict::Row &row : v.rows) {
        bool goesOn = false;
        for (std::size_t i = 0; i < v.contents.size(); ++i) {
            if (row.byContent[i] != CheckState::notJudged) {
                goesOn = false;
                continue;
            }
            std::vector<const Need *> missing;
            for (const std::string_view id : row.check->needs)
                if (const Need &n = needById(id); !standing.met(n)[i]) missing.push_back(&n);
            if (goesOn && out.back().missing == missing)
                out.back().to = v.contents[i];
            else
                out.push_back({row.check, v.contents[i], v.contents[i], std::move(missing)});
            goesOn = true;
        }
    }
    return out;
}

Phrase inWords(const Verdict &verdict) {
    return together(verdict.sentences);
}

bool answered(const Verdict &v) {
    return std::ranges::all_of(v.answers, [](const Verdict::Answer &a) {
        return a.state != CheckState::failing && (a.question->beside || a.state != CheckState::notJudged);
    });
}

const Verdict::Answer *answerTo(const Verdict &v, QuestionId question) {
    const auto at =
        std::ranges::find(v.answers, question, [](const Verdict::Answer &a) { return a.question->id; });
    return at == v.answers.end() ? nullptr : &*at;
}

} // namespace wheelwright
