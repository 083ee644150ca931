// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/ladder/ladder_remote_page.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/widgets/card.h"
#include "ui/widgets/refresh.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/work_bar.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace wheelwright {

LadderRemotePage::LadderRemotePage(Session &session, LadderBook &ladder, QWidget *parent)
    : QWidget(parent), m_session(session), m_book(session, ladder) {
    auto *cards = new QHBoxLayout;
    cards->addWidget(makeSend(), 1);
    cards->addWidget(makeBack(), 1);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addLayout(cards, 1);
    layout->addWidget(makeMessage());
    connect(&m_book, &RemoteBook::changed, this, &LadderRemotePage::refresh);
    connect(&m_book, &RemoteBook::revisionWanted, this, &LadderRemotePage::askForRevision);
    (new Refresh(session, this))->on(Refresh::job | Refresh::units, [this] { refresh(); });
}

QWidget *LadderRemotePage::makeSend() {
    auto *card = makeCard(this);
    m_name = new QLineEdit(card);
    m_name->setAccessibleName(tr("Name of the revision"));
    m_name->setPlaceholderText(tr("named for you"));
    m_note = new QLineEdit(card);
    m_note->setAccessibleName(tr("Note to whoever loads it"));
    m_sheet = new ReportView(tr("What goes out"), ReportView::Fit::fills, card);
    m_send = new QPushButton(tr("Write a folder…"), card);
    m_send->setProperty("main", true);
    m_send->setToolTip(tr("Tables, settings, what to do and what to log; kept as a revision that was sent"));
    auto *form = new QFormLayout;
    form->addRow(tr("Revision"), m_name);
    form->addRow(tr("Note"), m_note);
    auto *rows = new QVBoxLayout(card);
    rows->addWidget(makeHead(tr("Send"), card));
    rows->addLayout(form);
    rows->addWidget(m_sheet, 1);
    rows->addWidget(m_send, 0, Qt::AlignRight);
    connect(m_send, &QPushButton::clicked, this, [this] {
        const QString folder = QFileDialog::getSaveFileName(this, tr("A new folder for the bundle"), {}, {},
                                                            nullptr, QFileDialog::DontConfirmOverwrite);
        if (!folder.isEmpty()) send(folder);
    });
    return card;
}

QWidget *LadderRemotePage::makeBack() {
    auto *card = makeCard(this);
    m_answer = new ReportView(tr("What came back"), ReportView::Fit::fills, card);
    m_back = new QPushButton(tr("Read a folder that came back…"), card);
    m_back->setToolTip(
        tr("Its logs come in, and what was read out of the controller is held against what was sent"));
    auto *rows = new QVBoxLayout(card);
    rows->addWidget(makeHead(tr("Come back"), card));
    rows->addWidget(m_answer, 1);
    rows->addWidget(new WorkBar(
        m_book.work(), [this] { m_book.cancel(); }, card));
    rows->addWidget(m_back, 0, Qt::AlignRight);
    connect(m_back, &QPushButton::clicked, this, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("A folder that came back"));
        if (!folder.isEmpty()) takeBack(folder);
    });
    return card;
}

QWidget *LadderRemotePage::makeMessage() {
    auto *card = makeCard(this);
    constexpr int lines = 2;
    m_message = new ReportView(tr("Message to send"), ReportView::Fit::steady, card, lines);
    m_copy = new QPushButton(tr("Copy the message"), card);
    auto *row = new QHBoxLayout(card);
    row->addWidget(m_message, 1);
    row->addWidget(m_copy, 0, Qt::AlignBottom);
    connect(m_copy, &QPushButton::clicked, this,
            [this] { QApplication::clipboard()->setText(text(m_book.message(), m_session.units())); });
    return card;
}

void LadderRemotePage::send(const QString &folder) {
    if (!m_book.send(folder, m_name->text(), m_note->text())) return;
    m_name->clear();
    m_note->clear();
}

void LadderRemotePage::takeBack(const QString &folder) {
    m_book.takeBack(folder);
}

void LadderRemotePage::askForRevision(const QString &folder, const QStringList &sent) {
    bool wanted = false;
    const QString chosen =
        QInputDialog::getItem(this, tr("What came back"),
                              tr("Nothing in the folder says which revision it ran with. Which was it?"),
                              sent, static_cast<int>(sent.size()) - 1, false, &wanted);
    if (wanted) m_book.takeBack(folder, chosen);
}

void LadderRemotePage::refresh() {
    if (!isVisible()) return;
    const UnitChoice &units = m_session.units();
    const bool job = m_session.hasJob();
    if (job)
        m_sheet->show(m_book.sheet(), units);
    else
        m_sheet->say(MARKED("ladder.no_job", "Open a job to see the way up."), units);
    if (Report answer = m_book.answer(); !answer.blocks.empty())
        m_answer->show(std::move(answer), units);
    else
        m_answer->say(
            Sentence{MARKED("bundle.nothing_yet",
                            "Whoever is far away loads the folder, reads the controller back into a folder "
                            "‘back’, logs, and sends all of it back."),
                     Tone::quiet},
            units);
    const Phrase message = m_book.message();
    m_message->say(
        message.empty()
            ? Sentence{MARKED("bundle.no_message", "The message to send appears here."), Tone::quiet}
            : Sentence{message},
        units);
    m_copy->setEnabled(!message.empty());
    const bool write = job && !m_session.readOnly();
    m_send->setEnabled(write);
    m_back->setEnabled(write);
    m_name->setEnabled(write);
    m_note->setEnabled(write);
}

QString LadderRemotePage::sheetWords() const {
    return m_sheet->words();
}
QString LadderRemotePage::answerWords() const {
    return m_answer->words();
}
QString LadderRemotePage::messageWords() const {
    return m_message->words();
}

void LadderRemotePage::showEvent(QShowEvent *event) {
    QWidget::showEvent(event);
    refresh();
}

} // namespace wheelwright
