// SPDX-License-Identifier: GPL-3.0-or-later
#include "devices/bus_listener.h"

#include <QCanBus>
#include <QLoggingCategory>
#include <QTimer>

#include <algorithm>
#include <chrono>

namespace wheelwright {
namespace {

constexpr int againMs = 500;

constexpr PhraseText noAnswer =
    MARKED("bus.no_answer", "{a} does not answer: is it there, and up? The system says: {A}.");
constexpr PhraseText nothingSaid = MARKED("bus.says_nothing", "nothing");

CanFrame frameFrom(const QCanBusFrame &f, double timeS) {
    CanFrame out;
    out.timeS = timeS;
    out.id = f.frameId();
    out.extended = f.hasExtendedFrameFormat();
    const QByteArray bytes = f.payload();
    out.size = static_cast<std::uint8_t>(std::min<qsizetype>(bytes.size(), mostFrameBytes));
    std::copy_n(bytes.begin(), out.size, out.data.begin());
    return out;
}

} // namespace

LiveClock steadyClock() {
    return [] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
    };
}

/// Lives in the listener's thread.
class BusListener::Wire : public QObject {
  public:
    Wire(BusAddress address, FrameQueue &queue, LiveClock clock, BusListener &listener)
        : m_address(std::move(address)), m_queue(queue), m_clock(std::move(clock)), m_listener(listener) {}

    void begin() {
        m_again = new QTimer(this);
        connect(m_again, &QTimer::timeout, this, [this] { tryIt(); });
        m_again->start(againMs);
        tryIt();
    }

  private:
    void tryIt() {
        if (m_device && m_device->state() != QCanBusDevice::UnconnectedState) return;
        const bool loopback = m_address.kind == BusAddress::Kind::loopback;
        const QString name = loopback ? QStringLiteral("tcp://127.0.0.1:%1/can0").arg(m_address.port)
                                      : QString::fromStdString(m_address.interface);
        QString why;
        m_device.reset(QCanBus::instance()->createDevice(
            loopback ? QStringLiteral("virtualcan") : QStringLiteral("socketcan"), name, &why));
        if (m_device) {
            connect(m_device.get(), &QCanBusDevice::framesReceived, this, [this] { hear(); });
            connect(m_device.get(), &QCanBusDevice::stateChanged, this, [this] { look(); });
            if (m_device->connectDevice()) return look();
            why = m_device->errorString();
        }
        // What comes of it may be an empty text.
        Phrase system = why.isEmpty() ? Phrase(nothingSaid) : verbatim(why.toStdString());
        const std::scoped_lock lock(m_listener.m_mutex);
        m_listener.m_state.trouble = Phrase{noAnswer, {}, {inWords(m_address)}, {std::move(system)}};
    }
    void look() {
        const bool connected = m_device && m_device->state() == QCanBusDevice::ConnectedState;
        const std::scoped_lock lock(m_listener.m_mutex);
        State &s = m_listener.m_state;
        if (s.connected && !connected) ++s.losses;
        s.connected = connected;
        if (connected) s.trouble = {};
    }
    void hear() {
        const double now = m_clock();
        for (const QCanBusFrame &f : m_device->readAllFrames()) {
            if (f.frameType() == QCanBusFrame::DataFrame && f.isValid()) {
                m_queue.push(frameFrom(f, now));
            } else if (f.frameType() != QCanBusFrame::RemoteRequestFrame) {
                const std::scoped_lock lock(m_listener.m_mutex);
                ++m_listener.m_state.errors;
            }
        }
    }

    BusAddress m_address;
    FrameQueue &m_queue;
    LiveClock m_clock;
    BusListener &m_listener;
    std::unique_ptr<QCanBusDevice> m_device;
    QTimer *m_again = nullptr;
};

void quietBusPlugins() {
    QLoggingCategory::setFilterRules(QStringLiteral("qt.canbus*=false"));
}

BusListener::BusListener(const BusAddress &address, FrameQueue &queue, LiveClock clock) {
    auto *wire = new Wire(address, queue, std::move(clock), *this);
    wire->moveToThread(&m_thread);
    QObject::connect(&m_thread, &QThread::started, wire, [wire] { wire->begin(); });
    QObject::connect(&m_thread, &QThread::finished, wire, &QObject::deleteLater);
    m_thread.start();
}

BusListener::~BusListener() {
    m_thread.quit();
    m_thread.wait();
}

BusListener::State BusListener::state() const {
    const std::scoped_lock lock(m_mutex);
    return m_state;
}

} // namespace wheelwright
