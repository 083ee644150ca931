// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/training_room.h"

#include "core/base/error.h"
#include "formats/job_json.h"
#include "formats/practice_csv.h"
#include "formats/practice_json.h"
#include "session/live_seat.h"
#include "session/session.h"
#include "store/file_bytes.h"

#include <QJsonDocument>
#include <QJsonObject>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

std::string logOf(const QTemporaryDir &folder) {
    return folder.filePath(QStringLiteral("log.csv")).toStdString();
}

QString asLine(const PracticeStep &step) {
    QJsonObject out{{QStringLiteral("do"), QString::fromStdString(step.what)},
                    {QStringLiteral("litres"), step.litres}};
    if (!step.fuel.empty()) out[QStringLiteral("fuel")] = QString::fromStdString(step.fuel);
    return QString::fromUtf8(QJsonDocument(out).toJson(QJsonDocument::Compact));
}

} // namespace

TrainingRoom::TrainingRoom(Session &session)
    : QObject(&session), m_session(session), m_scoring(WorkSignals::Length::lengthy) {
    PracticeProcess &engine = session.live().practice();
    connect(&engine, &PracticeProcess::ready, this, [this] {
        if (!m_underWay) return;
        for (const PracticeStep &s : stepsBefore(*m_scenario))
            m_session.live().drive(asLine(s));
    });
    connect(&engine, &PracticeProcess::did, this, [this](const QString &what, double timeS) {
        if (m_underWay && what == QStringLiteral("load")) noteEvent("load", 0, timeS);
    });
    connect(&engine, &PracticeProcess::looked, this,
            [this](const QString &at, double content, double timeS, const QString &) {
                if (!m_underWay) return;
                const Inspection &inspection = inspectionById(at.toStdString(), "at");
                noteEvent("look " + at.toStdString(), content, timeS);
                m_found.push_back(inspectIn(*m_scenario, inspection, m_engine, content).words);
                emit changed();
            });
    connect(&engine, &PracticeProcess::came, this, [this](const QJsonObject &result) {
        if (!m_underWay) return;
        const QJsonObject d = result.value(QStringLiteral("damage")).toObject();
        const auto of = [&](const char *key) { return d.value(QLatin1String(key)).toDouble(); };
        m_damage = {of("knock"),     of("lean_mixture"), of("cylinder_pressure"),
                    of("overspeed"), of("heat"),         of("oil_dilution")};
        m_destroyedBy = result.value(QStringLiteral("destroyed_by")).toString().toStdString();
        m_tankContent = result.value(QStringLiteral("tank_ethanol")).toDouble();
        m_cameToAnEnd = true;
    });
    connect(&engine, &PracticeProcess::ended, this, [this] {
        if (m_underWay && m_ending) count();
        emit changed();
    });
    connect(&session, &Session::jobLeaving, this, [this] {
        if (!m_beginning) end();
    });
    connect(&m_scoring, &WorkSignals::finished, this, [this] {
        if (!m_scoring.result())
            m_session.report(m_scoring.error());
        else
            emit scored(text(m_scenario->id), result()->score.points, result()->score.passed);
        emit changed();
    });
}

void TrainingRoom::begin(const Scenario &scenario, std::string_view sound, const fs::path &folder) {
    const Job healthy = jobFromJson(sound);
    const Job given = givenJob(scenario, healthy);
    const HiddenEngine engine = engineOf(scenario, healthy);
    std::error_code problem;
    fs::create_directories(folder, problem);
    const fs::path job = folder / (std::string(scenario.id) + ".wwjob");
    const bool open = m_session.hasJob() && fs::equivalent(m_session.path(), job, problem);
    if (open) m_session.closeJob();
    fs::remove(job, problem);
    const std::string truth = m_folder.filePath(QStringLiteral("engine.json")).toStdString();
    replaceFile(truth, engineToJson({engine, scenario.faults}));
    fs::remove(logOf(m_folder), problem);
    m_beginning = true;
    try {
        m_session.createJob(job, given);
    } catch (...) {
        m_beginning = false;
        throw;
    }
    m_beginning = false;
    m_scoring.forget();
    m_scenario = &scenario;
    m_sound = healthy;
    m_engine = engine;
    m_events.clear();
    m_found.clear();
    m_damage = {};
    m_destroyedBy.clear();
    m_answer.clear();
    m_hints = 0;
    m_cameToAnEnd = m_ending = false;
    m_underWay = true;
    PracticeSetup setup;
    setup.engineFile = QString::fromStdString(truth);
    setup.log = QString::fromStdString(logOf(m_folder));
    setup.ethanol = scenario.ethanol;
    m_session.live().startPractice(setup);
    emit changed();
}

void TrainingRoom::takeHint() {
    if (!m_underWay || m_hints >= static_cast<int>(m_scenario->hints.size())) return;
    ++m_hints;
    emit changed();
}

void TrainingRoom::look(const Inspection &inspection) {
    if (!m_underWay || m_ending) return;
    const QJsonObject step{{QStringLiteral("do"), QStringLiteral("look")},
                           {QStringLiteral("at"), text(inspection.id)}};
    m_session.live().drive(QString::fromUtf8(QJsonDocument(step).toJson(QJsonDocument::Compact)));
}

void TrainingRoom::finish(std::string_view answer) {
    if (!m_underWay || m_ending) return;
    m_answer = answer;
    m_ending = true;
    if (m_session.live().practising())
        m_session.live().practice().askToEnd();
    else
        count();
    emit changed();
}

void TrainingRoom::noteEvent(const std::string &what, double tankContent, double timeS) {
    m_events.push_back({timeS, what, tankContent});
}

void TrainingRoom::count() {
    m_underWay = m_ending = false;
    if (!m_cameToAnEnd) {
        m_session.report(tr("The practice engine was lost: this scenario cannot be scored."));
        return;
    }
    Training training;
    training.given = givenJob(*m_scenario, m_sound);
    training.left = m_session.job();
    training.events = m_events;
    training.damage = m_damage;
    training.destroyedBy = m_destroyedBy;
    training.tankContent = m_tankContent;
    training.answer = m_answer;
    training.hints = m_hints;
    m_scoring.start(m_session.jobVersion(), [training = std::move(training), scenario = m_scenario,
                                             log = logOf(m_folder)](const WorkControl &) mutable {
        auto out = std::make_shared<Result>();
        out->training = std::move(training);
        out->training.samples = practiceLogFrom(MappedFile(log).bytes());
        out->score = score(*scenario, out->training);
        return std::shared_ptr<const Result>(std::move(out));
    });
}

void TrainingRoom::end() {
    m_underWay = m_ending = false;
    m_scenario = nullptr;
    m_scoring.forget();
    emit changed();
}

} // namespace wheelwright
