// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/verify/margin_board.h"
#include "ui/views/view.h"

class QLabel;
class QPushButton;

namespace wheelwright {

class QuestionStrip;
class ReportView;

/// A sentence first, then the questions, then the margin board, then the selected check.
class VerifyView : public View {
    Q_OBJECT
  public:
    explicit VerifyView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;
    QString sentence() const;

    /// Goes to a place in the tables that belong to the check.
    void showPlace(const Check &check, const WorstPlace &place);

  protected:
    void showEvent(QShowEvent *event) override;
    void changeEvent(QEvent *event) override;

  private:
    QWidget *makeDetail();
    void refresh();
    void refreshDetail();
    CheckState stateInView() const;
    const WorstPlace *placeInView()
        const; ///< of the selected check: at the content looked at if it fails there, else its worst

    Session &m_session;
    ReportView *m_sentence, *m_parts;
    QuestionStrip *m_questions;
    MarginBoard *m_board;
    QLabel *m_question;
    QLabel *m_answer;
    QLabel *m_remedy;
    QPushButton *m_show;
};

} // namespace wheelwright
