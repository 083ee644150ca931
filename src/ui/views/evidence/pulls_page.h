// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"

#include <QWidget>

#include <array>
#include <memory>
#include <vector>

class QButtonGroup;
class QComboBox;
class QLabel;

namespace wheelwright {

class ChartPlot;
class Session;

/// Two stretches of any logs laid over one another: by time, by engine speed or by distance, each in the hue
/// of its content.
class PullsPage : public QWidget {
    Q_OBJECT
  public:
    explicit PullsPage(Session &session, QWidget *parent = nullptr);
    ChartPlot &plot() { return *m_plot; }

  private:
    struct Choice {
        std::shared_ptr<const LogReview> log;
        std::size_t episode = 0;
        const Episode &of() const { return log->episodes()[episode]; }
    };
    void refreshChoices();
    void draw();
    void addTo(struct Chart &chart, const Choice &choice, bool second);
    ChannelRole role() const;

    Session &m_session;
    std::vector<Choice> m_choices;
    std::array<QComboBox *, 2> m_picks;
    QComboBox *m_role;
    QButtonGroup *m_axis;
    QLabel *m_words;
    ChartPlot *m_plot;
};

} // namespace wheelwright
