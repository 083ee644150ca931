// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/practice/bus_run.h"

#include "core/base/error.h"
#include "core/live/practice_frames.h"
#include "core/practice/inspection.h"
#include "devices/bus_address.h"
#include "devices/bus_listener.h"

#include <QCanBus>
#include <QCoreApplication>
#include <QSocketNotifier>
#include <QThread>

#include <nlohmann/json.hpp>

#include <arpa/inet.h>
#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

#include <deque>
#include <iostream>
#include <memory>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

constexpr const char *freePort = "virtual:0";

std::uint16_t aFreePort() {
    const int s = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_in at{};
    at.sin_family = AF_INET;
    at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    socklen_t size = sizeof at;
    auto *address = reinterpret_cast<sockaddr *>(&at);
    const bool good = s >= 0 && ::bind(s, address, size) == 0 && ::getsockname(s, address, &size) == 0;
    if (s >= 0) ::close(s);
    if (!good) throw InputError("--bus", verbatim("a free port of this machine"), "none");
    return ntohs(at.sin_port);
}

void say(const Json &what) {
    std::cout << what.dump() << std::endl;
}

/// The engine's end of the bus: the only place of the program that sends frames, and it sends them on a bus
/// that does not leave this machine.
class EngineEnd {
  public:
    explicit EngineEnd(std::uint16_t port) {
        QString why;
        m_device.reset(QCanBus::instance()->createDevice(
            QStringLiteral("virtualcan"), QStringLiteral("tcp://127.0.0.1:%1/can0").arg(port), &why));
        if (!m_device || !m_device->connectDevice())
            throw InputError("--bus", verbatim("a virtual bus on port " + std::to_string(port)),
                             why.isEmpty() ? std::string("none could be made") : why.toStdString());
        for (int i = 0; i < 200 && m_device->state() != QCanBusDevice::ConnectedState; ++i) {
            QCoreApplication::processEvents();
            QThread::msleep(5);
        }
    }
    bool send(const CanFrame &f) {
        QCanBusFrame out(f.id,
                         QByteArray(reinterpret_cast<const char *>(f.data.data()), static_cast<int>(f.size)));
        out.setExtendedFrameFormat(f.extended);
        return m_device->writeFrame(out);
    }

  private:
    std::unique_ptr<QCanBusDevice> m_device;
};

class BusDriver {
  public:
    BusDriver(const BusRun &how, const Job &job, const EngineDocument &engine, const PracticeRowTaker &row)
        : m_how(how), m_engine(engine), m_row(row), m_port(how.port > 0 ? how.port : aFreePort()),
          m_end(m_port), m_clock(steadyClock()),
          m_driver(
              job, engine.engine, engine.faults,
              [this](const PracticeSample &s, const PracticeTruth &t) { step(s, t); }, m_stop.get_token()) {
        say({{"bus", inWords(BusAddress{BusAddress::Kind::loopback, m_port, {}})}});
    }

    PracticeResult run(const PracticeScript &script) {
        m_driver.fill(script);
        m_dueS = m_clock();
        if (script.steps.empty())
            obey();
        else
            perform(script);
        PracticeResult result = m_driver.result();
        if (!result.destroyedBy.empty()) say({{"destroyed", result.destroyedBy}});
        return result;
    }

  private:
    void perform(const PracticeScript &script) {
        idle(m_how.leadS);
        for (std::size_t i = 0; i < script.steps.size() && !m_driver.over(); ++i) {
            m_driver.doStep(script.steps[i]);
            say({{"did", script.steps[i].what}});
        }
        constexpr double tailS = 0.5; // so that the last rows are heard
        idle(tailS);
    }

    void obey() {
        QSocketNotifier stdIn(STDIN_FILENO, QSocketNotifier::Read);
        QObject::connect(&stdIn, &QSocketNotifier::activated, &stdIn, [&] { readLines(stdIn); });
        constexpr double aWhileS = 0.1;
        while (!m_driver.over()) {
            if (m_wanted.empty()) {
                idle(aWhileS);
                continue;
            }
            const PracticeStep next = m_wanted.front();
            m_wanted.pop_front();
            try {
                if (next.what == "load") {
                    m_driver.load(m_how.loadAgain());
                } else {
                    m_driver.doStep(next);
                }
                if (next.what == "look")
                    looked(next.at);
                else
                    say({{"did", next.what}, {"time_s", nowS()}});
            } catch (const InputError &e) {
                say({{"refused", next.what}, {"why", e.what()}});
            }
        }
    }

    void looked(const std::string &at) {
        const double content = m_driver.result().events.back().tankContent;
        const Inspected found = inspect(inspectionById(at, "at"), m_engine.faults, m_engine.engine, content);
        say({{"looked", at},
             {"time_s", nowS()},
             {"ethanol", content},
             {"sound", found.sound},
             {"found", format(found.words)}});
    }

    void readLines(QSocketNotifier &stdIn) {
        char some[4096];
        const ssize_t got = ::read(STDIN_FILENO, some, sizeof some);
        if (got <= 0) { // who told it what to do is gone
            stdIn.setEnabled(false);
            m_stop.request_stop();
            return;
        }
        m_typed.append(some, static_cast<std::size_t>(got));
        for (std::size_t end = m_typed.find('\n'); end != std::string::npos; end = m_typed.find('\n')) {
            const std::string line = m_typed.substr(0, end);
            m_typed.erase(0, end + 1);
            if (!line.empty()) take(line);
        }
        constexpr std::size_t longest = 1u << 16;
        if (m_typed.size() > longest) m_typed.clear();
    }

    void take(const std::string &line) {
        if (line == "end") {
            m_stop.request_stop();
        } else if (line == "lift") {
            m_wanted.clear();
            m_driver.lift();
            say({{"did", "lift"}});
        } else if (line == "load") {
            PracticeStep load;
            load.what = line;
            m_wanted.push_back(load);
        } else {
            try {
                m_wanted.push_back(scriptFromJson("{\"steps\": [" + line + "]}").steps.front());
                if (m_idling) m_driver.lift();
            } catch (const InputError &e) {
                constexpr std::size_t longest = 60;
                say({{"refused", echoed(line, longest)}, {"why", e.what()}});
            }
        }
    }

    double nowS() const { return m_driver.result().seconds; }

    void idle(double seconds) {
        PracticeStep idle;
        idle.seconds = seconds;
        m_idling = true;
        m_driver.doStep(idle);
        m_idling = false;
    }

    void step(const PracticeSample &s, const PracticeTruth &t) {
        m_row(s, t);
        for (const CanFrame &f : practiceFrames(s, m_steps++))
            if (!m_end.send(f)) {
                say({{"lost", "the bus"}});
                m_stop.request_stop();
                return;
            }
        m_dueS += PracticeEngine::stepS;
        constexpr double napS = 0.002, tooLateS = 0.5;
        for (double left = m_dueS - m_clock();; left = m_dueS - m_clock()) {
            QCoreApplication::processEvents();
            if (left <= 0) break;
            QThread::usleep(static_cast<unsigned long>(1e6 * std::min(left, napS)));
        }
        // A machine that was asleep does not run after the time that it has lost.
        if (m_clock() - m_dueS > tooLateS) m_dueS = m_clock();
    }

    const BusRun &m_how;
    const EngineDocument &m_engine;
    const PracticeRowTaker &m_row;
    std::stop_source m_stop;
    std::uint16_t m_port;
    EngineEnd m_end;
    LiveClock m_clock;
    PracticeDriver m_driver;
    std::deque<PracticeStep> m_wanted;
    std::string m_typed;
    std::size_t m_steps = 0;
    double m_dueS = 0;
    bool m_idling = false;
};

} // namespace

std::uint16_t practiceBusFrom(const std::string &text) {
    return text == freePort ? std::uint16_t{0} : [&] {
        const BusAddress address = busAddressFrom(text, "--bus");
        if (address.kind != BusAddress::Kind::loopback)
            throw InputError("--bus", verbatim("a virtual bus of this machine: virtual:PORT"),
                             "'" + text + "'");
        return address.port;
    }();
}

PracticeResult runOnBus(const BusRun &how, const Job &job, const EngineDocument &engine,
                        const PracticeScript &script, const PracticeRowTaker &row) {
    int count = 1;
    char name[] = "wheelwright-practice";
    char *arguments[] = {name, nullptr};
    const QCoreApplication app(count, arguments);
    quietBusPlugins();
    return BusDriver(how, job, engine, row).run(script);
}

} // namespace wheelwright
