// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/episodes.h"
#include "core/study/study.h"

#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace wheelwright {

/// A log with all that rules ask of it, worked out once.
class WatchedLog {
  public:
    /// study: of the calibration that the log ran with. Without it tables say nothing, and what they are
    /// asked for is not judged.
    WatchedLog(const Study &study, LogTrace trace, bool tablesKnown = true);
    /// Of that calibration, and at which content they were read.
    bool tablesKnown() const { return m_tablesKnown; }

    const Job &job() const { return m_study.job(); }
    const Study &study() const { return m_study; }
    const LogTrace &trace() const { return m_trace; }
    const std::vector<Episode> &episodes() const { return m_episodes; }
    double limit(std::string_view id) const { return limitOf(job(), id); }
    double ambientKpa() const { return job().conditions.ambientKpa; }

    double at(ChannelRole role, std::size_t i) const { return m_trace.at(role, i); }
    /// Content that the tables are read at; in a log whose content nobody knows, that of the base. Not a
    /// number where the channel of content is silent.
    double contentAt(std::size_t i) const;
    /// What the calibration asks for there (spark: with its corrections by temperature, less the knock retard
    /// of the log); not a number where speed, load or content are missing.
    double tableAt(CalibratedQuantity quantity, std::size_t i) const;
    /// The same by the tables alone.
    double tableBlendAt(CalibratedQuantity quantity, std::size_t i) const;
    /// The log's own target of λ, else that of the tables; the same of boost.
    double lambdaTarget(std::size_t i) const;
    double boostTarget(std::size_t i) const;
    /// Fuel was cut here: pulses of nothing. Not known without pulses: false.
    bool fuelCut(std::size_t i) const;
    /// Seconds since fuel was last cut.
    double sinceCutS(std::size_t i) const { return m_sinceCutS.empty() ? 1e9 : m_sinceCutS[i]; }
    bool inTipIn(std::size_t i) const { return m_inTipIn[i]; }
    bool inPull(std::size_t i) const { return m_inPull[i]; }
    /// Change of the content that the log reads around a sample, as a share per minute, over at most a
    /// minute; not a number where nobody reads it or the log is too short to say.
    double contentPerMinute(std::size_t i) const;
    /// Mean of what the log reads over half a second: without the sensor's noise.
    double contentRead(std::size_t i) const;
    /// Pressure across the injectors over what the job and the calm part of this log say it should be; not a
    /// number without a rail pressure.
    double railShare(std::size_t i) const { return m_railShare.empty() ? missing() : m_railShare[i]; }

  private:
    static double missing();
    double extraSpark(std::size_t i) const;
    double steadyReading(std::size_t i) const;
    const Table2D *blendAt(CalibratedQuantity quantity, int perMille) const;
    void findRail();

    const Study &m_study;
    LogTrace m_trace;
    bool m_tablesKnown;
    std::vector<Episode> m_episodes;
    std::vector<double> m_sinceCutS, m_railShare;
    std::vector<bool> m_inTipIn, m_inPull;
    std::vector<double> m_contentSum, m_contentCount, m_contentWhen; ///< of all samples before
    /// Made when first asked for, by content in tenths of a per cent.
    mutable std::mutex m_blendsMutex;
    mutable std::map<int, std::array<std::unique_ptr<Table2D>, calibratedQuantityCount>> m_blends;
};

/// Where a rule is broken: samples, both within.
struct BrokenStretch {
    std::size_t from = 0, to = 0, worst = 0;
    double value = 0, limit = 0; ///< at the worst
};

/// Something that may be behind a finding, and how this log speaks of it.
struct Cause {
    Phrase what;
    std::vector<Phrase> speaksFor, speaksAgainst;
    double weight = 0; ///< likelier causes are heavier
};

/// One thing to ask a log about a cause. Empty: it cannot say.
struct Witness {
    PhraseText speaksFor, speaksAgainst;
    std::optional<bool> (*asked)(const WatchedLog &, const BrokenStretch &);
    double against = 1; ///< weight of a no; of a yes it is 1
};
struct PossibleCause {
    PhraseText what;
    double usual = 0; ///< weight before anybody is asked
    std::vector<const Witness *> witnesses{};
};

/// A question put to every moment of a log. Adding one is a file <name>_rule.cpp that defines
/// `const WatchRule &<name>Rule()` and a line in all_watch_rules.def.
struct WatchRule {
    std::string_view id; ///< stable: "lean"
    PhraseText title;    ///< "Lean under boost"
    PhraseText question; ///< one sentence
    Dimension dimension; ///< of value and limit
    std::vector<std::string_view> limits;
    std::vector<ChannelRole> needs; ///< without them it is not asked
    std::vector<BrokenStretch> (*find)(const WatchedLog &);
    std::vector<PossibleCause> causes;
    PhraseText call;          ///< to who drives, in as few words as can be read in passing
    PhraseText lookAt;        ///< what to look at first
    bool needsTables = false; ///< of the calibration that the log ran with …
    ChannelRole unless =
        ChannelRole::none; ///< … where the log does not say by this channel what they ask for
};
std::span<const WatchRule *const> allWatchRules();
/// nullptr for no such id.
const WatchRule *watchRuleById(std::string_view id);

struct LogFinding {
    const WatchRule *rule;
    double beginS = 0, endS = 0;
    double worst = 0, limit = 0, worstS = 0;
    double rpm = 0, loadKpa = 0, content = 0; ///< at the worst; not a number where the log does not say
    bool transient = false;                   ///< in a tip-in: may be false
    std::vector<Cause> causes;                ///< the likeliest first
};

/// A pull in which a rule could not be asked all through: a channel that it needs fell silent.
struct SilentPull {
    const WatchRule *rule;
    ChannelRole silent;
    double beginS = 0, endS = 0; ///< of the pull
};

/// What the rules find, by time; and which rules could not be asked, since the log has not got what they
/// need, at all or in a pull: what nobody has asked is not clean.
struct LogFindings {
    std::vector<LogFinding> found;
    std::vector<const WatchRule *> notAsked;
    std::vector<SilentPull> silent; ///< of the others; by rule, then by time
    /// Every rule was asked, all through every pull.
    bool allAsked() const { return notAsked.empty() && silent.empty(); }
};

LogFindings watch(const WatchedLog &log);
/// The first channel that a rule needs and that is silent in samples from, to and between; none: it can be
/// asked of them.
ChannelRole silentFor(const WatchRule &rule, const WatchedLog &log, std::size_t from, std::size_t to);

/// Stretches where a judge finds more than nothing over its limit, for at least so long; those that are less
/// than mergeS apart, or in one pull, are one. The judge says how far over (not a number: nothing to ask),
/// the value and its limit.
struct Judgement {
    double over = 0, value = 0, limit = 0;
};
template <class Judge>
std::vector<BrokenStretch> stretchesOver(const WatchedLog &log, double leastS, Judge judge);
std::vector<BrokenStretch> merged(const WatchedLog &log, std::vector<BrokenStretch> stretches,
                                  const std::vector<double> &over);

/// The highest of each sample and those of so many seconds before: a sensor or a turbine speaks of the past.
std::vector<double> highestLately(const LogTrace &trace, const std::vector<double> &values, double behindS);

inline constexpr double mergedWithinS = 1;

template <class Judge>
std::vector<BrokenStretch> stretchesOver(const WatchedLog &log, double leastS, Judge judge) {
    const LogTrace &t = log.trace();
    std::vector<BrokenStretch> out;
    std::vector<double> over(t.size());
    std::vector<Judgement> all(t.size());
    for (std::size_t i = 0; i < t.size(); ++i) {
        all[i] = judge(i);
        over[i] = all[i].over;
    }
    for (std::size_t i = 0; i < t.size();) {
        if (!(over[i] > 0)) {
            ++i;
            continue;
        }
        BrokenStretch s{i, i, i, 0, 0};
        for (; i < t.size() && over[i] > 0 && (i == s.from || t.follows(i)); ++i) {
            s.to = i;
            if (over[i] > over[s.worst]) s.worst = i;
        }
        // As long as samples stand for: a stretch of one sample lasts for a step.
        if (t.timeS(s.to) - t.timeS(s.from) + t.stepS() > leastS) out.push_back(s);
    }
    out = merged(log, std::move(out), over);
    for (BrokenStretch &s : out) {
        s.value = all[s.worst].value;
        s.limit = all[s.worst].limit;
    }
    return out;
}

} // namespace wheelwright
