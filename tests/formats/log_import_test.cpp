// SPDX-License-Identifier: GPL-3.0-or-later
// Log files, read from memory. What they hold is compared with pandas and with a writer of MDF in
// tests/cli/log_cli_test.py; here is what those cannot reach.
#include "core/base/error.h"
#include "core/evidence/channel_map.h"
#include "formats/channel_map_json.h"
#include "formats/log_import/log_import.h"
#include "formats/log_import/number_text.h"
#include "formats/log_import/text_form.h"
#include "support/test_main.h"

#include <QFile>

#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <random>

using namespace wheelwright;
namespace fs = std::filesystem;

namespace {

// Keeps what it is handed.
struct Samples {
    std::vector<std::vector<double>> columns;
};
class Kept : public SampleSink {
  public:
    explicit Kept(Samples &to) : m_to(to) {}
    void put(std::size_t series, std::span<const double> samples) override {
        if (series >= m_to.columns.size()) m_to.columns.resize(series + 1);
        m_to.columns[series].insert(m_to.columns[series].end(), samples.begin(), samples.end());
    }

  private:
    Samples &m_to;
};

std::string bytesOf(const fs::path &path) {
    QFile f(QString::fromStdString(path.string()));
    if (!f.open(QIODevice::ReadOnly)) qFatal("%s", path.c_str());
    return f.readAll().toStdString();
}

struct Outcome {
    Samples kept;
    LogRead read;
    LogLayout layout;
    std::string refused; ///< empty: it was read
};

Outcome readText(std::string_view text, const LogReading &how = {}) {
    Outcome out;
    try {
        const LogText bytes(text);
        const auto source = openLog(bytes);
        out.layout = source->layout();
        suggestMap(out.layout);
        Kept kept(out.kept);
        out.read = source->read(kept, how);
    } catch (const InputError &e) {
        out.refused = e.what();
    }
    return out;
}

bool same(const std::vector<double> &a, const std::vector<double> &b) {
    return std::ranges::equal(a, b, [](double x, double y) { return x == y || (x != x && y != y); });
}

} // namespace

class LogImportTest : public QObject {
    Q_OBJECT
  private slots:
    void numbersAreTheNearestDoubles();
    void aRingIsFoundSoon();
    void everyCutOfASmallFileIsRowsOrASentence_data();
    void everyCutOfASmallFileIsRowsOrASentence();
    void flippedBytesAreRowsOrASentence_data() { everyCutOfASmallFileIsRowsOrASentence_data(); }
    void flippedBytesAreRowsOrASentence();
    void blocksAndThreadsMakeNoDifference();
    void stops();
    void goneWrongAndPartly();
    void oddTexts();
    void aMapIsWhatItWas();
};

// Against the C library on numbers of every length, sign and place of the point.
void LogImportTest::numbersAreTheNearestDoubles() {
    std::mt19937_64 random(1);
    for (int i = 0; i < 200'000; ++i) {
        std::string text = random() % 3 == 0 ? "-" : "";
        const auto digits = 1 + random() % 15;
        const auto point = random() % (digits + 2);
        for (std::uint64_t d = 0; d < digits; ++d) {
            if (d == point) text += '.';
            text += static_cast<char>('0' + random() % 10);
        }
        double v = 0;
        const std::string with = text + ",";
        const char *end = fastNumber(with.data(), '.', v);
        QVERIFY2(end == with.data() + text.size(), text.c_str());
        QCOMPARE(v, std::strtod(text.c_str(), nullptr));
    }
    double v = 0;
    for (const char *slow : {"1e5,", "1234567890123456,", ".,", "-,", "x,", ""})
        QVERIFY2(!fastNumber(slow, '.', v), slow);
    QVERIFY(textNumber("1e5", '.') == 1e5 && textNumber("+2,5", ',') == 2.5 && !textNumber("+-1", '.') &&
            !textNumber("2.5", ',') && !textNumber("", '.') && !textNumber("1 000", '.'));
    QVERIFY(std::isinf(*textNumber("1e999", '.')) && *textNumber("1e-999", '.') == 0);
    QVERIFY(textClock("12:34:56.5", '.') == 45296.5 && textClock("1:02", '.') == 62 &&
            textClock("1970-01-02T00:00:01Z", '.') == 86401 && textClock("1970-01-02 01:00", '.') == 90000 &&
            !textClock("12:60", '.') && !textClock("12", '.') && !textClock("1970-13-02 01:00", '.'));
}

// A small file whose list of groups comes back to its beginning takes no longer than it is long.
void LogImportTest::aRingIsFoundSoon() {
    class Counted : public LogText {
      public:
        using LogText::LogText;
        std::size_t read(std::uint64_t at, std::span<char> to) const override {
            ++reads;
            return LogText::read(at, to);
        }
        mutable std::size_t reads = 0;
    };
    std::string ring = bytesOf(TEST_DATA "/logs/plain.mf4");
    constexpr std::size_t firstLinkOfHead = 64 + 24, firstLink = 24; // of the file's head, and of a block
    std::uint64_t group = 0;
    std::memcpy(&group, ring.data() + firstLinkOfHead, sizeof group);
    std::memcpy(ring.data() + group + firstLink, &group, sizeof group);
    const Counted bytes(ring);
    EXPECT_INPUT_ERROR(openLog(bytes), "a ring");
    QVERIFY2(bytes.reads < ring.size(), qPrintable(QString::number(bytes.reads)));
}

void LogImportTest::everyCutOfASmallFileIsRowsOrASentence_data() {
    QTest::addColumn<QString>("path");
    for (const auto &entry : fs::directory_iterator(TEST_DATA "/logs"))
        QTest::newRow(entry.path().filename().c_str()) << QString::fromStdString(entry.path().string());
}

void LogImportTest::everyCutOfASmallFileIsRowsOrASentence() {
    QFETCH(QString, path);
    const std::string bytes = bytesOf(path.toStdString());
    const Outcome whole = readText(bytes);
    QVERIFY2(whole.refused.empty(), whole.refused.c_str());
    LogReading wholly, partly;
    wholly.threads = partly.threads = 1;
    partly.partly = true;
    for (std::size_t end = 0; end < bytes.size(); ++end)
        for (const LogReading &how : {wholly, partly}) {
            const Outcome cut = readText(std::string_view(bytes).substr(0, end), how);
            if (!cut.refused.empty()) continue;
            // What is read is what the whole file begins with.
            QVERIFY(cut.read.rows <= whole.read.rows);
            if (cut.layout.columns.size() != whole.layout.columns.size()) continue; // cut within the names
            for (std::size_t c = 0; c < cut.kept.columns.size(); ++c) {
                const auto &got = cut.kept.columns[c];
                const std::size_t sure = got.empty() ? 0 : got.size() - 1; // the last may be cut itself
                if (cut.read.kinds[c] != whole.read.kinds[c]) continue;
                QVERIFY(sure <= whole.kept.columns[c].size());
                QVERIFY(same(
                    {got.begin(), got.begin() + std::ptrdiff_t(sure)},
                    {whole.kept.columns[c].begin(), whole.kept.columns[c].begin() + std::ptrdiff_t(sure)}));
            }
        }
}

void LogImportTest::flippedBytesAreRowsOrASentence() {
    QFETCH(QString, path);
    const std::string bytes = bytesOf(path.toStdString());
    std::mt19937 random(7);
    int refused = 0;
    for (int i = 0; i < 3000; ++i) {
        std::string flipped = bytes;
        for (unsigned n = 1 + random() % 4; n-- > 0;)
            flipped[random() % flipped.size()] = static_cast<char>(random());
        LogReading how;
        how.threads = 1;
        how.partly = i % 2 == 0;
        refused += !readText(flipped, how).refused.empty();
    }
    QVERIFY(refused > 0); // and it has not crashed, nor run on without end
}

// Longer than a block, with line ends within quotes wherever blocks may be cut.
void LogImportTest::blocksAndThreadsMakeNoDifference() {
    std::string text = "time,rpm,note\n";
    for (int i = 0; i < 60'000; ++i)
        text += std::to_string(i) + "," + std::to_string(i % 7000) +
                (i % 3 == 0 ? ",\"two\nlines, one text\"\n" : ",one\n");
    QVERIFY(text.size() > (1u << 20));
    LogReading one, many;
    one.threads = 1;
    many.threads = 4;
    const Outcome a = readText(text, one), b = readText(text, many);
    QVERIFY2(a.refused.empty() && b.refused.empty(), a.refused.c_str());
    QCOMPARE(a.read.rows, std::size_t{60'000});
    QCOMPARE(a.read.texts[2], (std::vector<std::string>{"two lines, one text", "one"}));
    for (std::size_t c = 0; c < 3; ++c)
        QVERIFY(same(a.kept.columns[c], b.kept.columns[c]));
    for (int i = 0; i < 60'000; ++i)
        QVERIFY(a.kept.columns[0][std::size_t(i)] == i && a.kept.columns[1][std::size_t(i)] == i % 7000 &&
                a.kept.columns[2][std::size_t(i)] == (i % 3 == 0 ? 0 : 1));
}

void LogImportTest::stops() {
    std::string text = "time,rpm\n";
    for (int i = 0; i < 400'000; ++i)
        text += std::to_string(i) + ",1000\n";
    std::stop_source stop;
    LogReading how;
    how.stop = stop.get_token();
    double last = 0;
    how.progress = [&](double share) {
        QVERIFY(share >= last && share <= 1);
        last = share;
        if (share > 0.3) stop.request_stop();
    };
    const Outcome out = readText(text, how);
    QVERIFY(out.read.stopped && out.read.rows < 400'000 && last > 0.3);
}

// What fuzzing has found, so that it stays found.
void LogImportTest::oddTexts() {
    // A CR alone within lines that end in LF is no end of a row: there is no room for more rows than lines.
    readText("Ze00;0;11,7Zeit;Drezh;AF0\r\n3\r;\r\n");
    // A packed block that claims more than the file has is refused, and costs no memory.
    std::string claims = bytesOf(TEST_DATA "/logs/deflated.mf4");
    const std::size_t zip = claims.find("##DZ");
    for (const std::size_t at :
         {zip + 8, zip + 24 + 8, zip + 24 + 16}) // its length, what it unpacks to, what it holds
        claims[at + 4] = 0x17;
    QVERIFY(!readText(claims).refused.empty());
    const Outcome lone = readText("time,rpm\n0,1\n1,2\n1,1\r,2\n2,3\n3,4\n");
    QVERIFY(lone.refused.find("line 4") != std::string::npos);
    QVERIFY(readText("###\n0,1\n1,2\n2,3\n").read.rows == 3); // a remark of nothing is no names
    QVERIFY(readText("time,rpm\r\n0,1\r\n1,2\r\n").read.rows == 2 &&
            readText("time,rpm\r0,1\r1,2\r").read.rows == 2);
}

// The line that is named is the right one, however far behind.
void LogImportTest::goneWrongAndPartly() {
    std::string text = "Logger\ntime,rpm\n";
    for (int i = 0; i < 300'000; ++i)
        text += i == 250'000 ? "250000,1000,7\n" : std::to_string(i) + ",1000\n";
    QVERIFY2(readText(text).refused.find("line 250003 (row 250001), column 2: expected 2 columns") !=
                 std::string::npos,
             readText(text).refused.c_str());
    LogReading partly;
    partly.partly = true;
    const Outcome part = readText(text, partly);
    QCOMPARE(part.read.rows, std::size_t{250'000});
    QCOMPARE(part.kept.columns[0].back(), 249'999.0);
}

void LogImportTest::aMapIsWhatItWas() {
    ChannelMap map{
        {{.name = "a", .role = ChannelRole::lambda, .unit = "AFR", .scale = AfrScale::trueOfFuel},
         {.name = "b", .role = ChannelRole::map, .unit = "psi", .reference = PressureReference::gauge},
         {.name = "b", .role = ChannelRole::knockRetard, .unit = "deg", .reversed = true},
         {.name = "c", .skipped = true},
         {.name = "d", .role = ChannelRole::lambdaTarget, .unit = "AFR", .scale = 13.5}},
        ',',
        ';'};
    const ChannelMap again = channelMapFromJson(channelMapToJson(map));
    QVERIFY(again.columns == map.columns && again.decimal == map.decimal && again.delimiter == map.delimiter);
}

CORE_TEST_MAIN(LogImportTest)
#include "log_import_test.moc"
