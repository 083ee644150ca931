// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/evidence.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "session/session.h"
#include "store/sample_store.h"

#include <algorithm>

namespace wheelwright {
namespace {

// What a log says follows from all of the job but its tables: those that it ran with are kept. Logs that only
// came or went change nothing for others.
bool concernsAll(const JobChange &change) {
    const auto matters = [](std::string_view path) {
        return !path.starts_with("calibration.") && path != "name" && path != "notes" && path != "stated" &&
               !path.starts_with("runs.") && !path.starts_with("vehicle.");
    };
    if (!change.limits.empty()) return true;
    for (const auto &step : change.fields)
        if (matters(step.path)) return true;
    for (const auto &step : change.curves)
        if (matters(step.path)) return true;
    for (const JobChange::RecordSteps &list : change.records) {
        const bool logs = list.path.starts_with("evidence."), revisions = list.path == "revisions";
        if (!logs && !revisions && matters(list.path)) return true;
        for (const JobChange::RecordStep &step : list.steps) {
            if (revisions && step.kind != JobChange::RecordStep::Kind::inserted) return true;
            if (list.path == "evidence.channels" && step.kind == JobChange::RecordStep::Kind::set)
                return true;
        }
    }
    return false;
}

} // namespace

Evidence::Evidence(Session &session)
    : QObject(&session), m_session(session), m_samples(this), m_reading(WorkSignals::Length::unasked),
      m_counting(WorkSignals::Length::unasked), m_delaying(WorkSignals::Length::unasked) {
    connect(&session, &Session::jobReplaced, this, &Evidence::restart);
    connect(&session, &Session::jobChanged, this, &Evidence::jobChanged);
    connect(&m_reading, &WorkSignals::finished, this, &Evidence::take);
    connect(&m_counting, &WorkSignals::finished, this, [this] {
        if (m_counting.result() && m_counting.version() == m_session.jobVersion()) {
            m_coverage = *m_counting.result();
            m_proof = std::make_shared<const Proof>(m_coverage->proof());
            m_coverageVersion = m_counting.version();
        }
        emit coverageChanged();
    });
    connect(&m_delaying, &WorkSignals::finished, this, [this] {
        const std::string log = std::exchange(m_delayUnderWay, {});
        if (m_delaying.result())
            m_delays[log] = *m_delaying.result();
        else
            m_delayTrouble[log] = m_delaying.error();
        emit delayChanged();
    });
}

void Evidence::restart() {
    m_reading.forget();
    m_counting.forget();
    m_delaying.forget();
    m_underWay.clear();
    m_delayUnderWay.clear();
    m_lately.clear();
    m_reviews.clear();
    m_trouble.clear();
    m_delays.clear();
    m_delayTrouble.clear();
    m_coverage.reset();
    m_log.clear();
    m_momentS = 0;
    m_momentChosen = false;
    holdLog();
    openSamples();
    emit logsChanged();
    emit coverageChanged();
    readNext();
}

void Evidence::jobChanged(const JobChange &change) {
    const bool all = concernsAll(change), logs = change.touches("evidence.");
    if (all || logs) {
        const Job &job = m_session.job();
        const std::size_t had = m_reviews.size();
        std::erase_if(m_reviews, [&](const auto &entry) {
            const LogInfo *info = logById(job, entry.first);
            return all || !info || *info != entry.second->info();
        });
        if (all) m_delays.clear();
        std::erase_if(m_delays, [&](const auto &entry) { return !m_reviews.contains(entry.first); });
        m_trouble.clear();
        m_delayTrouble.clear();
        m_delaying.forget();
        m_delayUnderWay.clear();
        m_reading.forget();
        m_underWay.clear();
        if (m_reviews.size() != had) emit reviewsChanged();
    }
    if (logs) {
        const std::string before = m_log;
        holdLog();
        if (m_log != before) openSamples();
        emit logsChanged();
    }
    m_coverage.reset(); // of another calibration, or other limits
    emit coverageChanged();
    readNext();
}

// The log looked at is one of the job's; else the latest.
void Evidence::holdLog() {
    const Job &job = m_session.job();
    if (logById(job, m_log)) return;
    m_log = job.logs.empty() ? std::string() : job.logs.values().back().id;
    if (const LogInfo *info = logById(job, m_log)) m_momentS = info->beginS;
}

void Evidence::openSamples() {
    std::vector<LogChannel> channels;
    for (const LogChannel *c : channelsOf(m_session.job(), m_log))
        channels.push_back(*c);
    m_samples.open(m_session.path(), m_log, channels);
}

void Evidence::setLog(const std::string &id) {
    const LogInfo *info = logById(m_session.job(), id);
    if (id == m_log || !info) return;
    m_log = id;
    m_momentS = info->beginS;
    m_momentChosen = false;
    std::erase(m_lately, id);
    m_lately.push_back(id);
    openSamples();
    readNext(); // the one looked at comes first
    emit logsChanged();
    emit momentChanged();
}

void Evidence::setMoment(double timeS) {
    const LogInfo *info = logById(m_session.job(), m_log);
    if (!info || timeS != timeS) return;
    const double held = std::clamp(timeS, info->beginS, std::max(info->beginS, info->endS));
    if (held == m_momentS) return;
    m_momentS = held;
    m_momentChosen = true;
    emit momentChanged();
}

void Evidence::setMoment(const std::string &log, double timeS) {
    setLog(log);
    setMoment(timeS);
}

std::shared_ptr<const Proof> Evidence::proof() const {
    return m_coverage && m_coverageVersion == m_session.jobVersion() ? m_proof : nullptr;
}

std::shared_ptr<const LogReview> Evidence::review(const std::string &log) const {
    const auto at = m_reviews.find(log);
    return at == m_reviews.end() ? nullptr : at->second;
}

QString Evidence::trouble(const std::string &log) const {
    const auto at = m_trouble.find(log);
    return at == m_trouble.end() ? QString() : at->second;
}

std::vector<std::shared_ptr<const LogReview>> Evidence::reviews() const {
    std::vector<Review> out;
    for (const LogInfo &info : m_session.job().logs)
        if (const Review r = review(info.id)) out.push_back(r);
    return out;
}

bool Evidence::allRead() const {
    return m_reviews.size() + m_trouble.size() >= m_session.job().logs.size();
}

bool Evidence::settled() const {
    return allRead() && (m_reviews.empty() || !m_counting.running());
}

std::optional<std::size_t> Evidence::sampleNow() const {
    const Review r = review(m_log);
    if (!r || r->trace().size() == 0) return std::nullopt;
    const LogTrace &t = r->trace();
    std::size_t i = std::min(t.indexAt(m_momentS), t.size() - 1);
    if (i > 0 && m_momentS - t.timeS(i - 1) < t.timeS(i) - m_momentS) --i;
    return i;
}

const Episode *Evidence::episodeNow() const {
    const Review r = review(m_log);
    return r ? r->episodeAt(m_momentS) : nullptr;
}

// Not read through yet, or on other cells than the job has now, or looked at without its samples.
bool Evidence::waits(const std::string &log) const {
    if (m_trouble.contains(log)) return false;
    const Review r = review(log);
    return !r || !r->coverage().hasCellsOf(m_session.study()) || (log == m_log && !r->hasSamples());
}

std::size_t Evidence::laidAside() const {
    return static_cast<std::size_t>(
        std::ranges::count_if(m_reviews, [](const auto &entry) { return !entry.second->hasSamples(); }));
}

// The samples of those that were looked at longest ago go first; the one looked at stays.
void Evidence::layAside() {
    std::size_t held = 0;
    for (const auto &[log, r] : m_reviews)
        held += r->trace().size();
    for (const std::string &log : m_lately) {
        if (held <= m_mostSamples) return;
        const auto at = m_reviews.find(log);
        if (log == m_log || at == m_reviews.end()) continue;
        held -= at->second->trace().size();
        at->second = at->second->withoutSamples();
    }
}

void Evidence::setMostSamples(std::size_t most) {
    m_mostSamples = most;
    layAside();
    emit reviewsChanged();
}

void Evidence::readNext() {
    if (!m_session.hasJob()) return;
    std::string next;
    if (!m_log.empty() && waits(m_log)) next = m_log;
    for (const LogInfo &info : m_session.job().logs)
        if (next.empty() && waits(info.id)) next = info.id;
    if (next.empty()) {
        m_ran.reset(); // what is still needed of it the reviews hold
        return count();
    }
    if (next == m_underWay && m_reading.running()) return;
    m_underWay = next;
    if (!m_ran || m_ran->studies.now() != m_session.sharedStudy())
        m_ran = std::make_shared<Ran>(m_session.sharedStudy());
    m_reading.start(m_session.jobVersion(),
                    [next, file = m_session.path(), ran = m_ran](const WorkControl &control) -> Read {
                        const Study &now = *ran->studies.now();
                        const SampleReader reader(file);
                        const LogInfo *info = logById(now.job(), next);
                        if (!reader.has(next))
                            throw InputError(info->name,
                                             MARKED("expected.samples_of_log", "the samples of this log"),
                                             MARKED("found.none", "none"));
                        try {
                            return {next, std::make_shared<const LogReview>(
                                              now, ran->of(*info), *info,
                                              [&](std::size_t series) { return reader.read(next, series); },
                                              control.token())};
                        } catch (const LogReview::Stopped &) {
                            return {next, nullptr};
                        }
                    });
}

void Evidence::take() {
    const std::string log = std::exchange(m_underWay, {});
    if (log.empty()) return;
    if (!m_reading.result())
        m_trouble[log] = m_reading.error();
    else if (m_reading.result()->review) {
        m_reviews[log] = m_reading.result()->review;
        std::erase(m_lately, log);
        m_lately.push_back(log);
        layAside();
    }
    emit reviewsChanged();
    readNext();
}

// Of what each log has counted by itself: no sample is read for it.
void Evidence::count() {
    if (m_coverage || m_reviews.empty()) return;
    m_counting.start(m_session.jobVersion(),
                     [logs = reviews(), study = m_session.sharedStudy()](
                         const WorkControl &) -> std::shared_ptr<const Coverage> {
                         const auto coverage = std::make_shared<Coverage>(*study);
                         const std::string now = calibrationPrint(stateOf(study->job()));
                         for (const Review &r : logs)
                             coverage->add(r->coverage(), r->info(), r->ranWith(now));
                         return coverage;
                     });
}

const LambdaDelay *Evidence::delay(const std::string &log) {
    if (const auto at = m_delays.find(log); at != m_delays.end()) return &at->second.delay;
    const Review r = review(log);
    if (!r || m_delayTrouble.contains(log) || m_delayUnderWay == log) return nullptr;
    m_delayUnderWay = log;
    m_delaying.start(m_session.jobVersion(), [r, log](const WorkControl &control) -> Delayed {
        const std::optional<LambdaDelay> stated = statedDelay(r->watched().job());
        Delayed out{log, stated ? *stated : findDelay(r->watched(), control.token()), {}};
        if (out.delay.any()) out.moved = lambdaInItsPlace(r->watched(), out.delay);
        return out;
    });
    return nullptr;
}

const std::vector<double> &Evidence::movedLambda(const std::string &log) const {
    static const std::vector<double> none;
    const auto at = m_delays.find(log);
    return at == m_delays.end() ? none : at->second.moved;
}

QString Evidence::delayTrouble(const std::string &log) const {
    const auto at = m_delayTrouble.find(log);
    return at == m_delayTrouble.end() ? QString() : at->second;
}

} // namespace wheelwright
