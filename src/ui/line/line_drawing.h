// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/work_line.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <memory>
#include <optional>

namespace wheelwright {

class Session;

/// The line of work from the first revision to now, from left to right: what was left for an earlier revision
/// stands above it. Under each mark its name and what became of it, its tables that changed as maps of steps,
/// settings in words, and what was made with it. Arrows and clicks choose one; with Shift a second, to be
/// held against it.
class LineDrawing : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit LineDrawing(Session &session, QWidget *parent = nullptr);
    /// job: that the line was worked out from.
    void show(std::shared_ptr<const Job> job, std::shared_ptr<const WorkLine> line);

    std::optional<std::size_t> chosen() const { return m_chosen; }
    std::optional<std::size_t> second() const { return m_second; } ///< never the chosen one
    void choose(std::size_t mark, bool asSecond = false);
    QRect rectOf(std::size_t mark) const;   ///< all that is about it
    QPointF nodeOf(std::size_t mark) const; ///< on the line
    /// Where the map of a changed table is drawn; empty: it is among those that are only counted.
    QRect mapOf(std::size_t mark, std::size_t map) const;
    QString words(std::size_t mark) const; ///< what is read out

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  public slots:
    void copy() const;
    void copyPicture();

  signals:
    void chosenChanged();
    void opened(); ///< Return or a double click

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

  private:
    void drawIntake(QPainter &painter) const;
    void drawWays(QPainter &painter) const;
    void drawNode(QPainter &painter, std::size_t mark) const;
    void drawColumn(QPainter &painter, std::size_t mark) const;
    int drawMaps(QPainter &painter, std::size_t mark, int y) const; ///< returns where it ends
    std::optional<std::size_t> markAt(QPointF at) const;
    std::vector<const Difference *> tablesOf(std::size_t mark) const;
    QString madeWords(const WorkMark &mark) const;
    void describe();

    Session &m_session;
    std::shared_ptr<const Job> m_job;
    std::shared_ptr<const WorkLine> m_line;
    std::optional<std::size_t> m_chosen, m_second;
};

} // namespace wheelwright
