// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/painted_parts.h"

#include <QAccessibleWidget>
#include <QHash>
#include <QWidget>
#include <qcustomplot.h>

#include <memory>

namespace wheelwright {
namespace {

class PartedWidget;

// One part. It has no QObject of its own: it lives as long as the widget's interface.
class TellingPart : public QAccessibleInterface,
                    public QAccessibleTableCellInterface,
                    public QAccessibleActionInterface {
  public:
    TellingPart(PartedWidget &whole, int index) : m_whole(whole), m_index(index) {}

    bool isValid() const override;
    QObject *object() const override { return nullptr; }
    QWindow *window() const override;
    QAccessibleInterface *childAt(int, int) const override { return nullptr; }
    QAccessibleInterface *parent() const override;
    QAccessibleInterface *child(int) const override { return nullptr; }
    int childCount() const override { return 0; }
    int indexOfChild(const QAccessibleInterface *) const override { return -1; }
    QString text(QAccessible::Text kind) const override;
    void setText(QAccessible::Text, const QString &) override {}
    QRect rect() const override;
    QAccessible::Role role() const override;
    QAccessible::State state() const override;
    void *interface_cast(QAccessible::InterfaceType type) override;

    bool isSelected() const override;
    QList<QAccessibleInterface *> columnHeaderCells() const override { return {}; }
    QList<QAccessibleInterface *> rowHeaderCells() const override { return {}; }
    int columnIndex() const override;
    int rowIndex() const override;
    int columnExtent() const override { return 1; }
    int rowExtent() const override { return 1; }
    QAccessibleInterface *table() const override { return parent(); }

    QStringList actionNames() const override { return {pressAction()}; }
    void doAction(const QString &name) override;
    QStringList keyBindingsForAction(const QString &) const override { return {}; }

    int index() const { return m_index; }

  private:
    PartedWidget &m_whole;
    int m_index;
};

// The widget with its child widgets first, then its parts.
class PartedWidget : public QAccessibleWidget, public QAccessibleTableInterface {
  public:
    PartedWidget(QWidget *w, PaintedParts &parts)
        : QAccessibleWidget(w, parts.partColumns() > 0 ? QAccessible::Table : QAccessible::List),
          m_parts(parts) {}
    ~PartedWidget() override {
        for (const QAccessible::Id id : std::as_const(m_made))
            QAccessible::deleteAccessibleInterface(id);
    }
    PartedWidget(const PartedWidget &) = delete;
    PartedWidget &operator=(const PartedWidget &) = delete;

    QWidget *shown() const { return widget(); }
    const PaintedParts &parts() const { return m_parts; }
    PaintedParts &parts() { return m_parts; }

    QAccessible::Role role() const override {
        return m_parts.partColumns() > 0 ? QAccessible::Table : QAccessible::List;
    }
    int childCount() const override { return QAccessibleWidget::childCount() + m_parts.partCount(); }
    QAccessibleInterface *child(int i) const override {
        const int widgets = QAccessibleWidget::childCount();
        return i < widgets ? QAccessibleWidget::child(i) : partAt(i - widgets);
    }
    int indexOfChild(const QAccessibleInterface *of) const override {
        if (const auto *part = dynamic_cast<const TellingPart *>(of); part && part->parent() == this)
            return QAccessibleWidget::childCount() + part->index();
        return QAccessibleWidget::indexOfChild(of);
    }
    QAccessibleInterface *childAt(int x, int y) const override {
        if (QAccessibleInterface *w = QAccessibleWidget::childAt(x, y)) return w;
        const QPoint at = widget()->mapFromGlobal(QPoint(x, y));
        for (int i = 0; i < m_parts.partCount(); ++i)
            if (m_parts.part(i).where.contains(at)) return partAt(i);
        return nullptr;
    }
    QAccessibleInterface *focusChild() const override {
        if (widget()->hasFocus() && m_parts.chosenPart() >= 0) return partAt(m_parts.chosenPart());
        return QAccessibleWidget::focusChild();
    }
    void *interface_cast(QAccessible::InterfaceType type) override {
        if (type == QAccessible::TableInterface && m_parts.partColumns() > 0)
            return static_cast<QAccessibleTableInterface *>(this);
        return QAccessibleWidget::interface_cast(type);
    }

    QAccessibleInterface *caption() const override { return nullptr; }
    QAccessibleInterface *summary() const override { return nullptr; }
    QAccessibleInterface *cellAt(int row, int column) const override {
        const bool there = row >= 0 && row < rowCount() && column >= 0 && column < columnCount();
        return there ? partAt(row * columnCount() + column) : nullptr;
    }
    int selectedCellCount() const override { return m_parts.chosenPart() >= 0 ? 1 : 0; }
    QList<QAccessibleInterface *> selectedCells() const override {
        if (m_parts.chosenPart() < 0) return {};
        return {partAt(m_parts.chosenPart())};
    }
    QString columnDescription(int column) const override { return m_parts.columnName(column); }
    QString rowDescription(int row) const override { return m_parts.rowName(row); }
    int selectedColumnCount() const override { return 0; }
    int selectedRowCount() const override { return 0; }
    int columnCount() const override { return m_parts.partColumns(); }
    int rowCount() const override {
        return m_parts.partColumns() > 0 ? m_parts.partCount() / m_parts.partColumns() : 0;
    }
    QList<int> selectedColumns() const override { return {}; }
    QList<int> selectedRows() const override { return {}; }
    bool isColumnSelected(int) const override { return false; }
    bool isRowSelected(int) const override { return false; }
    bool selectRow(int) override { return false; }
    bool selectColumn(int) override { return false; }
    bool unselectRow(int) override { return false; }
    bool unselectColumn(int) override { return false; }
    void modelChange(QAccessibleTableModelChangeEvent *) override {}

    QAccessibleInterface *partAt(int index) const {
        if (index < 0 || index >= m_parts.partCount()) return nullptr;
        if (const auto made = m_made.constFind(index); made != m_made.cend())
            return QAccessible::accessibleInterface(*made);
        // Asked of a constant interface, acted on through it: so do Qt's own. Freed by Qt when its id is
        // given back, as it does with the cells of its own tables.
        auto part = std::make_unique<TellingPart>(const_cast<PartedWidget &>(*this), index);
        m_made.insert(index, QAccessible::registerAccessibleInterface(part.get()));
        return part.release();
    }

  private:
    PaintedParts &m_parts;
    mutable QHash<int, QAccessible::Id> m_made;
};

bool TellingPart::isValid() const {
    return m_whole.isValid() && m_index < m_whole.parts().partCount();
}

QWindow *TellingPart::window() const {
    return m_whole.window();
}

QAccessibleInterface *TellingPart::parent() const {
    return &m_whole;
}

QString TellingPart::text(QAccessible::Text kind) const {
    return isValid() && kind == QAccessible::Name ? m_whole.parts().part(m_index).name : QString();
}

QRect TellingPart::rect() const {
    if (!isValid()) return {};
    const QRect where = m_whole.parts().part(m_index).where;
    return {m_whole.shown()->mapToGlobal(where.topLeft()), where.size()};
}

QAccessible::Role TellingPart::role() const {
    return m_whole.parts().partColumns() > 0 ? QAccessible::Cell : QAccessible::ListItem;
}

QAccessible::State TellingPart::state() const {
    QAccessible::State s;
    s.invalid = !isValid();
    if (s.invalid) return s;
    s.invisible = !m_whole.shown()->isVisible();
    s.selectable = s.focusable = true;
    s.selected = isSelected();
    s.focused = s.selected && m_whole.shown()->hasFocus();
    s.disabled = !m_whole.shown()->isEnabled();
    return s;
}

void *TellingPart::interface_cast(QAccessible::InterfaceType type) {
    if (type == QAccessible::ActionInterface) return static_cast<QAccessibleActionInterface *>(this);
    if (type == QAccessible::TableCellInterface && m_whole.parts().partColumns() > 0)
        return static_cast<QAccessibleTableCellInterface *>(this);
    return nullptr;
}

bool TellingPart::isSelected() const {
    return isValid() && m_whole.parts().chosenPart() == m_index;
}

int TellingPart::columnIndex() const {
    return m_index % std::max(1, m_whole.parts().partColumns());
}

int TellingPart::rowIndex() const {
    return m_index / std::max(1, m_whole.parts().partColumns());
}

void TellingPart::doAction(const QString &name) {
    if (name == pressAction() && isValid()) m_whole.parts().choosePart(m_index);
}

// A slider, with whatever parts it has beside.
class ValuedWidget : public PartedWidget, public QAccessibleValueInterface {
  public:
    ValuedWidget(QWidget *w, PaintedParts &parts, PaintedValue &value)
        : PartedWidget(w, parts), m_value(value) {}

    QAccessible::Role role() const override { return QAccessible::Slider; }
    void *interface_cast(QAccessible::InterfaceType type) override {
        if (type == QAccessible::ValueInterface) return static_cast<QAccessibleValueInterface *>(this);
        return PartedWidget::interface_cast(type);
    }
    QVariant currentValue() const override { return m_value.shownValue(); }
    void setCurrentValue(const QVariant &value) override { m_value.setShownValue(value.toDouble()); }
    QVariant maximumValue() const override { return m_value.mostValue(); }
    QVariant minimumValue() const override { return m_value.leastValue(); }
    QVariant minimumStepSize() const override { return m_value.valueStep(); }

  private:
    PaintedValue &m_value;
};

QAccessibleInterface *interfaceOf(const QString &className, QObject *object) {
    auto *widget = qobject_cast<QWidget *>(object);
    // Asked for every class up to QWidget: the first, which is the widget's own, decides.
    if (!widget || className != QLatin1String(widget->metaObject()->className())) return nullptr;
    auto *parts = dynamic_cast<PaintedParts *>(widget);
    auto *value = dynamic_cast<PaintedValue *>(widget);
    if (parts && value) return new ValuedWidget(widget, *parts, *value);
    if (parts) return new PartedWidget(widget, *parts);
    if (qobject_cast<QCustomPlot *>(widget)) return new QAccessibleWidget(widget, QAccessible::Chart);
    if (const QVariant role = widget->property(spokenRole); role.isValid())
        return new QAccessibleWidget(widget, static_cast<QAccessible::Role>(role.toInt()));
    return nullptr;
}

} // namespace

void tellOfPaintedParts() {
    QAccessible::installFactory(interfaceOf);
}

void partWasChosen(QWidget &widget) {
    if (!QAccessible::isActive()) return; // nobody listens: nothing is made for it
    const auto *parts = dynamic_cast<PaintedParts *>(&widget);
    if (!parts || !widget.hasFocus() || parts->chosenPart() < 0) return;
    QAccessibleInterface *whole = QAccessible::queryAccessibleInterface(&widget);
    if (!whole) return;
    QAccessibleEvent event(&widget, QAccessible::Focus);
    event.setChild(whole->childCount() - parts->partCount() + parts->chosenPart());
    QAccessible::updateAccessibility(&event);
}

} // namespace wheelwright
