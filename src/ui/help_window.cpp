// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/help_window.h"

#include "ui/theme.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QShortcut>
#include <QTextBlock>
#include <QTextBrowser>
#include <QTextTable>
#include <QVBoxLayout>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr int pageRole = Qt::UserRole; // of a line of the list: "fuel#2"
const QString firstPage = QStringLiteral("start");

} // namespace

HelpWindow::HelpWindow(QWidget *parent)
    : QDialog(parent), m_text(new QTextBrowser(this)), m_typed(new QLineEdit(this)),
      m_list(new QListWidget(this)), m_back(new QPushButton(tr("Back"), this)) {
    setWindowTitle(tr("Help"));
    setObjectName(QStringLiteral("help"));
    resize(940, 700);
    m_text->setOpenLinks(false);
    m_text->setAccessibleName(tr("Help text"));
    m_text->setSearchPaths({QStringLiteral(":/help")});
    m_typed->setPlaceholderText(tr("Find in the help"));
    m_typed->setAccessibleName(tr("Find in the help"));
    m_typed->setClearButtonEnabled(true);
    m_list->setAccessibleName(tr("Pages of the help"));
    constexpr int listWidth = 236;
    m_list->setFixedWidth(listWidth);
    m_typed->setFixedWidth(listWidth);
    m_back->setToolTip(tr("To the page before (Alt+Left)"));
    m_back->setAutoDefault(false);
    auto *left = new QVBoxLayout;
    left->addWidget(m_typed);
    left->addWidget(m_list, 1);
    left->addWidget(m_back);
    auto *layout = new QHBoxLayout(this);
    layout->addLayout(left);
    layout->addWidget(m_text, 1);
    connect(m_text, &QTextBrowser::anchorClicked, this, [this](const QUrl &url) { follow(url.toString()); });
    connect(m_typed, &QLineEdit::textChanged, this, &HelpWindow::find);
    connect(m_typed, &QLineEdit::returnPressed, this, [this] {
        if (m_list->count() > 0) m_list->setCurrentRow(0);
    });
    connect(m_list, &QListWidget::currentItemChanged, this, [this](const QListWidgetItem *item) {
        if (item) open(item->data(pageRole).toString());
    });
    connect(m_back, &QPushButton::clicked, this, &HelpWindow::back);
    connect(new QShortcut(Qt::ALT | Qt::Key_Left, this), &QShortcut::activated, this, &HelpWindow::back);
    connect(new QShortcut(Qt::CTRL | Qt::Key_F, this), &QShortcut::activated, m_typed,
            qOverload<>(&QWidget::setFocus));
}

void HelpWindow::open(const QString &place) {
    if (m_page.isEmpty()) find({}); // not before somebody asks: a window starts without reading its help
    QString page = place.section(u'#', 0, 0);
    if (helpPage(page).isEmpty()) page = firstPage;
    if (!m_page.isEmpty() && page != m_page) m_before << m_page;
    show(page, place.section(u'#', 1).toInt());
    QDialog::show();
    raise();
}

void HelpWindow::back() {
    if (m_before.isEmpty()) return;
    const QString page = m_before.takeLast();
    show(page, 0);
}

void HelpWindow::show(const QString &page, int heading) {
    m_page = page;
    m_back->setEnabled(!m_before.isEmpty());
    m_text->setMarkdown(helpPage(page));
    fitPictures();
    calmTables();
    int at = 0;
    for (QTextBlock b = m_text->document()->begin(); heading > 0 && b.isValid(); b = b.next())
        if (b.blockFormat().headingLevel() > 0 && at++ == heading) {
            m_text->setTextCursor(QTextCursor(m_text->document()->lastBlock()));
            m_text->setTextCursor(QTextCursor(b)); // from below, so that it stands at the top
            break;
        }
    const QSignalBlocker quiet(m_list);
    for (int i = 0; i < m_list->count(); ++i) {
        const QString line = m_list->item(i)->data(pageRole).toString();
        if (line == page || line == QStringLiteral("%1#%2").arg(page).arg(heading)) {
            m_list->setCurrentRow(i);
            break;
        }
    }
}

void HelpWindow::follow(const QString &link) {
    const QString place = QStringLiteral("at:"), tour = QStringLiteral("do:tour");
    if (link == tour) return emit tourWanted();
    if (link.startsWith(place))
        emit placeWanted(link.mid(place.size()));
    else
        open(link);
}

// Nothing typed: the pages. Else every heading that has all the words in it or under it.
void HelpWindow::find(const QString &typed) {
    const QStringList parts = typed.split(u' ', Qt::SkipEmptyParts);
    const QSignalBlocker quiet(m_list);
    m_list->clear();
    for (const HelpSection &s : helpSections()) {
        const bool found = std::ranges::all_of(parts, [&](const QString &p) {
            return s.title.contains(p, Qt::CaseInsensitive) || s.words.contains(p, Qt::CaseInsensitive);
        });
        if (parts.isEmpty() ? s.heading > 0 : !found) continue;
        auto *item =
            new QListWidgetItem(s.heading == 0 ? s.of : s.of + QStringLiteral(" · ") + s.title, m_list);
        item->setToolTip(item->text());
        item->setData(pageRole, s.heading == 0 ? s.page : QStringLiteral("%1#%2").arg(s.page).arg(s.heading));
        if (parts.isEmpty() && s.page == m_page) m_list->setCurrentItem(item);
    }
}

// As wide as the text, and no wider than they are.
void HelpWindow::fitPictures() {
    const double room = m_text->viewport()->width() - 2 * m_text->document()->documentMargin() - 2;
    for (QTextBlock b = m_text->document()->begin(); b.isValid(); b = b.next())
        for (auto it = b.begin(); !it.atEnd(); ++it) {
            const QTextFragment part = it.fragment();
            if (!part.charFormat().isImageFormat()) continue;
            QTextImageFormat format = part.charFormat().toImageFormat();
            const QImage picture(QStringLiteral(":/help/") + format.name());
            if (picture.isNull()) continue;
            const double width = std::min(room, static_cast<double>(picture.width()));
            if (std::abs(format.width() - width) < 1) continue;
            format.setWidth(width);
            format.setHeight(width * picture.height() / picture.width());
            QTextCursor cursor(b);
            cursor.setPosition(part.position());
            cursor.setPosition(part.position() + part.length(), QTextCursor::KeepAnchor);
            cursor.setCharFormat(format);
            return fitPictures(); // what was gone through is another document now
        }
}

void HelpWindow::resizeEvent(QResizeEvent *event) {
    QDialog::resizeEvent(event);
    fitPictures();
}

void HelpWindow::showEvent(QShowEvent *event) {
    QDialog::showEvent(event);
    fitPictures();
}

// Lines of a table are said by their rows: a grid of boxes is louder than what stands in it.
void HelpWindow::calmTables() {
    for (QTextFrame *frame : m_text->document()->rootFrame()->childFrames()) {
        auto *table = qobject_cast<QTextTable *>(frame);
        if (!table) continue;
        QTextTableFormat format = table->format();
        format.setBorder(0);
        format.setCellSpacing(0);
        constexpr double padding = 4;
        format.setCellPadding(padding);
        table->setFormat(format);
        for (int row = 0; row < table->rows(); ++row)
            for (int column = 0; column < table->columns(); ++column) {
                QTextTableCell cell = table->cellAt(row, column);
                QTextTableCellFormat look = cell.format().toTableCellFormat();
                look.setBottomBorder(1);
                look.setBottomBorderStyle(QTextFrameFormat::BorderStyle_Solid);
                look.setBottomBorderBrush(theme().line);
                cell.setFormat(look);
            }
    }
}

QString HelpWindow::pageOf(const QWidget *widget) {
    for (; widget; widget = widget->parentWidget())
        if (QString page = widget->property("helpPage").toString(); !page.isEmpty()) return page;
    return firstPage;
}

} // namespace wheelwright
