// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/run_book.h"

#include "core/base/error.h"
#include "session/session.h"
#include "store/log_intake_store.h"

#include <algorithm>

namespace wheelwright {

RunBook::RunBook(Session &session)
    : QObject(&session), m_session(session), m_reading(WorkSignals::Length::unasked) {
    connect(&session, &Session::jobReplaced, this, [this] {
        m_reading.forget();
        m_runs.clear();
        m_troubles.clear();
        m_before.clear();
        m_after.clear();
        m_chosen = false;
        m_cursorRpm.reset();
        emit choiceChanged();
        read();
    });
    connect(&session, &Session::jobChanged, this, [this](const JobChange &change) {
        if (change.touches("runs.runs")) read();
    });
    connect(&m_reading, &WorkSignals::finished, this, [this] {
        if (!m_reading.result()) return;
        m_runs = m_reading.result()->runs;
        m_troubles = m_reading.result()->troubles;
        emit runsChanged();
        const Reading &read = *m_reading.result();
        if (!m_chosen && m_before.empty() && m_after.empty() && !read.before.empty()) {
            m_before = read.before;
            m_after = read.after;
            emit choiceChanged();
        }
    });
}

// A run that was read and is still the same is not read again.
void RunBook::read() {
    const Job &job = m_session.job();
    const auto gone = [&job](const std::string &id) { return !runById(job, id); };
    const auto removed = std::erase_if(m_before, gone) + std::erase_if(m_after, gone);
    m_reading.start(
        m_session.jobVersion(), [job, had = m_runs, chosen = m_chosen](const WorkControl &control) {
            Reading out;
            for (const Run &r : job.runs.values()) {
                if (control.stopped()) break;
                const auto same = std::ranges::find_if(had, [&](const auto &m) { return m->run == r; });
                try {
                    out.runs.push_back(same != had.end() ? *same : wheelwright::measured(r));
                } catch (const InputError &e) {
                    out.troubles.emplace_back(r.id, text(e.words()));
                }
            }
            if (chosen) return out; // by somebody already
            const auto [before, after] = firstLook(job, out.runs);
            for (const auto &r : before)
                out.before.push_back(r->run.id);
            for (const auto &r : after)
                out.after.push_back(r->run.id);
            return out;
        });
    emit runsChanged();
    if (removed > 0) emit choiceChanged();
}

std::shared_ptr<const MeasuredRun> RunBook::run(const std::string &id) const {
    const auto at = std::ranges::find_if(m_runs, [&](const auto &r) { return r->run.id == id; });
    return at == m_runs.end() ? nullptr : *at;
}

QString RunBook::trouble(const std::string &id) const {
    const auto at = std::ranges::find(m_troubles, id, &std::pair<std::string, QString>::first);
    return at == m_troubles.end() ? QString() : at->second;
}

RunBook::Side RunBook::side(const std::string &id) const {
    if (std::ranges::find(m_before, id) != m_before.end()) return Side::before;
    return std::ranges::find(m_after, id) != m_after.end() ? Side::after : Side::none;
}

void RunBook::setSide(const std::vector<std::string> &ids, Side side) {
    m_chosen = true;
    bool moved = false;
    for (const std::string &id : ids) {
        if (this->side(id) == side) continue;
        moved = true;
        std::erase(m_before, id);
        std::erase(m_after, id);
        if (side == Side::before) m_before.push_back(id);
        if (side == Side::after) m_after.push_back(id);
    }
    if (moved) emit choiceChanged();
}

void RunBook::setSides(const std::vector<std::string> &before, const std::vector<std::string> &after) {
    m_chosen = true;
    if (m_before == before && m_after == after) return;
    m_before = before;
    m_after = after;
    emit choiceChanged();
}

std::vector<std::string> RunBook::chosen(Side side) const {
    std::vector<std::string> out;
    for (const Run &r : m_session.job().runs.values())
        if (side != Side::none && this->side(r.id) == side) out.push_back(r.id);
    return out;
}

MeasuredRuns RunBook::measured(Side side) const {
    MeasuredRuns out;
    for (const std::string &id : chosen(side))
        if (auto r = run(id)) out.push_back(std::move(r));
    return out;
}

void RunBook::setViewing(const RunViewing &viewing) {
    m_viewing = viewing;
    emit viewingChanged();
}

void RunBook::setCursor(std::optional<double> rpm) {
    if (m_cursorRpm == rpm) return;
    m_cursorRpm = rpm;
    emit cursorMoved();
}

RunFile RunBook::readFile(const std::filesystem::path &file, const RunStatement &stated,
                          const MapSurroundings &around) {
    const OpenFile bytes(file);
    return readRunFile(bytes, file.filename().string(), stated, {}, around);
}

bool RunBook::seemsRuns(const std::filesystem::path &file) {
    try {
        return wheelwright::seemsRuns(OpenFile(file));
    } catch (const InputError &) {
        return false;
    }
}

} // namespace wheelwright
