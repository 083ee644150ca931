// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/working_panel.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QTextBrowser>
#include <QUrl>
#include <QVBoxLayout>

namespace wheelwright {
namespace {

QString paragraph(const QString &head, const QString &body) {
    if (body.isEmpty()) return {};
    return QStringLiteral("<p style='margin:9px 0 0 0'><span style='color:%1'>%2</span><br>%3</p>")
        .arg(theme().quiet.name(), head.toHtmlEscaped(), body);
}

} // namespace

WorkingPanel::WorkingPanel(Session &session, QWidget *parent)
    : QFrame(parent), m_session(session), m_text(new QTextBrowser(this)) {
    setProperty("card", true);
    setProperty("helpPage", "working");
    setFixedWidth(264);
    m_text->setOpenLinks(false);
    m_text->setFrameShape(QFrame::NoFrame);
    m_text->setAccessibleName(tr("Working of the selected number"));
    m_text->setStyleSheet(QStringLiteral("background: transparent;"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 4, 4, 4);
    layout->addWidget(m_text);
    connect(m_text, &QTextBrowser::anchorClicked, this,
            [this](const QUrl &url) { emit inputWanted(url.toString()); });
    connect(&session, &Session::explanationChanged, this, &WorkingPanel::refresh);
    connect(&session, &Session::unitsChanged, this, &WorkingPanel::refresh);
    connect(&session, &Session::jobReplaced, this, &WorkingPanel::refresh);
    refresh();
}

void WorkingPanel::refresh() {
    m_text->setHtml(html());
}

QString WorkingPanel::shownText() const {
    return m_text->toPlainText();
}

QString WorkingPanel::html() const {
    const auto &x = m_session.explanation();
    if (!x)
        return QStringLiteral("<p><b>%1</b></p><p style='color:%2'>%3</p>")
            .arg(tr("Working"), theme().quiet.name(),
                 tr("Select any number: a cell, a mark of the margin board, a weight. Here stands how it was "
                    "worked out, "
                    "from what, by whose formula, and what would change it."));
    const UnitChoice &units = m_session.units();
    const QString digits = sansFont(12).family(); // its digits are of one width
    QString out = QStringLiteral("<p style='margin:0'><b>%1</b></p><p style='margin:2px 0 0 0; "
                                 "font-family:\"%2\"; font-size:22px'>%3</p>")
                      .arg(text(x->title).toHtmlEscaped(), digits,
                           shown(x->result.value, x->result.dimension, units).toHtmlEscaped());
    const QString numbers = QStringLiteral("<span style='font-family:\"%1\"; font-size:12px'>%2</span>");
    out += paragraph(tr("Formula"), numbers.arg(digits, text(x->formula).toHtmlEscaped()));
    out +=
        paragraph(tr("With the numbers"), numbers.arg(digits, text(x->substituted, units).toHtmlEscaped()));
    QString inputs;
    for (const ExplanationInput &i : x->inputs) {
        QString name = text(i.symbol).toHtmlEscaped() + QStringLiteral(" · ") + text(i.title).toHtmlEscaped();
        if (!i.link.empty()) name = QStringLiteral("<a href='%1'>%2</a>").arg(text(i.link), name);
        inputs += QStringLiteral("%1<b>%2</b> &nbsp;%3")
                      .arg(inputs.isEmpty() ? QString() : QStringLiteral("<br>"),
                           shown(i.value.value, i.value.dimension, units).toHtmlEscaped(), name);
    }
    out += paragraph(tr("From"), inputs);
    out += paragraph(tr("What would change it"), text(x->change, units).toHtmlEscaped());
    out += paragraph(tr("Source"), text(x->source).toHtmlEscaped());
    out += paragraph(tr("Uncertainty"), text(x->uncertainty, units).toHtmlEscaped());
    return out;
}

} // namespace wheelwright
