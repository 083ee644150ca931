// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"

#include <QTextBrowser>

namespace wheelwright {

/// Shows a report in the theme's colours and the shown units. A number that leads to its working says so when
/// it is clicked; other links are told as they are.
class ReportView : public QTextBrowser {
    Q_OBJECT
  public:
    enum class Fit {
        fills,  ///< what it is given
        steady, ///< so many lines high, and scrolls: what stands below never jumps under the mouse
        grows   ///< as high as its words need: for what changes seldom, since the window is laid out anew
    };
    ReportView(const QString &accessibleName, Fit fit, QWidget *parent, int lines = 0);

    void show(Report report, const UnitChoice &units);
    void show(WorkedReport report, const UnitChoice &units);
    /// One sentence.
    void say(Sentence sentence, const UnitChoice &units);
    QString words() const; ///< all of it, plain

    int heightForWidth(int width) const override;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

  signals:
    void explained(const Explanation &working);
    void linkWanted(const QString &link);

  protected:
    void changeEvent(QEvent *event) override; ///< another theme

  private:
    void write();
    void follow(const QString &link);

    int heightOf(int lines) const;

    Fit m_fit;
    int m_lines;
    WorkedReport m_report;
    UnitChoice m_units;
};

} // namespace wheelwright
