// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QJsonObject>
#include <QObject>
#include <QProcess>
#include <QString>
#include <QStringList>

#include <cstdint>

namespace wheelwright {

/// Which practice engine is started.
struct PracticeSetup {
    QString engineFile; ///< its truth as JSON; empty: drawn by the seed
    std::uint64_t seed = 1;
    QStringList faults;  ///< "weak_pump:0.7"
    QString log{};       ///< where all that it said is written when it ends; empty: nowhere
    double ethanol = -1; ///< in tank and lines; −1: by the tank of the job
    bool operator==(const PracticeSetup &) const = default;
};

/// An engine of one's own at the other end of a virtual bus: a process that is started, told what to do by
/// its standard input, and whose end is noticed. It ends with this, whatever happens.
class PracticeProcess : public QObject {
    Q_OBJECT
  public:
    explicit PracticeProcess(QObject *parent = nullptr);
    ~PracticeProcess() override;

    /// Says ready() with the port of its bus, or ended().
    void start(const QString &jobFile, const PracticeSetup &setup);
    bool running() const { return m_process.state() != QProcess::NotRunning; }
    void tell(const QString &line); ///< a step as in scripts, "lift", "load", "end"
    /// Asks it to end, and sees to it.
    void end();
    void askToEnd();                  ///< says ended() when it has
    void kill() { m_process.kill(); } ///< as if it had died
    /// Where the program is looked for first; tests have it elsewhere.
    static void setProgram(const QString &path);

  signals:
    void ready(quint16 port);
    void did(QString what, double timeS);
    void looked(QString at, double tankContent, double timeS, QString found);
    void came(QJsonObject result); ///< what it has come to, when it ends
    void refused(QString what, QString why);
    void engineDestroyed(QString by);
    /// It has ended. why: empty when it was asked to.
    void ended(QString why);

  private:
    void readLines();
    void finish();

    QProcess m_process;
    bool m_asked = false, m_ready = false;
    QString m_destroyedBy;
};

} // namespace wheelwright
