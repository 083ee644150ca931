// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "devices/live_reader.h"
#include "support/test_main.h"

#include <QCanBus>
#include <QTcpServer>
#include <QTcpSocket>

#include <atomic>
#include <memory>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

CanMap oneNumber() {
    CanMap map;
    CanMessage m;
    m.id = 0x100;
    m.name = "Engine";
    m.numbers.push_back({"rpm", 0, 16, CanOrder::little, CanNumber::plain, 1, 0, "rpm", false, {}});
    map.messages.push_back(m);
    return map;
}

CanFrame frame(double timeS, int value, std::uint32_t id = 0x100) {
    CanFrame f;
    f.timeS = timeS;
    f.id = id;
    f.size = 8;
    f.data[0] = static_cast<std::uint8_t>(value & 0xFF);
    f.data[1] = static_cast<std::uint8_t>(value >> 8);
    return f;
}

std::uint16_t freePort() {
    QTcpServer server;
    server.listen(QHostAddress::LocalHost);
    return server.serverPort();
}

/// The engine's end of a virtual bus, or somebody else who sits on it.
class Other {
  public:
    explicit Other(std::uint16_t port) {
        m_device.reset(QCanBus::instance()->createDevice(
            QStringLiteral("virtualcan"), QStringLiteral("tcp://127.0.0.1:%1/can0").arg(port)));
        m_device->connectDevice();
        if (!QTest::qWaitFor([&] { return m_device->state() == QCanBusDevice::ConnectedState; }))
            qFatal("no virtual bus");
    }
    void send(int value) {
        QByteArray bytes(8, 0);
        bytes[0] = static_cast<char>(value & 0xFF);
        bytes[1] = static_cast<char>(value >> 8);
        m_device->writeFrame(QCanBusFrame(0x100, bytes));
        QCoreApplication::processEvents();
    }
    std::vector<int> heard() {
        std::vector<int> out;
        for (const QCanBusFrame &f : m_device->readAllFrames())
            out.push_back(quint8(f.payload()[0]));
        return out;
    }

  private:
    std::unique_ptr<QCanBusDevice> m_device;
};

/// A frame as a virtual bus hands it on.
QByteArray line(quint32 id, const QByteArray &bytes) {
    return QByteArray::number(id) + "##" + bytes.toHex() + "\n";
}

/// Something that listens on a port as a virtual bus does, but is none.
class RawServer {
  public:
    explicit RawServer(std::uint16_t port) {
        m_server.listen(QHostAddress::LocalHost, port);
        QObject::connect(&m_server, &QTcpServer::newConnection, &m_server, [this] {
            m_peer = m_server.nextPendingConnection();
            QObject::connect(m_peer, &QTcpSocket::readyRead, m_peer, [this] { m_got += m_peer->readAll(); });
        });
    }
    bool connected() const { return m_peer && m_peer->state() == QAbstractSocket::ConnectedState; }
    void write(const QByteArray &bytes) {
        m_peer->write(bytes);
        m_peer->flush();
    }
    const QByteArray &got() const { return m_got; }

  private:
    QTcpServer m_server;
    QPointer<QTcpSocket> m_peer;
    QByteArray m_got;
};

struct Kept : RowSink {
    void keep(const LiveRows &rows, std::span<const std::string> said) override {
        ++calls;
        if (slowMs > 0) QThread::msleep(static_cast<unsigned long>(slowMs));
        if (fail) throw InputError("a.wwjob", MARKED("expected.room", "room"), "none");
        numbers.insert(numbers.end(), rows.numbers.begin(), rows.numbers.end());
        events.assign(said.begin(), said.end());
    }
    std::vector<double> numbers;
    std::vector<std::string> events;
    int slowMs = 0;
    std::atomic<int> calls{0};
    std::atomic<bool> fail{false};
};

} // namespace

class LiveReaderTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { quietBusPlugins(); }
    void addresses_data();
    void addresses();
    void hearsABus();
    void nothingIsEverSent();
    void noFrameReachesTheOthers();
    void aBusThatGoesIsSaidAndTriedAgain();
    void garbageIsNoNumber();
    void aSystemInterfaceThatIsNotThereIsSaidSo();
    void recordsAndKeeps();
    void theLastWordIsKept();
    void aDiskThatFailsEndsTheRecordingAlone();
    void whoFallsBehindSaysSo();
    void aSlowDiskLosesNothing();
    void remembersOnlySoMuch();

  private:
    std::uint16_t m_port = freePort(); ///< a program has one virtual bus at most
};

void LiveReaderTest::addresses_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("said"); // empty: it is none
    for (const char *good : {"virtual:1", "virtual:65535", "socketcan:can0", "socketcan:vcan-1.a_b"})
        QTest::newRow(good) << good << good;
    for (const char *bad : {"", "virtual:", "virtual:0", "virtual:65536", "virtual:12x", "virtual:-4",
                            "virtual:192.168.0.4:41234", "virtual:localhost:41234", "socketcan:", "can0",
                            "socketcan:a b", "socketcan:../../x", "socketcan:sixteen-letters-", "41234"})
        QTest::newRow(bad[0] ? bad : "nothing") << bad << QString();
}

void LiveReaderTest::addresses() {
    QFETCH(QString, text);
    QFETCH(QString, said);
    if (said.isEmpty())
        EXPECT_INPUT_ERROR(busAddressFrom(text.toStdString(), "--bus"), "--bus",
                           "virtual:PORT of this machine", "'" + text.toStdString() + "'");
    else
        QCOMPARE(inWords(busAddressFrom(text.toStdString(), "--bus")), said.toStdString());
}

void LiveReaderTest::hearsABus() {
    const std::uint16_t port = m_port;
    Other engine(port);
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    LiveReader reader(oneNumber(), queue, clock);
    const BusListener listener({BusAddress::Kind::loopback, port, {}}, queue, clock);
    QVERIFY(QTest::qWaitFor([&] { return listener.state().connected; }));
    int value = 1000;
    QVERIFY(QTest::qWaitFor([&] {
        engine.send(++value);
        return reader.moment().known >= 20;
    }));
    QTRY_COMPARE(reader.moment().values.at(0), double(value));
    QVERIFY(clock() - reader.moment().lastHeardS < 5);
    // It stalls: what it said last is not held for ever.
    QVERIFY(QTest::qWaitFor([&] { return std::isnan(reader.moment().values.at(0)); }, 8000));
    QVERIFY(listener.state().connected);
    QCOMPARE(listener.state().losses, std::size_t{0});
}

// All bytes that leave, from the first to the last: what tells a virtual bus that somebody comes and goes,
// and no frame among them.
void LiveReaderTest::nothingIsEverSent() {
    const std::uint16_t port = freePort();
    RawServer server(port);
    {
        FrameQueue queue;
        const LiveClock clock = steadyClock();
        LiveReader reader(oneNumber(), queue, clock);
        const BusListener listener({BusAddress::Kind::loopback, port, {}}, queue, clock);
        QVERIFY(QTest::qWaitFor([&] { return server.connected(); }));
        server.write(line(0x100, QByteArray(8, 1)));
        QTRY_COMPARE(reader.moment().known, std::size_t{1});
        auto kept = std::make_shared<Kept>();
        reader.record(kept);
        reader.event("mark 1");
        QTest::qWait(600);
        reader.event("abort");
        reader.endRecording();
    }
    QTest::qWait(100);
    for (const QByteArray &line : server.got().split('\n'))
        QVERIFY2(line.isEmpty() || line == "connect:can0" || line == "disconnect:can0", line.constData());
    QVERIFY(server.got().startsWith("connect:can0"));
}

// The same seen by somebody who sits on the bus.
void LiveReaderTest::noFrameReachesTheOthers() {
    const std::uint16_t port = m_port;
    Other engine(port), witness(port);
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    int sent = 0;
    {
        LiveReader reader(oneNumber(), queue, clock);
        const BusListener listener({BusAddress::Kind::loopback, port, {}}, queue, clock);
        reader.record(std::make_shared<Kept>());
        QVERIFY(QTest::qWaitFor([&] {
            engine.send(++sent);
            return reader.moment().known >= 30;
        }));
        reader.event("abort");
        reader.endRecording();
    }
    QTest::qWait(100);
    QVERIFY(engine.heard().empty());
    // Those of the engine and nothing else; the first may have come before the witness.
    const std::vector<int> heard = witness.heard();
    QVERIFY(heard.size() >= 30);
    for (std::size_t i = 0; i < heard.size(); ++i)
        QCOMPARE(heard[i], sent - static_cast<int>(heard.size() - 1 - i));
}

void LiveReaderTest::aBusThatGoesIsSaidAndTriedAgain() {
    const std::uint16_t port = freePort();
    auto server = std::make_unique<RawServer>(port);
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    LiveReader reader(oneNumber(), queue, clock);
    const BusListener listener({BusAddress::Kind::loopback, port, {}}, queue, clock);
    QVERIFY(QTest::qWaitFor([&] { return server->connected() && listener.state().connected; }));
    server.reset();
    QVERIFY(QTest::qWaitFor([&] { return listener.state().losses == 1; }));
    // Whoever comes next to that bus is heard.
    server = std::make_unique<RawServer>(port);
    QVERIFY(QTest::qWaitFor([&] { return server->connected(); }));
    server->write(line(0x100, QByteArray("\x07\x00", 2)));
    QTRY_COMPARE(reader.moment().known, std::size_t{1});
    QVERIFY(listener.state().connected);
    QCOMPARE(reader.moment().values.at(0), 7.0);
}

// Frames of every identifier, length and content, as a bus with a broken device has them. What no virtual bus
// would say at all is not tried: the toolkit's own plugin reads those lines, and does not survive them.
void LiveReaderTest::garbageIsNoNumber() {
    const std::uint16_t port = freePort();
    RawServer server(port);
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    LiveReader reader(oneNumber(), queue, clock);
    const BusListener listener({BusAddress::Kind::loopback, port, {}}, queue, clock);
    QVERIFY(QTest::qWaitFor([&] { return server.connected() && listener.state().connected; }));
    quint32 chance = 1;
    const auto next = [&](quint32 below) {
        chance = chance * 1664525 + 1013904223;
        return (chance >> 8) % below;
    };
    int ours = 0, others = 0;
    for (int i = 0; i < 2000; ++i) {
        QByteArray bytes;
        for (quint32 n = next(9); n > 0; --n)
            bytes += static_cast<char>(next(256));
        const bool known = next(4) == 0;
        (known && bytes.size() >= 2 ? ours : others) += 1;
        server.write(line(known ? 0x100 : 0x101 + next(0x600), bytes));
    }
    QVERIFY(QTest::qWaitFor([&] { return reader.moment().heard == 2000; }));
    QTRY_COMPARE(reader.moment().known, std::size_t(ours));
    QCOMPARE(reader.moment().unknown, std::size_t(others)); // too short, or of nobody that the map knows
    server.write(line(0x100, QByteArray("\x34\x12", 2)));
    QTRY_COMPARE(reader.moment().values.at(0), double(0x1234));
}

void LiveReaderTest::aSystemInterfaceThatIsNotThereIsSaidSo() {
    FrameQueue queue;
    const BusListener listener({BusAddress::Kind::socketCan, 0, "nothere0"}, queue, steadyClock());
    QVERIFY(QTest::qWaitFor([&] { return !listener.state().trouble.empty(); }));
    const std::string said = format(listener.state().trouble);
    QVERIFY2(said.starts_with("socketcan:nothere0 does not answer"), said.c_str());
    QVERIFY2(said.find("says: .") == std::string::npos, said.c_str()); // never an empty reason
    QVERIFY(!listener.state().connected);
}

void LiveReaderTest::recordsAndKeeps() {
    FrameQueue queue;
    std::atomic<double> now{50};
    LiveReader reader(oneNumber(), queue, [&] { return now.load(); }, {100, 0.4, 120});
    auto kept = std::make_shared<Kept>();
    reader.record(kept);
    // The clock is in hand: a frame each 10 ms for a second.
    for (int i = 0; i < 100; ++i) {
        queue.push(frame(50 + 0.01 * i, i));
        now = 50 + 0.01 * i;
        if (i == 40) reader.event("mark 1");
        QTest::qWait(1);
    }
    QTRY_VERIFY(kept->calls >= 1); // before it has ended
    now = 50.995;
    QTRY_COMPARE(reader.moment().known, std::size_t{100});
    reader.endRecording();
    QVERIFY(!reader.moment().recording);
    QCOMPARE(kept->numbers.size(), std::size_t{100 * 3});
    for (std::size_t i = 0; i < 100; ++i) {
        COMPARE_NEAR(kept->numbers[i * 3], 0.01 * static_cast<double>(i), 1e-9);
        // The frame of that very time, or the one before: sums of hundredths are not exact.
        QVERIFY(kept->numbers[i * 3 + 1] >= static_cast<double>(i) - 1 &&
                kept->numbers[i * 3 + 1] <= static_cast<double>(i));
    }
    QCOMPARE(kept->events, std::vector<std::string>{"mark 1"});
    COMPARE_NEAR(reader.moment().recordedS, 1, 1e-9);
}

// What is said at the very end is in it.
void LiveReaderTest::theLastWordIsKept() {
    FrameQueue queue;
    LiveReader reader(oneNumber(), queue, [] { return 7.0; }, {100, 0.4, 120});
    auto kept = std::make_shared<Kept>();
    reader.record(kept);
    reader.event("abort");
    reader.endRecording();
    QCOMPARE(kept->events, std::vector<std::string>{"abort"});
    bool there = false;
    for (std::size_t i = 2; i < kept->numbers.size(); i += 3)
        there |= kept->numbers[i] == 0;
    QVERIFY(there);
    reader.record(kept);
    QTest::qWait(50); // its only row is made, the clock stands still
    reader.event("again");
    kept->numbers.clear();
    reader.endRecording();
    QVERIFY(!kept->numbers.empty());
    QCOMPARE(kept->numbers.back(), 0.0);
}

void LiveReaderTest::aDiskThatFailsEndsTheRecordingAlone() {
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    LiveReader reader(oneNumber(), queue, clock, {100, 0.05, 120});
    auto kept = std::make_shared<Kept>();
    kept->fail = true;
    reader.record(kept);
    QVERIFY(QTest::qWaitFor([&] { return !reader.moment().recording; }));
    QVERIFY(format(reader.moment().trouble).find("expected room, found none") != std::string::npos);
    queue.push(frame(clock(), 5));
    QTRY_COMPARE(reader.moment().values.at(0), 5.0); // it goes on hearing
    reader.endRecording();
    kept->fail = false;
    reader.record(kept); // and can begin again
    QVERIFY(reader.moment().trouble.empty());
    QTest::qWait(100);
    reader.endRecording();
    QVERIFY(!kept->numbers.empty());
}

void LiveReaderTest::whoFallsBehindSaysSo() {
    FrameQueue queue(100);
    for (int i = 0; i < 130; ++i)
        queue.push(frame(0, i));
    QCOMPARE(queue.heard(), std::size_t{130});
    QCOMPARE(queue.dropped(), std::size_t{30});
    std::vector<CanFrame> taken;
    queue.takeInto(taken);
    QCOMPARE(taken.size(), std::size_t{100});
    QCOMPARE(int(taken.front().data[0]), 30); // the oldest went
    QCOMPARE(int(taken.back().data[0]), 129);
    queue.takeInto(taken);
    QVERIFY(taken.empty());
    // A reader says it with its moment.
    const LiveReader reader(oneNumber(), queue, steadyClock());
    QCOMPARE(reader.moment().dropped, std::size_t{30});
}

void LiveReaderTest::aSlowDiskLosesNothing() {
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    LiveReader reader(oneNumber(), queue, clock, {100, 0.02, 120});
    auto kept = std::make_shared<Kept>();
    kept->slowMs = 600;
    reader.record(kept);
    double longest = 0;
    for (int i = 0; i < 500; ++i) {
        queue.push(frame(clock(), i));
        const double asked = clock();
        (void)reader.moment();
        longest = std::max(longest, clock() - asked);
        QTest::qWait(1);
    }
    reader.endRecording();
    QTRY_COMPARE(reader.moment().known, std::size_t{500});
    QCOMPARE(queue.dropped(), std::size_t{0});
    QVERIFY2(longest < 0.4, qPrintable(QString::number(longest))); // who asks does not wait for the disk
    // Rows are at even times all the same, whatever the disk did.
    const auto n = kept->numbers.size() / 3;
    QVERIFY(n > 50);
    for (std::size_t i = 0; i < n; ++i)
        COMPARE_NEAR(kept->numbers[i * 3], 0.01 * static_cast<double>(i), 1e-9);
}

void LiveReaderTest::remembersOnlySoMuch() {
    FrameQueue queue;
    std::atomic<double> now{0};
    const LiveReader reader(oneNumber(), queue, [&] { return now.load(); }, {10, 0.4, 2});
    now = 100;
    QTRY_VERIFY(reader.rows().count() >= 20);
    const LiveRows rows = reader.rows();
    QVERIFY(rows.count() >= 20 && rows.count() <= 25);
    COMPARE_NEAR(rows.row(rows.count() - 1)[0], 100, 1e-9); // the newest
}

CORE_TEST_MAIN(LiveReaderTest)
#include "live_reader_test.moc"
