// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_differences.h"

#include "core/base/error.h"
#include "core/job/job.h"
#include "core/job/revision.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>
#include <set>

namespace wheelwright {
namespace {

using Runs = std::span<const std::shared_ptr<const MeasuredRun>>;

constexpr double unknown = std::numeric_limits<double>::quiet_NaN();

// What is asked of each run, as a text: two runs are of the same if the texts are.
struct Named {
    std::string_view what;
    PhraseText title;
    RunCause cause;
    std::string (*of)(const Run &);
    bool needed; ///< that nobody has said it is worth saying
};

std::string keyOfMode(RunMode mode) {
    constexpr std::array keys{"", "inertia", "loaded", "road"};
    return keys[static_cast<std::size_t>(mode)];
}

const std::array<Named, 9> &named() {
    static const std::array<Named, 9> all{{
        {"fuel", MARKED("differs.fuel", "fuel"), RunCause::fuel, [](const Run &r) { return r.fuel; }, false},
        {"hardware", MARKED("differs.hardware", "hardware"), RunCause::hardware,
         [](const Run &r) { return r.hardware; }, false},
        {"cam", MARKED("differs.cam", "cam"), RunCause::hardware, [](const Run &r) { return r.cam; }, false},
        {"dyno", MARKED("differs.dyno", "dyno"), RunCause::dyno, [](const Run &r) { return r.dyno; }, false},
        {"mode", MARKED("differs.mode", "mode of the dyno"), RunCause::dyno,
         [](const Run &r) { return keyOfMode(r.mode); }, true},
        {"load_share", MARKED("differs.load_share", "brake of the dyno"), RunCause::dyno,
         [](const Run &r) {
             return r.loadShare > 0 ? std::to_string(std::lround(r.loadShare * 100)) + " %" : std::string();
         },
         false},
        {"gear", MARKED("differs.gear", "gear"), RunCause::dyno,
         [](const Run &r) { return r.gear > 0 ? std::to_string(std::lround(r.gear)) : std::string(); },
         false},
        {"direction", MARKED("differs.direction", "direction"), RunCause::dyno,
         [](const Run &r) { return std::string(r.down ? "down" : "up"); }, false},
        {"smoothing", MARKED("differs.smoothing", "smoothing that was applied"), RunCause::dyno,
         [](const Run &r) {
             return r.smoothedRpm > 0 ? std::to_string(std::lround(r.smoothedRpm)) + " rpm" : std::string();
         },
         false},
    }};
    return all;
}

// What is asked of each run as a number; not a number where nobody knows.
struct Number {
    std::string_view what;
    PhraseText title;
    RunCause cause;
    Dimension dimension;
    std::string_view limit;
    double (*of)(const Run &);
    bool needed; ///< that nobody has said it is worth saying
};

double warmth(double c) {
    return c == 0 ? unknown : c;
}

const std::array<Number, 7> &numbers() {
    static const std::array<Number, 7> all{{
        {"content", MARKED("differs.content", "content"), RunCause::fuel, Dimension::content,
         "runs.same.content",
         [](const Run &r) { return r.contentBasis == RunContentBasis::none ? unknown : r.content; }, true},
        {"ambient_kpa", MARKED("differs.ambient_kpa", "air pressure"), RunCause::weather, Dimension::pressure,
         "runs.same.pressure",
         [](const Run &r) { return r.ambient == AmbientBasis::none ? unknown : r.ambientKpa; }, true},
        {"ambient_c", MARKED("differs.ambient_c", "air temperature"), RunCause::weather,
         Dimension::temperature, "runs.same.temperature",
         [](const Run &r) { return r.ambient == AmbientBasis::none ? unknown : r.ambientC; }, false},
        {"humidity", MARKED("differs.humidity", "humidity"), RunCause::weather, Dimension::ratio,
         "runs.same.humidity",
         [](const Run &r) { return r.ambient == AmbientBasis::none ? unknown : r.humidity; }, false},
        {"start_intake_c", MARKED("differs.start_intake_c", "intake air at start"), RunCause::heat,
         Dimension::temperature, "runs.same.heat", [](const Run &r) { return warmth(r.startIntakeC); }, true},
        {"start_coolant_c", MARKED("differs.start_coolant_c", "coolant at start"), RunCause::heat,
         Dimension::temperature, "runs.same.heat", [](const Run &r) { return warmth(r.startCoolantC); },
         false},
        {"start_oil_c", MARKED("differs.start_oil_c", "oil at start"), RunCause::heat, Dimension::temperature,
         "runs.same.heat", [](const Run &r) { return warmth(r.startOilC); }, false},
    }};
    return all;
}

// Boost, spark and λ as they were measured.
struct Lane {
    std::string_view what;
    PhraseText title;
    RunCause cause;
    ChannelRole role;
    std::string_view limit;
};

const std::array<Lane, 3> &lanes() {
    static const std::array<Lane, 3> all{{
        {"spark", MARKED("differs.spark", "spark"), RunCause::spark, ChannelRole::spark, "runs.same.spark"},
        {"boost", MARKED("differs.boost", "boost"), RunCause::boost, ChannelRole::map, "runs.same.boost"},
        {"lambda", MARKED("differs.lambda", "λ"), RunCause::mixture, ChannelRole::lambda, "runs.same.lambda"},
    }};
    return all;
}

struct Spread {
    double mean = 0, least = 0, most = 0;
    bool known = false; ///< of every run
};

template <class Of>
Spread spreadOf(Runs runs, Of of) {
    Spread s{0, std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity(),
             !runs.empty()};
    for (const auto &r : runs) {
        const double v = of(*r);
        if (!std::isfinite(v)) return {unknown, unknown, unknown, false};
        s.mean += v / static_cast<double>(runs.size());
        s.least = std::min(s.least, v);
        s.most = std::max(s.most, v);
    }
    return s;
}

// The speeds that all runs have.
std::pair<double, double> commonSpeeds(Runs a, Runs b) {
    double from = 0, to = std::numeric_limits<double>::infinity();
    for (const Runs runs : {a, b})
        for (const auto &r : runs) {
            from = std::max(from, r->curve.rpm.front());
            to = std::min(to, r->curve.rpm.back());
        }
    return {from, to};
}

// Over the upper half of the speeds, evenly: below it a turbo spools up, a little sooner or later every time,
// and a run has the more rows at a speed the slower it goes through.
double laneMean(const MeasuredRun &run, ChannelRole role, double from, double to) {
    if (run.curve.of(role).empty() || !(to > from)) return unknown;
    constexpr int places = 40;
    std::vector<double> at;
    for (int k = 0; k <= places; ++k)
        at.push_back((from + to) / 2 + (to - from) / 2 * k / places);
    double sum = 0;
    for (const double v : smoothedAt(run.curve.rpm, run.curve.of(role), 0, at))
        sum += v;
    return sum / static_cast<double>(at.size());
}

std::set<std::string> wordsOf(Runs runs, const Named &n) {
    std::set<std::string> out;
    for (const auto &r : runs)
        out.insert(n.of(r->run));
    return out;
}

Phrase inWords(const std::set<std::string> &words) {
    std::string all;
    for (const std::string &w : words)
        all += (all.empty() ? "" : ", ") + w;
    return all.empty() ? Phrase(MARKED("differs.not_said", "not said")) : verbatim(all);
}

std::optional<RunCause> causeOf(std::string_view path) {
    constexpr std::array kinds{
        std::pair{"calibration.spark", RunCause::spark}, std::pair{"calibration.boost", RunCause::boost},
        std::pair{"calibration.fuel", RunCause::mixture}, std::pair{"calibration.lambda", RunCause::mixture}};
    for (const auto &[begin, cause] : kinds)
        if (path.starts_with(begin)) return cause;
    return std::nullopt;
}

void addNumber(const RunDifference &like, const Spread &a, const Spread &b, double tolerance, bool needed,
               bool methanol, RunDifferences &out) {
    if (!a.known || !b.known) {
        if (needed) out.notKnown.push_back(like.title);
        return;
    }
    // Within a set as well: runs that differ among themselves are no set of anything.
    const double within = std::max(a.most - a.least, b.most - b.least);
    const bool steady =
        like.cause == RunCause::weather || like.cause == RunCause::heat || within <= 2 * tolerance;
    constexpr double rounding = 1e-9;
    if (std::abs(b.mean - a.mean) <= tolerance + rounding && steady) return;
    RunDifference d = like;
    d.from = a.mean;
    d.to = b.mean;
    const auto shown = [&](const Spread &s) {
        if (d.dimension == Dimension::content) {
            const std::string least = contentName(s.least, methanol), most = contentName(s.most, methanol);
            return verbatim(least == most ? least : least + " – " + most);
        }
        if (s.most - s.least <= 2 * tolerance)
            return Phrase{MARKED("differs.number", "{0}"), {{s.mean, d.dimension}}};
        return Phrase{MARKED("differs.range", "{0} to {1}"), {{s.least, d.dimension}, {s.most, d.dimension}}};
    };
    d.before = shown(a);
    d.after = shown(b);
    out.found.push_back(std::move(d));
}

} // namespace

std::shared_ptr<const MeasuredRun> measured(const Run &run) {
    return std::make_shared<const MeasuredRun>(MeasuredRun{run, curveOf(run)});
}

MeasuredRuns readableRuns(const Job &job) {
    MeasuredRuns out;
    for (const Run &r : job.runs.values()) {
        try {
            out.push_back(measured(r));
        } catch (const InputError &) { // a run without numbers has nothing to say
        }
    }
    return out;
}

std::string_view keyOf(RunCause cause) {
    constexpr std::array<std::string_view, 9> keys{"fuel",     "spark",   "boost", "mixture", "calibration",
                                                   "hardware", "weather", "heat",  "dyno"};
    return keys[static_cast<std::size_t>(cause)];
}

PhraseText titleOf(RunCause cause) {
    static const std::array<PhraseText, 9> titles{MARKED("cause.fuel", "the fuel"),
                                                  MARKED("cause.spark", "spark"),
                                                  MARKED("cause.boost", "boost"),
                                                  MARKED("cause.mixture", "the mixture"),
                                                  MARKED("cause.calibration", "the calibration"),
                                                  MARKED("cause.hardware", "hardware"),
                                                  MARKED("cause.weather", "the weather"),
                                                  MARKED("cause.heat", "heat"),
                                                  MARKED("cause.dyno", "the dyno")};
    return titles[static_cast<std::size_t>(cause)];
}

std::vector<RunCause> RunDifferences::causes() const {
    std::vector<RunCause> out;
    for (const RunDifference &d : found)
        if (!d.accounted && std::ranges::find(out, d.cause) == out.end()) out.push_back(d.cause);
    return out;
}

// The one cause of two calibrations that differ in tables of one quantity alone, and what differs in them.
const RunDifferenceFinder::Calibrations &RunDifferenceFinder::calibrations(const Run &before,
                                                                           const Run &after) const {
    const auto [kept, fresh] = m_calibrations.try_emplace({before.calibration, after.calibration});
    Calibrations &out = kept->second;
    if (!fresh) return out;
    const auto was = jobThatRan(m_job, before.revision, before.calibration),
               is = jobThatRan(m_job, after.revision, after.calibration);
    if (!was || !is) return out;
    std::set<RunCause> causes;
    for (const Difference &d : differencesOf(*was, *is)) {
        causes.insert(causeOf(d.path).value_or(RunCause::calibration));
        out.details.push_back(
            Phrase{MARKED("differs.detail", "{A}: {B} to {C}"), {}, {}, {d.title, d.before, d.after}});
    }
    if (causes.size() == 1) out.cause = *causes.begin();
    return out;
}

void RunDifferenceFinder::addCalibration(Runs before, Runs after, RunDifferences &out) const {
    const auto all = [](Runs runs, auto of) {
        std::set<std::string> words;
        for (const auto &r : runs)
            words.insert(of(r->run));
        return words;
    };
    const auto print = [](const Run &r) { return r.calibration; };
    const auto name = [](const Run &r) {
        return r.revision.empty() ? r.calibration.substr(0, 8) : r.revision;
    };
    const std::set<std::string> a = all(before, print), b = all(after, print);
    if (a.contains("") || b.contains("")) {
        out.notKnown.push_back(titleOf(RunCause::calibration));
        return;
    }
    if (a.size() == 1 && a == b) return;
    RunDifference d{"revision",
                    titleOf(RunCause::calibration),
                    RunCause::calibration,
                    inWords(all(before, name)),
                    inWords(all(after, name)),
                    unknown,
                    unknown,
                    Dimension::none,
                    false,
                    {}};
    if (a.size() == 1 && b.size() == 1) {
        const Calibrations &c = calibrations(before.front()->run, after.front()->run);
        d.cause = c.cause;
        d.details = c.details;
    }
    out.found.push_back(std::move(d));
}

RunDifferences RunDifferenceFinder::between(Runs before, Runs after, Accounted accounted) const {
    RunDifferences out;
    if (before.empty() || after.empty()) return out;
    for (const Named &n : named()) {
        const std::set<std::string> a = wordsOf(before, n), b = wordsOf(after, n);
        if (n.needed && (a.contains("") || b.contains(""))) out.notKnown.push_back(n.title);
        if (a == b && a.size() == 1) continue;
        out.found.push_back(
            {n.what, n.title, n.cause, inWords(a), inWords(b), unknown, unknown, Dimension::none, false, {}});
    }
    for (const Number &n : numbers())
        addNumber({n.what, n.title, n.cause, {}, {}, 0, 0, n.dimension, false, {}},
                  spreadOf(before, [&](const MeasuredRun &r) { return n.of(r.run); }),
                  spreadOf(after, [&](const MeasuredRun &r) { return n.of(r.run); }), limitOf(m_job, n.limit),
                  n.needed, m_job.alcohol == Alcohol::methanol, out);
    addCalibration(before, after, out);
    const auto [from, to] = commonSpeeds(before, after);
    for (const Lane &l : lanes()) {
        const auto mean = [&, low = from, high = to](const MeasuredRun &r) {
            return laneMean(r, l.role, low, high);
        };
        addNumber({l.what, l.title, l.cause, {}, {}, 0, 0, definitionOf(l.role).dimension, false, {}},
                  spreadOf(before, mean), spreadOf(after, mean), limitOf(m_job, l.limit), true, false, out);
    }
    for (RunDifference &d : out.found)
        d.accounted = (d.cause == RunCause::weather && accounted.weather) ||
                      (d.cause == RunCause::heat && accounted.heat);
    return out;
}

bool RunDifferenceFinder::same(const std::shared_ptr<const MeasuredRun> &a,
                               const std::shared_ptr<const MeasuredRun> &b) const {
    return between(std::span(&a, 1), std::span(&b, 1), {true, true}).causes().empty();
}

std::vector<MeasuredRuns> RunDifferenceFinder::sets(Runs runs) const {
    std::vector<MeasuredRuns> out;
    // Only runs of the same words can be of the same everything: the numbers are asked of those alone.
    std::map<std::string, std::vector<std::size_t>> ofWords;
    for (const auto &r : runs) {
        std::string words = r->run.calibration;
        for (const Named &n : named())
            words += '\n' + n.of(r->run);
        std::vector<std::size_t> &candidates = ofWords[words];
        const auto set =
            std::ranges::find_if(candidates, [&](std::size_t k) { return same(out[k].front(), r); });
        if (set != candidates.end()) {
            out[*set].push_back(r);
            continue;
        }
        candidates.push_back(out.size());
        out.push_back({r});
    }
    return out;
}

std::vector<MeasuredRuns> RunDifferenceFinder::controlSets(Runs runs) const {
    std::vector<MeasuredRuns> out = sets(runs);
    std::erase_if(out, [](const MeasuredRuns &s) { return s.size() < 2; });
    return out;
}

std::vector<TellingPair> RunDifferenceFinder::tellingPairs(Runs runs,
                                                           std::span<const RunCause> causes) const {
    std::vector<TellingPair> out;
    const std::vector<MeasuredRuns> all = sets(runs);
    std::set<RunCause> told;
    for (std::size_t i = 0; i < all.size(); ++i)
        for (std::size_t j = i + 1; j < all.size() && told.size() < causes.size(); ++j) {
            const auto found =
                between(Runs(&all[i].front(), 1), Runs(&all[j].front(), 1), {true, false}).causes();
            if (found.size() != 1 || std::ranges::find(causes, found.front()) == causes.end()) continue;
            if (told.insert(found.front()).second)
                out.push_back({all[i].front()->run.id, all[j].front()->run.id, found.front()});
        }
    return out;
}

} // namespace wheelwright
