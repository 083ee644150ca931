// SPDX-License-Identifier: GPL-3.0-or-later
// Fuel, as a map shows it: at one content, and of all contents together.
#include "core/proposal/map_draft.h"

#include <algorithm>

namespace wheelwright {
namespace {

ProposedState stateOf(FuelCellState state) {
    using S = ProposedState;
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

class FuelDraft : public MapDraft {
  public:
    using MapDraft::MapDraft;

  protected:
    void saySamples(const FuelSamples &samples) {
        for (const FuelSamples::Log &l : samples.logs)
            if (!l.used) sayUnused(l.info.name, l.why);
        const bool trims = std::ranges::any_of(samples.logs, [](const auto &l) { return l.used && l.trims; });
        say(trims ? MARKED("proposal.trims", "What a closed loop added is counted.")
                  : MARKED("proposal.no_trims", "No log has a trim: λ alone is counted."));
        const auto late = [](const FuelSamples::Log &l) { return l.used && l.delay == DelayBy::none; };
        if (std::ranges::any_of(samples.logs, late))
            m_out.doubts.push_back(MARKED("proposal.no_delay",
                                          "How late λ comes is not known of every log: it stands where it "
                                          "was read, and cells in which the engine moved fast are smeared."));
    }

    // Of the samples near this content, each at the cell that is nearest to it.
    void measureErrors(const FuelSamples &samples, const Table2D &now, const Table2D &then) {
        const double window = limitOf(m_study.job(), "evidence.content_window");
        const FuelForecast forecast(m_study, m_options.content, now, then);
        struct Mean {
            double now = 0, then = 0, count = 0;
        };
        std::vector<Mean> means(m_out.cells.size());
        for (const FuelSample &s : samples.samples) {
            if (s.supplyAtEnd || std::abs(s.content - m_options.content) > window) continue;
            Mean &m = means[now.y().nearest(s.load) * now.x().size() + now.x().nearest(s.rpm)];
            ++m.count;
            m.now += (s.error - m.now) / m.count;
            m.then += (forecast.errorThen(s) - m.then) / m.count;
        }
        for (std::size_t i = 0; i < means.size(); ++i) {
            if (means[i].count < 1) continue;
            m_out.cells[i].errorNow = means[i].now;
            m_out.cells[i].errorThen = means[i].then;
        }
    }

    void sayErrors() {
        if (m_out.before && m_out.predicted)
            say({MARKED("proposal.errors", "λ is {0} off on these samples now, and should be {1} off then."),
                 {share(*m_out.before), share(*m_out.predicted)}});
    }
};

class FuelMapMaker : public FuelDraft {
  public:
    using FuelDraft::FuelDraft;
    ProposedMap map() {
        make();
        return std::move(m_out);
    }

  private:
    void make() {
        const FuelSamples *of = m_basis.samples(m_stop);
        if (!of) return;
        const FuelSamples &samples = *of;
        FuelProposalOptions how;
        how.content = m_options.content;
        how.damping = m_options.damping;
        how.clamp = m_options.clamp;
        how.leastHits = m_options.leastHits;
        how.neighbours = m_options.region ? 0 : m_options.neighbours;
        how.nearest = m_options.nearest;
        how.region = m_options.region;
        const FuelProposal p = proposeFuel(m_study, samples, how);
        startCells(p.now.x(), loadsOf(p.now));
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
        measureErrors(samples, p.now, p.proposed);
        if (p.samples > 0) {
            m_out.before = p.rmsBefore;
            m_out.predicted = p.rmsPredicted;
            sayErrors();
            say({MARKED("proposal.fuel.samples", "Clean samples near this content: {0}; logs: {1}."),
                 {counted(static_cast<double>(p.samples)), counted(static_cast<double>(p.logs.size()))}});
        } else {
            say(MARKED("proposal.fuel.none", "No log has a clean sample near this content."));
        }
        say(howInWords(p));
        saySamples(samples);
        if (p.changes()) m_out.job = withFuel(m_study.job(), p, samples, m_options.at);
    }

    Phrase howInWords(const FuelProposal &p) const {
        const std::vector<Measured> numbers{share(p.damping), share(p.clamp), counted(p.leastHits),
                                            counted(m_options.neighbours)};
        if (m_options.region)
            return {
                MARKED("proposal.fuel.region",
                       "One correction for the marked region, by all of its samples: {0} of their error, {1} "
                       "at the most, from {2} samples on."),
                {numbers[0], numbers[1], numbers[2]}};
        if (m_options.neighbours == 0)
            return {
                MARKED(
                    "proposal.fuel.no_rings",
                    "Cells take {0} of their error, {1} at the most, from {2} samples on; cells around them "
                    "nothing."),
                {numbers[0], numbers[1], numbers[2]}};
        if (m_options.neighbours == 1)
            return {
                MARKED(
                    "proposal.fuel.how",
                    "Cells take {0} of their error, {1} at the most, from {2} samples on; the ring of cells "
                    "around them half of that."),
                {numbers[0], numbers[1], numbers[2]}};
        return {
            MARKED("proposal.fuel.rings",
                   "Cells take {0} of their error, {1} at the most, from {2} samples on; {3} rings of cells "
                   "around them half as much with each ring."),
            numbers};
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
};

class JointMapMaker : public FuelDraft {
  public:
    using FuelDraft::FuelDraft;
    ProposedMap map() {
        make();
        return std::move(m_out);
    }

  private:
    void make() {
        const JointFuel *solved = m_basis.joint(m_stop);
        if (!solved) return;
        const JointFuel &joint = *solved;
        const FuelSamples &samples = *m_basis.samples(m_stop);
        JointApplyOptions how;
        how.at = m_options.at;
        how.damping = m_options.damping.value_or(1);
        how.clamp = m_options.clamp;
        for (const FuelSamples::Log &l : samples.logs)
            if (l.used) how.logs.push_back(l.info.id);
        JointApplied applied = withJointFuel(m_study.job(), joint, how);
        const double c = m_options.content;
        const Table2D now = m_study.blended(CalibratedQuantity::fuel, c);
        const Study after(applied.job);
        const Table2D then = after.blended(CalibratedQuantity::fuel, c);
        startCells(now.x(), loadsOf(now));
        for (std::size_t y = 0; y < now.y().size(); ++y)
            for (std::size_t x = 0; x < now.x().size(); ++x) {
                ProposedCell &out = m_out.cells[y * now.x().size() + x];
                out.now = now.cell(x, y);
                joinCell(out, joint, now.x()[x], now.y()[y]);
                if (out.state == S::nothing) continue;
                out.proposed = then.lookup(now.x()[x], now.y()[y]).value;
                out.change = out.proposed / out.now - 1;
            }
        measureErrors(samples, now, then);
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
};

} // namespace

ProposedMap fuelMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop) {
    return FuelMapMaker(ProposalKind::fuel, basis, options, stop).map();
}
ProposedMap jointMap(ProposalBasis &basis, const ProposedOptions &options, const std::stop_token &stop) {
    return JointMapMaker(ProposalKind::joint, basis, options, stop).map();
}

} // namespace wheelwright
