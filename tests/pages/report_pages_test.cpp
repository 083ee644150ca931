// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_photos.h"
#include "pages/fonts.h"
#include "pages/photos.h"
#include "pages/report_pages.h"
#include "pages/seal.h"
#include "support/test_main.h"

#include <QCryptographicHash>
#include <QFile>
#include <QGuiApplication>
#include <QProcess>
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
    void whatLeadsSomewhereIsWhereItStands();
    void whatIsToStandOnOnePageDoes();
    void photosGoAlong();
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
    const std::vector<PagePicture> pages = reportPictures(sample(), {}, Paper::a4, 620);
    QCOMPARE(pages.size(), std::size_t(2));
    for (const PagePicture &page : pages) {
        const QImage &p = page.picture;
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

// What leads somewhere is found on the picture where its ink is, and a PDF knows nothing of it.
void ReportPagesTest::whatLeadsSomewhereIsWhereItStands() {
    Report r;
    r.title = verbatim("Links");
    r.blocks.push_back(Sentence{verbatim("Nothing here")});
    r.blocks.push_back(Sentence{verbatim("A number that leads to its working"), Tone::plain, "working:7"});
    Grid grid{{verbatim("Head")}, {{Sentence{verbatim("4.2"), Tone::plain, "tank.reserve_l"}}}};
    r.blocks.push_back(grid);
    r.blocks.push_back(PageBreak{});
    r.blocks.push_back(
        Sentence{{MARKED("test.two_parts", "Idle ⟨three⟩ minutes")}, Tone::plain, "working:9"});
    const std::vector<PagePicture> pages = reportPictures(r, {}, Paper::letter, 800);
    QCOMPARE(pages.size(), std::size_t(2));
    QCOMPARE(pages[0].links.size(), std::size_t(2));
    QCOMPARE(pages[0].links[0].leadsTo, QStringLiteral("working:7"));
    QCOMPARE(pages[0].links[0].words, QStringLiteral("A number that leads to its working"));
    QCOMPARE(pages[0].links[1].leadsTo, QStringLiteral("tank.reserve_l"));
    QCOMPARE(pages[1].links.size(), std::size_t(1)); // bold and plain are one
    QCOMPARE(pages[1].links[0].words, QStringLiteral("Idle three minutes"));
    QVERIFY(pages[0].words.contains(QStringLiteral("Nothing here\n")) &&
            !pages[0].words.contains(QStringLiteral("three")));
    for (const PagePicture &page : pages)
        for (const PagePicture::Link &link : page.links) {
            const auto inked = [&](const QRect &where) {
                int ink = 0;
                for (int y = where.top(); y <= where.bottom(); ++y)
                    for (int x = where.left(); x <= where.right(); ++x)
                        ink += qGray(page.picture.pixel(x, y)) < 128 ? 1 : 0;
                return ink;
            };
            QVERIFY2(inked(link.at) > 10, qPrintable(link.words));
            QCOMPARE(inked(QRect(link.at.right() + 3, link.at.top(), 40, link.at.height())), 0);
        }
    QVERIFY(!QByteArray::fromStdString(reportPdf(r, {}, Paper::a4)).contains("working:7"));
    QVERIFY(!tool("pdfinfo", {QStringLiteral("-url")}, reportPdf(r, {}, Paper::a4))
                 .contains(QStringLiteral("working")));
}

// Whatever the paper, what is to stand on one page does while it can be read; the rest keeps its size.
void ReportPagesTest::whatIsToStandOnOnePageDoes() {
    const auto lines = [](int count, bool one) {
        Report r;
        r.title = verbatim("Lines");
        if (one) r.blocks.emplace_back(OnePage{});
        for (int i = 0; i < count; ++i)
            r.blocks.push_back(Sentence{verbatim("Line " + std::to_string(i))});
        r.blocks.emplace_back(PageBreak{});
        r.blocks.push_back(Sentence{verbatim("The rest")});
        return r;
    };
    int few = 40; // as many as just run over
    while (reportPictures(lines(few, false), {}, Paper::a4, 300).size() < 3)
        ++few;
    QCOMPARE(reportPictures(lines(few, true), {}, Paper::a4, 300).size(), std::size_t(2));
    QCOMPARE(reportPictures(lines(few * 5 / 4, true), {}, Paper::a4, 300).size(), std::size_t(2));
    QCOMPARE(reportPictures(lines(few * 4, true), {}, Paper::a4, 300).size(), std::size_t(4));
    const QString pdf =
        tool("pdftotext", {QStringLiteral("-bbox"), QStringLiteral("FILE"), QStringLiteral("-")},
             reportPdf(lines(few * 5 / 4, true), {}, Paper::a4));
    const auto heightOf = [&](const QString &word) {
        const QString at =
            pdf.mid(pdf.lastIndexOf(QLatin1String("<word"), pdf.indexOf(QLatin1Char('>') + word)));
        const auto number = [&](const char *key) {
            return at.mid(at.indexOf(QLatin1String(key)) + 6).section(QLatin1Char('"'), 0, 0).toDouble();
        };
        return number("yMax=\"") - number("yMin=\"");
    };
    QVERIFY(heightOf(QStringLiteral("rest")) > 5);
    QVERIFY(heightOf(QStringLiteral("Line<")) < 0.95 * heightOf(QStringLiteral("rest")));
}

namespace {

QString savedPhoto(const QTemporaryDir &folder, const char *name, QSize size) {
    QImage picture(size, QImage::Format_RGB32);
    picture.fill(Qt::darkRed);
    picture.setText(QStringLiteral("Description"), QStringLiteral("taken at a secret place"));
    const QString path = folder.filePath(QLatin1String(name));
    return picture.save(path) ? path : QString();
}

} // namespace

void ReportPagesTest::photosGoAlong() {
    const QTemporaryDir folder;
    QVERIFY(!savedPhoto(folder, "plugs.png", {3200, 1200}).isEmpty());
    QVERIFY(!savedPhoto(folder, "upright.jpg", {300, 900}).isEmpty());
    Job job;
    Run run;
    run.id = "3";
    run.day = "2026-11-02";
    run.photos = "plugs.png\n" + folder.filePath(QStringLiteral("upright.jpg")).toStdString() + "\nnone.png";
    job.runs.push_back(run);
    PhotoReader reader;
    QVERIFY(chosenPhotos(job, folder.path().toStdString(), reader).empty()); // nobody has chosen any
    for (const JobPhoto &p : photosOf(job))
        choosePhoto(job, p.path, true);
    const std::vector<HandoverPhoto> found = chosenPhotos(job, folder.path().toStdString(), reader);
    QCOMPARE(found.size(), std::size_t(3));
    QCOMPARE(format(found[0].of), std::string("Run 3, 2026-11-02"));
    QVERIFY(found[2].jpegBase64.empty());
    // No larger than a page shows, in its proportions, and nothing of the camera's beside the picture.
    const QByteArray bytes = QByteArray::fromBase64(QByteArray::fromStdString(found[0].jpegBase64));
    QCOMPARE(QImage::fromData(bytes).size(), QSize(1600, 600));
    QVERIFY(!bytes.contains("secret"));
    QCOMPARE(QImage::fromData(QByteArray::fromBase64(QByteArray::fromStdString(found[1].jpegBase64))).size(),
             QSize(300, 900));
    Report r;
    r.title = verbatim("Photos");
    for (const HandoverPhoto &p : found)
        if (!p.jpegBase64.empty()) r.blocks.push_back(Picture{p.of, p.jpegBase64});
    const std::string pdf = reportPdf(r, {}, Paper::a4);
    const QString list = tool("pdfimages", {QStringLiteral("-list")}, pdf);
    QVERIFY2(list.contains(QStringLiteral("1600")) && list.contains(QStringLiteral("900")), qPrintable(list));
    QVERIFY(tool("pdfinfo", {}, pdf).contains(QStringLiteral("Pages:           1")));
    const std::string html = htmlPage(r, {});
    QVERIFY(html.find("src=\"data:image/jpeg;base64," + found[0].jpegBase64 + "\"") != std::string::npos);
    QVERIFY(html.find("alt=\"Run 3, 2026-11-02\"") != std::string::npos);
    QVERIFY(plainText(r, {}).find("[Run 3, 2026-11-02]") != std::string::npos);
    QVERIFY(chosenPhotos(job, folder.path().toStdString(), reader, [] { return true; }).empty());
    // Read once; again when another picture stands there, and none where it has gone.
    QCOMPARE(reader.readings(), std::size_t(2));
    QCOMPARE(chosenPhotos(job, folder.path().toStdString(), reader)[1].jpegBase64, found[1].jpegBase64);
    QCOMPARE(reader.readings(), std::size_t(2));
    QVERIFY(!savedPhoto(folder, "upright.jpg", {310, 900}).isEmpty());
    QVERIFY(chosenPhotos(job, folder.path().toStdString(), reader)[1].jpegBase64 != found[1].jpegBase64);
    QCOMPARE(reader.readings(), std::size_t(3));
    QVERIFY(QFile::remove(folder.filePath(QStringLiteral("upright.jpg"))));
    QVERIFY(chosenPhotos(job, folder.path().toStdString(), reader)[1].jpegBase64.empty());
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
