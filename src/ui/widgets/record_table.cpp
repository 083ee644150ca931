// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/record_table.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/record_model.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QStyledItemDelegate>

namespace wheelwright {
namespace {

/// Offers the choices of a field, or the names that it may refer to.
class RecordDelegate : public QStyledItemDelegate {
  public:
    RecordDelegate(Session &session, const RecordList &list, QObject *parent)
        : QStyledItemDelegate(parent), m_session(session), m_list(list) {}

    QWidget *createEditor(QWidget *parent, const QStyleOptionViewItem &option,
                          const QModelIndex &index) const override {
        const RecordField &f = m_list.fields[static_cast<std::size_t>(index.column())];
        if (f.choices.empty() && f.refersTo.empty())
            return QStyledItemDelegate::createEditor(parent, option, index);
        auto *box = new QComboBox(parent);
        if (!f.refersTo.empty()) {
            box->addItem(QString());
            for (const std::string &name : namesIn(m_session.job(), f.refersTo))
                box->addItem(text(name));
        } else {
            for (const PhraseText &title : f.choiceTitles)
                box->addItem(text(title));
        }
        box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
        return box;
    }
    void setEditorData(QWidget *editor, const QModelIndex &index) const override {
        if (auto *box = qobject_cast<QComboBox *>(editor))
            box->setCurrentText(index.data(Qt::EditRole).toString());
        else
            QStyledItemDelegate::setEditorData(editor, index);
    }
    void setModelData(QWidget *editor, QAbstractItemModel *model, const QModelIndex &index) const override {
        if (auto *box = qobject_cast<QComboBox *>(editor))
            model->setData(index, box->currentText(), Qt::EditRole);
        else
            QStyledItemDelegate::setModelData(editor, model, index);
    }

  private:
    Session &m_session;
    const RecordList &m_list;
};

} // namespace

RecordTable::RecordTable(Session &session, const QString &title, const QString &hint, const char *list,
                         QWidget *parent)
    : QFrame(parent), m_view(new CopyTable(this)),
      m_model(new RecordModel(session, *recordListByPath(list), m_view)) {
    setProperty("card", true);
    m_view->setModel(m_model);
    m_view->setItemDelegate(new RecordDelegate(session, *recordListByPath(list), m_view));
    m_view->setAccessibleName(title);
    m_view->setFrameShape(QFrame::NoFrame);
    m_view->verticalHeader()->setDefaultSectionSize(24);
    m_view->horizontalHeader()->setStretchLastSection(true);
    m_view->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_view->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(m_view, &CopyTable::removeWanted, this, &RecordTable::removeSelected);
    auto *remove = new QPushButton(tr("Take away"), this);
    remove->setToolTip(tr("Takes the selected rows away (Delete)"));
    connect(remove, &QPushButton::clicked, this, &RecordTable::removeSelected);
    auto *layout = new QGridLayout(this);
    layout->setVerticalSpacing(2);
    layout->addWidget(makeHead(title, this), 0, 0);
    layout->addWidget(makeQuiet(hint, this), 1, 0);
    layout->addWidget(remove, 0, 1, 2, 1, Qt::AlignTop);
    layout->addWidget(m_view, 2, 0, 1, 2);
    layout->setColumnStretch(0, 1);
    layout->setRowStretch(2, 1);
}

void RecordTable::removeSelected() {
    const QItemSelection selection = m_view->selectionModel()->selection();
    if (selection.isEmpty()) return;
    m_model->removeRows(selection.first().top(), selection.first().height());
}

} // namespace wheelwright
