// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/practice_process.h"

#include <QCoreApplication>
#include <QJsonDocument>
#include <QJsonObject>
#include <QStandardPaths>

namespace wheelwright {
namespace {

constexpr int patienceMs = 1500;

QString &chosenProgram() {
    static QString path;
    return path;
}

QString program() {
    if (!chosenProgram().isEmpty()) return chosenProgram();
    const QString name = QStringLiteral("wheelwright-practice");
    const QString beside = QStandardPaths::findExecutable(name, {QCoreApplication::applicationDirPath()});
    return beside.isEmpty() ? QStandardPaths::findExecutable(name) : beside;
}

} // namespace

PracticeProcess::PracticeProcess(QObject *parent) : QObject(parent) {
    connect(&m_process, &QProcess::readyReadStandardOutput, this, &PracticeProcess::readLines);
    connect(&m_process, &QProcess::finished, this, &PracticeProcess::finish);
}

PracticeProcess::~PracticeProcess() {
    m_process.disconnect(this);
    end();
}

void PracticeProcess::setProgram(const QString &path) {
    chosenProgram() = path;
}

void PracticeProcess::start(const QString &jobFile, const PracticeSetup &setup) {
    end();
    m_asked = m_ready = false;
    m_destroyedBy.clear();
    const QString path = program();
    if (path.isEmpty()) {
        emit ended(tr("The practice engine is not there: wheelwright-practice was found nowhere."));
        return;
    }
    QStringList arguments{QStringLiteral("run"), jobFile, QStringLiteral("--bus"),
                          QStringLiteral("virtual:0")};
    if (setup.engineFile.isEmpty())
        arguments << QStringLiteral("--seed") << QString::number(setup.seed);
    else
        arguments << QStringLiteral("--engine") << setup.engineFile;
    for (const QString &fault : setup.faults)
        arguments << QStringLiteral("--fault") << fault;
    if (!setup.log.isEmpty()) arguments << QStringLiteral("--log") << setup.log;
    if (setup.ethanol >= 0) arguments << QStringLiteral("--ethanol") << QString::number(setup.ethanol);
    m_process.start(path, arguments);
}

void PracticeProcess::tell(const QString &line) {
    if (running()) m_process.write(line.toUtf8() + '\n');
}

void PracticeProcess::end() {
    if (!running()) return;
    m_asked = true;
    m_process.closeWriteChannel();
    if (m_process.waitForFinished(patienceMs)) return;
    m_process.kill();
    m_process.waitForFinished(patienceMs);
}

void PracticeProcess::askToEnd() {
    m_asked = true;
    m_process.closeWriteChannel();
}

void PracticeProcess::readLines() {
    while (m_process.canReadLine()) {
        const QJsonObject said = QJsonDocument::fromJson(m_process.readLine()).object();
        if (const QString bus = said.value(QStringLiteral("bus")).toString(); !bus.isEmpty()) {
            m_ready = true;
            emit ready(static_cast<quint16>(bus.section(QLatin1Char(':'), 1).toUInt()));
        }
        const double timeS = said.value(QStringLiteral("time_s")).toDouble();
        if (said.contains(QStringLiteral("did")))
            emit did(said.value(QStringLiteral("did")).toString(), timeS);
        if (said.contains(QStringLiteral("looked")))
            emit looked(said.value(QStringLiteral("looked")).toString(),
                        said.value(QStringLiteral("ethanol")).toDouble(), timeS,
                        said.value(QStringLiteral("found")).toString());
        if (said.contains(QStringLiteral("result")))
            emit came(said.value(QStringLiteral("result")).toObject());
        if (said.contains(QStringLiteral("refused")))
            emit refused(said.value(QStringLiteral("refused")).toString(),
                         said.value(QStringLiteral("why")).toString());
        if (said.contains(QStringLiteral("destroyed"))) {
            m_destroyedBy = said.value(QStringLiteral("destroyed")).toString();
            emit engineDestroyed(m_destroyedBy);
        }
    }
}

void PracticeProcess::finish() {
    readLines();
    if (m_asked) return emit ended({});
    const QString error = QString::fromUtf8(m_process.readAllStandardError()).trimmed();
    if (!m_destroyedBy.isEmpty()) return emit ended(tr("The engine was destroyed: %1.").arg(m_destroyedBy));
    if (!m_ready && !error.isEmpty()) return emit ended(error);
    emit ended(tr("The practice engine has ended by itself."));
}

} // namespace wheelwright
