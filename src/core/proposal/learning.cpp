// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/learning.h"

#include "core/job/named_tables.h"
#include "core/proposal/fuel_samples.h"
#include "core/proposal/knock_proposal.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace wheelwright {
namespace {

struct Found {
    double sum = 0, squares = 0, hits = 0;
};

bool ofFuelTables(const Correction &c) {
    return c.kind == CorrectionKind::fuel || c.kind == CorrectionKind::joint;
}

bool ofSparkTables(const Correction &c) {
    return c.kind == CorrectionKind::spark;
}

class StepReader {
  public:
    StepReader(const Study &study, const Correction &of)
        : m_job(study.job()), m_table(&m_job.calibration.of(CalibratedQuantity::fuel).base),
          m_window(limitOf(m_job, "evidence.content_window")), m_clamp(limitOf(m_job, "evidence.clamp")),
          m_least(limitOf(m_job, "evidence.least_hits")) {
        m_out.of = &of;
        // A cell that was corrected in both tables was seen once.
        for (const CorrectedCell &c : correctedCells(of.cells)) {
            if (!(c.hits > 0)) continue;
            if (m_cells.empty())
                if (const Table2D *named = namedIn(m_job, c.table)) m_table = named;
            m_cells.try_emplace({c.rpm, c.y}, c);
        }
    }

    void add(const LogReview &log) {
        const std::array<std::shared_ptr<const LogReview>, 1> one{
            std::shared_ptr<const LogReview>(std::shared_ptr<const LogReview>(), &log)};
        const FuelSamples samples = fuelSamples(log.study(), one);
        if (samples.usedLogs() == 0) return;
        m_out.logs.push_back(log.info().id);
        for (const FuelSample &s : samples.samples) {
            if (s.supplyAtEnd) continue;
            if (m_out.of->kind == CorrectionKind::fuel && std::abs(s.content - m_out.of->content) > m_window)
                continue;
            if (const auto *cell = nearest(s.rpm, axisOfLoad(m_job, s.loadKpa))) {
                Found &f = m_found[*cell];
                f.sum += s.error;
                f.squares += s.error * s.error;
                ++f.hits;
            }
        }
    }

    LearningStep finish() {
        double before = 0, foretold = 0, found = 0, product = 0, squares = 0, weight = 0;
        const double damping = m_out.of->damping;
        for (const auto &[place, f] : m_found) {
            if (f.hits < m_least) continue;
            const CorrectedCell &was = m_cells.at(place);
            LearningStep::Cell c;
            c.rpm = was.rpm;
            c.y = was.y;
            c.before = was.error;
            const double step = m_out.of->kind == CorrectionKind::fuel
                                    ? std::clamp(was.error * damping, -m_clamp, m_clamp)
                                    : was.error * damping;
            c.foretold = was.error - step;
            c.found = f.sum / f.hits;
            c.hits = f.hits;
            // Samples follow one another closely: about twenty of them say as much as two that do not.
            constexpr double sure = 1.96, alike = 10;
            const double variance = std::max(0.0, f.squares / f.hits - c.found * c.found);
            c.plusMinus = sure * std::sqrt(variance / std::max(1.0, f.hits / alike));
            constexpr double noBetter = 0.01; // a table has no more in it
            c.off = std::abs(c.found - c.foretold) > std::hypot(c.plusMinus, was.plusMinus) + noBetter;
            m_out.cells.push_back(c);
            before += c.before * c.before;
            foretold += c.foretold * c.foretold;
            found += c.found * c.found;
            product += c.found * c.before;
            squares += c.before * c.before;
            ++weight;
        }
        if (weight > 0) {
            m_out.before = std::sqrt(before / weight);
            m_out.foretold = std::sqrt(foretold / weight);
            m_out.found = std::sqrt(found / weight);
            m_out.carried = squares > 0 ? product / squares : 0;
        }
        judge(damping);
        return std::move(m_out);
    }

  private:
    using Place = std::pair<double, double>;

    // The corrected cell whose middle is nearest, if the sample lies in it.
    const Place *nearest(double rpm, double y) const {
        const Table2D &t = *m_table;
        const auto at = m_cells.find({t.x()[t.x().nearest(rpm)], t.y()[t.y().nearest(y)]});
        return at == m_cells.end() ? nullptr : &at->first;
    }

    void judge(double damping) {
        using V = LearningVerdict;
        const auto share = [](double v) { return Measured{v, Dimension::ratio}; };
        std::vector<Phrase> &said = m_out.said;
        if (m_out.cells.empty()) {
            said.push_back(
                MARKED("learning.not_yet", "No log has been in the corrected cells since: log again."));
            return;
        }
        constexpr double room = 1.25, noise = 0.004, hardly = 0.9, toTheOtherSide = -0.3, asIfNothing = 0.8;
        const double wide = m_out.foretold * room + noise;
        m_out.verdict = m_out.found <= wide                    ? V::asForetold
                        : m_out.carried < toTheOtherSide       ? V::overshot
                        : m_out.found >= hardly * m_out.before ? V::notConverging
                                                               : V::partly;
        said.push_back(
            {MARKED("learning.numbers", "Off by {0} before; {1} was foretold, {2} was found, in {3} cells."),
             {share(m_out.before),
              share(m_out.foretold),
              share(m_out.found),
              {static_cast<double>(m_out.cells.size()), Dimension::count}}});
        if (m_out.verdict == V::asForetold) return;
        if (m_out.verdict == V::overshot)
            said.push_back(
                {MARKED("learning.overshot",
                        "{0} of each error came back with the other sign: it has been taken out twice, "
                        "by a trim that was counted and then learned by the controller, or the delay of "
                        "λ puts samples into cells beside their own."),
                 {share(-m_out.carried)}});
        else if (m_out.carried > asIfNothing && damping > 0.3)
            said.push_back(
                {MARKED("learning.nothing",
                        "{0} of each error is still there, as if nothing had been changed: was this file "
                        "sent, and does a closed loop hide what it changes?"),
                 {share(m_out.carried)}});
        else
            said.push_back(
                {MARKED("learning.other",
                        "Only {0} of each error is still there; the rest is new: other air or fuel, "
                        "hardware that wanders, or a filter that lets other samples through."),
                 {share(std::max(0.0, m_out.carried))}});
        const auto off = std::ranges::count_if(m_out.cells, &LearningStep::Cell::off);
        if (off > 0) {
            const auto worst = std::ranges::max_element(m_out.cells, {}, [](const LearningStep::Cell &c) {
                return c.off ? std::abs(c.found - c.foretold) : 0.0;
            });
            said.push_back(
                {MARKED("learning.where",
                        "Cells that are off: {0}; the most at {1} and {2}: {3} foretold, {4} found."),
                 {{static_cast<double>(off), Dimension::count},
                  {worst->rpm, Dimension::engineSpeed},
                  {loadOfAxis(m_job, worst->y), Dimension::pressure},
                  share(worst->foretold),
                  share(worst->found)}});
        }
    }

    static const Table2D *namedIn(const Job &job, std::string_view path) {
        for (const NamedTable &t : namedTables(job))
            if (t.path == path) return t.table;
        return nullptr;
    }

    const Job &m_job;
    const Table2D *m_table; ///< whose cells they are: of the first
    double m_window, m_clamp, m_least;
    std::map<Place, CorrectedCell> m_cells;
    std::map<Place, Found> m_found;
    LearningStep m_out;
};

// Cells that knocked and were taken back, and cells that got more.
class SparkStepReader {
  public:
    SparkStepReader(const Study &study, const Correction &of) : m_job(study.job()) {
        m_out.of = &of;
        m_out.dimension = Dimension::sparkAngle;
        // One in both tables was seen once.
        for (const CorrectedCell &c : correctedCells(of.cells))
            if (c.hits > 0) m_cells.try_emplace({c.rpm, c.y}, c);
    }

    void add(const LogReview &log) {
        const std::array<std::shared_ptr<const LogReview>, 1> one{
            std::shared_ptr<const LogReview>(std::shared_ptr<const LogReview>(), &log)};
        KnockOptions options;
        if (m_out.of->content > 0) options.content = m_out.of->content;
        const KnockProposal found = proposeSpark(log.study(), one, options);
        if (!found.unused.empty()) return;
        m_out.logs.push_back(log.info().id);
        for (const KnockCell &k : found.cells) {
            const auto at = std::ranges::find_if(m_cells, [&](const auto &c) {
                constexpr double same = 1e-6;
                return c.first.first == k.rpm &&
                       std::abs(loadOfAxis(m_job, c.first.second) - k.loadKpa) < same;
            });
            if (at == m_cells.end()) continue;
            Seen &s = m_seen[at->first];
            s.hits += k.hits;
            s.knocks += k.knocks;
            if (k.knocks > 0) s.retardDeg = std::max(s.retardDeg, k.retardDeg);
        }
    }

    LearningStep finish() {
        double before = 0, found = 0, product = 0;
        for (const auto &[place, s] : m_seen) {
            const double retard = -m_cells.at(place).error;
            if (!(retard > 0)) {
                ++m_out.raised;
                m_out.raisedKnock += s.knocks > 0;
                continue;
            }
            LearningStep::Cell c;
            c.rpm = place.first;
            c.y = place.second;
            c.before = retard;
            c.found = s.retardDeg;
            c.hits = s.hits;
            c.off = s.knocks > 0;
            m_out.cells.push_back(c);
            before += retard * retard;
            found += s.retardDeg * s.retardDeg;
            product += retard * s.retardDeg;
        }
        if (const double n = static_cast<double>(m_out.cells.size()); n > 0) {
            m_out.before = std::sqrt(before / n);
            m_out.found = std::sqrt(found / n);
            m_out.carried = product / before;
        }
        judge();
        return std::move(m_out);
    }

  private:
    struct Seen {
        double hits = 0, retardDeg = 0;
        int knocks = 0;
    };
    static Measured deg(double v) { return {v, Dimension::sparkAngle}; }
    static Measured counted(std::size_t n) { return {static_cast<double>(n), Dimension::count}; }

    void judge() {
        using V = LearningVerdict;
        std::vector<Phrase> &said = m_out.said;
        if (m_out.cells.empty() && m_out.raised == 0) {
            said.push_back(
                MARKED("learning.not_yet", "No log has been in the corrected cells since: log again."));
            return;
        }
        const auto off =
            static_cast<std::size_t>(std::ranges::count_if(m_out.cells, &LearningStep::Cell::off));
        constexpr double hardly = 0.9;
        m_out.verdict = off == 0                               ? V::asForetold
                        : m_out.found >= hardly * m_out.before ? V::notConverging
                                                               : V::partly;
        if (!m_out.cells.empty())
            said.push_back(
                {MARKED("learning.spark",
                        "Cells that knocked and were taken back: {0}. Knock took {1} in them before, and {2} "
                        "since; {3} knock still."),
                 {counted(m_out.cells.size()), deg(m_out.before), deg(m_out.found), counted(off)}});
        if (m_out.raised > 0)
            said.push_back({MARKED("learning.spark.raised",
                                   "Cells that got more: {0}, of which {1} knock now: there the "
                                   "search turns."),
                            {counted(m_out.raised), counted(m_out.raisedKnock)}});
        if (off == 0) return;
        if (m_out.verdict == V::notConverging)
            said.push_back(
                MARKED("learning.spark.nothing",
                       "It knocks as before, though spark was taken: was this file sent, is the fuel what it "
                       "was, has the air grown hotter, or does the sensor hear something else?"));
        const auto worst = std::ranges::max_element(m_out.cells, {}, &LearningStep::Cell::found);
        said.push_back({MARKED("learning.spark.where", "The most at {0} and {1}: {2} before, {3} now."),
                        {{worst->rpm, Dimension::engineSpeed},
                         {loadOfAxis(m_job, worst->y), Dimension::pressure},
                         deg(worst->before),
                         deg(worst->found)}});
    }

    using Place = std::pair<double, double>;
    const Job &m_job;
    std::map<Place, CorrectedCell> m_cells;
    std::map<Place, Seen> m_seen;
    LearningStep m_out;
};

} // namespace

std::string_view learningKey(LearningVerdict verdict) {
    constexpr std::array<std::string_view, 5> keys{"not_yet", "as_foretold", "partly", "not_converging",
                                                   "overshot"};
    return keys[static_cast<std::size_t>(verdict)];
}

PhraseText inWords(LearningVerdict verdict) {
    switch (verdict) {
    case LearningVerdict::notYet:
        return MARKED("learning.verdict.not_yet", "not judged yet");
    case LearningVerdict::asForetold:
        return MARKED("learning.verdict.as_foretold", "as foretold");
    case LearningVerdict::partly:
        return MARKED("learning.verdict.partly", "better, and not as foretold");
    case LearningVerdict::notConverging:
        return MARKED("learning.verdict.not_converging", "no better than before");
    case LearningVerdict::overshot:
        break;
    }
    return MARKED("learning.verdict.overshot", "off to the other side");
}

std::vector<LearningStep> learningSteps(const Study &study,
                                        std::span<const std::shared_ptr<const LogReview>> logs) {
    std::vector<LearningStep> out;
    const auto &all = study.job().corrections.values();
    // With the logs after it, up to the next correction of its kind.
    const auto read = [&](auto reader, std::size_t i, bool (*same)(const Correction &)) {
        std::string until;
        for (std::size_t j = i + 1; j < all.size() && until.empty(); ++j)
            if (same(all[j])) until = all[j].at;
        for (const auto &log : logs) {
            const std::string &added = log->info().added; // ISO 8601 sorts as text
            if (added > all[i].at && (until.empty() || added <= until) &&
                !listsId(all[i].logs, log->info().id))
                reader.add(*log);
        }
        out.push_back(reader.finish());
    };
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (ofFuelTables(all[i])) read(StepReader(study, all[i]), i, ofFuelTables);
        if (ofSparkTables(all[i])) read(SparkStepReader(study, all[i]), i, ofSparkTables);
    }
    return out;
}

} // namespace wheelwright
