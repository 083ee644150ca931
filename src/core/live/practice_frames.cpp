// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/live/practice_frames.h"

#include <array>

namespace wheelwright {
namespace {

using S = PracticeSample;
constexpr std::uint32_t firstId = 0x600;
constexpr std::size_t quickMessages = 3, slowEvery = 2; // slow ones: a page at every second step

struct Sent {
    std::size_t message;
    int startBit;
    double S::*member;
    const char *name, *unit;
    double scale, offset;
    CanOrder order;
    CanNumber number;
    int page = -1; ///< of the slow message
};

constexpr CanOrder little = CanOrder::little, big = CanOrder::big;
constexpr CanNumber plain = CanNumber::plain, withSign = CanNumber::twosComplement;
constexpr int bits = 16, pageBits = 8, pages = 5;

// Every number is 16 bits long.
constexpr std::array sent{
    Sent{0, 0, &S::rpm, "rpm", "rpm", 0.25, 0, little, plain},
    Sent{0, 16, &S::mapKpa, "map", "kPa", 0.01, 0, little, plain},
    Sent{0, 32, &S::throttlePercent, "throttle", "%", 0.01, 0, little, plain},
    Sent{0, 48, &S::lambda, "lambda", "", 0.0001, 0, little, plain},
    Sent{1, 7, &S::sparkDeg, "spark", "deg", 0.1, 0, big, withSign},
    Sent{1, 23, &S::knockRetardDeg, "knock retard", "deg", 0.1, 0, big, plain},
    Sent{1, 39, &S::lambdaTarget, "lambda target", "", 0.0001, 0, big, plain},
    Sent{1, 55, &S::boostTargetKpa, "boost target", "kPa", 0.01, 0, big, plain},
    Sent{2, 0, &S::pulseMs, "pulse width", "ms", 0.001, 0, little, plain},
    Sent{2, 16, &S::dutyPercent, "injector duty", "%", 0.01, 0, little, plain},
    Sent{2, 32, &S::railKpa, "fuel pressure", "kPa", 0.1, 0, little, plain},
    Sent{2, 48, &S::contentPercent, "ethanol", "%", 0.01, 0, little, plain},
    Sent{3, 8, &S::intakeC, "intake temperature", "C", 0.1, 0, little, withSign, 0},
    Sent{3, 24, &S::coolantC, "coolant temperature", "C", 0.1, 0, little, withSign, 0},
    Sent{3, 8, &S::fuelC, "fuel temperature", "C", 0.1, 0, little, withSign, 1},
    Sent{3, 24, &S::oilKpa, "oil pressure", "kPa", 0.1, 0, little, plain, 1},
    Sent{3, 8, &S::batteryV, "battery", "V", 0.001, 0, little, plain, 2},
    Sent{3, 24, &S::exhaustC, "exhaust temperature", "C", 0.1, -50, little, plain, 2},
    Sent{3, 8, &S::solenoidPercent, "solenoid duty", "%", 0.01, 0, little, plain, 3},
    Sent{3, 24, &S::speedKmH, "speed", "km/h", 0.01, 0, little, plain, 3},
    Sent{3, 8, &S::gear, "gear", "", 1, 0, little, plain, 4},
    Sent{3, 24, &S::sprayCcMin, "spray flow", "cc/min", 0.1, 0, little, plain, 4},
};

CanSignal signalOf(const Sent &s) {
    CanSignal out{s.name, s.startBit, bits, s.order, s.number, s.scale, s.offset, s.unit, false, {}};
    if (s.page >= 0) out.multiplexValue = static_cast<std::uint64_t>(s.page);
    return out;
}

CanMap made() {
    CanMap map;
    constexpr std::array names{"Engine", "Spark", "Fuel", "Slow"};
    for (std::size_t i = 0; i < names.size(); ++i) {
        CanMessage m;
        m.id = firstId + static_cast<std::uint32_t>(i);
        m.name = names[i];
        if (i == quickMessages) m.numbers.push_back({"page", 0, pageBits, little, plain, 1, 0, "", true, {}});
        for (const Sent &s : sent)
            if (s.message == i) m.numbers.push_back(signalOf(s));
        map.messages.push_back(std::move(m));
    }
    return map;
}

CanFrame frameOf(const PracticeSample &sample, std::size_t message, int page) {
    CanFrame frame;
    frame.timeS = sample.timeS;
    frame.id = firstId + static_cast<std::uint32_t>(message);
    frame.size = 8;
    if (page >= 0) putValue(frame, practiceCanMap().messages[message].numbers.front(), page);
    for (const Sent &s : sent)
        if (s.message == message && s.page == page) putValue(frame, signalOf(s), sample.*s.member);
    return frame;
}

} // namespace

const CanMap &practiceCanMap() {
    static const CanMap map = made();
    return map;
}

std::vector<CanFrame> practiceFrames(const PracticeSample &sample, std::size_t step) {
    std::vector<CanFrame> out;
    for (std::size_t m = 0; m < quickMessages; ++m)
        out.push_back(frameOf(sample, m, -1));
    if (step % slowEvery == 0)
        out.push_back(frameOf(sample, quickMessages, static_cast<int>(step / slowEvery % pages)));
    return out;
}

} // namespace wheelwright
