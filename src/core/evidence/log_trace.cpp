// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/log_trace.h"

#include "core/base/error.h"
#include "core/base/median.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr double leastStepS = 0.01;

// Longer pauses between what a channel says, since some say something only where it has changed.
double holdOf(const std::vector<double> &clock, const std::vector<double> &samples) {
    constexpr double pauses = 3, shorter = 0.9;
    std::vector<double> between;
    double lastS = std::numeric_limits<double>::quiet_NaN();
    for (std::size_t i = 0; i < std::min(clock.size(), samples.size()); ++i) {
        if (samples[i] != samples[i]) continue;
        if (clock[i] > lastS) between.push_back(clock[i] - lastS);
        lastS = clock[i];
    }
    if (between.empty()) return heldForS;
    const auto longer =
        between.begin() + static_cast<std::ptrdiff_t>(shorter * static_cast<double>(between.size() - 1));
    std::ranges::nth_element(between, longer);
    return std::clamp(pauses * *longer, heldAtLeastS, heldForS);
}

// Samples of another clock, or with gaps, at these times: the last one that was there.
std::vector<double> heldAt(const std::vector<double> &times, const std::vector<double> &clock,
                           const std::vector<double> &samples) {
    const double standsS = holdOf(clock, samples);
    std::vector<double> out(times.size(), std::numeric_limits<double>::quiet_NaN());
    std::size_t next = 0;
    double last = 0, lastS = -std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < times.size(); ++i) {
        for (; next < clock.size() && next < samples.size() && clock[next] <= times[i]; ++next)
            if (samples[next] == samples[next]) {
                last = samples[next];
                lastS = clock[next];
            }
        if (times[i] - lastS <= standsS) out[i] = last;
    }
    return out;
}

std::vector<double> thinned(const std::vector<double> &clock) {
    std::vector<double> out;
    out.reserve(clock.size());
    constexpr double almost = 1 - 1e-6; // times are sums of steps
    for (const double t : clock)
        if (out.empty() || t - out.back() >= leastStepS * almost) out.push_back(t);
    return out;
}

std::vector<double> internalOf(const LogChannel &c, const LogTrace::Read &read) {
    std::vector<double> samples = read(static_cast<std::size_t>(c.series));
    for (double &v : samples)
        v = c.internal(v);
    return samples;
}

} // namespace

LogTrace::LogTrace(const Job &job, const std::string &log, const Read &read) {
    const LogInfo *info = logById(job, log);
    if (!info)
        throw InputError("log", MARKED("expected.id_of_log", "the id of a log of this job"),
                         "'" + echoed(log, 40) + "'");
    m_basis = info->contentBasis;
    m_content = info->content;
    const std::vector<const LogChannel *> channels = channelsOf(job, log);
    const auto ofRole = [&](ChannelRole role) {
        const auto at = std::ranges::find(channels, role, &LogChannel::role);
        return at == channels.end() ? nullptr : *at;
    };
    const LogChannel *speed = ofRole(ChannelRole::rpm);
    if (!speed)
        throw InputError(info->name, MARKED("expected.engine_speed", "a channel of the engine's speed"),
                         MARKED("found.none", "none"));
    std::vector<std::pair<double, std::vector<double>>> clocks; // by series
    const auto clockOf = [&](const LogChannel &c) -> const std::vector<double> & {
        const auto at = std::ranges::find(clocks, c.clock, &std::pair<double, std::vector<double>>::first);
        if (at != clocks.end()) return at->second;
        const auto clock = std::ranges::find(channels, c.clock, &LogChannel::series);
        return clocks
            .emplace_back(c.clock,
                          clock == channels.end() ? std::vector<double>() : internalOf(**clock, read))
            .second;
    };
    clocks.reserve(channels.size()); // references hold
    m_timeS = thinned(clockOf(*speed));
    for (const LogChannel *c : channels)
        if (c->role != ChannelRole::none && c->role != ChannelRole::time && c->kind == ChannelKind::number)
            m_columns[static_cast<std::size_t>(c->role)] = heldAt(m_timeS, clockOf(*c), internalOf(*c, read));
    findStep();
    addDuty(job.injectors.batch);
}

LogTrace::LogTrace(std::vector<double> timeS,
                   std::vector<std::pair<ChannelRole, std::vector<double>>> columns, ContentBasis basis,
                   double content)
    : m_timeS(std::move(timeS)), m_basis(basis), m_content(content) {
    for (auto &[role, samples] : columns)
        m_columns[static_cast<std::size_t>(role)] = std::move(samples);
    findStep();
    addDuty(false);
}

double LogTrace::missing() {
    return std::numeric_limits<double>::quiet_NaN();
}

double LogTrace::content(std::size_t i) const {
    if (m_basis == ContentBasis::stated) return m_content;
    return at(ChannelRole::ethanol, i);
}

bool LogTrace::silentIn(ChannelRole role, std::size_t from, std::size_t to) const {
    const std::vector<double> &c = column(role);
    if (c.empty()) return true;
    double saidS = timeS(from);
    bool silent = false;
    for (std::size_t i = from; i <= to; ++i) {
        const bool says = c[i] == c[i];
        silent |= !says;
        if (silent && timeS(i) - saidS > silenceCountsS) return true;
        if (!says) continue;
        saidS = timeS(i);
        silent = false;
    }
    return false;
}

// One pulse in two turns: duty = pulse × rpm / 120000, twice that where injectors fire in batches.
void LogTrace::addDuty(bool batch) {
    const auto &pulse = column(ChannelRole::pulseWidth), &rpm = column(ChannelRole::rpm);
    auto &duty = m_columns[static_cast<std::size_t>(ChannelRole::duty)];
    if (!duty.empty() || pulse.empty() || rpm.empty()) return;
    constexpr double msPerTwoTurnsAtOneRpm = 120000;
    for (std::size_t i = 0; i < size(); ++i)
        duty.push_back(pulse[i] * rpm[i] / msPerTwoTurnsAtOneRpm * (batch ? 2 : 1));
}

void LogTrace::findStep() {
    std::vector<double> steps;
    for (std::size_t i = 1; i < m_timeS.size(); ++i)
        steps.push_back(m_timeS[i] - m_timeS[i - 1]);
    if (steps.empty()) return;
    m_stepS = medianOf(std::move(steps));
}

std::size_t LogTrace::indexAt(double timeS) const {
    // Most logs are evenly sampled, and are asked for each of their samples: the guess is the place or beside
    // it.
    const double guess = m_stepS > 0 ? (timeS - m_timeS.front()) / m_stepS : -1;
    if (guess >= 0 && guess < static_cast<double>(size())) {
        const auto middle = static_cast<std::size_t>(guess);
        for (std::size_t i = std::max<std::size_t>(middle, 1); i < std::min(middle + 3, size()); ++i)
            if (m_timeS[i - 1] < timeS && m_timeS[i] >= timeS) return i;
    }
    return static_cast<std::size_t>(std::ranges::lower_bound(m_timeS, timeS) - m_timeS.begin());
}

} // namespace wheelwright
