// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/job/intake_sheet.h"

#include "core/report/sheet_reports.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/part_button.h"
#include "ui/widgets/part_glyph.h"

#include <QApplication>
#include <QClipboard>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

constexpr int columns = 6, rows = 5;

/// Where a part stands on the paper.
struct SheetPlace {
    int row = 0, column = 0, span = 1;
};

// The way of the air, from left to right. A spray stands where it sprays.
std::array<std::string_view, columns> airOrder(const Job &job) {
    if (job.aux.place == SprayPlace::beforeCompressor)
        return {"air_filter", "spray", "compressor", "cooler", "throttle", "manifold"};
    if (job.aux.place == SprayPlace::ports)
        return {"air_filter", "compressor", "cooler", "throttle", "spray", "manifold"};
    return {"air_filter", "compressor", "cooler", "spray", "throttle", "manifold"};
}

SheetPlace placeOf(std::string_view part, const Job &job) {
    const auto air = airOrder(job);
    const auto inAir = [&](std::string_view id) {
        return static_cast<int>(std::ranges::find(air, id) - air.begin());
    };
    if (const int column = inAir(part); column < columns) return {0, column};
    const bool mechanical = job.control == FuelControl::mechanical;
    const bool inReturn = job.tank.sensorPlace == SensorPlace::returnLine;
    const std::map<std::string_view, SheetPlace> fixed{{"exhaust", {1, 0}},
                                                       {"wastegate", {1, inAir("compressor")}},
                                                       {"cylinders", {1, 3, 3}},
                                                       {"paper", {2, 0}},
                                                       {"surge_tank", {2, 2}},
                                                       {"ignition", {2, 3}},
                                                       {"plugs", {2, 3}},
                                                       {"controller", {2, 4}},
                                                       {"injectors", {2, 5}},
                                                       {"nozzles", {2, 5}},
                                                       {"tank", {3, 0}},
                                                       {"pump", {3, 1}},
                                                       {"belt_pump", {3, 1}},
                                                       {"filter", {3, 2}},
                                                       {"line", {3, mechanical ? 2 : 3}},
                                                       {"pills", {3, 3}},
                                                       {"content_sensor", {inReturn ? 4 : 3, 4}},
                                                       {"rail", {3, 5}},
                                                       {"return", {4, 2}},
                                                       {"weather", {4, 4, 2}}};
    const auto at = fixed.find(part);
    return at == fixed.end() ? SheetPlace{} : at->second;
}

void drawArrow(QPainter &painter, QPointF at, QPointF towards) {
    const QPointF d = towards - at;
    const double length = std::hypot(d.x(), d.y());
    if (length < 1) return;
    constexpr double size = 6;
    const QPointF along = d / length * size, across(-along.y() * 0.6, along.x() * 0.6);
    const QPointF middle = (at + towards) / 2;
    painter.drawPolygon(QPolygonF({middle + along, middle - along + across, middle - along - across}));
}

} // namespace

IntakeSheet::IntakeSheet(Session &session, QWidget *parent) : QWidget(parent), m_session(session) {
    setProperty("helpPage", "job");
    for (const Part &part : allParts()) {
        auto *button = new PartButton(part, PartButton::Shape::stacked, this);
        button->setWideDrawing(part.id == "cylinders");
        connect(button, &PartButton::clicked, this, [this, button] { clicked(button); });
        connect(button, &PartButton::stepWanted, this, [this, button](int by) { step(button, by); });
        if (!m_buttons.empty()) setTabOrder(m_buttons.back(), button);
        m_buttons.push_back(button);
    }
}

PartButton *IntakeSheet::button(std::string_view part) const {
    const auto at =
        std::ranges::find_if(m_buttons, [&](const PartButton *b) { return b->part().id == part; });
    return at == m_buttons.end() ? nullptr : *at;
}

void IntakeSheet::refresh() {
    if (!m_session.hasJob()) return;
    const auto verdict = m_session.verdict();
    m_states = intakeSheet(m_session.job(), verdict.get());
    const GlyphLook look = glyphLook(m_session.job(), m_session.content());
    for (PartButton *b : m_buttons) {
        const auto state = std::ranges::find(m_states, &b->part(), &PartState::part);
        const bool here = state != m_states.end() && (state->fitted || state->canFit);
        if (here) b->show(*state, look, m_session.units());
        b->setVisible(here);
    }
    choose(drawn(m_chosen) ? m_chosen : "tank");
    place();
    update();
}

void IntakeSheet::recolour() {
    if (!m_session.hasJob()) return;
    const GlyphLook look = glyphLook(m_session.job(), m_session.content());
    for (PartButton *b : m_buttons)
        b->setLook(look);
    update();
}

bool IntakeSheet::drawn(std::string_view part) const {
    return std::ranges::any_of(m_states, [&](const PartState &s) { return s.part->id == part && s.fitted; });
}

QSize IntakeSheet::minimumSizeHint() const {
    const QSize one = m_buttons.front()->sizeHint() / m_buttons.front()->scale();
    constexpr int betweenRows = 5;
    return {one.width() * columns, (one.height() + betweenRows) * rows};
}

void IntakeSheet::resizeEvent(QResizeEvent *) {
    place();
}

void IntakeSheet::place() {
    if (!m_session.hasJob()) return;
    const QSizeF least = minimumSizeHint();
    constexpr double largest = 2.2;
    const double scale =
        std::clamp(std::min(width() / least.width(), height() / least.height()), 1.0, largest);
    const double wide = static_cast<double>(width()) / columns, high = static_cast<double>(height()) / rows;
    for (PartButton *b : m_buttons) {
        const SheetPlace at = placeOf(b->part().id, m_session.job());
        b->setScale(scale);
        const int tall = std::min(b->sizeHint().height(), static_cast<int>(high));
        b->setGeometry(static_cast<int>(at.column * wide) + 1,
                       static_cast<int>(at.row * high + (high - tall) / 2),
                       static_cast<int>(at.span * wide) - 2, tall);
    }
}

QRectF IntakeSheet::glyph(std::string_view part) const {
    const PartButton *b = button(part);
    return b->glyphBox().translated(b->pos());
}

QPointF IntakeSheet::center(std::string_view part) const {
    return glyph(part).center();
}

void IntakeSheet::choose(std::string_view part) {
    const bool other = m_chosen != part || !m_said;
    m_chosen = partById(part).id;
    for (PartButton *b : m_buttons)
        b->setChosen(b->part().id == m_chosen);
    m_said = true;
    if (other)
        emit chosenChanged(QString::fromUtf8(m_chosen.data(), static_cast<qsizetype>(m_chosen.size())));
}

// A part that is not there yet is put there first; then its few fields wait to be filled in.
void IntakeSheet::clicked(PartButton *button) {
    const Part &part = button->part();
    if (!button->state().fitted) {
        if (!m_session.perform(tr("Add: %1").arg(text(part.title)),
                               [&](Job &job) { fitPart(job, part, true); }))
            return;
        refresh();
    }
    choose(part.id);
    emit editWanted();
}

void IntakeSheet::step(PartButton *from, int by) {
    const auto count = static_cast<int>(m_buttons.size());
    auto at = static_cast<int>(std::ranges::find(m_buttons, from) - m_buttons.begin());
    do
        at = (at + by + count) % count;
    while (!m_buttons[static_cast<std::size_t>(at)]->isVisible());
    m_buttons[static_cast<std::size_t>(at)]->setFocus(Qt::TabFocusReason);
}

void IntakeSheet::paintEvent(QPaintEvent *) {
    if (m_states.empty()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    drawAir(p);
    drawWires(p);
    drawReturn(p);
    drawFuel(p);
    drawLegend(p);
}

void IntakeSheet::drawFuel(QPainter &p) const {
    const QColor hue = theme().content(m_session.content());
    const double width = 4 * button("tank")->scale();
    p.setPen(QPen(hue, width, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    const bool mechanical = m_session.job().control == FuelControl::mechanical;
    const QPointF end = center(mechanical ? "pills" : "rail");
    const QPointF tank = center("tank");
    const double corner = center(mechanical ? "nozzles" : "injectors").x();
    QPainterPath way(tank);
    if (drawn("surge_tank")) {
        // Up into the surge tank, and down again before what comes next.
        const QRectF surge = glyph("surge_tank");
        const double next = button("surge_tank")->geometry().right(), apart = surge.height() * 0.16;
        way.lineTo(next - apart, tank.y());
        way.lineTo(next - apart, surge.center().y() + apart);
        way.lineTo(surge.center().x(), surge.center().y() + apart);
        way.moveTo(surge.center().x(), surge.center().y() - apart);
        way.lineTo(next + apart, surge.center().y() - apart);
        way.lineTo(next + apart, tank.y());
    }
    way.lineTo(end);
    way.lineTo(corner, end.y());
    way.lineTo(corner, glyph("cylinders").bottom());
    p.drawPath(way);
    p.setPen(Qt::NoPen);
    p.setBrush(hue);
    const std::string_view pump = mechanical ? "belt_pump" : "pump";
    drawArrow(p, QPointF(glyph("tank").right(), tank.y()), QPointF(glyph(pump).left(), tank.y()));
    const std::string_view last = mechanical ? "pills" : "rail";
    drawArrow(p, QPointF(glyph("line").right(), tank.y()),
              QPointF(mechanical || !drawn("content_sensor") ||
                              m_session.job().tank.sensorPlace == SensorPlace::returnLine
                          ? glyph(last).left()
                          : glyph("content_sensor").left(),
                      tank.y()));
}

void IntakeSheet::drawReturn(QPainter &p) const {
    const bool mechanical = m_session.job().control == FuelControl::mechanical;
    if (!mechanical && !drawn("return")) return;
    QColor hue = theme().content(m_session.content());
    const double width = 2.4 * button("tank")->scale();
    p.setPen(QPen(hue, width, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    const QPointF from = center(mechanical ? "pills" : "rail"), tank = center("tank");
    const double low = mechanical ? height() - height() / (2.0 * rows) : center("return").y();
    QPainterPath way(from);
    way.lineTo(from.x(), low);
    way.lineTo(tank.x(), low);
    way.lineTo(tank.x(), glyph("tank").bottom());
    p.drawPath(way);
    p.setPen(Qt::NoPen);
    p.setBrush(hue);
    drawArrow(p, QPointF(tank.x() + width * 20, low), QPointF(tank.x(), low));
}

void IntakeSheet::drawAir(QPainter &p) const {
    // A duct: two walls with nothing between.
    const auto duct = [&](const QPainterPath &way, Qt::PenStyle style) {
        const double wide = std::max(10.0, glyph("air_filter").height() * 0.28);
        QPen walls(theme().quiet, wide, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin);
        p.setBrush(Qt::NoBrush);
        p.setPen(walls);
        p.drawPath(way);
        p.setPen(QPen(theme().paper, wide - 2.6, Qt::SolidLine, Qt::SquareCap, Qt::MiterJoin));
        p.drawPath(way);
        if (style == Qt::NoPen) return;
        p.setPen(QPen(theme().quiet, 1, style));
        p.drawPath(way);
    };
    const QPointF filter = center("air_filter"), manifold = center("manifold");
    QPainterPath in(filter);
    in.lineTo(manifold);
    in.lineTo(manifold.x(), glyph("cylinders").top() + 2);
    duct(in, Qt::NoPen);
    const QRectF block = glyph("cylinders");
    QPainterPath out(QPointF(block.left() + 6, block.center().y()));
    out.lineTo(center("exhaust"));
    duct(out, Qt::DashLine); // what has burned
    p.setPen(Qt::NoPen);
    p.setBrush(theme().quiet);
    drawArrow(p, QPointF(glyph("air_filter").right(), filter.y()),
              QPointF(glyph(airOrder(m_session.job())[1]).left(), filter.y()));
    drawArrow(p, QPointF(block.left(), block.center().y()),
              QPointF(glyph("exhaust").right(), block.center().y()));
    if (!drawn("wastegate") || !drawn("compressor")) return;
    p.setPen(QPen(theme().quiet, 2.4, Qt::DashDotLine)); // the shaft between turbine and compressor
    p.drawLine(QPointF(center("compressor").x(), glyph("compressor").bottom()),
               QPointF(center("wastegate").x(), glyph("wastegate").top()));
}

// What the lines and the tags say, where nothing else stands.
void IntakeSheet::drawLegend(QPainter &p) const {
    const PartButton *paper = button("paper");
    const double scale = paper->scale(), line = 14 * scale, swatch = 22 * scale;
    p.setFont(sansFont(static_cast<int>(11 * scale)));
    QStringList all{tr("looked at"), tr("found wrong")};
    for (const Knowledge known : {Knowledge::stated, Knowledge::estimated, Knowledge::unknown})
        all << text(knowledgeWord(known));
    double widest = 0;
    for (const QString &say : all)
        widest = std::max(widest, p.fontMetrics().horizontalAdvance(say) + 2.0);
    // Longer words begin further left, where the paper beside it leaves room.
    const double column = static_cast<double>(width()) / columns;
    const double left = column - std::max(0.0, widest + swatch + 6 - column);
    const QRectF room(left, paper->y(), 2 * column - left, paper->height());
    double y = room.top();
    const auto words = [&](const QString &say) {
        p.setPen(theme().quiet);
        p.drawText(QRectF(room.left() + swatch + 6, y, room.width() - swatch - 6, line),
                   Qt::AlignLeft | Qt::AlignVCenter, say);
        y += line;
    };
    for (const Knowledge known : {Knowledge::stated, Knowledge::estimated, Knowledge::unknown}) {
        drawKnowledge(p, QRectF(room.left(), y + 2, swatch, line - 4), known);
        words(text(knowledgeWord(known)));
    }
    const std::array tags{std::pair{LookedAt::good, tr("looked at")},
                          std::pair{LookedAt::wrong, tr("found wrong")}};
    for (const auto &[state, say] : tags) {
        drawInspectionTag(p, QRectF(room.left() + 4, y + 3, swatch - 10, line - 6), state);
        words(say);
    }
}

void IntakeSheet::drawWires(QPainter &p) const {
    p.setPen(QPen(theme().quiet, 1.2, Qt::DotLine));
    const auto wire = [&](QPointF from, QPointF to) { p.drawLine(from, to); };
    const std::string_view spark = drawn("plugs") ? "plugs" : "ignition";
    if (drawn(spark)) wire(center(spark), QPointF(center(spark).x(), glyph("cylinders").bottom()));
    if (!drawn("controller")) return;
    wire(center("controller"), center("injectors"));
    wire(center("controller"), center("ignition"));
    if (drawn("content_sensor")) wire(center("controller"), center("content_sensor"));
}

void IntakeSheet::copy() const {
    QApplication::clipboard()->setText(text(plainText(sheetReport(m_states), wordingOf(m_session.units()))));
}

void IntakeSheet::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

} // namespace wheelwright
