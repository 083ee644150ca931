// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/fonts.h"
#include "pages/report_pages.h"
#include "pages/seal.h"
#include "support/test_main.h"

#include <QCryptographicHash>
#include <QFile>
#include <QGuiApplication>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

Report sample() {
    Report r;
    r.title = verbatim("Sample sheet");
    r.blocks.push_back(Heading{verbatim("First chapter"), 1});
    r.blocks.push_back(Sentence{verbatim("A sentence of λ 0.85 and 20 °.")});
    ReportChart chart;
    chart.title = verbatim("Curve");
    chart.lines = {{verbatim("up"), {0, 1, 2}, {0, 1, 4}, {}}};
    r.blocks.push_back(chart);
    r.blocks.emplace_back(PageBreak{});
    r.blocks.push_back(Heading{verbatim("Second chapter"), 1});
    r.blocks.push_back(Heading{verbatim("A part of it"), 2});
    ShadedTable t;
    t.title = verbatim("Cells");
    t.x = {{1000, 2000, 3000}, Dimension::engineSpeed};
    t.y = {{50, 100}, Dimension::pressure};
    t.cells = {11, 12, 13, 21, 22, 23};
    t.dimension = Dimension::sparkAngle;
    r.blocks.push_back(t);
    return r;
}

} // namespace

/// Pages of a report: what other programs find in the PDF, and what its seal tells.
class ReportPagesTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { loadPageFonts(); }
    void aPdfIsWholeByOtherPrograms();
    void paperIsAsItWasChosen();
    void picturesAreThePages();
    void aSealTellsEveryChange();

  private:
    // Of the PDF tools of the system.
    QString tool(const char *name, const QStringList &more, const std::string &pdf) {
        const QString path = m_dir.filePath(QStringLiteral("a.pdf"));
        QFile file(path);
        if (!file.open(QIODevice::WriteOnly) || file.write(QByteArray::fromStdString(pdf)) < 0)
            qFatal("no room");
        file.close();
        QProcess p;
        QStringList arguments = more;
        const auto place = arguments.indexOf(QStringLiteral("FILE"));
        place < 0 ? arguments.append(path) : arguments.replace(place, path);
        p.start(QLatin1String(name), arguments);
        if (!p.waitForFinished() || p.exitCode() != 0) qFatal("%s", p.readAllStandardError().constData());
        return QString::fromUtf8(p.readAllStandardOutput());
    }
    QTemporaryDir m_dir;
};

void ReportPagesTest::aPdfIsWholeByOtherPrograms() {
    const std::string pdf = reportPdf(sample(), {}, Paper::a4, "a remark");
    const QString text =
        tool("pdftotext", {QStringLiteral("-layout"), QStringLiteral("FILE"), QStringLiteral("-")}, pdf);
    for (const char *words :
         {"Sample sheet", "First chapter", "λ 0.85", "Second chapter", "1 of 2", "2 of 2"})
        QVERIFY2(text.contains(QString::fromUtf8(words)), words);
    // The highest row on top, each number in it.
    const QStringList lines = text.split(u'\n');
    const auto row = [&](const QString &first) {
        for (qsizetype i = 0; i < lines.size(); ++i)
            if (lines[i].contains(first)) return i;
        return qsizetype(-1);
    };
    QVERIFY(row(QStringLiteral("21.0")) >= 0 && row(QStringLiteral("21.0")) < row(QStringLiteral("11.0")));
    // Every face lies in the file.
    const QStringList fonts = tool("pdffonts", {}, pdf).split(u'\n', Qt::SkipEmptyParts);
    QVERIFY(fonts.size() > 2);
    for (qsizetype i = 2; i < fonts.size(); ++i) {
        const QStringList columns = fonts[i].split(u' ', Qt::SkipEmptyParts);
        QVERIFY2(columns.at(columns.size() - 5) == QLatin1String("yes"), qPrintable(fonts[i])); // emb
        QVERIFY2(fonts[i].contains(QStringLiteral("Wheelwright")), qPrintable(fonts[i]));
    }
    // Charts are lines, not pictures.
    QCOMPARE(tool("pdfimages", {QStringLiteral("-list")}, pdf).split(u'\n', Qt::SkipEmptyParts).size(), 2);
    const QString outline = tool("pdftohtml", {QStringLiteral("-xml"), QStringLiteral("-stdout")}, pdf);
    const QString part = outline.mid(outline.indexOf(QStringLiteral("<outline>")));
    QVERIFY(part.contains(QStringLiteral("<item page=\"1\">First chapter</item>")));
    QVERIFY(part.contains(QStringLiteral("<item page=\"2\">Second chapter</item>")));
    QVERIFY(part.contains(QStringLiteral("<item page=\"2\">A part of it</item>")));
    const QString info = tool("pdfinfo", {}, pdf);
    QVERIFY(info.contains(QStringLiteral("Sample sheet")) &&
            info.contains(QStringLiteral("Pages:           2")));
    QVERIFY(QByteArray::fromStdString(pdf).contains("(a remark)"));
}

void ReportPagesTest::paperIsAsItWasChosen() {
    // ISO 216: 210 × 297 mm; ANSI/ASME Y14.1: 8.5 × 11 in. In points.
    QVERIFY(tool("pdfinfo", {}, reportPdf(sample(), {}, Paper::a4))
                .contains(QStringLiteral("595 x 842 pts (A4)")));
    QVERIFY(tool("pdfinfo", {}, reportPdf(sample(), {}, Paper::letter))
                .contains(QStringLiteral("612 x 792 pts (letter)")));
}

void ReportPagesTest::picturesAreThePages() {
    const std::vector<QImage> pages = reportPictures(sample(), {}, Paper::a4, 620);
    QCOMPARE(pages.size(), std::size_t(2));
    for (const QImage &p : pages) {
        QVERIFY(std::abs(p.width() - 620) < 6 && std::abs(p.height() * 210.0 / 297 - p.width()) < 6);
        // Something is on it, and nothing in the edges.
        std::size_t ink = 0, edge = 0;
        const int margin = p.width() * 12 / 210;
        for (int y = 0; y < p.height(); ++y)
            for (int x = 0; x < p.width(); ++x) {
                if (qGray(p.pixel(x, y)) > 200) continue;
                ++ink;
                const bool outside =
                    x < margin || y < margin || x >= p.width() - margin || y >= p.height() - margin;
                edge += outside ? 1 : 0;
            }
        QVERIFY(ink > 500);
        QCOMPARE(edge, std::size_t(0));
    }
    QVERIFY(reportPictures(sample(), {}, Paper::a4, 620, [] { return true; }).empty());
}

void ReportPagesTest::aSealTellsEveryChange() {
    const std::string written = sealed("head " + unsealedMark("0123abcd") + " tail\n");
    const auto seal = sealOf(written);
    QVERIFY(seal && seal->intact);
    QCOMPARE(seal->calibration, std::string("0123abcd"));
    // The digest is SHA-256 (FIPS 180-4) of the bytes with noughts in its place, as another program would do
    // it.
    const std::size_t at = written.find("sha256=") + 7;
    std::string noughts = written;
    noughts.replace(at, 64, 64, '0');
    QCOMPARE(
        QByteArray::fromStdString(written.substr(at, 64)),
        QCryptographicHash::hash(QByteArray::fromStdString(noughts), QCryptographicHash::Sha256).toHex());
    for (std::size_t i = 0; i < written.size(); ++i) {
        std::string changed = written;
        changed[i] = static_cast<char>(changed[i] ^ 1);
        const auto found = sealOf(changed);
        QVERIFY2(!found || !found->intact, std::to_string(i).c_str());
    }
    QVERIFY(!sealOf("nothing here") && !sealOf(written.substr(0, at + 20)) && !sealOf(""));
    // Of real pages too.
    const std::string pdf = sealed(reportPdf(sample(), {}, Paper::a4, unsealedMark("77")));
    QVERIFY(sealOf(pdf)->intact);
    QCOMPARE(sealOf(pdf)->calibration, std::string("77"));
    QVERIFY(
        tool("pdfinfo", {}, pdf).contains(QStringLiteral("Pages:           2"))); // as good a PDF as before
    std::mt19937 random(7);
    for (int i = 0; i < 200; ++i) {
        std::string changed = pdf;
        changed[random() % changed.size()] ^= static_cast<char>(1 + random() % 255);
        const auto found = sealOf(changed);
        QVERIFY(!found || !found->intact);
    }
    QVERIFY_THROWS_EXCEPTION(std::logic_error, sealed("no mark"));
    QVERIFY_THROWS_EXCEPTION(std::logic_error, sealed(unsealedMark("1") + unsealedMark("1")));
}

int main(int argc, char **argv) {
    QGuiApplication app(argc, argv);
    return run<ReportPagesTest>(argc, argv);
}
#include "report_pages_test.moc"
