// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/log_content.h"

#include "core/base/error.h"
#include "core/study/content_opinions.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double turningRpm = 300;

void findStretches(const WatchedLog &log, LogContent &out) {
    const LogTrace &t = log.trace();
    const double limit = log.limit("clean.content");
    double sum = 0;
    std::size_t count = 0;
    bool judged = false;
    out.settled = true;
    out.least = 1;
    for (std::size_t i = 0; i < t.size(); ++i) {
        const double pace = std::abs(log.contentPerMinute(i)), read = log.contentRead(i);
        if (read != read) continue;
        const bool still = !(pace > limit);
        judged = judged || pace == pace;
        if (log.at(ChannelRole::rpm, i) >= turningRpm) {
            out.least = std::min(out.least, read);
            out.most = std::max(out.most, read);
            out.movedPerMinute = std::max(out.movedPerMinute, pace == pace ? pace : 0);
        }
        if (out.stretches.empty() || out.stretches.back().settled != still) {
            out.stretches.push_back({i, i, t.timeS(i), t.timeS(i), still, 0});
            count = 0;
        }
        ContentStretch &s = out.stretches.back();
        s.to = i;
        s.endS = t.timeS(i);
        s.content += (read - s.content) / static_cast<double>(++count);
        out.settled = out.settled && still;
        sum += read;
    }
    std::size_t all = 0;
    for (const ContentStretch &s : out.stretches)
        all += s.to - s.from + 1;
    if (all > 0) out.mean = sum / static_cast<double>(all);
    out.least = std::min(out.least, out.most);
    out.settled = out.settled && judged; // too short to say is not settled
}

// The tank by that day: events that came later say nothing of this fuel.
ContentOpinions opinionsBy(const Job &job, const std::string &day) {
    Job then = job;
    then.tankEvents.eraseIf([&](const TankEvent &e) {
        return e.at.substr(0, day.size()).compare(day) > 0; // a day by itself is all of that day
    });
    if (then.tankEvents.empty()) return {};
    return opinionsOf(then);
}

void compare(const Job &job, const LogInfo &info, LogContent &out) {
    constexpr std::size_t dayDigits = 10;
    ContentOpinions opinions;
    try {
        opinions = opinionsBy(job, info.added.substr(0, dayDigits));
    } catch (const InputError &) {
        return; // a history that cannot have happened says nothing
    }
    const double limit = limitOf(job, "content.disagreement");
    for (const Opinion &o : opinions.all) {
        if (o.source == OpinionSource::sensor) continue; // the log's own channel is that sensor
        const double apart = std::abs(o.content.value - out.mean);
        out.beside.push_back({opinionTitle(o.source), o.content.value, o.content.sigma,
                              apart <= std::max(limit, 2 * o.content.sigma)});
    }
}

void say(LogContent &out) {
    const auto share = [](double v) { return Measured{v, Dimension::content, 1}; };
    const auto step = [](double v) { return Measured{v, Dimension::contentDifference, 1}; };
    if (!out.known) {
        out.said.emplace_back(MARKED("log.content.unknown",
                                     "Nobody has said what fuel this log ran on: state its content, or it "
                                     "counts for no table."));
        return;
    }
    if (out.stretches.empty()) {
        out.said.push_back({MARKED("log.content.stated", "Content {0}, as stated. No channel reads it."),
                            {share(out.mean)}});
    } else {
        if (out.returnDry)
            out.said.emplace_back(MARKED(
                "log.content.dry", "The reading jumps at high flow while it was steady before: the return "
                                   "line runs dry there, and the sensor sees something else than the fuel."));
        if (!out.settled && out.movedPerMinute > 0)
            out.said.push_back({MARKED("log.content.moving",
                                       "Content is not settled: it moves by up to {0} in a minute, from {1} "
                                       "to {2}. No table is corrected from this log unless you state its "
                                       "content."),
                                {step(out.movedPerMinute), share(out.least), share(out.most)}});
        else if (!out.settled)
            out.said.emplace_back(
                MARKED("log.content.short", "The log is too short to say whether its content has settled."));
        else
            out.said.push_back(
                {MARKED("log.content.settled", "Content has settled at {0}."), {share(out.mean)}});
        if (out.stated && (!out.settled || out.returnDry))
            out.said.emplace_back(
                MARKED("log.content.told", "Its content is stated, so that it is used all the same."));
    }
    for (const LogContent::Beside &b : out.beside)
        out.said.push_back(
            {b.agrees ? MARKED("log.content.agrees",
                               "{A} said {0} ± {1} on the day this log came in: that agrees.")
                      : MARKED("log.content.differs",
                               "{A} said {0} ± {1} on the day this log came in. If it was recorded on that "
                               "fuel, find out which is wrong before you trust either."),
             {share(b.content), step(b.sigma)},
             {},
             {Phrase(b.who)}});
}

} // namespace

LogContent contentOf(const WatchedLog &log, const LogInfo &info, const Job &job) {
    LogContent out;
    out.stated = info.contentBasis == ContentBasis::stated;
    const bool read = log.trace().has(ChannelRole::ethanol);
    out.known = out.stated || read;
    if (read) {
        findStretches(log, out);
        const WatchRule *jump = watchRuleById("content_jump");
        const bool asked =
            std::ranges::all_of(jump->needs, [&](ChannelRole r) { return log.trace().has(r); });
        out.returnDry = asked && !jump->find(log).empty();
    }
    if (out.stated) out.mean = info.content;
    if (out.known) compare(job, info, out);
    say(out);
    return out;
}

} // namespace wheelwright
