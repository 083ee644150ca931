// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/curve_chart.h"

#include "core/base/error.h"
#include "core/tables/curve_edit.h"
#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/widgets/plot_style.h"
#include "ui/widgets/refresh.h"

#include <qcustomplot.h>

#include <QApplication>
#include <QClipboard>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>

#include <cmath>

namespace wheelwright {
namespace {

// Least distance of two points, and a step along the axis by keyboard: a hundredth of what the axis can hold.
double stepOf(const CurveField &f) {
    constexpr double hundredth = 0.01;
    return (f.mostX - f.leastX) * hundredth;
}

CurveRange rangeOf(const CurveField &f) {
    return {f.leastX, f.mostX, f.leastY, f.mostY, stepOf(f) / 2};
}

QPushButton *smallButton(const QString &title, const QString &name, QWidget *parent) {
    auto *button = new QPushButton(title, parent);
    button->setToolTip(name);
    button->setAccessibleName(name);
    constexpr int width = 30;
    button->setFixedWidth(width);
    button->setStyleSheet(QStringLiteral("padding: 3px 0;"));
    return button;
}

} // namespace

CurveChart::CurveChart(Session &session, const CurveField &field, QWidget *parent)
    : QWidget(parent), m_session(session), m_field(field), m_plot(new QCustomPlot(this)),
      m_x(new QLineEdit(this)), m_y(new QLineEdit(this)),
      m_add(smallButton(QStringLiteral("+"), tr("Add a point (Insert)"), this)),
      m_remove(smallButton(QStringLiteral("−"), tr("Take the point away (Delete)"), this)) {
    build();
    restyle();
    setFocusProxy(m_plot);
    (new Refresh(session, this))
        ->on(Refresh::job | Refresh::units | Refresh::state, [this] { refresh(); }, {field.path})
        .on(Refresh::content, [this] { moveContent(); });
    connect(&session, &Session::unitsChanged, this, &CurveChart::restyle);
}

void CurveChart::build() {
    const QString title = text(m_field.title);
    m_plot->setObjectName(QStringLiteral("plot"));
    m_plot->setAccessibleName(title);
    m_plot->setFocusPolicy(Qt::StrongFocus);
    m_plot->setToolTip(
        tr("Drag a point. Double click adds one, Delete takes it away. Arrows choose and move."));
    m_plot->installEventFilter(this);
    constexpr int height = 130;
    m_plot->setFixedHeight(height);
    m_here = new QCPItemStraightLine(m_plot);
    m_line = m_plot->addGraph();
    m_points = m_plot->addGraph();
    m_chosenPoint = m_plot->addGraph();
    for (QCPGraph *dots : {m_points, m_chosenPoint})
        dots->setLineStyle(QCPGraph::lsNone);
    m_plot->axisRect()->setAutoMargins(QCP::msNone);
    m_plot->axisRect()->setMargins(QMargins(40, 8, 12, 22));
    m_x->setObjectName(QStringLiteral("x"));
    m_y->setObjectName(QStringLiteral("y"));
    m_x->setAccessibleName(tr("%1: where the point is").arg(title));
    m_y->setAccessibleName(tr("%1: value of the point").arg(title));
    for (QLineEdit *edit : {m_x, m_y})
        connect(edit, &QLineEdit::editingFinished, this, &CurveChart::takeTyped);
    connect(m_add, &QPushButton::clicked, this, [this] {
        const Axis &x = curve().axis();
        const auto at = static_cast<std::size_t>(m_chosen);
        const double next = at + 1 < x.size() ? x[at + 1] : x.size() == 1 ? m_field.mostX : m_field.leastX;
        addAt((x[at] + next) / 2);
    });
    connect(m_remove, &QPushButton::clicked, this, &CurveChart::removeChosen);
    auto *layout = new QGridLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setVerticalSpacing(3);
    layout->addWidget(m_plot, 0, 0, 1, 4);
    layout->addWidget(m_x, 1, 0);
    layout->addWidget(m_y, 1, 1);
    layout->addWidget(m_add, 1, 2);
    layout->addWidget(m_remove, 1, 3);
}

void CurveChart::restyle() {
    stylePlot(*m_plot);
    tickAs(*m_plot->xAxis, m_field.x, m_session.units());
    tickAs(*m_plot->yAxis, m_field.y, m_session.units());
    m_line->setPen(QPen(theme().ink, 2));
    m_points->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssSquare, theme().ink, theme().raised, 9));
    m_chosenPoint->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssSquare, theme().ink, theme().ink, 11));
    m_plot->replot(QCustomPlot::rpQueuedReplot);
}

const Curve &CurveChart::curve() const {
    return m_field.in(m_session.job());
}

void CurveChart::refresh() {
    if (!m_session.hasJob() || m_dragging) return;
    for (QWidget *w : std::initializer_list<QWidget *>{m_add, m_remove})
        w->setEnabled(!m_session.readOnly());
    for (QLineEdit *edit : {m_x, m_y})
        edit->setReadOnly(m_session.readOnly());
    m_remove->setEnabled(m_remove->isEnabled() && curve().axis().size() > 1);
    draw(curve());
}

void CurveChart::draw(const Curve &curve) {
    m_chosen = std::clamp(m_chosen, 0, static_cast<int>(curve.axis().size()) - 1);
    drawLine(curve);
    showPoint(curve);
    moveContent();
}

void CurveChart::drawLine(const Curve &curve) {
    const UnitChoice &units = m_session.units();
    QVector<double> x, y;
    for (std::size_t i = 0; i < curve.axis().size(); ++i) {
        x.push_back(toShown(curve.axis()[i], m_field.x, units));
        y.push_back(toShown(curve.values()[i], m_field.y, units));
    }
    m_points->setData(x, y, true);
    m_chosenPoint->setData({x[m_chosen]}, {y[m_chosen]}, true);
    const bool overContent = m_field.x == Dimension::content;
    const double least = toShown(m_field.leastX, m_field.x, units);
    const double ends = x.size() > 1 ? x.back() : toShown(m_field.mostX, m_field.x, units);
    constexpr double room = 1.08;
    const double most = overContent ? toShown(m_field.mostX, m_field.x, units) : ends * room;
    const auto [low, high] = std::minmax_element(y.cbegin(), y.cend());
    const double pad = std::max((*high - *low) * 0.25, std::max(std::abs(*high) * 0.05, 1e-3));
    const double from = std::min(least, x.front()), until = std::max(most, x.back());
    const double edge = (until - from) * 0.03; // a point at the end is seen whole
    m_plot->xAxis->setRange(from - edge, until + edge);
    m_plot->yAxis->setRange(*low - pad, *high + pad);
    x.push_front(m_plot->xAxis->range().lower); // held beyond its ends
    y.push_front(y.front());
    x.push_back(m_plot->xAxis->range().upper);
    y.push_back(y.back());
    m_line->setData(x, y, true);
}

void CurveChart::showPoint(const Curve &curve) {
    const auto at = static_cast<std::size_t>(m_chosen);
    const auto put = [&](QLineEdit *edit, double value, Dimension dimension) {
        if (edit->hasFocus() && edit->isModified()) return;
        edit->setText(text(formatExact(value, dimension, m_session.units())));
        edit->setCursorPosition(0);
        edit->setModified(false);
    };
    put(m_x, curve.axis()[at], m_field.x);
    put(m_y, curve.values()[at], m_field.y);
}

void CurveChart::moveContent() {
    const bool overContent = m_field.x == Dimension::content;
    m_here->setVisible(overContent);
    const double at = toShown(m_session.content(), m_field.x, m_session.units());
    m_here->point1->setCoords(at, 0);
    m_here->point2->setCoords(at, 1);
    m_here->setPen(QPen(theme().content(m_session.content()), 2));
    if (isVisible()) m_plot->replot(QCustomPlot::rpQueuedReplot);
}

QPointF CurveChart::pixelOf(std::size_t point) const {
    const UnitChoice &units = m_session.units();
    return {m_plot->xAxis->coordToPixel(toShown(curve().axis()[point], m_field.x, units)),
            m_plot->yAxis->coordToPixel(toShown(curve().values()[point], m_field.y, units))};
}

int CurveChart::pointAt(QPointF position) const {
    constexpr double reach = 14; // pixels
    int best = -1;
    double least = reach;
    for (std::size_t i = 0; i < curve().axis().size(); ++i) {
        const QPointF d = pixelOf(i) - position;
        const double distance = std::hypot(d.x(), d.y());
        if (distance >= least) continue;
        least = distance;
        best = static_cast<int>(i);
    }
    return best;
}

// What can be read in the shown unit, so that a drag and a typed number come to the same.
double CurveChart::snapped(double value, Dimension dimension) const {
    const UnitChoice &units = m_session.units();
    const double tens = std::pow(10, shownDecimals(dimension, units));
    return fromShown(std::round(toShown(value, dimension, units) * tens) / tens, dimension, units);
}

double CurveChart::xOf(double pixel) const {
    return snapped(fromShown(m_plot->xAxis->pixelToCoord(pixel), m_field.x, m_session.units()), m_field.x);
}

double CurveChart::yOf(double pixel) const {
    return snapped(fromShown(m_plot->yAxis->pixelToCoord(pixel), m_field.y, m_session.units()), m_field.y);
}

void CurveChart::change(const QString &what, const Curve &to) {
    m_session.perform(tr("%1: %2").arg(text(m_field.title), what), [&](Job &job) { m_field.of(job) = to; });
    refresh();
}

void CurveChart::choose(int point) {
    m_chosen = point;
    refresh();
}

void CurveChart::move(double x, double y) {
    const auto at = static_cast<std::size_t>(m_chosen);
    change(tr("point moved"), withPointAt(curve(), at, x, y, rangeOf(m_field)));
}

void CurveChart::addAt(double x) {
    const Curve with = withPointAdded(curve(), snapped(x, m_field.x), rangeOf(m_field));
    if (with == curve()) return;
    m_chosen = static_cast<int>(with.axis().nearest(x));
    change(tr("point added"), with);
}

void CurveChart::removeChosen() {
    if (curve().axis().size() > 1)
        change(tr("point taken away"), withoutPoint(curve(), static_cast<std::size_t>(m_chosen)));
}

void CurveChart::takeTyped() {
    if (!m_x->isModified() && !m_y->isModified()) return;
    try {
        const std::string title = text(m_field.title).toStdString();
        const auto read = [&](QLineEdit *edit, Dimension dimension, double now) {
            return edit->isModified() ? parse(edit->text().toStdString(), dimension, m_session.units(), title)
                                      : now;
        };
        const auto at = static_cast<std::size_t>(m_chosen);
        const double x = read(m_x, m_field.x, curve().axis()[at]),
                     y = read(m_y, m_field.y, curve().values()[at]);
        Curve to = withPointAt(curve(), at, x, y, rangeOf(m_field));
        // What was typed is refused rather than held: who types means it.
        if (to.values()[at] != y || (to.axis().size() > 1 && to.axis()[at] != x))
            validate(m_field, Curve({x}, {y}, title));
        m_x->setModified(false);
        m_y->setModified(false);
        change(tr("point typed"), to);
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
        m_x->setModified(false);
        m_y->setModified(false);
        refresh();
    }
}

void CurveChart::press(const QMouseEvent &event) {
    m_plot->setFocus();
    const int point = pointAt(event.position());
    if (point < 0) return;
    choose(point);
    m_dragging = event.button() == Qt::LeftButton && !m_session.readOnly();
    m_preview.reset();
}

void CurveChart::drag(const QMouseEvent &event) {
    if (!m_dragging) return;
    const auto at = static_cast<std::size_t>(m_chosen);
    m_preview =
        withPointAt(curve(), at, xOf(event.position().x()), yOf(event.position().y()), rangeOf(m_field));
    const QCPRange keep = m_plot->yAxis->range(); // the paper stays while a point moves on it
    draw(*m_preview);
    m_plot->yAxis->setRange(std::min(keep.lower, m_plot->yAxis->range().lower),
                            std::max(keep.upper, m_plot->yAxis->range().upper));
}

void CurveChart::release() {
    if (!m_dragging) return;
    m_dragging = false;
    const std::optional<Curve> to = std::move(m_preview);
    m_preview.reset();
    if (to) change(tr("point moved"), *to);
    refresh();
}

bool CurveChart::key(int key, bool along) {
    const auto at = static_cast<std::size_t>(m_chosen);
    const double x = curve().axis()[at], y = curve().values()[at];
    const double xStep = stepOf(m_field);
    const double yStep = std::pow(10, -shownDecimals(m_field.y, m_session.units()));
    const auto moved = [&](double by) {
        const UnitChoice &units = m_session.units();
        return fromShown(toShown(y, m_field.y, units) + by * yStep, m_field.y, units);
    };
    switch (key) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const int by = key == Qt::Key_Left ? -1 : 1;
        if (along)
            move(snapped(x + by * xStep, m_field.x), y);
        else
            choose(std::clamp(m_chosen + by, 0, static_cast<int>(curve().axis().size()) - 1));
        return true;
    }
    case Qt::Key_Up:
        move(x, moved(1));
        return true;
    case Qt::Key_Down:
        move(x, moved(-1));
        return true;
    case Qt::Key_Insert:
        m_add->click();
        return true;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        removeChosen();
        return true;
    default:
        return false;
    }
}

bool CurveChart::eventFilter(QObject *watched, QEvent *event) {
    if (watched != m_plot || !m_session.hasJob()) return QWidget::eventFilter(watched, event);
    switch (event->type()) {
    case QEvent::MouseButtonPress:
        press(*static_cast<QMouseEvent *>(event));
        return true;
    case QEvent::MouseMove:
        drag(*static_cast<QMouseEvent *>(event));
        return true;
    case QEvent::MouseButtonRelease:
        release();
        return true;
    case QEvent::MouseButtonDblClick:
        if (!m_session.readOnly()) addAt(xOf(static_cast<QMouseEvent *>(event)->position().x()));
        return true;
    case QEvent::Wheel:
        return false; // the page scrolls
    case QEvent::KeyPress: {
        const auto *pressed = static_cast<QKeyEvent *>(event);
        if (!m_session.readOnly() && key(pressed->key(), pressed->modifiers().testFlag(Qt::ControlModifier)))
            return true;
        break;
    }
    default:
        break;
    }
    return QWidget::eventFilter(watched, event);
}

void CurveChart::changeEvent(QEvent *event) {
    if (event->type() == QEvent::StyleChange || event->type() == QEvent::PaletteChange) restyle();
    QWidget::changeEvent(event);
}

void CurveChart::copy() const {
    const UnitChoice &units = m_session.units();
    const auto head = [&](Dimension d) {
        return isContent(d) ? QStringLiteral("%") : text(unitSymbol(d, units));
    };
    QString out = head(m_field.x) + QLatin1Char('\t') + head(m_field.y) + QLatin1Char('\n');
    for (std::size_t i = 0; i < curve().axis().size(); ++i)
        out += exactText(toShown(curve().axis()[i], m_field.x, units), units) + QLatin1Char('\t') +
               exactText(toShown(curve().values()[i], m_field.y, units), units) + QLatin1Char('\n');
    QApplication::clipboard()->setText(out);
}

void CurveChart::copyPicture() const {
    QApplication::clipboard()->setPixmap(m_plot->toPixmap());
}

int CurveChart::partCount() const {
    return m_session.hasJob() ? static_cast<int>(curve().axis().size()) : 0;
}

PaintedPart CurveChart::part(int index) const {
    const auto at = static_cast<std::size_t>(index);
    const UnitChoice &units = m_session.units();
    constexpr int reach = 7;
    const QPoint middle = m_plot->mapTo(this, pixelOf(at).toPoint());
    return {tr("%1: %2").arg(shown(curve().axis()[at], m_field.x, units),
                             shown(curve().values()[at], m_field.y, units)),
            QRect(middle - QPoint(reach, reach), QSize(2 * reach, 2 * reach))};
}

void CurveChart::choosePart(int index) {
    choose(index);
}

} // namespace wheelwright
