// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/content_opinions.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <utility>
#include <vector>

class QPushButton;

namespace wheelwright {

class Session;

/// Three opinions on the tank's content under each other on one scale: a thick bar for ±, a thin one for
/// twice that, the value beside it, and a button to believe it. A click on a row shows its working.
class OpinionStrip : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit OpinionStrip(Session &session, QWidget *parent = nullptr);
    QSize sizeHint() const override { return {400, 3 * rowHeight + 14}; }
    QSize minimumSizeHint() const override { return {300, 3 * rowHeight + 14}; }
    void show(const ContentOpinions &opinions);
    QPushButton *believeButton(OpinionSource source) const;

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override { return m_row; }
    void choosePart(int index) override; ///< its working

  public slots:
    void copy() const; ///< whose, content and ± as tab-separated text
    void copyPicture();

  protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    static constexpr int rowHeight = 31;
    void believe(OpinionSource source);
    QRectF scaleRect() const;
    std::pair<double, double> range() const; ///< of contents, wide enough for every ±

    Session &m_session;
    ContentOpinions m_opinions;
    std::vector<QPushButton *> m_buttons; ///< in the order of allOpinionSources
    int m_buttonWidth = 0;
    int m_row = 0; ///< that the keys are on
};

} // namespace wheelwright
