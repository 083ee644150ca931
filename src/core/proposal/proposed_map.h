// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/fuel_proposal.h"
#include "core/proposal/joint_fuel.h"
#include "core/proposal/learned_ceilings.h"
#include "core/proposal/spark_sweep.h"

#include <memory>
#include <optional>
#include <span>
#include <stop_token>
#include <string>
#include <vector>

namespace wheelwright {

/// What logs can be asked for.
enum class ProposalKind {
    fuel,    ///< cells at one content
    joint,   ///< tables of all contents and the curve between them
    spark,   ///< by knock, step by step
    sweep,   ///< by power: where it levels off
    ceilings ///< what spark the engine stands
};
struct ProposalKindDefinition {
    ProposalKind kind;
    std::string_view id; ///< stable: "fuel"
    PhraseText title;
    PhraseText help; ///< one sentence
    PhraseText step; ///< what taking it is called in the history
};
std::span<const ProposalKindDefinition> allProposalKinds();
const ProposalKindDefinition &definitionOf(ProposalKind kind);

/// What becomes of a cell.
enum class ProposedState {
    nothing,      ///< no log says anything of it
    changed,      ///< by its own samples
    inferred,     ///< by those of its neighbours
    kept,         ///< it was looked at and stays
    refused,      ///< it would change, and must not
    notSeparable, ///< there are samples, and they do not say it apart from others
    knocks        ///< it knocked, and is taken back; of ceilings: its limit has been seen
};
PhraseText inWords(ProposedState state);

/// A cell as a proposal shows it. Numbers that nobody knows are not numbers.
struct ProposedCell {
    double rpm = 0, loadKpa = 0;
    ProposedState state = ProposedState::nothing;
    double now, proposed;       ///< what the engine gets, of fuel in the table's own unit
    double change;              ///< of fuel a share, of spark degrees; of ceilings the ceiling itself
    double plusMinus;           ///< of what was found, 95 %
    double errorNow, errorThen; ///< of fuel: λ over its target, a share, as mean of the samples nearest to it
    double hits = 0;
    int steps = 0;                    ///< of a search
    std::optional<std::size_t> sweep; ///< place in ProposedMap::sweeps
    std::vector<Phrase> said;         ///< its working, sentence by sentence
};

/// A proposal at one content, over the cells of its table, with all that is to be said of it.
struct ProposedMap {
    ProposalKind kind = ProposalKind::fuel;
    double content = 0;
    Dimension dimension = Dimension::ratio; ///< of change
    std::vector<double> rpm, loadKpa;
    std::vector<ProposedCell> cells;         ///< row by row, of loads
    std::optional<double> before, predicted; ///< root mean square of what it corrects: a share, or degrees
    std::vector<Phrase> said;                ///< the most important first
    std::vector<Phrase> doubts;              ///< to be heeded
    std::vector<Phrase> unused;              ///< logs that say nothing, and why
    std::size_t takes = 0;                   ///< cells that it changes
    std::optional<Job> job;                  ///< with the proposal in it; none: there is nothing to take
    /// Of contents together: what is learned over content on top of the blend, with its band.
    struct Node {
        double content = 0, value = 0, plusMinus = 0;
        bool known = false;
    };
    std::vector<Node> curve;
    std::vector<LoggedSweep> sweeps; ///< those near this content
};

/// What proposals of one job by the same logs rest on, whatever the content they are shown at: made when
/// first asked for, and kept by who asks again. Not for two threads at once.
class ProposalBasis {
  public:
    /// A delay of λ for all logs; empty: by the job, else by each log.
    ProposalBasis(std::shared_ptr<const Study> study, std::vector<std::shared_ptr<const LogReview>> logs,
                  std::optional<double> delayMs = {});
    const Study &study() const { return *m_study; }
    const std::vector<std::shared_ptr<const LogReview>> &logs() const { return m_logs; }
    bool of(const Study *study, std::span<const std::shared_ptr<const LogReview>> logs,
            std::optional<double> delayMs) const;

    /// nullptr where it was stopped; nothing half-made is kept. Throw as what makes them does.
    const FuelSamples *samples(const std::stop_token &stop);
    const JointFuel *joint(const std::stop_token &stop);
    LearnedCeilings *ceilings(const std::stop_token &stop);

  private:
    std::shared_ptr<const Study> m_study;
    std::vector<std::shared_ptr<const LogReview>> m_logs;
    std::optional<double> m_delayMs;
    std::optional<FuelSamples> m_samples;
    std::optional<JointFuel> m_joint;
    std::optional<LearnedCeilings> m_ceilings;
};

struct ProposedOptions {
    double content = 0;   ///< that it is shown at; of all but joint also made at
    bool learned = false; ///< spark goes by what all logs have taught
    /// Empty: what the job's limits say; of joint all of what was found.
    std::optional<double> damping, clamp, leastHits;
    int neighbours = 1; ///< rings of cells about corrected ones, of fuel at one content
    bool nearest = false;
    std::optional<FuelRegion> region; ///< one correction for all of it, of fuel at one content
    std::string at;                   ///< when, ISO 8601: noted with the correction
    std::size_t laidAside = 0;        ///< logs that are not among them, since their samples are not at hand
};

/// 'Not looked through, since their samples are laid aside: 3 long logs.'
Phrase laidAsideWords(std::size_t logs);

/// Logs of other calibrations count as each of them says. Throws InputError where no log can be used, saying
/// why of each. Stopped: an empty map.
ProposedMap proposedMap(ProposalKind kind, ProposalBasis &basis, const ProposedOptions &options,
                        std::stop_token stop = {});

} // namespace wheelwright
