// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/remote_book.h"

#include "core/base/error.h"
#include "core/evidence/channel_map.h"
#include "core/evidence/log_intake.h"
#include "formats/bundle.h"
#include "formats/log_import/log_import.h"
#include "session/session.h"
#include "store/bundle_folder.h"

namespace wheelwright {

RemoteBook::RemoteBook(Session &session, LadderBook &ladder, QObject *parent)
    : QObject(parent), m_session(session), m_ladder(ladder), m_work(WorkSignals::Length::lengthy) {
    connect(&session, &Session::jobReplaced, this, [this] {
        m_work.forget();
        m_came.reset();
        m_sent = {};
        emit changed();
    });
    connect(&m_work, &WorkSignals::finished, this, &RemoteBook::take);
    connect(&ladder, &LadderBook::changed, this, &RemoteBook::changed);
}

namespace {

BundleHead headFor(const Session &session, const Rung *rung, const std::string &note) {
    BundleHead head;
    head.job = session.job().name;
    head.made = session.now().toStdString();
    head.rung = rung ? rung->id : "";
    head.note = note;
    head.calibration = calibrationPrint(stateOf(session.job()));
    return head;
}

} // namespace

Report RemoteBook::sheet() const {
    if (!m_session.hasJob()) return {};
    const Rung *rung = m_ladder.current() ? m_ladder.shown()->ladder.next() : nullptr;
    BundleHead head = headFor(m_session, rung, {});
    const Revision *kept = revisionOf(m_session.job(), head.calibration);
    head.revision = kept ? kept->name : tr("(not kept yet)").toStdString();
    return bundleReport(m_session.job(), head, rung);
}

bool RemoteBook::send(const QString &folder, const QString &name, const QString &note) {
    if (!m_ladder.current()) {
        m_session.report(tr("Not sent: the ladder is still being worked out."));
        return false;
    }
    const Rung *rung = m_ladder.shown()->ladder.next();
    BundleHead head = headFor(m_session, rung, note.trimmed().toStdString());
    try {
        Job after = m_session.job();
        head.revision = keepSent(after, name.trimmed().toStdString(), head.made, head.note);
        const Phrase message = bundleMessage(head, rung);
        UnitChoice units; // SI, whatever is shown here: who reads it has a choice of his own
        units.methanol = after.alcohol == Alcohol::methanol;
        NewFolder written(folder.toStdString(),
                          bundleFiles(after, head, plainText(bundleReport(after, head, rung), {units, {}}),
                                      format(message, units) + "\n"));
        const bool kept = m_session.perform(tr("Send %1").arg(QString::fromStdString(head.revision)),
                                            [&](Job &job) { job.revisions = after.revisions; });
        // The same calibration may go out twice: then nothing of the job changes.
        if (!kept && m_session.job().revisions != after.revisions) return false;
        written.keep();
        m_sent = message;
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
        return false;
    }
    m_came.reset();
    emit changed();
    return true;
}

void RemoteBook::takeBack(const QString &folder, const QString &revision) {
    if (!m_session.hasJob() || !m_session.store()) return;
    m_work.start(m_session.jobVersion(), [study = m_session.sharedStudy(), store = m_session.store(),
                                          place = folder.toStdString(),
                                          named = revision.toStdString()](const WorkControl &control) {
        const Job &job = study->job();
        const ReturnedFolder came = readReturnedFolder(place);
        std::optional<BundleHead> head;
        if (came.head) head = bundleHeadFromJson(*came.head);
        std::vector<std::string> names;
        for (const auto &log : came.logs)
            names.push_back(log.filename().string());
        const BundleTie tie = tieOf(job, head, names, named);
        auto out = std::make_shared<Arrived>();
        out->folder = place;
        out->revision = tie.revision;
        out->asked = tie.asked;
        if (tie.revision.empty()) return std::shared_ptr<const Arrived>(std::move(out));
        const auto &all = job.revisions.values();
        const Job sent = restored(job, *std::ranges::find(all, tie.revision, &Revision::name));
        std::vector<std::string> compared;
        const Job back = withReadBack(sent, came.back, compared);
        out->back = readBackOf(sent, back, std::move(compared));
        for (const auto &path : came.logs) {
            const std::string name = path.filename().string();
            try {
                const OpenFile bytes(path);
                const auto source = openLog(bytes, {});
                out->logs.emplace_back(name,
                                       takeLog(*store, bytes, *source, suggestMap(source->layout()),
                                               surroundingsIn(*study), {false, 2, control.token(), {}}));
            } catch (const InputError &e) {
                throw InputError(name + " " + e.where(), e.expected(), e.found());
            }
            control.progress(static_cast<double>(out->logs.size()) / static_cast<double>(came.logs.size()));
        }
        return std::shared_ptr<const Arrived>(std::move(out));
    });
}

void RemoteBook::take() {
    if (!m_work.result()) {
        m_session.report(m_work.error());
        return;
    }
    const std::shared_ptr<const Arrived> arrived = *m_work.result();
    if (arrived->revision.empty()) {
        QStringList sent;
        for (const Revision &r : m_session.job().revisions)
            if (r.sent) sent << QString::fromStdString(r.name);
        if (sent.isEmpty())
            m_session.report(tr("Nothing was sent of this job: what came back belongs to nothing."));
        else
            emit revisionWanted(QString::fromStdString(arrived->folder), sent);
        return;
    }
    CameBack came;
    came.job = m_session.job().name;
    came.revision = arrived->revision;
    came.asked = arrived->asked;
    came.back = arrived->back;
    std::vector<const std::pair<std::string, TakenLog> *> fresh;
    for (const auto &log : arrived->logs) {
        if (log.second.stopped) return;
        if (logById(m_session.job(), log.second.summary.info.id)) {
            came.known.push_back(log.first);
        } else {
            came.logs.push_back(log.first);
            fresh.push_back(&log);
        }
    }
    if (!fresh.empty() &&
        !m_session.perform(tr("What came back of %1").arg(QString::fromStdString(came.revision)),
                           [&](Job &job) {
                               for (const auto *log : fresh)
                                   addLog(job, log->second.summary,
                                          {log->first, m_session.now().toStdString(), came.revision, {}, {}});
                           }))
        return;
    m_came = std::move(came);
    emit cameBack();
    emit changed();
}

std::optional<CameBack> RemoteBook::came() const {
    if (!m_came || !m_session.hasJob()) return std::nullopt;
    CameBack c = *m_came;
    const auto &all = m_session.job().revisions.values();
    const auto at = std::ranges::find(all, c.revision, &Revision::name);
    c.goneOn =
        at == all.end() || calibrationPrint(at->state.text()) != calibrationPrint(stateOf(m_session.job()));
    if (!m_ladder.current()) return c;
    c.rung = m_ladder.shown()->ladder.next();
    if (c.rung)
        if (const auto status = m_ladder.shown()->status.find(c.rung->id);
            status != m_ladder.shown()->status.end())
            c.status = &status->second;
    return c;
}

Report RemoteBook::answer() const {
    const std::optional<CameBack> c = came();
    return c ? cameBackReport(*c) : Report{};
}

Phrase RemoteBook::message() const {
    const std::optional<CameBack> c = came();
    return c ? cameBackMessage(*c) : m_sent;
}

} // namespace wheelwright
