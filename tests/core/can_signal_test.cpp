// SPDX-License-Identifier: GPL-3.0-or-later
// Frames worked out by hand, bit by bit.
#include "core/base/error.h"
#include "core/live/can_decoder.h"
#include "support/test_main.h"

#include <cmath>
#include <limits>
#include <random>

using namespace wheelwright;

namespace {

CanFrame frameOf(std::initializer_list<int> bytes, std::uint32_t id = 0x100, bool extended = false) {
    CanFrame f;
    f.id = id;
    f.extended = extended;
    for (const int b : bytes)
        f.data[f.size++] = static_cast<std::uint8_t>(b);
    return f;
}

CanSignal signalOf(int start, int length, CanOrder order, CanNumber number = CanNumber::plain,
                   double scale = 1, double offset = 0) {
    CanSignal s;
    s.name = "x";
    s.startBit = start;
    s.length = length;
    s.order = order;
    s.number = number;
    s.scale = scale;
    s.offset = offset;
    return s;
}

CanMap mapOf(std::vector<CanSignal> numbers, int size = 8, std::uint32_t id = 0x100, bool extended = false) {
    return {{{id, extended, "m", size, std::move(numbers)}}};
}

constexpr CanOrder little = CanOrder::little, big = CanOrder::big;
constexpr CanNumber plain = CanNumber::plain, twos = CanNumber::twosComplement,
                    floating = CanNumber::floating;

} // namespace

class CanSignalTest : public QObject {
    Q_OBJECT
  private slots:
    void handWorked_data();
    void handWorked();
    void everyBitStandsWhereItIsSaid();
    void ordersMirrorOneAnother();
    void comesBackAsItWent();
    void isHeldToWhatBitsSay();
    void otherBitsStay();
    void tooShortSaysNothing();
    void multiplexedOnesComeInTurn();
    void decoderKeepsWhatIsNotInAFrame();
    void mapsThatMakeNoSense_data();
    void mapsThatMakeNoSense();
};

// 12 34 56 78 9A BC DE F0: the first byte is bits 0 to 7, 0x12 = 0001 0010.
void CanSignalTest::handWorked_data() {
    QTest::addColumn<int>("start");
    QTest::addColumn<int>("length");
    QTest::addColumn<bool>("bigEnd");
    QTest::addColumn<int>("number");
    QTest::addColumn<double>("value");
    const auto row = [](const char *name, int start, int length, CanOrder order, CanNumber number,
                        double value) {
        QTest::newRow(name) << start << length << (order == big) << static_cast<int>(number) << value;
    };
    row("little byte", 0, 8, little, plain, 0x12);
    row("little word", 0, 16, little, plain, 0x3412);
    row("little across", 4, 8, little, plain, 0x41); // high half of 12, low half of 34
    row("little one bit", 1, 1, little, plain, 1);   // 0x12 has bits 1 and 4
    row("little another", 0, 1, little, plain, 0);
    row("little twelve", 12, 12, little, plain, 0x563); // high half of 34, all of 56
    row("little all", 0, 64, little, plain, static_cast<double>(0xF0DEBC9A78563412));
    row("big byte", 7, 8, big, plain, 0x12);
    row("big word", 7, 16, big, plain, 0x1234);
    row("big across", 3, 8, big, plain, 0x23); // low half of 12, high half of 34
    row("big twelve", 3, 12, big, plain, 0x234);
    row("big one bit", 4, 1, big, plain, 1);
    row("big from the middle", 21, 10, big, plain, 0x167); // 56 = 01|010110, 78 = 0111|1000: 010110 0111
    row("big all", 7, 64, big, plain, static_cast<double>(0x123456789ABCDEF0));
    row("little signed", 32, 8, little, twos, static_cast<double>(0x9A - 256));
    row("little signed positive", 0, 8, little, twos, 0x12);
    row("little signed twelve", 36, 12, little, twos, static_cast<double>(0xBC9 - 4096));
    row("big signed", 39, 16, big, twos, static_cast<double>(0x9ABC - 65536));
    row("big signed three", 38, 3, big, twos, 1); // 9A = 1001 1010: after the top bit 001
    row("one bit signed", 39, 1, big, twos, -1);
}

void CanSignalTest::handWorked() {
    QFETCH(int, start);
    QFETCH(int, length);
    QFETCH(bool, bigEnd);
    QFETCH(int, number);
    QFETCH(double, value);
    const CanFrame f = frameOf({0x12, 0x34, 0x56, 0x78, 0x9A, 0xBC, 0xDE, 0xF0});
    const CanSignal s = signalOf(start, length, bigEnd ? big : little, static_cast<CanNumber>(number));
    QCOMPARE(valueOf(f, s), value);
    CanSignal scaled = s;
    scaled.scale = 0.5;
    scaled.offset = -40;
    QCOMPARE(valueOf(f, scaled), value * 0.5 - 40);
}

// 1.5 is 3FC00000 (IEEE 754); of two words −2.5 is C004000000000000.
void CanSignalTest::everyBitStandsWhereItIsSaid() {
    QCOMPARE(valueOf(frameOf({0x00, 0x00, 0xC0, 0x3F}), signalOf(0, 32, little, floating)), 1.5);
    QCOMPARE(valueOf(frameOf({0x3F, 0xC0, 0x00, 0x00}), signalOf(7, 32, big, floating)), 1.5);
    QCOMPARE(valueOf(frameOf({0xC0, 0x04, 0, 0, 0, 0, 0, 0}), signalOf(7, 64, big, floating)), -2.5);
    QCOMPARE(valueOf(frameOf({0, 0, 0, 0, 0, 0, 0x04, 0xC0}), signalOf(0, 64, little, floating)), -2.5);
    // One bit set after the other: little reads it at its place, big from the other end of the byte on.
    for (int bit = 0; bit < 64; ++bit) {
        CanFrame f = frameOf({0, 0, 0, 0, 0, 0, 0, 0});
        f.data[static_cast<std::size_t>(bit / 8)] = static_cast<std::uint8_t>(1U << (bit % 8));
        QCOMPARE(*bitsOf(f, signalOf(0, 64, little)), std::uint64_t(1) << bit);
        QCOMPARE(*bitsOf(f, signalOf(7, 64, big)), std::uint64_t(1) << ((7 - bit / 8) * 8 + bit % 8));
    }
}

// The frame backwards, byte by byte, makes of one order the other.
void CanSignalTest::ordersMirrorOneAnother() {
    std::mt19937 random(4);
    for (int t = 0; t < 2000; ++t) {
        CanFrame f = frameOf({0, 0, 0, 0, 0, 0, 0, 0}), mirrored = f;
        for (std::size_t i = 0; i < 8; ++i)
            f.data[i] = mirrored.data[7 - i] = static_cast<std::uint8_t>(random());
        const int length = 1 + static_cast<int>(random() % 64),
                  start = static_cast<int>(random() % static_cast<unsigned>(65 - length));
        const int top =
            start + length - 1; // of the little one; in the mirrored frame the same bit of another byte
        QCOMPARE(*bitsOf(f, signalOf(start, length, little)),
                 *bitsOf(mirrored, signalOf((7 - top / 8) * 8 + top % 8, length, big)));
    }
}

void CanSignalTest::comesBackAsItWent() {
    std::mt19937 random(7);
    int tried = 0;
    for (int t = 0; t < 4000; ++t) {
        const CanOrder order = random() % 2 ? big : little;
        CanNumber number = static_cast<CanNumber>(random() % 3);
        const int length =
            number == floating ? (random() % 2 ? 32 : 64) : 1 + static_cast<int>(random() % 52);
        CanSignal s = signalOf(static_cast<int>(random() % 64), length, order, number, 0.25, -8);
        const CanMap map = mapOf({s});
        try {
            validate(map);
        } catch (const InputError &) {
            continue; // it does not fit there
        }
        ++tried;
        CanFrame f = frameOf({0, 0, 0, 0, 0, 0, 0, 0});
        for (std::size_t i = 0; i < 8; ++i)
            f.data[i] = static_cast<std::uint8_t>(random());
        const double most = std::ldexp(1.0, length - (number == twos ? 1 : 0));
        double raw = number == floating ? static_cast<double>(static_cast<float>(random()) / 77)
                                        : std::floor(static_cast<double>(random()) / 4294967296.0 * most);
        if (number == twos && random() % 2) raw = -raw;
        const double value = raw * 0.25 - 8;
        putValue(f, s, value);
        if (number == floating)
            QVERIFY(std::abs(valueOf(f, s) - value) <= std::abs(value) * 1e-6);
        else
            QCOMPARE(valueOf(f, s), value);
    }
    QVERIFY(tried > 800);
}

void CanSignalTest::isHeldToWhatBitsSay() {
    CanFrame f = frameOf({0, 0, 0, 0, 0, 0, 0, 0});
    const auto put = [&](const CanSignal &s, double v) {
        putValue(f, s, v);
        return valueOf(f, s);
    };
    QCOMPARE(put(signalOf(0, 8, little), 300), 255.0);
    QCOMPARE(put(signalOf(0, 8, little), -3), 0.0);
    QCOMPARE(put(signalOf(0, 8, little, twos), 300), 127.0);
    QCOMPARE(put(signalOf(0, 8, little, twos), -300), -128.0);
    QCOMPARE(put(signalOf(0, 8, little, plain, 0.5), 3.3), 3.5); // the nearest step
    QCOMPARE(put(signalOf(0, 64, little), 1e30), static_cast<double>(~std::uint64_t(0)));
    QCOMPARE(put(signalOf(0, 64, little, twos), -1e30),
             static_cast<double>(std::numeric_limits<std::int64_t>::min()));
    QCOMPARE(put(signalOf(0, 8, little), std::nan("")), 0.0);
}

void CanSignalTest::otherBitsStay() {
    CanFrame f = frameOf({0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF});
    putValue(f, signalOf(3, 12, big), 0);
    // Low half of the first byte and all of the second.
    QCOMPARE(f.data[0], std::uint8_t(0xF0));
    QCOMPARE(f.data[1], std::uint8_t(0x00));
    QCOMPARE(f.data[2], std::uint8_t(0xFF));
    CanFrame empty;
    putValue(empty, signalOf(8, 8, little), 5);
    QCOMPARE(empty.size, std::uint8_t(2));
}

void CanSignalTest::tooShortSaysNothing() {
    const CanFrame f = frameOf({0x12, 0x34});
    QVERIFY(bitsOf(f, signalOf(8, 8, little)) && !bitsOf(f, signalOf(9, 8, little)));
    QVERIFY(bitsOf(f, signalOf(15, 8, big)) && !bitsOf(f, signalOf(14, 8, big)));
    QVERIFY(std::isnan(valueOf(f, signalOf(16, 1, little))));
}

void CanSignalTest::multiplexedOnesComeInTurn() {
    CanSignal page = signalOf(0, 8, little), a = signalOf(8, 8, little), b = signalOf(8, 16, little),
              always = signalOf(56, 8, little);
    page.name = "page";
    page.multiplexer = true;
    a.name = "a";
    a.multiplexValue = 0;
    b.name = "b";
    b.multiplexValue = 3;
    always.name = "always";
    const CanDecoder decoder(mapOf({page, a, b, always}));
    std::vector<double> v(4, std::nan(""));
    std::vector<std::size_t> changed;
    QVERIFY(decoder.take(frameOf({0, 7, 0, 0, 0, 0, 0, 1}), v, &changed));
    QCOMPARE(changed, (std::vector<std::size_t>{0, 1, 3}));
    QVERIFY(v[1] == 7 && std::isnan(v[2]) && v[3] == 1);
    QVERIFY(decoder.take(frameOf({3, 1, 2, 0, 0, 0, 0, 2}), v));
    QVERIFY(v[0] == 3 && v[1] == 7 && v[2] == 0x201 && v[3] == 2);
    QVERIFY(decoder.take(frameOf({5, 9, 9, 0, 0, 0, 0, 4}), v)); // a page that nobody knows
    QVERIFY(v[1] == 7 && v[2] == 0x201 && v[3] == 4);
}

void CanSignalTest::decoderKeepsWhatIsNotInAFrame() {
    CanMap map = mapOf({signalOf(0, 8, little)});
    CanMessage other = map.messages[0];
    other.extended = true; // the same number is another identifier
    other.name = "n";
    map.messages.push_back(other);
    const CanDecoder decoder(map);
    QCOMPARE(decoder.channels()[0].name, std::string("m.x")); // two have the name
    QCOMPARE(decoder.channels()[1].name, std::string("n.x"));
    std::vector<double> v(2, std::nan(""));
    QVERIFY(decoder.take(frameOf({1}), v));
    QVERIFY(decoder.take(frameOf({2}, 0x100, true), v));
    QVERIFY(v[0] == 1 && v[1] == 2);
    QVERIFY(!decoder.take(frameOf({3}, 0x101), v)); // unknown
    QVERIFY(!decoder.take(frameOf({}), v));         // known, and empty
    QVERIFY(v[0] == 1 && v[1] == 2);
    QCOMPARE(CanDecoder(mapOf({signalOf(0, 8, little)})).channels()[0].name, std::string("x"));
    // A floating number that is none says nothing.
    const CanDecoder f(mapOf({signalOf(0, 32, little, floating)}));
    std::vector<double> w(1, 5);
    QVERIFY(!f.take(frameOf({0, 0, 0xC0, 0x7F}), w));
    QCOMPARE(w[0], 5.0);
}

void CanSignalTest::mapsThatMakeNoSense_data() {
    QTest::addColumn<int>("which");
    QTest::addColumn<QString>("where");
    for (int i = 0; i < 13; ++i)
        QTest::addRow("%d", i) << i << (i < 5 ? "message m" : "message m signal");
}

void CanSignalTest::mapsThatMakeNoSense() {
    QFETCH(int, which);
    QFETCH(QString, where);
    CanMap map = mapOf({signalOf(0, 8, little)});
    validate(map);
    CanMessage &m = map.messages[0];
    CanSignal &s = m.numbers[0];
    CanSignal second = s;
    switch (which) {
    case 0:
        m.id = 0x800;
        break;
    case 1:
        map.messages.push_back(m);
        break;
    case 2:
        m.size = 65;
        break;
    case 3:
        m.numbers.push_back(second);
        break;
    case 4:
        second.name = "y";
        second.multiplexer = s.multiplexer = true;
        m.numbers.push_back(second);
        break;
    case 5:
        s.name.clear();
        break;
    case 6:
        s.length = 0;
        break;
    case 7:
        s.length = 65;
        break;
    case 8:
        s.startBit = 57;
        break;
    case 9:
        s = signalOf(56, 9, big);
        break; // goes on into a ninth byte
    case 10:
        s.number = floating;
        break;
    case 11:
        s.scale = 0;
        break;
    default:
        s.multiplexValue = 1;
        break;
    }
    EXPECT_INPUT_ERROR(validate(map), where.toStdString().c_str());
    EXPECT_INPUT_ERROR(CanDecoder{map}, where.toStdString().c_str());
    // 29 bits have room for more.
    CanMap extended = mapOf({signalOf(0, 8, little)}, 8, 0x1FFFFFFF, true);
    validate(extended);
    extended.messages[0].id = 0x20000000;
    EXPECT_INPUT_ERROR(validate(extended), "message m");
}

CORE_TEST_MAIN(CanSignalTest)
#include "can_signal_test.moc"
