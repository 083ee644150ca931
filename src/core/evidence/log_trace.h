// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <algorithm>
#include <array>
#include <functional>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// A log as everything that judges it sees it: one clock, a column for each role, numbers in the internal
/// units of the roles. The clock is that of the engine speed; what came at other times, or not at every one
/// of them, is held for three of its longer pauses (nine of ten are shorter), for heldAtLeastS to heldForS: a
/// sensor that dies in a pull must not go on saying what it last said. Logs faster than 100 Hz are thinned to
/// that.
class LogTrace {
  public:
    /// All samples of a series, as they are kept.
    using Read = std::function<std::vector<double>(std::size_t series)>;
    /// Throws InputError where the job has no such log, or the log has no engine speed.
    LogTrace(const Job &job, const std::string &log, const Read &read);
    /// Of samples in hand: every column as long as the times, which ascend.
    LogTrace(std::vector<double> timeS, std::vector<std::pair<ChannelRole, std::vector<double>>> columns,
             ContentBasis basis = ContentBasis::none, double content = 0);

    std::size_t size() const { return m_timeS.size(); }
    double timeS(std::size_t i) const { return m_timeS[i]; }
    const std::vector<double> &times() const { return m_timeS; }
    bool has(ChannelRole role) const { return !column(role).empty(); }
    /// Not a number where there is none.
    double at(ChannelRole role, std::size_t i) const {
        const auto &c = column(role);
        return c.empty() ? missing() : c[i];
    }
    std::span<const double> of(ChannelRole role) const { return column(role); }
    /// Content by its own channel, else what the log's user stated; not a number where neither is.
    double content(std::size_t i) const;
    /// Believed over the channel, also where that moves.
    bool contentStated() const { return m_basis == ContentBasis::stated; }
    bool contentKnown() const { return m_basis == ContentBasis::stated || has(ChannelRole::ethanol); }
    /// The usual time between two samples.
    double stepS() const { return m_stepS; }
    /// Whether this sample follows the one before without a hole in the log: the engine may have been
    /// switched off there, and nothing goes on through it.
    bool follows(std::size_t i) const {
        return i > 0 && m_timeS[i] - m_timeS[i - 1] <= std::max(holeS, 5 * m_stepS);
    }
    static constexpr double holeS = 1; ///< common practice
    /// Whether a role says nothing for longer than silenceCountsS on end, in samples from, to and between; a
    /// role that the log has not got is silent.
    bool silentIn(ChannelRole role, std::size_t from, std::size_t to) const;
    /// The first sample at or after a time; size() behind the last.
    std::size_t indexAt(double timeS) const;

  private:
    static double missing();
    const std::vector<double> &column(ChannelRole role) const {
        return m_columns[static_cast<std::size_t>(role)];
    }
    void addDuty(bool batch);
    void findStep();

    std::vector<double> m_timeS;
    std::array<std::vector<double>, channelRoleCount> m_columns;
    ContentBasis m_basis = ContentBasis::none;
    double m_content = 0, m_stepS = 0;
};

/// A sample stands for so long when no other comes, at the least and at the most; common practice.
inline constexpr double heldAtLeastS = 0.25, heldForS = 5;
/// In a pull the engine gains about 300 rpm meanwhile: what is not read for longer is not judged. Common
/// practice.
inline constexpr double silenceCountsS = 0.3;

} // namespace wheelwright
