// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/watch_rule.h"

#include "core/job/revision.h"

#include <algorithm>
#include <array>
#include <deque>

namespace wheelwright {

#define WHEELWRIGHT_WATCH_RULE(name) const WatchRule &name##Rule();
#include "core/evidence/all_watch_rules.def"
#undef WHEELWRIGHT_WATCH_RULE

std::span<const WatchRule *const> allWatchRules() {
    static const std::array all{
#define WHEELWRIGHT_WATCH_RULE(name) &name##Rule(),
#include "core/evidence/all_watch_rules.def"
#undef WHEELWRIGHT_WATCH_RULE
    };
    return all;
}

const WatchRule *watchRuleById(std::string_view id) {
    const auto at = std::ranges::find(allWatchRules(), id, [](const WatchRule *r) { return r->id; });
    return at == allWatchRules().end() ? nullptr : *at;
}

namespace {

// A cause that nothing in the log speaks for stays under those that something does.
std::vector<Cause> weighed(const WatchRule &rule, const WatchedLog &log, const BrokenStretch &s) {
    std::vector<Cause> causes;
    for (const PossibleCause &possible : rule.causes) {
        Cause c;
        c.what = possible.what;
        c.weight = possible.usual;
        for (const Witness *w : possible.witnesses) {
            const std::optional<bool> answer = w->asked(log, s);
            if (!answer) continue;
            if (*answer && !w->speaksFor.empty()) c.speaksFor.emplace_back(w->speaksFor);
            if (!*answer && !w->speaksAgainst.empty()) c.speaksAgainst.emplace_back(w->speaksAgainst);
            c.weight += *answer ? 1 : -w->against;
        }
        causes.push_back(std::move(c));
    }
    std::ranges::stable_sort(causes, std::greater{}, &Cause::weight);
    return causes;
}

LogFinding finding(const WatchRule &rule, const WatchedLog &log, const BrokenStretch &s) {
    const LogTrace &t = log.trace();
    LogFinding f{&rule, t.timeS(s.from), t.timeS(s.to), s.value, s.limit, t.timeS(s.worst), 0, 0, 0, false,
                 {}};
    f.rpm = log.at(ChannelRole::rpm, s.worst);
    f.loadKpa = log.at(ChannelRole::map, s.worst);
    f.content = t.content(s.worst);
    f.transient = log.inTipIn(s.worst);
    f.causes = weighed(rule, log, s);
    return f;
}

} // namespace

ChannelRole silentFor(const WatchRule &rule, const WatchedLog &log, std::size_t from, std::size_t to) {
    const LogTrace &t = log.trace();
    for (const ChannelRole r : rule.needs)
        if (t.silentIn(r, from, to)) return r;
    // What the log itself does not say is asked of the tables, and those are read at a content.
    if (!rule.needsTables || !t.silentIn(rule.unless, from, to)) return ChannelRole::none;
    if (!log.tablesKnown()) return rule.unless;
    return !t.contentStated() && t.silentIn(ChannelRole::ethanol, from, to) ? ChannelRole::ethanol
                                                                            : ChannelRole::none;
}

LogFindings watch(const WatchedLog &log) {
    LogFindings out;
    for (const WatchRule *rule : allWatchRules()) {
        const bool can = (log.tablesKnown() || !rule->needsTables || log.trace().has(rule->unless)) &&
                         std::ranges::all_of(rule->needs, [&](ChannelRole r) { return log.trace().has(r); });
        if (!can) {
            out.notAsked.push_back(rule);
            continue;
        }
        for (const BrokenStretch &s : rule->find(log))
            out.found.push_back(finding(*rule, log, s));
        for (const Episode &e : log.episodes())
            if (e.kind == EpisodeKind::pull)
                if (const ChannelRole silent = silentFor(*rule, log, e.from, e.to);
                    silent != ChannelRole::none)
                    out.silent.push_back({rule, silent, e.beginS, e.endS});
    }
    std::ranges::stable_sort(out.found, {}, &LogFinding::beginS);
    return out;
}

std::vector<double> highestLately(const LogTrace &t, const std::vector<double> &values, double behindS) {
    std::deque<std::size_t> falling; // each higher than those behind it
    std::vector<double> out;
    out.reserve(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) {
        while (!falling.empty() && t.timeS(i) - t.timeS(falling.front()) > behindS)
            falling.pop_front();
        if (values[i] == values[i]) {
            while (!falling.empty() && values[falling.back()] <= values[i])
                falling.pop_back();
            falling.push_back(i);
        }
        out.push_back(falling.empty() ? values[i] : values[falling.front()]);
    }
    return out;
}

std::vector<BrokenStretch> merged(const WatchedLog &log, std::vector<BrokenStretch> stretches,
                                  const std::vector<double> &over) {
    const LogTrace &t = log.trace();
    const auto together = [&](const BrokenStretch &a, const BrokenStretch &b) {
        if (t.timeS(b.from) - t.timeS(a.to) <= mergedWithinS) return true;
        return std::ranges::any_of(log.episodes(), [&](const Episode &e) {
            return e.kind == EpisodeKind::pull && e.from <= a.to && b.from <= e.to;
        });
    };
    std::vector<BrokenStretch> out;
    for (const BrokenStretch &s : stretches) {
        if (!out.empty() && together(out.back(), s)) {
            if (over[s.worst] > over[out.back().worst]) out.back().worst = s.worst;
            out.back().to = s.to;
        } else {
            out.push_back(s);
        }
    }
    return out;
}

} // namespace wheelwright
