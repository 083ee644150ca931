// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/content_tables.h"
#include "core/study/evaluation.h"

#include <map>
#include <set>
#include <span>
#include <string_view>
#include <vector>

namespace wheelwright {

struct Need;

/// Which tables of a job are guesses where the engine can get to: a template's, or a new job's flat ones.
/// What has an origin that nobody recorded came with the job, and counts as stated. Keeps a reference to the
/// evaluation.
class Standing {
  public:
    /// proof: where logs have been, kept by reference.
    explicit Standing(const Evaluation &evaluation, const Proof &proof);
    const Proof &proof() const { return m_proof; }
    const Job &job() const { return m_e.job(); }
    /// Whether what the engine gets of a quantity at a content is made of a guess.
    bool guessed(CalibratedQuantity quantity, const ContentSlice &slice) const;
    /// Whether somebody has said the tables of a kind that count at a content, where the engine can get to.
    /// Tables of best spark say nothing of an engine that does not get to their first row.
    bool saidAt(TableKind kind, const ContentSlice &slice) const;
    /// Whether one of them was found at this content or at less.
    bool reachesDown(TableKind kind, const ContentSlice &slice) const;
    /// Whether logs have proven the spark of any load at a content.
    bool provenNear(const ContentSlice &slice) const;
    /// The same of a table that is in use at every content; without one there is nothing to say.
    bool saidInUse(TableKind kind, const ContentSlice &slice) const;
    bool isStated(std::string_view path) const { return m_stated.contains(path); }
    /// Whether a need is met, by slice of the evaluation. Worked out once: many checks share a need.
    const std::vector<bool> &met(const Need &need) const;

  private:
    bool guessReached(const Table2D &table, const ContentSlice &slice) const;
    static double lastSaid(const ExtraTable &extra);
    double leastGuess(const Table2D &table, bool load) const;

    double highest(const ContentSlice &slice) const;

    const Evaluation &m_e;
    const Proof &m_proof;
    std::vector<double> m_highest; ///< manifold pressure that is reached, by slice
    ContentTables m_ceilings, m_best;
    const ContentTables &tablesOfKind(TableKind kind) const {
        return kind == TableKind::sparkCeiling ? m_ceilings : m_best;
    }
    std::map<const Table2D *, double> m_leastGuess; ///< lowest load with a guess in it; infinite: none
    std::set<std::string_view> m_stated;
    mutable std::map<const Need *, std::vector<bool>> m_met;
};

/// Something that must be found out before a check can be believed.
struct Need {
    std::string_view id;    ///< stable: "spring"
    PhraseText missing;     ///< in a sentence: "the spring has not been measured"
    PhraseText find;        ///< what to do: "Measure the wastegate spring"
    std::string_view place; ///< where it goes: path of a field, curve, table or list
    /// Without it there is nothing to work with; nullptr: there always is.
    bool (*there)(const Job &) = nullptr;
    /// Whether somebody has said it, at a content; nullptr: what is there has been said.
    bool (*stated)(const Standing &, const ContentSlice &) = nullptr;
    /// Whether logs say it without anybody's word; nullptr: they cannot.
    bool (*byLogs)(const Proof &) = nullptr;
};

/// In the order in which they are asked for where they unlock as much.
std::span<const Need> allNeeds();
/// Throws InputError when there is none.
const Need &needById(std::string_view id);

/// More is asked of the engine than the air around it gives.
bool boosted(const Job &job);

} // namespace wheelwright
