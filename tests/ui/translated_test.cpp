// SPDX-License-Identifier: GPL-3.0-or-later
// Every page in other languages: nothing is cut, nothing is left in English, and numbers have the language's
// decimal mark. One language is nobody's: its words are a third longer (support/pseudo_language.h).
#include "core/base/limits.h"
#include "support/dialogs.h"
#include "support/geometry.h"
#include "support/pseudo_language.h"
#include "support/test_window.h"
#include "ui/language.h"

#include <QAction>
#include <QJsonDocument>

#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

const QString nobodys = QStringLiteral("pseudo");

void addWords(const QJsonValue &of, std::set<QString> &to) {
    static const QRegularExpression word(QStringLiteral("[A-Za-z]{3,}"));
    for (const QJsonValue v : of.toArray())
        addWords(v, to);
    for (const QJsonValue v : of.toObject())
        addWords(v, to);
    for (auto found = word.globalMatch(of.toString()); found.hasNext();)
        to.insert(found.next().captured());
}

// What is no English: names, units, what the job's owner wrote.
std::set<QString> kept(const Job &job) {
    std::set<QString> words{"kPa", "bar", "psi", "AFR", "MON", "RON", "Wheelwright", "English", "Deutsch"};
    for (const LimitDefinition &l : allLimits()) // an id may be broken at the end of a line
        addWords(QString::fromUtf8(l.id.data(), static_cast<qsizetype>(l.id.size())), words);
    addWords(QJsonDocument::fromJson(QByteArray::fromStdString(jobToJson(job))).object(), words);
    return words;
}

// "Pill 3.05" is a name.
std::set<QString> namedNumbers(const Job &job) {
    std::set<QString> out;
    static const QRegularExpression number(QStringLiteral("\\d+\\.\\d+"));
    for (const Revision &r : job.revisions)
        for (auto found = number.globalMatch(QString::fromStdString(r.name)); found.hasNext();)
            out.insert(found.next().captured());
    return out;
}

// All that a window says and does not paint: names, hints, menus, choices that are not open.
QStringList unpainted(const QWidget &window) {
    QStringList out;
    const auto of = [&out](const QWidget *w) {
        out << w->toolTip() << w->accessibleName() << w->accessibleDescription() << w->statusTip()
            << w->whatsThis();
        if (const auto *edit = qobject_cast<const QLineEdit *>(w)) out << edit->placeholderText();
        if (const auto *box = qobject_cast<const QComboBox *>(w))
            for (int i = 0; i < box->count(); ++i)
                out << box->itemText(i);
    };
    of(&window);
    for (const QWidget *w : window.findChildren<QWidget *>())
        of(w);
    for (const QAction *a : window.findChildren<QAction *>())
        out << a->text() << a->toolTip();
    return out;
}

QStringList painted(QWidget &window) {
    TextDevice device(&window);
    window.render(&device, {}, {}, QWidget::DrawChildren | QWidget::DrawWindowBackground);
    QStringList out;
    for (const auto &t : device.texts())
        out << t.words;
    return out;
}

} // namespace

class TranslatedTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void cleanup() {
        QCoreApplication::removeTranslator(&m_nobodys);
        useLanguage(QStringLiteral("en"));
    }

    void everyPage_data() {
        QTest::addColumn<QString>("language");
        QTest::addColumn<QString>("demo");
        for (const char *demo : {"thistle", "moorhen", "bramble"})
            for (const char *language : {"pseudo", "de", "es"})
                QTest::addRow("%s %s", language, demo)
                    << QString::fromLatin1(language) << QString::fromLatin1(demo);
    }

    void everyPage() {
        QFETCH(QString, language);
        QFETCH(QString, demo);
        speak(language);
        TestWindow window;
        if (demo == QLatin1String("thistle")) // with something on every page
            window.openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                               {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
        else
            window.open(demoFile(demo.toLatin1().constData()));
        QStringList wrong, said;
        eachPage(window.shell, [&](const QString &place, View *view) {
            QStringList here;
            check(view, here);
            checkAllPainted(view, here);
            for (const QString &words : here)
                wrong << place + QStringLiteral(": ") + words;
            said << painted(window.shell);
        });
        check(&window.shell, wrong);
        checkAllPainted(&window.shell, wrong);
        said << unpainted(window.shell);
        said.removeDuplicates();
        QVERIFY(said.size() > 500);
        checkSaid(language, said, window.session.job(), wrong);
        COMPARE_NONE(wrong);
    }

    // The same of what opens over the window.
    void everyDialog_data() {
        QTest::addColumn<QString>("language");
        for (const char *language : {"pseudo", "de", "es"})
            QTest::newRow(language) << QString::fromLatin1(language);
    }

    void everyDialog() {
        QFETCH(QString, language);
        speak(language);
        TestWindow window;
        window.openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                           {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
        QStringList wrong;
        const int seen = eachDialog(window, [&](const QString &name, QDialog &dialog) {
            QStringList here, said = painted(dialog);
            check(&dialog, here);
            checkAllPainted(&dialog, here);
            if (dialog.width() > 1280 || dialog.height() > 800)
                here << QStringLiteral("is larger than the window");
            // The help's pages are translated as pages, and nobody's language has none.
            if (!(name == QLatin1String("help") && language == nobodys)) {
                said << unpainted(dialog) << dialog.windowTitle();
                checkSaid(language, said, window.session.job(), here);
            }
            for (const QString &words : here)
                wrong << name + QStringLiteral(": ") + words;
        });
        QVERIFY(seen >= 12);
        COMPARE_NONE(wrong);
    }

  private:
    void speak(const QString &language) {
        if (language == nobodys)
            QCoreApplication::installTranslator(&m_nobodys);
        else
            useLanguage(language);
    }

    // Nothing in English, and no number with a point where the language has a comma.
    static void checkSaid(const QString &language, const QStringList &said, const Job &job,
                          QStringList &wrong) {
        const std::set<QString> names = kept(job), numbers = namedNumbers(job);
        // Not the number of an equation, what names say, a line of a file as it stands there, and the menu
        // that offers both.
        static const QRegularExpression lineOfFile(QStringLiteral("^[-\\d.]+(,[-\\d.]*){3,}"));
        static const QRegularExpression equation(QStringLiteral("\\b(?:Gl|ec)\\. \\d+\\.\\d+"));
        static const QRegularExpression point(QStringLiteral("(?<![\\d.])\\d+\\.\\d+(?![\\d.])"));
        for (const QString &words : said) {
            if (language == nobodys) {
                // "logs: expected …": an error says where, as files and the command line name it.
                static const QRegularExpression place(QStringLiteral("^[a-z_.]+(?=: )"));
                // A name that the place has no room for ends in dots: the word they cut is not looked at.
                static const QRegularExpression cutOff(QStringLiteral("\\w+…$"));
                for (const QString &word :
                     PseudoLanguage::untranslated(QString(words).remove(place).remove(cutOff)))
                    if (!names.contains(word))
                        wrong << QStringLiteral("'%1' is English in '%2'").arg(word, words.left(60));
            } else if (const auto found = point.match(QString(words).remove(equation));
                       found.hasMatch() && !numbers.contains(found.captured()) &&
                       !words.contains(QRegularExpression(QStringLiteral("\\((18|19|20)\\d\\d\\)"))) &&
                       !words.endsWith(QStringLiteral(": 14.7")) && !words.contains(lineOfFile))
                wrong << QStringLiteral("'%1' has a point in '%2'").arg(found.captured(), words.left(60));
        }
    }

  private slots:
    // The walk notices what was not given to a translator, and leaves alone what is no word.
    void englishIsNoticed() {
        QCOMPARE(PseudoLanguage::spoken(QStringLiteral("Burn %1 of {a}")),
                 QStringLiteral("Búúrn %1 óóf {a}"));
        QCOMPARE(PseudoLanguage::spoken(QStringLiteral("<b>E&amp;x</b>")), QStringLiteral("<b>Éé&amp;x</b>"));
        QCOMPARE(PseudoLanguage::untranslated(QStringLiteral("Búúrn the fuel at 12 kW, E40")),
                 (QStringList{"the", "fuel"}));
        QCOMPARE(PseudoLanguage::untranslated(PseudoLanguage::spoken(QStringLiteral("Burn the fuel"))),
                 QStringList());
    }

  private:
    PseudoLanguage m_nobodys;
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<TranslatedTest>(argc, argv);
}
#include "translated_test.moc"
