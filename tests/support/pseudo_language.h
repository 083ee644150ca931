// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QRegularExpression>
#include <QTranslator>

namespace wheelwright::testing {

/// A language that nobody speaks, for what every language brings: words a third longer, and letters that no
/// word of English has. What stands in it without them was never given to a translator.
class PseudoLanguage : public QTranslator {
  public:
    QString translate(const char *, const char *text, const char *, int) const override {
        return spoken(QString::fromUtf8(text));
    }
    bool isEmpty() const override { return false; }

    /// Marks (%1, {a}, %n), tags, accelerators and entities stay as they are.
    static QString spoken(const QString &english) {
        static const QString plain = QStringLiteral("aeiouyAEIOUY"), marked = QStringLiteral("áéíóúýÁÉÍÓÚÝ");
        QString out;
        QChar closing;
        for (qsizetype i = 0; i < english.size(); ++i) {
            const QChar c = english[i];
            if (!closing.isNull()) {
                if (c == closing) closing = QChar();
                out += c;
            } else if (c == u'{' || (c == u'<' && i + 1 < english.size() &&
                                     (english[i + 1].isLetter() || english[i + 1] == u'/'))) {
                closing = c == u'{' ? u'}' : u'>';
                out += c;
            } else if (c == u'%' && i + 1 < english.size() &&
                       (english[i + 1] == u'n' || english[i + 1] == u'L')) {
                out += c;
                out += english[++i];
            } else if (c == u'&' && english.indexOf(u';', i) - i > 1 && english.indexOf(u';', i) - i < 6) {
                closing = u';';
                out += c;
            } else if (const qsizetype at = plain.indexOf(c); at >= 0) {
                out += marked[at];
                out += marked[at].toLower(); // 29 % more letters of this product's English
            } else
                out += c;
        }
        return out;
    }

    /// A word of English in a text that was shown.
    static QStringList untranslated(const QString &shown) {
        // Not parts of an id ("watch.knock"), of a path, of a word with other letters.
        static const QRegularExpression word(QStringLiteral("(?<![\\w./-])[A-Za-z]{3,}(?![\\w/]|\\.\\w)"),
                                             QRegularExpression::UseUnicodePropertiesOption);
        QStringList out;
        for (auto found = word.globalMatch(shown); found.hasNext();) {
            const QString w = found.next().captured();
            if (w.contains(QRegularExpression(QStringLiteral("[aeiouyAEIOUY]")))) out << w;
        }
        return out;
    }
};

} // namespace wheelwright::testing
