// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/base/wide.h"
#include "core/study/evaluation.h"
#include "core/study/proof.h"
#include "core/verify/need.h"
#include "core/verify/question.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Fuel inside its tolerance by so much has a full mark, and by no more than it is known to is a caution: a
/// wideband and a tube tell λ and content to about a per cent. From memory.
inline constexpr double fuelComfort = 0.03, fuelKnownTo = 0.01;

/// The worst place of a check at one content.
struct WorstPlace {
    double content = 0;
    double rpm = 0;
    double loadKpa = 0;
    double value = 0;
    double limit = 0;
    double margin = 1; ///< 1 comfortable, 0 at the limit, negative over it
    double uncapped =
        1; ///< the same, not capped at 1: says which of two comfortable places is nearer to the limit
    PhraseText aspect;                ///< which of the check's questions, where it has several
    std::optional<Dimension> other{}; ///< of value and limit, where they are not in the check's own
    bool asked = true; ///< false: the check asks nothing at this content, and there is no place
};

/// One place per slice of the evaluation, in its order.
struct CheckOutcome {
    std::vector<WorstPlace> byContent;
    const WorstPlace &worst() const; ///< the lowest margin of those asked; the first of equals
};

/// A question put to the calibration at every content. Adding one is a file <name>_check.cpp that defines
/// `const Check &<name>Check()` and a line in all_checks.def.
struct Check {
    std::string_view id;                  ///< stable: "flow.duty"
    PhraseText title;                     ///< "Injector duty"
    PhraseText named;                     ///< the same inside a sentence: "injector duty"
    QuestionId answers;                   ///< the question of the tuner that it helps to answer
    PhraseText question;                  ///< its own, one sentence
    Dimension dimension;                  ///< of value and limit
    std::vector<std::string_view> limits; ///< ids of the limits it uses
    CalibratedQuantity tables;            ///< the tables in which its places are looked at
    double cautionBelow; ///< margins under this, but not negative, are a caution; 0: none are
    PhraseText help;     ///< what the margin is a share of
    CheckOutcome (*run)(const Evaluation &);
    Explanation (*explain)(const Evaluation &, const WorstPlace &);
    std::vector<std::string_view> needs{}; ///< ids of what must be known (need.h)
    bool essential = true; ///< without it, its question is not judged; the others are named beside it
    bool (*arises)(const Job &) = nullptr; ///< whether there is anything to ask; nullptr: always
    bool mechanical = false; ///< of jobs whose fuel is metered mechanically; the others need tables
    /// Where logs have been counts; nullptr: it does not.
    CheckOutcome (*runWith)(const Evaluation &, const Proof &) = nullptr;

    /// Whether there is anything to ask of this job.
    bool asked(const Job &job) const;
    /// Whether it can be run: all is there that its numbers are made of.
    bool runs(const Job &job, const Proof &proof) const;
    CheckState state(const WorstPlace &place) const;
    Dimension dimensionOf(const WorstPlace &place) const { return place.other.value_or(dimension); }
    Phrase origin(const Job &job) const; ///< "user", "common practice", or both with ids
};

std::span<const Check *const> allChecks();
/// nullptr when there is none.
const Check *checkById(std::string_view id);

/// One content's candidate for the worst place: keeps what has the least headroom.
class WorstFinder {
  public:
    WorstFinder(const Evaluation &evaluation, const ContentSlice &slice, double comfort)
        : m_evaluation(evaluation), m_content(slice.content), m_comfort(comfort) {}

    /// headroom: how far inside the limit, in the unit of `comfort`.
    void consider(double headroom, std::size_t rpmIndex, double loadKpa, double value, double limit,
                  PhraseText aspect = {}, std::optional<Dimension> other = {}) {
        if (!(headroom < m_least)) // also what is not a number
            return;
        m_least = headroom;
        const double margin = headroom / m_comfort;
        m_worst = {m_content, m_evaluation.rpm()[rpmIndex], loadKpa, value, limit, margin, margin, aspect,
                   other};
    }
    /// Margins above 1 mean nothing more than comfortable; rounding at the limit is not a finding.
    WorstPlace place() const;

  private:
    const Evaluation &m_evaluation;
    double m_content;
    double m_comfort;
    double m_least = std::numeric_limits<double>::infinity();
    WorstPlace m_worst;
};

/// What a check finds at one point. headroom: how far inside the limit.
struct Judged {
    double headroom, value, limit;
};

/// A point that a check does not ask about: it is never the worst.
inline constexpr Judged notAsked{std::numeric_limits<double>::infinity(), 0, 0};

/// A point that is asked about only here or there. The answer is worked out first: the loops over a grid are
/// plain arithmetic without it.
inline Judged askedIf(bool asked, Judged judged) {
    judged.headroom += asked ? 0 : notAsked.headroom; // added, since a choice would become a jump
    return judged;
}

/// The worst point so far of one content, in the order in which points are told of: the first of equals.
class WorstPoint {
  public:
    explicit WorstPoint(double loadKpa) : m_loadKpa(loadKpa) {}
    double headroom() const { return m_judged.headroom; }
    void consider(const auto &point, const Judged &judged) {
        if (!(judged.headroom < m_judged.headroom)) return; // also what is not a number
        m_judged = judged;
        m_rpmIndex = point.rpmIndex;
        m_loadKpa = point.loadKpa;
    }
    /// What comes after it: kept where it is worse.
    void consider(const WorstPoint &later) {
        if (later.headroom() < headroom()) *this = later;
    }
    void tell(WorstFinder &worst) const {
        worst.consider(m_judged.headroom, m_rpmIndex, m_loadKpa, m_judged.value, m_judged.limit);
    }
    std::size_t rpmIndex() const { return m_rpmIndex; }
    double loadKpa() const { return m_loadKpa; }

  private:
    Judged m_judged = notAsked;
    std::size_t m_rpmIndex = 0;
    double m_loadKpa;
};

/// The worst point that can be reached at a content. likely: a speed at which it may lie.
/// A hundred thousand points go by here in a sweep, and few are the worst so far: of the points of a speed
/// only the headroom is worked out first, several at once in the processor, and looked through only where one
/// is under what is known to be reached: where reach ends, and at the likely speed.
template <class Judge>
WHEELWRIGHT_WIDE WorstPoint worstPoint(const Evaluation &e, const ContentSlice &s, std::size_t likely,
                                       const Judge &judge) {
    WorstPoint least(e.load().front()), leastOfEdges(e.load().front());
    for (const EdgeOfReach &edge : s.edges) {
        const EdgePoint point = e.edgePoint(edge);
        leastOfEdges.consider(point, judge(point));
    }
    double reached = leastOfEdges.headroom();
    for (std::size_t j = 0; j < s.reachable[likely]; ++j)
        reached = std::min(reached, judge(e.gridPoint(likely, j)).headroom);
    double bar = std::nextafter(reached, std::numeric_limits<double>::infinity());
    for (std::size_t i = 0; i < s.reachable.size(); ++i)
        for (std::size_t from = 0; from < s.reachable[i];) {
            constexpr std::size_t together = 64;
            double headroom[together];
            const std::size_t count = std::min(together, s.reachable[i] - from);
            for (std::size_t k = 0; k < count; ++k)
                headroom[k] = judge(e.gridPoint(i, from + k)).headroom;
            std::int64_t under = 0;
            for (std::size_t k = 0; k < count; ++k)
                under |= headroom[k] < bar ? 1 : 0;
            for (std::size_t k = 0; under != 0 && k < count; ++k)
                if (headroom[k] < bar) {
                    const GridPoint point = e.gridPoint(i, from + k);
                    least.consider(point, judge(point));
                    bar = std::min(bar, least.headroom());
                }
            from += count;
        }
    least.consider(leastOfEdges);
    return least;
}

/// Puts one question to every point that can be reached at every content. `judgeOf(slice)` gives the judge of
/// a content: a function of a point (GridPoint or EdgePoint, so it takes auto) that returns Judged.
template <class JudgeOf>
CheckOutcome judgeReachablePoints(const Evaluation &e, double comfort, JudgeOf judgeOf) {
    CheckOutcome out;
    std::size_t before = 0; // the speed that was worst
    for (const ContentSlice &s : e.slices()) {
        const WorstPoint least = worstPoint(e, s, before, judgeOf(s));
        before = least.rpmIndex();
        WorstFinder worst(e, s, comfort);
        least.tell(worst);
        out.byContent.push_back(worst.place());
    }
    return out;
}

} // namespace wheelwright
