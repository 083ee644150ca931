// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "support/test_main.h"
#include "ui/shell.h"
#include "ui/views/view.h"
#include "ui/widgets/page_switch.h"

#include <QAbstractItemView>
#include <QAbstractScrollArea>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPaintEngine>
#include <QPainterPath>
#include <QSplitter>

#include <functional>

// What is wrong with the places of a window's parts, whatever they say: each fault is a line.

namespace wheelwright::testing {

inline QString nameOf(const QWidget *w) {
    QString words = w->objectName();
    if (words.isEmpty()) words = w->accessibleName();
    if (const auto *l = qobject_cast<const QLabel *>(w))
        words += QStringLiteral(" '") + l->text().left(40) + u'\'';
    if (const auto *b = qobject_cast<const QAbstractButton *>(w))
        words += QStringLiteral(" '") + b->text() + u'\'';
    return QString::fromLatin1(w->metaObject()->className()) + u' ' + words;
}

// Drawn over others on purpose: an entry in a cell, a notice.
inline bool liesOver(const QWidget *w) {
    return w->property("over").toBool() || w->inherits("QRubberBand");
}

inline QString at(const QWidget *w) {
    const QRect r = w->geometry();
    return QStringLiteral("%1 at %2,%3 %4×%5")
        .arg(nameOf(w))
        .arg(r.x())
        .arg(r.y())
        .arg(r.width())
        .arg(r.height());
}

// What a widget must be to show all of itself; texts that are shortened on purpose say so with dots.
inline QString cut(const QWidget *w) {
    if (const auto *label = qobject_cast<const QLabel *>(w)) {
        if (label->text().isEmpty() || label->property("elides").toBool()) return {};
        if (label->wordWrap()) {
            const int need = label->heightForWidth(label->width());
            return need > label->height() + 2 ? QStringLiteral("%1 needs a height of %2").arg(at(w)).arg(need)
                                              : QString();
        }
        const QSize need = label->minimumSizeHint();
        return need.width() > label->width() + 1 || need.height() > label->height() + 2
                   ? QStringLiteral("%1 needs %2×%3").arg(at(w)).arg(need.width()).arg(need.height())
                   : QString();
    }
    if (qobject_cast<const QAbstractButton *>(w) || qobject_cast<const QLineEdit *>(w)) {
        const auto *button = qobject_cast<const QAbstractButton *>(w);
        const QSize need = w->minimumSizeHint();
        if (button && button->text().isEmpty()) return {};
        if (qobject_cast<const QComboBox *>(w->parentWidget())) return {}; // the box gives it its place
        return need.width() > w->width() + 1 || need.height() > w->height() + 2
                   ? QStringLiteral("%1 needs %2×%3").arg(at(w)).arg(need.width()).arg(need.height())
                   : QString();
    }
    return {};
}

inline void check(const QWidget *parent, QStringList &wrong) {
    std::vector<const QWidget *> children;
    for (const QObject *o : parent->children())
        if (const auto *w = qobject_cast<const QWidget *>(o);
            w && w->isVisible() && !w->size().isEmpty() && !w->isWindow() && !liesOver(w))
            children.push_back(w);
    const bool own = qobject_cast<const QAbstractScrollArea *>(parent) ||
                     qobject_cast<const QComboBox *>(parent) || qobject_cast<const QSplitter *>(parent) ||
                     qobject_cast<const QLineEdit *>(parent) || parent->inherits("QTabBar") ||
                     parent->inherits("QHeaderView");
    const bool viewport = qobject_cast<const QAbstractScrollArea *>(parent->parentWidget());
    for (std::size_t i = 0; i < children.size(); ++i) {
        const QWidget *w = children[i];
        if (!own && !viewport && !parent->rect().contains(w->geometry()))
            wrong << QStringLiteral("%1 sticks out of %2 (%3×%4)")
                         .arg(at(w), nameOf(parent))
                         .arg(parent->width())
                         .arg(parent->height());
        if (const QString words = cut(w); !words.isEmpty()) wrong << words;
        for (std::size_t k = i + 1; k < children.size() && !own; ++k)
            if (w->geometry().intersects(children[k]->geometry()))
                wrong << at(w) + QStringLiteral(" lies over ") + at(children[k]);
        if (!qobject_cast<const QAbstractItemView *>(w)) check(w, wrong);
    }
}

// Remembers where text is painted, and paints nothing.
class TextRecorder : public QPaintEngine {
  public:
    struct Text {
        QString words;
        QRectF at;
    };
    TextRecorder() : QPaintEngine(AllFeatures) {}
    bool begin(QPaintDevice *) override { return true; }
    bool end() override { return true; }
    Type type() const override { return User; }
    void updateState(const QPaintEngineState &now) override {
        if (now.state() & DirtyTransform) m_transform = now.transform();
    }
    void drawPixmap(const QRectF &, const QPixmap &, const QRectF &) override {}
    void drawPolygon(const QPointF *, int, PolygonDrawMode) override {}
    void drawPath(const QPainterPath &) override {}
    void drawTextItem(const QPointF &p, const QTextItem &item) override {
        if (item.text().trimmed().isEmpty()) return;
        const QRectF box(p.x(), p.y() - item.ascent(), item.width(), item.ascent() + item.descent());
        texts.push_back({item.text(), m_transform.mapRect(box)});
    }

    std::vector<Text> texts;

  private:
    QTransform m_transform;
};

class TextDevice : public QPaintDevice {
  public:
    explicit TextDevice(const QWidget *like) : m_like(like) {}
    QPaintEngine *paintEngine() const override { return &m_engine; }
    const std::vector<TextRecorder::Text> &texts() const { return m_engine.texts; }

  protected:
    int metric(PaintDeviceMetric m) const override {
        switch (m) {
        case PdmWidth:
            return m_like->width();
        case PdmHeight:
            return m_like->height();
        case PdmDpiX:
        case PdmPhysicalDpiX:
            return m_like->logicalDpiX();
        case PdmDpiY:
        case PdmPhysicalDpiY:
            return m_like->logicalDpiY();
        case PdmDevicePixelRatio:
            return 1;
        case PdmDevicePixelRatioScaled:
            return static_cast<int>(devicePixelRatioFScale());
        default:
            return 0;
        }
    }

  private:
    const QWidget *m_like;
    mutable TextRecorder m_engine;
};

// Text that a widget paints itself: all of it within the widget, none of it over other text.
inline void checkPainted(QWidget *w, QStringList &wrong) {
    TextDevice device(w);
    w->render(&device, {}, {}, QWidget::RenderFlags());
    const auto &texts = device.texts();
    constexpr double tolerance = 2; // letters are seldom as high as their line
    const QRectF inside = QRectF(w->rect()).adjusted(-tolerance, -tolerance, tolerance, tolerance);
    for (std::size_t i = 0; i < texts.size(); ++i) {
        const QRectF &r = texts[i].at;
        if (!inside.contains(r))
            wrong << QStringLiteral("%1 paints '%2' at %3,%4 %5×%6 outside of %7×%8")
                         .arg(nameOf(w), texts[i].words)
                         .arg(r.x())
                         .arg(r.y())
                         .arg(r.width())
                         .arg(r.height())
                         .arg(w->width())
                         .arg(w->height());
        for (std::size_t k = i + 1; k < texts.size(); ++k) {
            const QRectF both = r.intersected(texts[k].at);
            constexpr double lines = 4; // lines of a paragraph are set closer than their boxes
            if (both.width() > tolerance && both.height() > lines)
                wrong << QStringLiteral("%1 paints '%2' over '%3'")
                             .arg(nameOf(w), texts[i].words, texts[k].words);
        }
    }
}

// Our own widgets without parts: what they show they paint.
inline void checkAllPainted(QWidget *parent, QStringList &wrong) {
    for (QWidget *w : parent->findChildren<QWidget *>()) {
        if (!w->isVisible() || w->size().isEmpty() || qobject_cast<QAbstractScrollArea *>(w) ||
            qobject_cast<QAbstractButton *>(w) || qobject_cast<QLabel *>(w) || qobject_cast<QLineEdit *>(w))
            continue;
        if (QByteArray(w->metaObject()->className()).startsWith("wheelwright::")) checkPainted(w, wrong);
    }
}

/// Goes to every page of every station, lets it settle, and says how many there were.
inline int eachPage(Shell &shell, const std::function<void(const QString &place, View *)> &look) {
    int seen = 0;
    for (const ViewDefinition *v : allViews()) {
        const QString id = QLatin1String(v->id);
        shell.showStation(id);
        View *view = shell.view(id);
        auto *pages = view->findChild<PageSwitch *>();
        const QList<QWidget *> all = pages ? pages->pages() : QList<QWidget *>{view};
        for (QWidget *page : all) {
            if (pages) pages->showPage(page);
            QTest::qWait(60);
            ++seen;
            look(id + u'/' + page->objectName(), view);
        }
    }
    return seen;
}

/// Says each of them, once.
#define COMPARE_NONE(faults)                                                                                 \
    do {                                                                                                     \
        QStringList all = faults;                                                                            \
        all.removeDuplicates();                                                                              \
        for (const QString &words : all)                                                                     \
            qWarning("%s", qPrintable(words));                                                               \
        QVERIFY2(all.isEmpty(), qPrintable(QStringLiteral("%1 wrong, see above").arg(all.size())));          \
    } while (false)

} // namespace wheelwright::testing
