// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/log_intake.h"

#include "core/base/error.h"
#include "core/job/job.h"
#include "core/job/revision.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr double far = std::numeric_limits<double>::infinity();

Measured count(std::uint64_t n) {
    return {static_cast<double>(n), Dimension::count};
}

} // namespace

LogIntake::LogIntake(const ChannelMap &map, const LogLayout &layout, const MapSurroundings &around) {
    std::vector<std::size_t> seriesOf(map.columns.size());
    const std::vector<LogChannel> channels = channelsFrom(map, layout, around);
    for (std::size_t i = 0; i < channels.size(); ++i) {
        const LogChannel &channel = channels[i];
        if (!clockOf(map, layout, i))
            throw InputError("columns", MARKED("expected.clock", "a column that is the time"),
                             MARKED("found.no_clock", "none; give one the role 'time'"));
        Column c;
        c.skipped = map.columns[i].skipped && channel.kind != ChannelKind::clock;
        c.role = channel.role;
        c.clock = channel.kind == ChannelKind::clock;
        c.toSeconds = channel.scale;
        const ChannelRoleDefinition &role = definitionOf(channel.role);
        const double a = (role.least - channel.offset) / channel.scale;
        const double b = (role.most - channel.offset) / channel.scale;
        c.least = std::min(a, b);
        c.most = std::max(a, b);
        c.lowest = far;
        c.highest = -far;
        c.series = seriesOf[i] = m_channels.size();
        if (!c.skipped) m_channels.push_back(channel);
        m_columns.push_back(c);
    }
    for (LogChannel &channel : m_channels) {
        const auto column = static_cast<std::size_t>(channel.series);
        channel.clock = static_cast<double>(seriesOf[static_cast<std::size_t>(channel.clock)]);
        channel.series = static_cast<double>(seriesOf[column]);
    }
    addWorked(map, layout, around);
}

void LogIntake::addWorked(const ChannelMap &map, const LogLayout &layout, const MapSurroundings &around) {
    for (std::size_t i = layout.columns.size(); i < map.columns.size(); ++i) {
        Worked w{i, Formula(map.columns[i].formula), sourcesOf(map.columns[i], map, layout), {}, {}};
        for (std::size_t k = 0; k < w.sources.size(); ++k)
            w.conversions.push_back(
                sourceConversion(w.formula.names()[k], map.columns[w.sources[k]], around));
        w.waiting.resize(w.sources.size());
        m_worked.push_back(std::move(w));
    }
}

// Each stretch of all sources makes a stretch of what is worked out of them.
void LogIntake::feed(std::size_t column, std::span<const double> samples) {
    for (Worked &w : m_worked) {
        bool all = true;
        for (std::size_t k = 0; k < w.sources.size(); ++k) {
            if (w.sources[k] == column) w.waiting[k].assign(samples.begin(), samples.end());
            all = all && !w.waiting[k].empty();
        }
        if (!all) continue;
        std::vector<double> out(w.waiting.front().size()), values(w.sources.size());
        for (std::size_t i = 0; i < out.size(); ++i) {
            for (std::size_t k = 0; k < values.size(); ++k)
                values[k] = w.conversions[k](w.waiting[k][i]);
            out[i] = w.formula(values);
        }
        for (auto &stretch : w.waiting)
            stretch.clear();
        hand(m_columns[w.column], out);
    }
}

void LogIntake::put(std::size_t column, std::span<const double> samples) {
    Column &c = m_columns[column];
    if (c.clock) samples = inOrder(c, samples);
    if (!m_worked.empty() && !samples.empty()) feed(column, samples);
    if (!c.skipped) hand(c, samples);
}

void LogIntake::hand(Column &c, std::span<const double> samples) {
    look(c, samples);
    c.rows += samples.size();
    m_to->put(c.series, samples);
}

void LogIntake::look(Column &c, std::span<const double> samples) {
    double lowest = far, highest = -far, sum = 0;
    std::uint64_t present = 0;
    for (const double v : samples) { // comparisons with what is missing are false
        lowest = v < lowest ? v : lowest;
        highest = v > highest ? v : highest;
        const bool there = v == v;
        present += there;
        sum += there ? v : 0;
    }
    c.lowest = std::min(c.lowest, lowest);
    c.highest = std::max(c.highest, highest);
    c.sum += sum;
    c.present += present;
    if (lowest < c.least || highest > c.most) judge(c, samples);
}

void LogIntake::judge(Column &c, std::span<const double> samples) {
    if (c.clock || c.role == ChannelRole::none) return;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        if (!(samples[i] < c.least || samples[i] > c.most)) continue;
        if (c.outside++ > 0) continue;
        c.firstOutside = c.rows + i + 1;
        c.outsideValue = samples[i];
    }
}

std::span<const double> LogIntake::inOrder(Column &c, std::span<const double> samples) {
    m_times.resize(samples.size());
    bool begun = c.rows > 0;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const std::uint64_t row = c.rows + i + 1;
        double t = samples[i] + c.shift;
        if (samples[i] != samples[i]) {
            if (c.timeless++ == 0) c.firstTimeless = row;
            t = begun ? c.last : 0;
        } else if (begun && t < c.last) {
            const double backS = (c.last - t) * c.toSeconds;
            if (backS > clockJitterS) {
                if (c.restarts++ == 0) c.firstRestart = row;
                c.shift += c.last - t + c.step;
                t = samples[i] + c.shift;
            } else {
                if (c.back++ == 0) {
                    c.firstBack = row;
                    c.backBy = backS;
                }
                t = c.last;
            }
        } else if (begun && t > c.last) {
            c.step = t - c.last;
        }
        c.last = m_times[i] = t;
        begun = true;
    }
    return m_times;
}

void LogIntake::warn(const Column &c, const LogChannel &channel, std::vector<Phrase> &out) const {
    if (c.timeless > 0)
        out.emplace_back(MARKED("log.warn.timeless",
                                "{0} rows have no time, the first is row {1}: taken at the time before"),
                         std::vector{count(c.timeless), count(c.firstTimeless)});
    if (c.back > 0)
        out.emplace_back(
            MARKED("log.warn.back", "Time goes back in {0} rows, first in row {1} by {2}: held where it was"),
            std::vector{count(c.back), count(c.firstBack), Measured{c.backBy, Dimension::seconds, 3}});
    if (c.restarts > 0)
        out.emplace_back(MARKED("log.warn.restart", "Time begins again {0} times, first in row {1}: what "
                                                    "follows stands behind what was before"),
                         std::vector{count(c.restarts), count(c.firstRestart)});
    if (c.outside == 0) return;
    const ChannelRoleDefinition &role = definitionOf(c.role);
    out.emplace_back(MARKED("log.warn.range", "{A}: {0} samples outside {1} to {2}, first in row {3}: {4}"),
                     std::vector{count(c.outside), Measured{role.least, role.dimension},
                                 Measured{role.most, role.dimension}, count(c.firstOutside),
                                 Measured{channel.internal(c.outsideValue), role.dimension}},
                     std::vector<std::string>{}, std::vector<Phrase>{role.title});
}

LogIntake::Summary LogIntake::summary(const LogRead &read) const {
    Summary out;
    out.channels = m_channels;
    out.info.beginS = far;
    out.info.endS = -far;
    for (std::size_t i = 0; i < m_columns.size(); ++i) {
        const Column &c = m_columns[i];
        if (c.skipped) continue;
        LogChannel &channel = out.channels[c.series];
        if (!c.clock && i < read.kinds.size()) channel.kind = read.kinds[i]; // what is worked out is numbers
        if (channel.kind == ChannelKind::words)
            for (const std::string &t : read.texts[i])
                channel.texts += (channel.texts.empty() ? "" : "\n") + t;
        channel.samples = static_cast<double>(c.present);
        channel.missing = static_cast<double>(c.rows - c.present);
        if (c.present > 0) {
            channel.least = c.lowest;
            channel.most = c.highest;
            channel.mean = c.sum / static_cast<double>(c.present);
        }
        if (c.clock && c.present > 0) {
            out.info.beginS = std::min(out.info.beginS, channel.internal(c.lowest));
            out.info.endS = std::max(out.info.endS, channel.internal(c.highest));
        }
        if (channel.role == ChannelRole::ethanol && c.present > 0) {
            out.info.content = std::clamp(channel.internal(channel.mean), 0.0, 1.0);
            out.info.contentBasis = ContentBasis::channel;
        }
        warn(c, channel, out.warnings);
    }
    if (out.info.beginS > out.info.endS) out.info.beginS = out.info.endS = 0;
    out.info.rows = static_cast<double>(read.rows);
    out.warnings.insert(out.warnings.begin(), read.warnings.begin(), read.warnings.end());
    return out;
}

void addLog(Job &job, const LogIntake::Summary &log, const LogOrigin &made) {
    if (const LogInfo *same = logById(job, log.info.id))
        throw InputError(made.name, MARKED("expected.log_new", "a log that this job has not got"),
                         Phrase{MARKED("found.log_again", "the same samples as '{a}', which is here as {b}"),
                                {},
                                {echoed(same->name, 60), same->id}});
    LogInfo info = log.info;
    info.name = made.name;
    info.added = made.added;
    info.revision = made.revision;
    info.note = made.note;
    if (made.content) {
        info.content = *made.content;
        info.contentBasis = ContentBasis::stated;
    }
    info.calibration = calibrationThatRan(job, made.revision, made.name, made.added);
    for (const Phrase &w : log.warnings)
        info.warnings += (info.warnings.empty() ? "" : "\n") + format(w);
    job.logs.push_back(std::move(info));
    for (LogChannel c : log.channels) {
        c.log = log.info.id;
        job.logChannels.push_back(std::move(c));
    }
}

} // namespace wheelwright
