// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/evidence/series_outline.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

#include <optional>
#include <string>
#include <vector>

class QPainter;

namespace wheelwright {

class Session;

/// A log over time, holes in it folded away: at the top all of it, then what the engine does (episodes), what
/// the cleaning keeps and where the content moves, then a lane for each role that is chosen, in the hue of
/// the log's content. The moment under the upright line is that of the session. Wheel and + − magnify, drag
/// moves the moment, Shift and drag the stretch that is seen; arrows go from sample to sample.
class TimeStrip : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit TimeStrip(Session &session, QWidget *parent = nullptr);

    /// Roles in their order; those that the log has not got are left out.
    void setLanes(std::vector<ChannelRole> roles);
    const std::vector<ChannelRole> &lanes() const { return m_roles; }
    /// λ where it belongs is drawn beside λ as it was read.
    void setShowsMoved(bool on);

    double fromS() const { return timeOf(m_from); } ///< what is seen
    double toS() const { return timeOf(m_to); }
    void setWindow(double fromS, double toS); ///< held to the log
    void showAll();
    void showEpisode(const Episode &episode);
    void showFinding(const LogFinding &finding);
    double timeAt(double x) const;
    double positionOf(double timeS) const;
    QRect laneRect(std::size_t lane) const;

    QSize sizeHint() const override { return {520, 420}; }
    QSize minimumSizeHint() const override { return {240, 260}; }

    /// What was found, then what the engine did, each in the order of time.
    int partCount() const override;
    PaintedPart part(int index) const override;
    void choosePart(int index) override; ///< shows it

  public slots:
    void copy() const; ///< what is seen, sample by sample
    void copyPicture();

  signals:
    void placeWanted(); ///< Return, or a double click in a lane: to the tables at the moment

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

  private:
    struct Lane {
        ChannelRole role;
        double low = 0, high = 1; ///< of its scale
    };
    /// A stretch without a hole, and where it stands once the holes before it are folded.
    struct Piece {
        double beginS = 0, endS = 0, at = 0;
    };
    /// A piece as far as it is seen, and where.
    struct Seen {
        double fromS, toS;
        QRect box;
        std::size_t columns() const { return static_cast<std::size_t>(std::max(1, box.width())); }
    };
    void fold();
    double foldedOf(double timeS) const;
    double timeOf(double folded) const;
    std::vector<Seen> seenIn(const QRect &box, double from, double to) const;
    void setFolded(double from, double to);
    void refreshLog();
    void refreshLanes();
    void describe();
    QRect plot() const; ///< between titles and readings
    QRect overviewRect() const;
    QRect ribbonRect() const;
    QColor hue() const;
    const LogChannel *channelOf(ChannelRole role) const;
    void drawOverview(QPainter &p);
    void drawRibbon(QPainter &p) const;
    void drawEpisode(QPainter &p, const Episode &episode, const QRectF &box) const;
    void drawKept(QPainter &p) const;
    void drawLane(QPainter &p, std::size_t lane);
    void drawOutline(QPainter &p, const SeriesOutline &outline, const Seen &seen, const Lane &lane) const;
    void drawCompanions(QPainter &p, const Lane &lane, const QRect &box) const;
    void drawUnsettled(QPainter &p, const QRect &box) const;
    void drawFindings(QPainter &p) const;
    void drawHoles(QPainter &p) const;
    QString momentWords() const;
    QRectF momentFlag() const;
    void drawMoment(QPainter &p) const;
    void drawTimes(QPainter &p) const;
    void zoom(double factor, double about); ///< a folded place
    void step(int samples);
    void stepFinding(int by);
    double overviewAt(double x) const;

    Session &m_session;
    std::string m_log;
    std::vector<LogChannel> m_channels;
    std::vector<ChannelRole> m_wanted, m_roles;
    std::vector<Lane> m_lanes;
    double m_beginS = 0, m_endS = 0; ///< of the log
    std::vector<Piece> m_pieces;
    double m_length = 1;         ///< of all of it, folded
    double m_from = 0, m_to = 1; ///< what is seen, folded
    bool m_showsMoved = false;
    enum class Drag { none, moment, window, overview } m_drag = Drag::none;
    double m_dragX = 0, m_dragFrom = 0;
    std::optional<std::pair<double, double>> m_marked; ///< the finding that was shown last
};

} // namespace wheelwright
