// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/widgets/painted_parts.h"

#include <QWidget>

namespace wheelwright {

class Session;

/// The logs of the job as paper slips, the latest on top: name, content with its hue along the edge, length,
/// what was found, and whether the content can be trusted. Up and Down choose, Delete takes one out.
class LogSlips : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit LogSlips(Session &session, QWidget *parent = nullptr);
    QRect slipRect(std::size_t slip) const;
    /// Of a slip, as it is read out and shown when the mouse rests on it.
    QString words(std::size_t slip) const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {130, 60}; }

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  signals:
    void removeWanted();

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

  private:
    void refresh();
    std::size_t count() const;
    const struct LogInfo &at(std::size_t slip) const;
    std::size_t chosen() const;
    void choose(std::size_t slip);

    Session &m_session;
};

} // namespace wheelwright
