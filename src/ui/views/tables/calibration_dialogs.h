// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/school_conversion.h"

#include <QDialog>

#include <vector>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace wheelwright {

class BackgroundPreview;
class ChartPlot;
class ReportView;
class Session;

/// Another school, another meaning of the fuel tables, other axes: says what is lost and where before it is
/// done, as one step of undo.
class ConvertDialog : public QDialog {
    Q_OBJECT
  public:
    explicit ConvertDialog(Session &session, QWidget *parent = nullptr);
    ~ConvertDialog() override;
    QString words() const;

  private:
    FuelMeaning meaningFor(School school) const;
    void preview();
    void showCharts();
    void convert();
    SchoolRequest typed() const; ///< throws InputError

    Session &m_session;
    QComboBox *m_school, *m_meaning, *m_loadAxis, *m_boostAxis;
    QLineEdit *m_contents;
    ReportView *m_words;
    std::vector<ChartPlot *> m_charts; ///< one for each table that is not exact
    QLabel *m_exact;
    QPushButton *m_apply;
    BackgroundPreview *m_preview;
};

} // namespace wheelwright
