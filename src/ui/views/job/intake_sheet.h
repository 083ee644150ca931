// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/sheet.h"

#include <QWidget>

#include <vector>

namespace wheelwright {

class PartButton;
class Session;

/// The engine of the job as one drawing: the way of the fuel in the hue of the content looked at, the way of
/// the air as a duct, wires dotted. Tab and the arrows walk it in the order of an inspection; a click or
/// Enter chooses a part; a dashed place takes the part that is missing there.
class IntakeSheet : public QWidget {
    Q_OBJECT
  public:
    explicit IntakeSheet(Session &session, QWidget *parent = nullptr);

    PartButton *button(std::string_view part) const; ///< nullptr for no such part
    std::string_view chosen() const { return m_chosen; }
    void choose(std::string_view part); ///< says so by chosenChanged
    void refresh();
    const std::vector<PartState> &states() const { return m_states; } ///< as they were drawn
    void recolour(); ///< the fuel has another hue; nothing else follows the content
    QSize minimumSizeHint() const override;

  public slots:
    void copy() const;
    void copyPicture();

  signals:
    void chosenChanged(const QString &part);
    void editWanted(); ///< of the part that is chosen: its fields

  protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

  private:
    void place();
    void clicked(PartButton *button);
    void step(PartButton *from, int by);
    bool drawn(std::string_view part) const;
    QPointF center(std::string_view part) const;
    QRectF glyph(std::string_view part) const;
    void drawFuel(QPainter &painter) const;
    void drawReturn(QPainter &painter) const;
    void drawAir(QPainter &painter) const;
    void drawWires(QPainter &painter) const;
    void drawLegend(QPainter &painter) const;

    Session &m_session;
    std::vector<PartButton *> m_buttons; ///< in the order of an inspection
    std::vector<PartState> m_states;     ///< in the order of an inspection
    std::string_view m_chosen = "tank";
    bool m_said = false; ///< which one is chosen
};

} // namespace wheelwright
