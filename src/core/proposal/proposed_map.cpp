// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/proposed_map.h"

#include "core/proposal/fuel_proposal.h"
#include "core/proposal/joint_fuel.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/learned_ceilings.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr double notKnown = std::numeric_limits<double>::quiet_NaN();
using S = ProposedState;

constexpr std::array kindTable{
    ProposalKindDefinition{
        ProposalKind::fuel, "fuel", MARKED("proposal.fuel", "Fuel at one content"),
        MARKED("proposal.fuel.help",
               "What clean samples at this content ask of each cell, damped and held back."),
        MARKED("proposal.fuel.step", "Correct fuel from logs")},
    ProposalKindDefinition{
        ProposalKind::joint, "joint", MARKED("proposal.joint", "Fuel of all contents"),
        MARKED("proposal.joint.help",
               "All logs together: both tables and the curve over content, each with its own ±."),
        MARKED("proposal.joint.step", "Correct fuel from all logs")},
    ProposalKindDefinition{
        ProposalKind::spark, "spark", MARKED("proposal.spark", "Spark by knock"),
        MARKED("proposal.spark.help", "Where it knocked and where not, and the next step of the search."),
        MARKED("proposal.spark.step", "Correct spark by knock")},
    ProposalKindDefinition{
        ProposalKind::ceilings, "ceilings", MARKED("proposal.ceilings", "What it stands"),
        MARKED("proposal.ceilings.help",
               "The spark that the engine stands at this content, by all knock seen and not seen."),
        MARKED("proposal.ceilings.step", "Ceilings from logs")}};

ProposedCell emptyCell(double rpm, double loadKpa) {
    return {rpm, loadKpa, S::nothing, notKnown, notKnown, notKnown, notKnown, 0, 0, {}};
}

Measured counted(double n) {
    return {n, Dimension::count};
}

Measured share(double v) {
    return {v, Dimension::ratio};
}

// Which logs take no part, each with its reason.
template <class Log>
void sayUnused(ProposedMap &out, const Log &log, const Phrase &why) {
    out.unused.push_back({MARKED("proposal.unused", "{a}: {A}"), {}, {log.name}, {why}});
}

void startCells(ProposedMap &out, const Axis &rpm, const std::vector<double> &loadKpa) {
    out.rpm = rpm.points();
    out.loadKpa = loadKpa;
    for (const double load : out.loadKpa)
        for (const double n : out.rpm)
            out.cells.push_back(emptyCell(n, load));
}

// The loads of a table, in pressure: what maps are drawn over.
std::vector<double> loadsOf(const Study &study, const Table2D &table) {
    std::vector<double> out;
    for (const double y : table.y().points())
        out.push_back(loadOfAxis(study.job(), y));
    return out;
}

S stateOf(FuelCellState state) {
    switch (state) {
    case FuelCellState::never:
        return S::nothing;
    case FuelCellState::tooFew:
        return S::kept;
    case FuelCellState::corrected:
        return S::changed;
    case FuelCellState::inferred:
        return S::inferred;
    case FuelCellState::locked:
    case FuelCellState::supply:
    case FuelCellState::noNumber:
        break;
    }
    return S::refused;
}

class MapMaker {
  public:
    MapMaker(ProposalKind kind, const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
             const ProposedOptions &options, const std::stop_token &stop)
        : m_study(study), m_logs(logs), m_options(options), m_stop(stop) {
        m_out.kind = kind;
        m_out.content = options.content;
        if (options.laidAside > 0) m_out.doubts.push_back(laidAsideWords(options.laidAside));
    }

    ProposedMap make() {
        switch (m_out.kind) {
        case ProposalKind::fuel:
            makeFuel();
            break;
        case ProposalKind::joint:
            makeJoint();
            break;
        case ProposalKind::spark:
            makeSpark();
            break;
        case ProposalKind::ceilings:
            makeCeilings();
            break;
        }
        return std::move(m_out);
    }

  private:
    void say(Phrase words) { m_out.said.push_back(std::move(words)); }

    void saySamples(const FuelSamples &samples) {
        for (const FuelSamples::Log &l : samples.logs)
            if (!l.used) sayUnused(m_out, l.info, l.why);
        const bool trims = std::ranges::any_of(samples.logs, [](const auto &l) { return l.used && l.trims; });
        say(trims ? MARKED("proposal.trims", "What a closed loop added is counted.")
                  : MARKED("proposal.no_trims", "No log has a trim: λ alone is counted."));
        const auto late = [](const FuelSamples::Log &l) { return l.used && l.delay == DelayBy::none; };
        if (std::ranges::any_of(samples.logs, late))
            m_out.doubts.push_back(MARKED("proposal.no_delay",
                                          "How late λ comes is not known of every log: it stands where it "
                                          "was read, and cells in which the engine moved fast are smeared."));
    }

    void sayErrors() {
        if (m_out.before && m_out.predicted)
            say({MARKED("proposal.errors", "λ is {0} off on these samples now, and should be {1} off then."),
                 {share(*m_out.before), share(*m_out.predicted)}});
    }

    void makeFuel() {
        const FuelSamples samples = fuelSamples(m_study, m_logs, {}, m_stop);
        if (m_stop.stop_requested()) return;
        FuelProposalOptions how;
        how.content = m_options.content;
        how.neighbours = 1;
        const FuelProposal p = proposeFuel(m_study, samples, how);
        startCells(m_out, p.now.x(), loadsOf(m_study, p.now));
        for (std::size_t i = 0; i < p.cells.size(); ++i) {
            const FuelCell &c = p.cells[i];
            ProposedCell &out = m_out.cells[i];
            out.state = stateOf(c.state);
            if (out.state == S::changed && c.proposed == c.now) out.state = S::kept;
            out.now = c.now;
            out.hits = c.hits;
            if (c.hits > 0) out.plusMinus = c.plusMinus;
            if (out.state != S::nothing) {
                out.proposed = c.proposed;
                out.change = c.proposed / c.now - 1;
            }
            m_out.takes += c.proposed != c.now;
            sayFuel(out, c);
        }
        if (p.samples > 0) {
            m_out.before = p.rmsBefore;
            m_out.predicted = p.rmsPredicted;
            sayErrors();
            say({MARKED("proposal.fuel.samples", "Clean samples near this content: {0}; logs: {1}."),
                 {counted(static_cast<double>(p.samples)), counted(static_cast<double>(p.logs.size()))}});
        } else {
            say(MARKED("proposal.fuel.none", "No log has a clean sample near this content."));
        }
        say({MARKED("proposal.fuel.how",
                    "Cells take {0} of their error, {1} at the most, from {2} samples on; the ring of cells "
                    "around them half of that."),
             {share(p.damping), share(p.clamp), counted(p.leastHits)}});
        saySamples(samples);
        if (p.changes()) m_out.job = withFuel(m_study.job(), p, samples, m_options.at);
    }

    static void sayFuel(ProposedCell &out, const FuelCell &c) {
        if (c.hits > 0) {
            const bool more = c.error >= 0;
            out.said.push_back(
                {more ? MARKED("proposal.cell.lean",
                               "needs {0} more fuel than it gets, ± {1}, by {2} samples that scatter by {3}")
                      : MARKED("proposal.cell.rich",
                               "needs {0} less fuel than it gets, ± {1}, by {2} samples that scatter by {3}"),
                 {share(std::abs(c.error)), share(c.plusMinus), counted(std::round(c.hits)), share(c.sd)}});
        }
        if (c.atEnd > 0.5)
            out.said.push_back(
                {MARKED("proposal.cell.at_end", "{0} samples with the supply at its end, which do not count"),
                 {counted(std::round(c.atEnd))}});
        out.said.push_back(definitionOf(c.state).title);
    }

    void makeJoint() {
        const FuelSamples samples = fuelSamples(m_study, m_logs, {}, m_stop);
        if (m_stop.stop_requested()) return;
        const JointFuel joint = solveJointFuel(m_study, samples, {}, m_stop);
        if (m_stop.stop_requested()) return;
        JointApplyOptions how;
        how.at = m_options.at;
        for (const FuelSamples::Log &l : samples.logs)
            if (l.used) how.logs.push_back(l.info.id);
        JointApplied applied = withJointFuel(m_study.job(), joint, how);
        const double c = m_options.content;
        const Table2D now = m_study.blended(CalibratedQuantity::fuel, c);
        const Study after(applied.job);
        const Table2D then = after.blended(CalibratedQuantity::fuel, c);
        startCells(m_out, now.x(), loadsOf(m_study, now));
        for (std::size_t y = 0; y < now.y().size(); ++y)
            for (std::size_t x = 0; x < now.x().size(); ++x) {
                ProposedCell &out = m_out.cells[y * now.x().size() + x];
                out.now = now.cell(x, y);
                joinCell(out, joint, now.x()[x], now.y()[y]);
                if (out.state == S::nothing) continue;
                out.proposed = then.lookup(now.x()[x], now.y()[y]).value;
                out.change = out.proposed / out.now - 1;
            }
        for (const JointNode &k : joint.curve)
            m_out.curve.push_back({k.content, k.of.value, at95 * k.of.standardError,
                                   k.of.known == JointKnown::measured || k.of.known == JointKnown::pinned});
        m_out.takes = applied.changed;
        m_out.before = joint.rmsBefore;
        m_out.predicted = joint.rmsAfter;
        sayErrors();
        say({MARKED("proposal.joint.explained",
                    "{0} of what the logs are off by is taken up, by {1} samples."),
             {share(joint.explained), counted(static_cast<double>(joint.samples))}});
        if (joint.leftOutRms)
            say({MARKED(
                     "proposal.joint.left_out",
                     "A log that the solution has not seen is {0} off: how smooth it is was chosen by that."),
                 {share(*joint.leftOutRms)}});
        else
            say(MARKED("proposal.joint.one_log", "From one log: how smooth it should be nobody can choose."));
        for (const JointApplied::Residual &r : applied.residuals)
            m_out.doubts.push_back(
                applied.schoolThatCould
                    ? Phrase{MARKED("proposal.joint.residual",
                                    "At {0} {1} more is needed than this school can hold; {A} could."),
                             {{r.content, Dimension::content}, share(r.residual)},
                             {},
                             {definitionOf(*applied.schoolThatCould).title}}
                    : Phrase{MARKED("proposal.joint.residual.none",
                                    "At {0} {1} more is needed than this school can hold."),
                             {{r.content, Dimension::content}, share(r.residual)}});
        if (applied.locked > 0)
            m_out.doubts.push_back({MARKED("proposal.locked", "{0} locked cells would change, and stay."),
                                    {counted(static_cast<double>(applied.locked))}});
        if (applied.supply > 0)
            m_out.doubts.push_back(
                {MARKED("proposal.supply",
                        "Cells that ran lean with the supply at its end: {0}. More in the table "
                        "hides the cause; they stay."),
                 {counted(static_cast<double>(applied.supply))}});
        saySamples(samples);
        if (applied.changed > 0) m_out.job = std::move(applied.job);
    }

    // What is known of a cell is what is known of both of its tables.
    static void joinCell(ProposedCell &out, const JointFuel &joint, double rpm, double y) {
        bool measured = false, known = true;
        for (const JointTable &t : joint.tables) {
            const JointUnknown &u = t.cells[t.now.y().nearest(y) * t.now.x().size() + t.now.x().nearest(rpm)];
            out.hits += u.hits;
            measured = measured || u.known == JointKnown::measured;
            known = known && u.known != JointKnown::notSeparable;
            out.said.push_back(
                {MARKED("proposal.cell.joint", "The table of {0}: {1} ± {2}, {A}"),
                 {{t.content, Dimension::content}, share(u.value), share(at95 * u.standardError)},
                 {},
                 {knownInWords(u.known)}});
        }
        const bool held = std::ranges::any_of(joint.tables, [&](const JointTable &t) {
            const JointUnknown &u = t.cells[t.now.y().nearest(y) * t.now.x().size() + t.now.x().nearest(rpm)];
            return u.value > 0 && u.supplyAtEnd();
        });
        if (held) out.said.push_back(definitionOf(FuelCellState::supply).title);
        out.state = held && known       ? S::refused
                    : measured && known ? S::changed
                    : known             ? S::inferred
                    : out.hits > 0.5    ? S::notSeparable
                                        : S::nothing;
    }

    static PhraseText knownInWords(JointKnown known) {
        switch (known) {
        case JointKnown::measured:
            return MARKED("joint.measured", "measured");
        case JointKnown::inferred:
            return MARKED("joint.inferred", "inferred from its neighbours");
        case JointKnown::notSeparable:
            return MARKED("joint.not_separable", "not told apart, left alone");
        case JointKnown::pinned:
            break;
        }
        return MARKED("joint.pinned", "0 by definition");
    }

    std::optional<LearnedCeilings> learn() {
        LearnedCeilings l = learnCeilings(m_study, m_logs, m_stop);
        if (m_stop.stop_requested()) return {};
        for (const FuelDoubt &d : l.doubts())
            m_out.doubts.push_back(d.said);
        return l;
    }

    void makeSpark() {
        m_out.dimension = Dimension::sparkAngle;
        KnockOptions how;
        how.content = m_options.content;
        std::optional<LearnedCeilings> learned;
        if (m_options.learned) {
            learned = learn();
            if (!learned) return;
            how.learned = &*learned;
        }
        // The search goes on from logs of the calibration as it is; older ones have been counted.
        std::vector<std::shared_ptr<const LogReview>> current;
        for (const auto &log : m_logs)
            if (log->current())
                current.push_back(log);
            else
                sayUnused(m_out, log->info(),
                          MARKED("proposal.spark.older", "it ran with another calibration"));
        const KnockProposal p = proposeSpark(m_study, current, how);
        const Study &pressure = m_study.inPressure();
        const Table2D now = pressure.blended(CalibratedQuantity::spark, m_options.content);
        startCells(m_out, now.x(), now.y().points());
        for (std::size_t i = 0; i < m_out.cells.size(); ++i)
            m_out.cells[i].now = now.cells()[i];
        double knocks = 0, knocking = 0, done = 0;
        for (const KnockCell &c : p.cells) {
            ProposedCell &out =
                m_out.cells[now.y().nearest(c.loadKpa) * now.x().size() + now.x().nearest(c.rpm)];
            out.state = c.knocks > 0 ? S::knocks : c.proposedDeg != c.nowDeg ? S::changed : S::kept;
            out.now = c.nowDeg;
            out.proposed = c.proposedDeg;
            out.change = c.proposedDeg - c.nowDeg;
            out.hits = c.hits;
            out.steps = static_cast<int>(std::lround(c.search.steps));
            out.said.push_back(c.next);
            if (c.knocks > 0)
                out.said.push_back(
                    {MARKED("proposal.cell.knock",
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
            out.said.push_back({MARKED("proposal.cell.steps",
                                       "Steps of the search, with this one: {0}; clean in a row: {1}"),
                                {counted(c.search.steps), counted(c.search.clean)}});
            m_out.takes += c.proposedDeg != c.nowDeg;
            knocks += c.knocks;
            knocking += c.knocks > 0;
            done += c.search.phase == SearchPhase::done;
        }
        for (const KnockProposal::Unused &u : p.unused)
            for (const auto &log : m_logs)
                if (log->info().id == u.log) sayUnused(m_out, log->info(), u.why);
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

    void makeCeilings() {
        m_out.dimension = Dimension::sparkAngle;
        std::optional<LearnedCeilings> learned = learn();
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
            if (!l.used) sayUnused(m_out, l.info, l.why);
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

    static constexpr double at95 = 1.96;
    const Study &m_study;
    std::span<const std::shared_ptr<const LogReview>> m_logs;
    const ProposedOptions &m_options;
    const std::stop_token &m_stop;
    ProposedMap m_out;
};

} // namespace

std::span<const ProposalKindDefinition> allProposalKinds() {
    return kindTable;
}

const ProposalKindDefinition &definitionOf(ProposalKind kind) {
    return kindTable[static_cast<std::size_t>(kind)];
}

PhraseText inWords(ProposedState state) {
    switch (state) {
    case S::nothing:
        return MARKED("proposed.nothing", "no log says anything of it");
    case S::changed:
        return MARKED("proposed.changed", "by its own samples");
    case S::inferred:
        return MARKED("proposed.inferred", "inferred from its neighbours");
    case S::kept:
        return MARKED("proposed.kept", "looked at, and stays");
    case S::refused:
        return MARKED("proposed.refused", "refused");
    case S::notSeparable:
        return MARKED("proposed.not_separable", "samples do not tell it apart");
    case S::knocks:
        break;
    }
    return MARKED("proposed.knocks", "it knocked here");
}

Phrase laidAsideWords(std::size_t logs) {
    return {MARKED("visits.aside", "Not looked through, since their samples are laid aside: {0} long logs."),
            {{static_cast<double>(logs), Dimension::count}}};
}

ProposedMap proposedMap(ProposalKind kind, const Study &study,
                        std::span<const std::shared_ptr<const LogReview>> logs,
                        const ProposedOptions &options, std::stop_token stop) {
    ProposedMap map = MapMaker(kind, study, logs, options, stop).make();
    return stop.stop_requested() ? ProposedMap{} : std::move(map);
}

} // namespace wheelwright
