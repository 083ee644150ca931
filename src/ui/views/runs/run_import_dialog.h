// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/run_book.h"

#include <QDialog>
#include <QStringList>

#include <optional>
#include <vector>

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace wheelwright {

class ChartPlot;
class ReportView;
class Session;

/// Files of runs before they come in: the pulls that were found in each, and what only the user can say of
/// them. What is left empty is taken from the file, and today's air from the job.
class RunImportDialog : public QDialog {
    Q_OBJECT
  public:
    RunImportDialog(Session &session, const QStringList &files, QWidget *parent = nullptr);
    QString found() const;   ///< what the files hold, in words
    QString trouble() const; ///< why they cannot come in as it stands
    ChartPlot &plot() { return *m_plot; }
    WorkSignals &work() { return m_work; }

  public slots:
    void bring(); ///< one change of the job; closes

  signals:
    void cameIn(const std::vector<std::string> &ids);

  private:
    struct Found {
        QString file;
        std::optional<RunFile> runs;
        QString trouble;
    };
    void addField(QFormLayout *form, const QString &title, const char *name, QLineEdit *&edit,
                  const QString &hint);
    void look();
    void show();
    RunStatement statement() const; ///< throws InputError naming the field

    Session &m_session;
    QStringList m_files;
    QComboBox *m_mode, *m_standard, *m_fuel, *m_dyno;
    QLineEdit *m_content = nullptr, *m_pressure = nullptr, *m_temperature = nullptr, *m_humidity = nullptr,
              *m_hardware = nullptr, *m_change = nullptr, *m_note = nullptr;
    ReportView *m_words;
    ChartPlot *m_plot; ///< power of the pulls that were found
    QLabel *m_trouble;
    QPushButton *m_bring;
    Work<std::vector<Found>> m_work;
};

} // namespace wheelwright
