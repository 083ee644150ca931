// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/verify/verdict.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

namespace wheelwright {

class Session;

/// The questions of a tuner side by side, each with the shape and the word of its answer at the content that
/// is looked at. A click, or the arrow keys, choose one: the worst of its checks is shown.
class QuestionStrip : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit QuestionStrip(Session &session, QWidget *parent = nullptr);
    QSize sizeHint() const override { return {560, 42}; }
    QSize minimumSizeHint() const override { return {420, 42}; }
    QRect rectOf(std::size_t answer) const;

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  signals:
    void questionWanted(wheelwright::QuestionId question);

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

  private:
    const std::vector<Verdict::Answer> &answers() const;
    void choose(std::size_t answer);
    QString stateHere(const Verdict::Answer &answer) const;
    QString wordsOf(const Verdict::Answer &answer) const;

    Session &m_session;
    std::size_t m_chosen = 0;
};

} // namespace wheelwright
