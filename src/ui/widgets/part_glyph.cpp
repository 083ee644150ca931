// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/part_glyph.h"

#include "ui/theme.h"

#include <QPainterPath>

#include <cmath>
#include <map>

namespace wheelwright {
namespace {

// All of them are drawn into a square of 100 by 100; cylinders into one that is wider.
using Draw = void (*)(QPainter &, const GlyphLook &);

QBrush wash(const QColor &color, int alpha = 70) {
    QColor c = color;
    c.setAlpha(alpha);
    return c;
}

void drop(QPainter &p, double x, double y, double size, const QColor &color) {
    QPainterPath d(QPointF(x, y - size));
    d.cubicTo(x + size, y, x + size * 0.7, y + size * 0.8, x, y + size * 0.8);
    d.cubicTo(x - size * 0.7, y + size * 0.8, x - size, y, x, y - size);
    p.fillPath(d, color);
    p.drawPath(d);
}

void spray(QPainter &p, double x, double y, double length, const QColor &color) {
    const QPen pen = p.pen();
    QPen mist(color, pen.widthF(), Qt::DotLine);
    mist.setCosmetic(true);
    p.setPen(mist);
    for (const double side : {-0.5, 0.0, 0.5})
        p.drawLine(QPointF(x, y), QPointF(x + side * length * 0.7, y + length));
    p.setPen(pen);
}

// A vessel with fuel in it from that height down.
void vessel(QPainter &p, const QPainterPath &body, double from, const GlyphLook &look) {
    p.fillPath(body, theme().raised);
    p.save();
    p.setClipPath(body, Qt::IntersectClip);
    const QRectF box = body.boundingRect();
    p.fillRect(QRectF(box.left(), from, box.width(), box.bottom() - from), wash(look.fuel, 110));
    p.restore();
    p.drawPath(body);
}

void tank(QPainter &p, const GlyphLook &look) {
    QPainterPath body;
    body.addRoundedRect(QRectF(6, 28, 88, 58), 12, 12);
    vessel(p, body, 54, look);
    p.drawRect(QRectF(60, 16, 18, 12));
}

void pump(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(50, 50), 38, 38);
    p.drawPolygon(QPolygonF({{34, 26}, {84, 50}, {34, 74}}));
}

void beltPump(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(60, 58), 32, 32);
    p.drawEllipse(QPointF(20, 22), 12, 12);
    p.drawLine(QPointF(29, 13), QPointF(80, 33));
    p.drawLine(QPointF(10, 29), QPointF(34, 77));
    p.drawPolygon(QPolygonF({{48, 42}, {82, 58}, {48, 74}}));
}

void filter(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawRect(QRectF(14, 22, 72, 56));
    QPolygonF pleats;
    for (int i = 0; i <= 8; ++i)
        pleats << QPointF(22 + i * 7, i % 2 == 0 ? 34 : 66);
    p.drawPolyline(pleats);
}

void surgeTank(QPainter &p, const GlyphLook &look) {
    QPainterPath body;
    body.addRoundedRect(QRectF(28, 6, 44, 88), 20, 20);
    vessel(p, body, 26, look);
}

void line(QPainter &p, const GlyphLook &) {
    QPainterPath hose(QPointF(2, 50));
    hose.cubicTo(26, 4, 34, 4, 50, 50);
    hose.cubicTo(66, 96, 74, 96, 98, 50);
    QPainterPathStroker wall;
    constexpr double width = 17;
    wall.setWidth(width);
    const QPainterPath outline = wall.createStroke(hose);
    p.fillPath(outline, theme().raised);
    p.drawPath(outline.simplified());
}

void contentSensor(QPainter &p, const GlyphLook &look) {
    p.setBrush(theme().raised);
    p.drawRoundedRect(QRectF(14, 30, 72, 48), 6, 6);
    drop(p, 50, 54, 15, look.fuel);
    p.drawRect(QRectF(38, 12, 24, 18));
}

void rail(QPainter &p, const GlyphLook &look) {
    p.setBrush(wash(look.fuel));
    p.drawRoundedRect(QRectF(4, 36, 92, 24), 8, 8);
    p.setBrush(theme().raised);
    for (const double x : {20.0, 40.0, 60.0, 80.0})
        p.drawRect(QRectF(x - 4, 60, 8, 16));
    p.drawEllipse(QPointF(14, 26), 10, 10);
}

void injectors(QPainter &p, const GlyphLook &look) {
    p.setBrush(theme().raised);
    p.drawRect(QRectF(40, 4, 20, 14));
    p.drawRect(QRectF(32, 18, 36, 32));
    p.drawRect(QRectF(42, 50, 16, 18));
    p.drawLine(QPointF(68, 28), QPointF(84, 22));
    spray(p, 50, 70, 28, look.fuel);
}

void pills(QPainter &p, const GlyphLook &look) {
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(38, 50), 32, 32);
    p.setBrush(look.fuel);
    p.drawEllipse(QPointF(38, 50), 9, 9);
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(80, 66), 16, 16);
    p.setBrush(look.fuel);
    p.drawEllipse(QPointF(80, 66), 4, 4);
}

void nozzles(QPainter &p, const GlyphLook &look) {
    p.setBrush(theme().raised);
    p.drawPolygon(QPolygonF({{34, 10}, {66, 10}, {66, 40}, {56, 58}, {44, 58}, {34, 40}}));
    spray(p, 50, 60, 34, look.fuel);
}

void returnLine(QPainter &p, const GlyphLook &) {
    QPainterPath bend(QPointF(92, 30));
    bend.lineTo(34, 30);
    bend.cubicTo(6, 30, 6, 70, 34, 70);
    bend.lineTo(84, 70);
    p.drawPath(bend);
    p.setBrush(p.pen().color());
    p.drawPolygon(QPolygonF({{94, 70}, {78, 60}, {78, 80}}));
}

void sprayNozzle(QPainter &p, const GlyphLook &look) {
    p.setBrush(theme().raised);
    p.drawRect(QRectF(30, 4, 40, 26));
    p.drawPolygon(QPolygonF({{38, 30}, {62, 30}, {54, 46}, {46, 46}}));
    p.setBrush(look.fuel);
    for (const QPointF at : {QPointF(50, 58), QPointF(36, 70), QPointF(64, 70), QPointF(26, 88),
                             QPointF(50, 86), QPointF(74, 88)})
        p.drawEllipse(at, 3, 4);
}

void airFilter(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawPolygon(QPolygonF({{8, 18}, {70, 30}, {70, 70}, {8, 82}}));
    for (const double x : {22.0, 36.0, 50.0})
        p.drawLine(QPointF(x, 18 + (x - 8) * 0.19), QPointF(x, 82 - (x - 8) * 0.19));
    p.drawRect(QRectF(70, 38, 24, 24));
}

void weather(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(50, 50), 40, 40);
    for (int i = 0; i < 7; ++i) {
        const double a = (210 - i * 40) * 3.14159265 / 180;
        p.drawLine(QPointF(50 + 30 * std::cos(a), 50 - 30 * std::sin(a)),
                   QPointF(50 + 38 * std::cos(a), 50 - 38 * std::sin(a)));
    }
    p.drawLine(QPointF(50, 56), QPointF(68, 26));
}

void compressor(QPainter &p, const GlyphLook &look) {
    p.setBrush(theme().raised);
    if (look.charging == Charging::blower) {
        QPainterPath house;
        house.addEllipse(QPointF(34, 50), 30, 34);
        QPainterPath other;
        other.addEllipse(QPointF(66, 50), 30, 34);
        const QPainterPath both = house.united(other);
        p.fillPath(both, theme().raised);
        p.drawPath(both);
        p.drawEllipse(QPointF(36, 50), 8, 24);
        p.drawEllipse(QPointF(64, 50), 24, 8);
        return;
    }
    QPainterPath snail(QPointF(96, 12));
    snail.lineTo(50, 12);
    snail.cubicTo(0, 12, 0, 92, 50, 92);
    snail.cubicTo(86, 92, 88, 62, 80, 38);
    snail.lineTo(96, 38);
    snail.closeSubpath();
    p.fillPath(snail, theme().raised);
    p.drawPath(snail);
    p.drawEllipse(QPointF(48, 52), 20, 20);
    for (int i = 0; i < 6; ++i) {
        const double a = i * 60 * 3.14159265 / 180;
        p.drawLine(QPointF(48 + 6 * std::cos(a), 52 + 6 * std::sin(a)),
                   QPointF(48 + 20 * std::cos(a + 0.5), 52 + 20 * std::sin(a + 0.5)));
    }
}

void cooler(QPainter &p, const GlyphLook &look) {
    p.setBrush(look.waterCooled ? wash(theme().quiet, 60) : QBrush(theme().raised));
    p.drawRect(QRectF(12, 16, 76, 68));
    for (int i = 1; i < 7; ++i)
        p.drawLine(QPointF(12 + i * 10.9, 16), QPointF(12 + i * 10.9, 84));
    p.drawRect(QRectF(2, 40, 10, 20));
    p.drawRect(QRectF(88, 40, 10, 20));
}

void throttle(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawRect(QRectF(10, 20, 80, 60));
    p.drawLine(QPointF(30, 74), QPointF(70, 26));
    p.setBrush(p.pen().color());
    p.drawEllipse(QPointF(50, 50), 6, 6);
}

void manifold(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawRoundedRect(QRectF(6, 20, 88, 32), 12, 12);
    for (const double x : {18.0, 39.0, 60.0, 81.0})
        p.drawRect(QRectF(x - 6, 52, 12, 32));
    p.drawEllipse(QPointF(50, 12), 9, 9);
    p.drawLine(QPointF(50, 12), QPointF(55, 7));
}

void exhaust(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawPolygon(QPolygonF({{98, 38}, {40, 38}, {8, 24}, {8, 76}, {40, 62}, {98, 62}}));
    p.drawRect(QRectF(62, 20, 10, 18));
}

void wastegate(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(32, 66), 28, 28);
    p.drawEllipse(QPointF(32, 66), 10, 10);
    p.drawRoundedRect(QRectF(56, 6, 40, 44), 6, 6);
    QPolygonF spring;
    for (int i = 0; i <= 6; ++i)
        spring << QPointF(i % 2 == 0 ? 64 : 88, 12 + i * 5.4);
    p.drawPolyline(spring);
    p.drawLine(QPointF(76, 50), QPointF(58, 62));
}

// As wide as there is room.
void cylinders(QPainter &p, const GlyphLook &look) {
    const int count = std::clamp(look.cylinders, 1, 16);
    const double width = look.wide;
    const double pitch = std::min(width / count, 180.0), bore = std::min(pitch * 0.72, 84.0);
    const double left = (width - pitch * count) / 2 + (pitch - bore) / 2;
    p.setBrush(theme().raised);
    p.drawRect(QRectF(0, 4, width, 90));
    for (int i = 0; i < count; ++i) {
        const double x = left + i * pitch;
        const double top = 36 + 18 * std::cos(i * 2.4);
        p.setBrush(theme().raised);
        p.drawRect(QRectF(x, 12, bore, 82));
        p.setBrush(wash(theme().quiet, 90));
        p.drawRect(QRectF(x + 1.5, top, bore - 3, 24));
        p.drawLine(QPointF(x + bore / 2, top + 24), QPointF(x + bore / 2 + 4 * std::sin(i * 2.4), 94));
    }
}

void ignition(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawRect(QRectF(40, 2, 20, 28));
    p.drawPolygon(QPolygonF({{30, 30}, {70, 30}, {74, 42}, {70, 54}, {30, 54}, {26, 42}}));
    p.drawRect(QRectF(40, 54, 20, 20));
    p.drawLine(QPointF(50, 74), QPointF(50, 82));
    p.drawPolyline(QPolygonF({{62, 74}, {62, 94}, {48, 94}}));
}

void controller(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawRoundedRect(QRectF(12, 22, 76, 56), 5, 5);
    for (int i = 0; i < 5; ++i) {
        const double x = 22 + i * 14;
        p.drawLine(QPointF(x, 78), QPointF(x, 92));
        p.drawLine(QPointF(x, 22), QPointF(x, 8));
    }
    p.drawPolyline(QPolygonF({{24, 62}, {40, 54}, {56, 40}, {76, 34}}));
}

void paper(QPainter &p, const GlyphLook &) {
    p.setBrush(theme().raised);
    p.drawPolygon(QPolygonF({{18, 6}, {64, 6}, {84, 26}, {84, 94}, {18, 94}}));
    p.drawPolyline(QPolygonF({{64, 6}, {64, 26}, {84, 26}}));
    for (const double y : {42.0, 56.0, 70.0})
        p.drawLine(QPointF(30, y), QPointF(72, y));
}

const std::map<std::string_view, Draw> &drawings() {
    static const std::map<std::string_view, Draw> all{{"tank", tank},
                                                      {"pump", pump},
                                                      {"belt_pump", beltPump},
                                                      {"filter", filter},
                                                      {"surge_tank", surgeTank},
                                                      {"line", line},
                                                      {"content_sensor", contentSensor},
                                                      {"rail", rail},
                                                      {"injectors", injectors},
                                                      {"pills", pills},
                                                      {"nozzles", nozzles},
                                                      {"return", returnLine},
                                                      {"spray", sprayNozzle},
                                                      {"air_filter", airFilter},
                                                      {"weather", weather},
                                                      {"compressor", compressor},
                                                      {"cooler", cooler},
                                                      {"throttle", throttle},
                                                      {"manifold", manifold},
                                                      {"exhaust", exhaust},
                                                      {"wastegate", wastegate},
                                                      {"cylinders", cylinders},
                                                      {"ignition", ignition},
                                                      {"plugs", ignition},
                                                      {"controller", controller},
                                                      {"paper", paper}};
    return all;
}

} // namespace

GlyphLook glyphLook(const Job &job, double content) {
    GlyphLook look;
    look.cylinders = static_cast<int>(job.engine.cylinders);
    look.charging = job.engine.charging;
    look.waterCooled = job.engine.chargeCooler == ChargeCooler::water;
    look.fuel = theme().content(content);
    return look;
}

namespace {

QPen penOf(Knowledge known) {
    constexpr double pixels = 1.8;
    QPen pen(known == Knowledge::unknown ? theme().quiet : theme().ink, pixels);
    pen.setCosmetic(true);
    if (known == Knowledge::unknown) pen.setDashPattern({3, 2.4});
    return pen;
}

// Rising lines, as in the band of the ruler.
void hatch(QPainter &painter, const QRectF &box) {
    painter.save();
    painter.setPen(QPen(theme().quiet, 1));
    painter.setClipRect(box);
    constexpr double pitch = 5;
    for (double x = box.left() - box.height(); x < box.right(); x += pitch)
        painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()));
    painter.restore();
}

} // namespace

void drawKnowledge(QPainter &painter, const QRectF &box, Knowledge known) {
    painter.save();
    painter.setPen(penOf(known));
    painter.setBrush(theme().raised);
    painter.drawRect(box);
    if (known == Knowledge::estimated) hatch(painter, box);
    painter.restore();
}

void drawPartGlyph(QPainter &painter, const QRectF &box, std::string_view part, Knowledge known,
                   const GlyphLook &look) {
    const auto found = drawings().find(part);
    if (found == drawings().end()) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    constexpr double side = 100;
    painter.translate(box.topLeft());
    painter.scale(box.height() / side, box.height() / side);
    painter.setPen(penOf(known));
    GlyphLook here = look;
    here.wide = side * box.width() / box.height();
    found->second(painter, here);
    painter.restore();
    if (known == Knowledge::estimated) hatch(painter, box);
}

void drawInspectionTag(QPainter &painter, const QRectF &box, LookedAt state) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double cut = box.height() * 0.38;
    QPainterPath tag(QPointF(box.left() + cut, box.top()));
    tag.lineTo(box.right(), box.top());
    tag.lineTo(box.right(), box.bottom());
    tag.lineTo(box.left() + cut, box.bottom());
    tag.lineTo(box.left(), box.center().y());
    tag.closeSubpath();
    const QColor color = state == LookedAt::wrong    ? theme().trouble
                         : state == LookedAt::notYet ? theme().quiet
                                                     : theme().ink;
    painter.setPen(QPen(color, 1.3));
    painter.setBrush(state == LookedAt::good ? QBrush(color) : QBrush(theme().raised));
    painter.drawPath(tag);
    if (state == LookedAt::partly) {
        painter.setClipPath(tag);
        painter.fillRect(QRectF(box.left(), box.center().y(), box.width(), box.height() / 2), color);
    }
    if (state == LookedAt::wrong) {
        painter.setPen(QPen(color, 2));
        painter.drawLine(box.topLeft(), box.bottomRight());
        painter.drawLine(box.topRight(), box.bottomLeft());
    }
    painter.restore();
}

} // namespace wheelwright
