// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/log_arrival.h"

#include <QDialog>
#include <QStringList>

class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QTableView;

namespace wheelwright {

class ColumnModel;
class Session;

/// A log file before it comes in: what its columns are taken for, with a picture of each, its first rows, and
/// the one question at a time that only the user can answer. Several files come one after the other.
class LogImportDialog : public QDialog {
    Q_OBJECT
  public:
    LogImportDialog(Session &session, const QStringList &files, QWidget *parent = nullptr);
    ColumnModel &columns() { return *m_columns; }
    LogArrival &arrival() { return m_arrival; }
    QString trouble() const;
    QString question() const;

  public slots:
    void reject() override; ///< stops what is under way

  private:
    QWidget *makeHead();
    QWidget *makeStatements();
    QWidget *makeQuestion();
    QLayout *makeButtons();
    void lookAgain();
    void showPreview();
    void showQuestion();
    void showState();
    void saySo(const QString &trouble);
    void bring();
    void next();
    void addWorked();
    void saveMap();
    void loadMap();
    std::optional<double> content() const; ///< throws InputError

    Session &m_session;
    QStringList m_files; ///< that are still to come, the one shown first
    LogArrival m_arrival;
    ColumnModel *m_columns;
    QLabel *m_name, *m_form, *m_question, *m_trouble;
    QHBoxLayout *m_answers;
    QWidget *m_questionBox, *m_textForm;
    QComboBox *m_delimiter, *m_decimal, *m_revision;
    QLineEdit *m_content, *m_note;
    QCheckBox *m_partly;
    QTableView *m_table;
    QPlainTextEdit *m_rows;
    QPushButton *m_bring, *m_save, *m_load, *m_skip;
};

} // namespace wheelwright
