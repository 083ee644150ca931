// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/work.h"
#include "ui/line/line_drawing.h"

#include <QFrame>

class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;

namespace wheelwright {

class ReportView;

/// The line of work, over the lower part of the window, whatever station is in front: the drawing, what the
/// chosen mark says, and what can be done with it. Lies over what is beneath, so that nothing there moves.
class LinePanel : public QFrame {
    Q_OBJECT
  public:
    LinePanel(Session &session, QWidget *over);
    void open(const QString &revision = {}); ///< with the keyboard in the drawing, at a revision or now
    LineDrawing &drawing() { return *m_drawing; }
    /// The current line has been drawn.
    bool isCurrent() const;
    /// How far the tables are from the last revision: "from 'First' · 14 cells since".
    const QString &sinceWords() const { return m_since; }

  signals:
    void tablesWanted();                   ///< two are compared there
    void placeWanted(const QString &link); ///< "engine.rev_limit_rpm", "log:ID", "run:ID", "rung:ID"
    void sinceChanged();

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    struct Worked {
        std::shared_ptr<const Job> job;
        std::shared_ptr<const WorkLine> line;
        bool whole = false; ///< not only how far now is from the last revision
    };
    QWidget *makeKeep();
    QWidget *makeDetail();
    void place();
    void work();
    void take();
    void saySince(const Worked &worked);
    void showChosen();
    void keep();
    void compare();
    void takeBack();
    void rename();
    void setNote();
    void mark(const QString &what, const std::function<void(Job &, std::size_t)> &change);
    std::optional<std::size_t> revision() const; ///< place in the job of the chosen mark, where it is one

    Session &m_session;
    LineDrawing *m_drawing;
    QScrollArea *m_scroll;
    QLineEdit *m_keepName, *m_keepNote, *m_name, *m_note;
    ReportView *m_words;
    QLabel *m_empty;
    QPushButton *m_compare, *m_takeBack, *m_sent, *m_cameBack, *m_released, *m_remove;
    Work<Worked> m_work;
    Worked m_shown;
    std::uint64_t m_version = 0; ///< of the job that is shown
    QString m_since, m_wanted;   ///< m_wanted: revision that is chosen once it is drawn
};

} // namespace wheelwright
