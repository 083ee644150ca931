// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>

class QLineEdit;
class QPushButton;

namespace wheelwright {

class BackgroundPreview;
class ChartPlot;
class ReportView;
class Session;

/// Puts what the physics says of spark into the job: ceilings and best spark for some contents, or the shape
/// of the weight curve. Says what it would be before it is done, as one step of undo.
class SparkEstimateDialog : public QDialog {
    Q_OBJECT
  public:
    enum class Makes { ceilings, curve };
    SparkEstimateDialog(Session &session, Makes makes, QWidget *parent = nullptr);
    ~SparkEstimateDialog() override;
    QString words() const;

  private:
    void preview();
    void showPreview();
    void apply();
    std::vector<double> contents() const; ///< throws InputError

    Session &m_session;
    Makes m_makes;
    QLineEdit *m_contents;
    QString m_previewed; ///< contents that the preview is of
    ReportView *m_words;
    ChartPlot *m_chart;
    QPushButton *m_apply;
    BackgroundPreview *m_preview;
};

/// 'What is this fuel worth here?' of the content that is looked at and the cell under the cursor; the
/// working of the number that is clicked stands below.
class FuelWorthDialog : public QDialog {
    Q_OBJECT
  public:
    explicit FuelWorthDialog(Session &session, QWidget *parent = nullptr);
    QString words() const;
    QString working() const;

  private:
    ReportView *m_words, *m_working;
};

} // namespace wheelwright
