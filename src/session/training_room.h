// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/trainer/scenario.h"
#include "session/work.h"

#include <QObject>
#include <QTemporaryDir>

#include <filesystem>
#include <string>
#include <vector>

namespace wheelwright {

class Session;

/// A scenario of the trainer in the window: a job of its own, its engine on the bus, what was looked at and
/// said, and the score when it has ended. What is open meanwhile is that job; leaving it ends the scenario.
class TrainingRoom : public QObject {
    Q_OBJECT
  public:
    explicit TrainingRoom(Session &session);

    /// sound: a job as its JSON document; folder: where the job of the scenario is made, over an older one.
    /// Throws InputError; what is open stays then.
    void begin(const Scenario &scenario, std::string_view sound, const std::filesystem::path &folder);
    /// nullptr: none is under way, and none has ended that could be looked back at.
    const Scenario *scenario() const { return m_scenario; }
    bool underWay() const { return m_underWay; }
    bool ending() const { return m_ending || m_scoring.running(); }
    int hints() const { return m_hints; }
    void takeHint();
    void look(const Inspection &inspection);
    /// What was looked at, and what it came to, the newest last.
    const std::vector<Phrase> &found() const { return m_found; }
    /// Ends the engine and opens the envelope; answer: of trainingCauses().
    void finish(std::string_view answer);
    struct Result {
        Training training;
        TrainingScore score;
    };
    const Result *result() const { return m_scoring.result() ? m_scoring.result()->get() : nullptr; }

  signals:
    void changed();
    void scored(QString scenario, int points, bool passed);

  private:
    void noteEvent(const std::string &what, double tankContent, double timeS);
    void end();
    void count();

    Session &m_session;
    const Scenario *m_scenario = nullptr;
    Job m_sound;
    HiddenEngine m_engine;
    QTemporaryDir m_folder;
    std::vector<PracticeEvent> m_events;
    std::vector<Phrase> m_found;
    PracticeDamage m_damage;
    std::string m_destroyedBy, m_answer;
    double m_tankContent = 0;
    int m_hints = 0;
    bool m_underWay = false, m_ending = false, m_cameToAnEnd = false, m_beginning = false;
    Work<std::shared_ptr<const Result>> m_scoring;
};

} // namespace wheelwright
