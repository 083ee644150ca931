// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/settling.h"

#include <QWidget>

#include <array>

class QCPGraph;
class QCPItemText;
class QCPItemStraightLine;
class QCustomPlot;

namespace wheelwright {

class FieldForm;
class ReportView;
class Session;

/// What sensor and injectors get, minute by minute, after the tank was taken from what it holds to the
/// content looked at: at idle and at cruise.
class SettlingPage : public QWidget {
    Q_OBJECT
  public:
    explicit SettlingPage(Session &session, QWidget *parent = nullptr);
    FieldForm *form() { return m_form; }
    QString wordsText() const;

  public slots:
    void copy() const; ///< minutes and the content of each curve as tab-separated text
    void copyPicture();

  protected:
    void changeEvent(QEvent *event) override;

  private:
    void makePlot();
    void restyle();
    void refresh();

    Session &m_session;
    FieldForm *m_form = nullptr;
    ReportView *m_words = nullptr;
    QCustomPlot *m_plot = nullptr;
    struct Curve {
        bool cruise, injector;
        QCPGraph *graph;
    };
    std::array<Curve, 4> m_curves{};
    QCPItemStraightLine *m_settled = nullptr;
    QCPItemText *m_settledText = nullptr;
    double m_before = 0, m_after = 0;
};

} // namespace wheelwright
