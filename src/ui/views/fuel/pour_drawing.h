// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/pour_sheet.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <vector>

namespace wheelwright {

class Session;

/// Plans to pour, each as a picture: the tank as it is, what is drained and poured in its hue, the tank as it
/// will be; cautions under it in words. A click or Enter asks for the arithmetic of the plan.
class PourDrawing : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit PourDrawing(Session &session, QWidget *parent = nullptr);

    void show(const PourRequest &request, const PourAnswer &answer, bool methanol);
    void clear(); ///< nothing to draw
    std::size_t count() const { return m_plans.size(); }
    std::size_t chosen() const { return m_chosen; }
    QRect rowRect(std::size_t row) const;
    /// Where a step of a plan is drawn: its can, or what is drained.
    QRectF stepRect(std::size_t row, std::size_t step) const;
    double levelShown(std::size_t row, bool after) const; ///< share of the tank that is drawn full
    QString words() const;                                ///< all plans in words
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;
    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  public slots:
    void copy() const; ///< in words
    void copyPicture();

  signals:
    void planWanted(std::size_t plan); ///< place in the answer

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    struct Row {
        int top = 0, remarksTop = 0, height = 0;
    };
    std::vector<Row> rowsFor(int width) const;
    QString amountWords(const PourStep &step) const;
    QString nameWords(const PourStep &step) const;
    QString tankWords(double content, double litres, double sigma) const;
    double stepWidth(const SaidPlan &plan, int width) const;
    int stepHeight(const SaidPlan &plan, int width) const;
    void choose(std::size_t row);
    void drawRow(QPainter &painter, std::size_t row, const Row &at);
    void drawTank(QPainter &painter, const QRectF &box, double share, double content) const;
    void drawCan(QPainter &painter, const QRectF &box, const PourStep &step) const;

    Session &m_session;
    PourRequest m_request;
    PourAnswer m_answer;
    std::vector<SaidPlan> m_plans;
    bool m_methanol = false;
    std::size_t m_chosen = 0;
};

} // namespace wheelwright
