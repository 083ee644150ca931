// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/log_review.h"

#include "core/job/revision.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr double nothing = std::numeric_limits<double>::quiet_NaN();

void goOn(const std::stop_token &stop) {
    if (stop.stop_requested()) throw LogReview::Stopped();
}

// Half-way to the neighbours; without end at the ends, as the engine gets what stands there.
std::pair<double, double> around(const Axis &axis, std::size_t i) {
    constexpr double endless = std::numeric_limits<double>::infinity();
    return {i == 0 ? -endless : (axis[i - 1] + axis[i]) / 2,
            i + 1 == axis.size() ? endless : (axis[i] + axis[i + 1]) / 2};
}

struct Mean {
    double sum = 0, count = 0;
    void add(double v) {
        if (v != v) return;
        sum += v;
        ++count;
    }
    double value() const { return count > 0 ? sum / count : nothing; }
};

void addVisits(const LogReview &log, const CellArea &area, std::vector<CellVisit> &out) {
    constexpr double elsewhereS = 0.5;
    const LogTrace &t = log.trace();
    const std::span<const double> target = log.asked(CalibratedQuantity::lambda);
    const std::size_t first = out.size();
    Mean content, error;
    const auto close = [&] {
        if (out.size() == first) return;
        out.back().content = content.value();
        out.back().lambdaError = error.value();
        content = error = {};
    };
    for (std::size_t i = 0; i < t.size(); ++i) {
        if (!area.holds(t.at(ChannelRole::rpm, i), t.at(ChannelRole::map, i))) continue;
        if (out.size() == first || t.timeS(i) - out.back().endS > std::max(elsewhereS, 2 * t.stepS())) {
            close();
            out.push_back(
                {&log, t.timeS(i), t.timeS(i), log.episodeAt(t.timeS(i)), 0, nothing, nothing, nothing});
        }
        CellVisit &v = out.back();
        v.endS = t.timeS(i);
        ++v.hits;
        content.add(t.content(i));
        if (!target.empty()) error.add(t.at(ChannelRole::lambda, i) - target[i]);
        v.knockDeg = std::fmax(v.knockDeg, t.at(ChannelRole::knockRetard, i));
    }
    close();
}

} // namespace

LogReview::LogReview(const Job &job, const LogInfo &info, const LogTrace::Read &read, std::stop_token stop)
    : LogReview(Study(job), RanStudies(job).of(info), info, read, stop) {}

LogReview::LogReview(const Study &now, const RanStudies::Ran &ran, const LogInfo &info,
                     const LogTrace::Read &read, std::stop_token stop)
    : m_info(info), m_study(ran.study) {
    const Job &job = now.job();
    LogTrace trace(job, info.id, [&](std::size_t series) {
        goOn(stop);
        return read(series);
    });
    goOn(stop);
    m_watched = std::make_shared<const WatchedLog>(*m_study, std::move(trace), ran.known);
    m_episodes = m_watched->episodes();
    goOn(stop);
    m_findings = watch(*m_watched);
    goOn(stop);
    m_cleaned = clean(*m_watched);
    goOn(stop);
    m_content = contentOf(*m_watched, m_info, job);
    goOn(stop);
    const auto alone = std::make_shared<Coverage>(now);
    alone->add(*m_watched, m_cleaned, m_info, true);
    m_coverage = alone;
    // The log's own targets are known without any table.
    for (const auto &[q, own] : {std::pair{CalibratedQuantity::spark, ChannelRole::none},
                                 {CalibratedQuantity::lambda, ChannelRole::lambdaTarget},
                                 {CalibratedQuantity::boost, ChannelRole::boostTarget}}) {
        if (!ran.known && !m_watched->trace().has(own)) continue;
        goOn(stop);
        std::vector<double> &asked = m_asked[static_cast<std::size_t>(q)];
        asked.reserve(m_watched->trace().size());
        for (std::size_t i = 0; i < m_watched->trace().size(); ++i)
            asked.push_back(q == CalibratedQuantity::lambda  ? m_watched->lambdaTarget(i)
                            : q == CalibratedQuantity::boost ? m_watched->boostTarget(i)
                                                             : m_watched->tableAt(q, i));
    }
}

std::shared_ptr<const LogReview> LogReview::withoutSamples() const {
    const std::shared_ptr<LogReview> out(new LogReview());
    out->m_info = m_info;
    out->m_study = m_study;
    out->m_watched = std::make_shared<const WatchedLog>(*m_study, LogTrace({}, {}), m_watched->tablesKnown());
    out->m_coverage = m_coverage;
    out->m_episodes = m_episodes;
    out->m_findings = m_findings;
    out->m_cleaned.steps = m_cleaned.steps;
    out->m_cleaned.left = m_cleaned.left;
    out->m_content = m_content;
    return out;
}

const Episode *LogReview::episodeAt(double timeS) const {
    const Episode *best = nullptr;
    for (const Episode &e : episodes())
        if (e.beginS <= timeS && timeS <= e.endS && (!best || e.endS - e.beginS < best->endS - best->beginS))
            best = &e;
    return best;
}

CellArea areaOf(const Axis &rpm, const Axis &loadKpa, std::size_t x, std::size_t y) {
    const auto [rpmFrom, rpmTo] = around(rpm, x);
    const auto [loadFrom, loadTo] = around(loadKpa, y);
    return {rpmFrom, rpmTo, loadFrom, loadTo};
}

std::vector<CellVisit> visitsOf(std::span<const std::shared_ptr<const LogReview>> logs,
                                const CellArea &area) {
    std::vector<const LogReview *> latest;
    latest.reserve(logs.size());
    for (const auto &log : logs)
        if (log) latest.push_back(log.get());
    std::ranges::stable_sort(latest, std::greater{}, [](const LogReview *l) { return l->info().added; });
    std::vector<CellVisit> out;
    for (const LogReview *log : latest)
        addVisits(*log, area, out);
    return out;
}

std::vector<double> along(const LogTrace &trace, const Episode &episode, EpisodeAxis axis) {
    std::vector<double> out;
    if (axis == EpisodeAxis::distance && !trace.has(ChannelRole::speed)) return out;
    constexpr double metresPerKmhSecond = 1 / 3.6;
    double metres = 0;
    out.reserve(episode.to - episode.from + 1);
    for (std::size_t i = episode.from; i <= episode.to; ++i) {
        if (i > episode.from) {
            const double mean = (trace.at(ChannelRole::speed, i) + trace.at(ChannelRole::speed, i - 1)) / 2;
            if (mean == mean) metres += mean * metresPerKmhSecond * (trace.timeS(i) - trace.timeS(i - 1));
        }
        out.push_back(axis == EpisodeAxis::time  ? trace.timeS(i) - episode.beginS
                      : axis == EpisodeAxis::rpm ? trace.at(ChannelRole::rpm, i)
                                                 : metres);
    }
    return out;
}

Phrase inWords(const Episode &e) {
    const std::vector<Measured> numbers{{e.rpmFrom, Dimension::engineSpeed},
                                        {e.rpmTo, Dimension::engineSpeed},
                                        {e.endS - e.beginS, Dimension::seconds, 1},
                                        {e.peakLoadKpa, Dimension::pressure}};
    const std::vector<Phrase> kind{Phrase(definitionOf(e.kind).title)};
    if (e.peakLoadKpa != e.peakLoadKpa)
        return {MARKED("episode.no_load", "{A}: {2}, {0} to {1}"), numbers, {}, kind};
    return {MARKED("episode.said", "{A}: {2}, {0} to {1}, up to {3}"), numbers, {}, kind};
}

Phrase inWords(const LogFinding &f) {
    const std::vector<Measured> numbers{{f.worst, f.rule->dimension},
                                        {f.limit, f.rule->dimension},
                                        {f.worstS, Dimension::seconds, 1},
                                        {f.rpm, Dimension::engineSpeed},
                                        {f.loadKpa, Dimension::pressure}};
    if (f.rpm != f.rpm) return {MARKED("finding.said.time", "{0}, limit {1}, at {2}"), numbers};
    if (f.loadKpa != f.loadKpa) return {MARKED("finding.said.speed", "{0}, limit {1}, at {2}: {3}"), numbers};
    return {MARKED("finding.said", "{0}, limit {1}, at {2}: {3}, {4}"), numbers};
}

} // namespace wheelwright
