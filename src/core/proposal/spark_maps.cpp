// SPDX-License-Identifier: GPL-3.0-or-later
// Spark, as a map shows it: by knock, by power, and what the engine stands.
#include "core/job/revision.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/map_draft.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

class SparkDraft : public MapDraft {
  public:
    using MapDraft::MapDraft;

  protected:
    LearnedCeilings *learn() {
        LearnedCeilings *l = m_basis.ceilings(m_stop);
        if (l)
            for (const FuelDoubt &d : l->doubts())
                m_out.doubts.push_back(d.said);
        return l;
    }
};

class SparkMapMaker : public SparkDraft {
  public:
    using SparkDraft::SparkDraft;
    ProposedMap map() {
        make();
        return std::move(m_out);
    }

  private:
    // The search goes on from logs of the calibration as it is; older ones have been counted.
    std::vector<std::shared_ptr<const LogReview>> ofTheCalibration() {
        const std::string calibration = calibrationPrint(stateOf(m_study.job()));
        std::vector<std::shared_ptr<const LogReview>> current;
        for (const auto &log : m_basis.logs())
            if (log->ranWith(calibration))
                current.push_back(log);
            else
                sayUnused(log->info().name,
                          MARKED("proposal.spark.older", "it ran with another calibration"));
        return current;
    }

    static void put(const KnockCell &c, ProposedCell &out) {
        out.state = c.knocks > 0 ? S::knocks : c.proposedDeg != c.nowDeg ? S::changed : S::kept;
        out.now = c.nowDeg;
        out.proposed = c.proposedDeg;
        out.change = c.proposedDeg - c.nowDeg;
        out.hits = c.hits;
        out.steps = static_cast<int>(std::lround(c.search.steps));
        out.said.push_back(c.next);
        if (c.knocks > 0)
            out.said.push_back({MARKED("proposal.cell.knock",
                                       "knock began here {0} times, {1} were taken at the most, at {2} of "
                                       "intake air and {3}"),
                                {counted(c.knocks),
                                 {c.retardDeg, Dimension::sparkAngle},
                                 {c.intakeC, Dimension::temperature},
                                 {c.worstContent, Dimension::content}}});
        if (c.transient)
            out.said.push_back(MARKED("proposal.cell.transient",
                                      "it began while the throttle opened, and a sensor hears that too: "
                                      "maybe false, and not acted on"));
        if (c.carriedDeg > 0)
            out.said.push_back({MARKED("proposal.cell.carried",
                                       "{0} of retard came along from elsewhere: it is no verdict here"),
                                {{c.carriedDeg, Dimension::sparkAngle}}});
        out.said.push_back(
            {MARKED("proposal.cell.steps", "Steps of the search, with this one: {0}; clean in a row: {1}"),
             {counted(c.search.steps), counted(c.search.clean)}});
    }

    static void put(const BesideCell &b, ProposedCell &out) {
        out.state = S::changed;
        out.now = b.nowDeg;
        out.proposed = b.proposedDeg;
        out.change = b.proposedDeg - b.nowDeg;
        out.said.push_back(b.next);
    }

    void make() {
        m_out.dimension = Dimension::sparkAngle;
        KnockOptions how;
        std::vector<LoggedSweep> sweeps;
        how.content = m_options.content;
        how.leastHits = m_options.leastHits;
        if (m_options.learned) {
            how.learned = learn();
            if (!how.learned) return;
            sweeps = sweepsIn(m_study, onThisFuel(m_study.job(), m_basis.logs()));
            how.sweeps = sweeps;
        }
        const KnockProposal p = proposeSpark(m_study, ofTheCalibration(), how);
        const Study &pressure = m_study.inPressure();
        const Table2D now = pressure.blended(CalibratedQuantity::spark, m_options.content);
        startCells(now.x(), now.y().points());
        for (std::size_t i = 0; i < m_out.cells.size(); ++i)
            m_out.cells[i].now = now.cells()[i];
        double knocks = 0, knocking = 0, done = 0;
        for (const KnockCell &c : p.cells) {
            ProposedCell &out =
                m_out.cells[now.y().nearest(c.loadKpa) * now.x().size() + now.x().nearest(c.rpm)];
            put(c, out);
            m_out.takes += c.proposedDeg != c.nowDeg;
            knocks += c.knocks;
            knocking += c.knocks > 0;
            done += c.search.phase == SearchPhase::done;
        }
        for (const BesideCell &b : p.beside) {
            ProposedCell &out =
                m_out.cells[now.y().nearest(b.loadKpa) * now.x().size() + now.x().nearest(b.rpm)];
            put(b, out);
            ++m_out.takes;
        }
        for (const KnockProposal::Unused &u : p.unused)
            for (const auto &log : m_basis.logs())
                if (log->info().id == u.log) sayUnused(log->info().name, u.why);
        if (p.cells.empty())
            say(MARKED("proposal.spark.none",
                       "No log of the calibration as it is says anything of knock near this content."));
        else
            say({MARKED("proposal.spark.count",
                        "Knock began {0} times in {1} cells; in {2} of {3} the search has ended."),
                 {counted(knocks), counted(knocking), counted(done),
                  counted(static_cast<double>(p.cells.size()))}});
        if (!p.cells.empty()) {
            Job after = withSpark(m_study.job(), p, m_options.at);
            if (!(after == m_study.job())) m_out.job = std::move(after);
        }
    }
};

class SweepMapMaker : public MapDraft {
  public:
    using MapDraft::MapDraft;
    ProposedMap map() {
        make();
        return std::move(m_out);
    }

  private:
    void make() {
        m_out.dimension = Dimension::sparkAngle;
        std::vector<std::shared_ptr<const LogReview>> telling;
        for (const auto &log : m_basis.logs()) {
            const LogTrace &t = log->trace();
            if (!t.has(ChannelRole::torque) && !t.has(ChannelRole::power))
                sayUnused(log->info().name,
                          MARKED("proposal.sweep.no_power", "it has neither torque nor power"));
            else if (!t.has(ChannelRole::spark) || !t.has(ChannelRole::map))
                sayUnused(log->info().name, MARKED("knock.no_spark", "it has no spark, or no load"));
            else
                telling.push_back(log);
        }
        const double window = limitOf(m_study.job(), "evidence.content_window");
        std::vector<double> elsewhere;
        for (LoggedSweep &s : sweepsIn(m_study, telling))
            if (std::abs(s.content - m_options.content) <= window)
                m_out.sweeps.push_back(std::move(s));
            else
                elsewhere.push_back(s.content);
        const Table2D now = m_study.inPressure().blended(CalibratedQuantity::spark, m_options.content);
        startCells(now.x(), now.y().points());
        for (std::size_t i = 0; i < m_out.cells.size(); ++i)
            m_out.cells[i].now = now.cells()[i];
        for (std::size_t i = 0; i < m_out.sweeps.size(); ++i) {
            const LoggedSweep &s = m_out.sweeps[i];
            sayCell(m_out.cells[now.y().nearest(s.loadKpa) * now.x().size() + now.x().nearest(s.rpm)], s, i);
        }
        if (m_out.sweeps.empty())
            say(MARKED(
                "proposal.sweep.none",
                "No log has three sparks at one place near this content: hold speed and load on a dyno, or "
                "pull again, and move the spark alone."));
        else
            say({MARKED("proposal.sweep.count", "Cells swept: {0}; to where power levels off: {1}."),
                 {counted(static_cast<double>(m_out.sweeps.size())),
                  counted(static_cast<double>(m_out.takes))}});
        if (!elsewhere.empty()) {
            const auto [least, most] = std::ranges::minmax_element(elsewhere);
            say({MARKED("proposal.sweep.elsewhere", "At other contents, {1} to {2}, {0} cells were swept."),
                 {counted(static_cast<double>(elsewhere.size())),
                  {*least, Dimension::content},
                  {*most, Dimension::content}}});
        }
        say(MARKED(
            "proposal.sweep.how",
            "Tables of best spark get the least spark that gives 99.5 % of the most power, at the content "
            "that it was found at; the spark tables stay. Best spark is not what the fuel stands."));
        if (m_out.takes > 0) {
            Job after = withSweeps(m_study.job(), m_out.sweeps, m_options.at);
            if (!(after.extras == m_study.job().extras)) m_out.job = std::move(after);
        }
    }

    void sayCell(ProposedCell &out, const LoggedSweep &s, std::size_t index) {
        constexpr Dimension deg = Dimension::sparkAngle;
        const bool taken = s.sweep.leastDeg && s.held();
        out.sweep = index;
        out.hits = static_cast<double>(s.sweep.points.size());
        out.state = !s.held() ? S::refused : taken ? S::changed : S::kept;
        if (s.sweep.leastDeg) {
            out.proposed = *s.sweep.leastDeg;
            out.change = out.proposed - out.now;
        }
        if (s.sweep.lowDeg) out.plusMinus = (*s.sweep.highDeg - *s.sweep.lowDeg) / 2;
        m_out.takes += taken;
        if (s.sweep.stillRising)
            out.said.push_back({MARKED("proposal.sweep.rising",
                                       "power still rises at {0}, the latest that was tried: no best yet"),
                                {{s.sweep.points.back().sparkDeg, deg}}});
        else if (s.sweep.pastBest)
            out.said.push_back({MARKED("proposal.sweep.past",
                                       "all that was tried is past the best: less than {0} was not tried"),
                                {{s.sweep.points.front().sparkDeg, deg}}});
        else if (s.sweep.lowDeg)
            out.said.push_back(
                {MARKED("proposal.sweep.best", "best at {0}, 95 % between {1} and {2}, by {3} points"),
                 {{*s.sweep.bestDeg, deg},
                  {*s.sweep.lowDeg, deg},
                  {*s.sweep.highDeg, deg},
                  counted(out.hits)}});
        else
            out.said.push_back({MARKED("proposal.sweep.unsure",
                                       "best at {0} by {1} points, which do not say how sure that is"),
                                {{*s.sweep.bestDeg, deg}, counted(out.hits)}});
        if (s.sweep.leastDeg)
            out.said.push_back(
                {s.sweep.leastIsLowestTried
                     ? MARKED("proposal.sweep.lowest", "{0}, the least that was tried, gives 99.5 % of it "
                                                       "already; the table asks for {1}")
                     : MARKED("proposal.sweep.least", "{0} gives 99.5 % of it; the table asks for {1}"),
                 {{*s.sweep.leastDeg, deg}, {out.now, deg}}});
        if (!s.lambdaHeld)
            out.said.push_back({MARKED("proposal.sweep.lambda",
                                       "λ moved by {0}: power does not compare, and it is not taken"),
                                {{s.lambdaMoved, Dimension::mixture}}});
        if (!s.loadHeld)
            out.said.push_back({MARKED("proposal.sweep.load",
                                       "load moved by {0}: power does not compare, and it is not taken"),
                                {share(s.loadMoved)}});
    }
};

class CeilingsMapMaker : public SparkDraft {
  public:
    using SparkDraft::SparkDraft;
    ProposedMap map() {
        make();
        return std::move(m_out);
    }

  private:
    void make() {
        m_out.dimension = Dimension::sparkAngle;
        LearnedCeilings *learned = learn();
        if (!learned) return;
        const std::vector<LearnedCeiling> cells = learned->at(m_options.content);
        for (const LearnedCeiling &c : cells) {
            if (m_out.loadKpa.empty() || c.loadKpa != m_out.loadKpa.back())
                m_out.loadKpa.push_back(c.loadKpa);
            if (m_out.loadKpa.size() == 1) m_out.rpm.push_back(c.rpm);
        }
        const Table2D now = m_study.inPressure().blended(CalibratedQuantity::spark, m_options.content);
        for (const LearnedCeiling &c : cells) {
            ProposedCell out = emptyCell(c.rpm, c.loadKpa);
            out.now = now.lookup(c.rpm, c.loadKpa).value;
            out.hits = c.clean + c.knocked;
            out.plusMinus = at95 * c.sigmaDeg;
            if (c.known) {
                out.state = c.knocked > 0 ? S::knocks : out.hits > 0 ? S::changed : S::inferred;
                out.proposed = out.change = c.deg;
                ++m_out.takes;
            } else if (out.hits > 0) {
                out.state = S::notSeparable;
            }
            out.said.push_back(forecastOf(c, m_options.content));
            if (c.known)
                out.said.push_back(
                    {MARKED("proposal.cell.table", "its table asks for {0} there: {1} under it"),
                     {{out.now, Dimension::sparkAngle}, {c.deg - out.now, Dimension::sparkAngle}}});
            out.said.push_back(
                {MARKED("proposal.cell.seen",
                        "knock began here {0} times near this content, {1} samples stayed clean"),
                 {counted(c.knocked), counted(c.clean)}});
            m_out.cells.push_back(std::move(out));
        }
        double knocks = 0, used = 0;
        for (const KnockTrials::Log &l : learned->trials().logs) {
            if (!l.used) sayUnused(l.info.name, l.why);
            knocks += l.knocks;
            used += l.used;
        }
        say({MARKED("proposal.ceilings.count",
                    "{0} of {1} cells are known, by {2} logs in which knock began {3} times."),
             {counted(static_cast<double>(m_out.takes)), counted(static_cast<double>(cells.size())),
              counted(used), counted(knocks)}});
        if (learned->any()) {
            const auto line = [&](PhraseText text, const FoundNumber &n) {
                say({text, {{n.value, Dimension::ratio}, {at95 * n.standardError, Dimension::ratio}}});
            };
            line(MARKED("proposal.ceilings.scale",
                        "Delay of knock against the model: {0} ± {1} in its logarithm."),
                 learned->fit().scale());
            line(MARKED("proposal.ceilings.octane",
                        "What octane gives against the model: {0} ± {1} of it more."),
                 learned->fit().octane());
            line(MARKED("proposal.ceilings.air",
                        "What hot air takes against the model: {0} ± {1} of it more."),
                 learned->fit().temperature());
        }
        say(MARKED("proposal.ceilings.how",
                   "Logs of all calibrations count: what an engine stands does not go by its tables. The "
                   "tables get what it stands at the least, with 95 %; where it is not known they hold an "
                   "estimate, which answers no question."));
        Job after = withLearnedCeilings(m_study.job(), *learned, contentsOf(*learned));
        if (!(after.extras == m_study.job().extras)) m_out.job = std::move(after);
    }
};

} // namespace

ProposedMap sparkMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop) {
    return SparkMapMaker(ProposalKind::spark, basis, options, stop).map();
}
ProposedMap sweepMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop) {
    return SweepMapMaker(ProposalKind::sweep, basis, options, stop).map();
}
ProposedMap ceilingsMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop) {
    return CeilingsMapMaker(ProposalKind::ceilings, basis, options, stop).map();
}

} // namespace wheelwright
