// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/channel_map.h"
#include "core/live/live_sampler.h"
#include "core/live/practice_frames.h"
#include "formats/can_map_json.h"
#include "formats/job_json.h"
#include "support/practice_log.h"
#include "support/test_main.h"

#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

// Two numbers of 16 bits, in two messages.
CanMap twoNumbers() {
    CanMap map;
    for (int i = 0; i < 2; ++i) {
        CanMessage m;
        m.id = 0x100 + static_cast<std::uint32_t>(i);
        m.name = "M" + std::to_string(i);
        m.numbers.push_back({i == 0 ? "rpm" : "battery",
                             0,
                             16,
                             CanOrder::little,
                             CanNumber::plain,
                             1,
                             0,
                             i == 0 ? "rpm" : "V",
                             false,
                             {}});
        map.messages.push_back(m);
    }
    return map;
}

CanFrame frame(double timeS, std::uint32_t id, int value) {
    CanFrame f;
    f.timeS = timeS;
    f.id = id;
    f.size = 8;
    f.data[0] = static_cast<std::uint8_t>(value & 0xFF);
    f.data[1] = static_cast<std::uint8_t>(value >> 8);
    return f;
}

} // namespace

class LiveSamplerTest : public QObject {
    Q_OBJECT
  private slots:
    void rowsAreAtEvenTimes();
    void aRowAtTheTimeOfAFrameHasIt();
    void whatIsSilentSaysNothing();
    void eventsStandInTheNextRows();
    void beginningAnewForgets();
    void practiceFramesSayTheSample();
    void practiceChannelsAreRecognised();
    void theMapIsOneOfOurOwn();
};

void LiveSamplerTest::rowsAreAtEvenTimes() {
    const CanDecoder decoder(twoNumbers());
    LiveSampler s(decoder, 10);
    QVERIFY(s.take(frame(99.9, 0x100, 700)));
    s.begin(100);
    QVERIFY(s.take(frame(100.05, 0x100, 800)));
    QVERIFY(s.take(frame(100.17, 0x101, 13)));
    QVERIFY(!s.take(frame(100.18, 0x7FF, 1)));
    s.until(100.25);
    const LiveRows rows = s.takeRows();
    QCOMPARE(rows.width, std::size_t{4});
    QCOMPARE(rows.count(), std::size_t{3});
    // By hand: at 0 what was said before, at 0.1 the 800 of 0.05, at 0.2 the 13 of 0.17.
    const double expected[3][2] = {{700, -1}, {800, -1}, {800, 13}};
    for (std::size_t r = 0; r < 3; ++r) {
        COMPARE_NEAR(rows.row(r)[0], 0.1 * static_cast<double>(r), 1e-12);
        QCOMPARE(rows.row(r)[1], expected[r][0]);
        if (expected[r][1] < 0)
            QVERIFY(std::isnan(rows.row(r)[2]));
        else
            QCOMPARE(rows.row(r)[2], expected[r][1]);
    }
    QCOMPARE(s.takeRows().count(), std::size_t{0});
    s.until(100.45); // in another stretch they go on
    const LiveRows more = s.takeRows();
    QCOMPARE(more.count(), std::size_t{2});
    COMPARE_NEAR(more.row(0)[0], 0.3, 1e-12);
}

void LiveSamplerTest::aRowAtTheTimeOfAFrameHasIt() {
    const CanDecoder decoder(twoNumbers());
    LiveSampler s(decoder, 4); // quarters are exact
    s.begin(0);
    s.take(frame(0.25, 0x100, 5));
    s.until(0.5);
    const LiveRows rows = s.takeRows();
    QCOMPARE(rows.count(), std::size_t{3});
    QVERIFY(std::isnan(rows.row(0)[1]));
    QCOMPARE(rows.row(1)[1], 5.0);
}

void LiveSamplerTest::whatIsSilentSaysNothing() {
    const CanDecoder decoder(twoNumbers());
    LiveSampler s(decoder, 10);
    s.take(frame(100, 0x100, 1));
    QCOMPARE(s.value(0, 101.0), 1.0); // a second is always waited
    QVERIFY(std::isnan(s.value(0, 101.01)));
    s.take(frame(101.2, 0x100, 2)); // its pause is 1.2 s: three of them are waited
    QCOMPARE(s.value(0, 101.2 + 3.59), 2.0);
    QVERIFY(std::isnan(s.value(0, 101.2 + 3.61)));
    s.take(frame(111.2, 0x100, 3)); // ten: never longer than five
    QCOMPARE(s.value(0, 116.19), 3.0);
    QVERIFY(std::isnan(s.value(0, 116.21)));
    QVERIFY(std::isnan(s.value(1, 100))); // never heard
}

void LiveSamplerTest::eventsStandInTheNextRows() {
    const CanDecoder decoder(twoNumbers());
    LiveSampler s(decoder, 10);
    s.begin(0);
    s.until(0.05);
    s.event("mark 1");
    s.event("abort");
    s.until(0.35);
    const LiveRows rows = s.takeRows();
    QCOMPARE(rows.count(), std::size_t{4});
    QVERIFY(std::isnan(rows.row(0)[3]));
    QCOMPARE(rows.row(1)[3], 0.0);
    QCOMPARE(rows.row(2)[3], 1.0);
    QVERIFY(std::isnan(rows.row(3)[3]));
    QCOMPARE(s.events(), (std::vector<std::string>{"mark 1", "abort"}));
    // At the end none is lost, though no row is due.
    s.event("end");
    s.event("really");
    s.finish();
    const LiveRows last = s.takeRows();
    QCOMPARE(last.count(), std::size_t{2});
    QCOMPARE(last.row(0)[3], 2.0);
    QCOMPARE(last.row(1)[3], 3.0);
    COMPARE_NEAR(last.row(1)[0], 0.5, 1e-12);
    s.finish();
    QCOMPARE(s.takeRows().count(), std::size_t{0});
}

void LiveSamplerTest::beginningAnewForgets() {
    const CanDecoder decoder(twoNumbers());
    LiveSampler s(decoder, 10);
    s.begin(0);
    s.event("old");
    s.until(1);
    s.begin(5);
    QVERIFY(s.events().empty());
    s.until(5.05);
    const LiveRows rows = s.takeRows();
    QCOMPARE(rows.count(), std::size_t{1});
    QCOMPARE(rows.row(0)[0], 0.0);
    QVERIFY(std::isnan(rows.row(0)[3]));
}

// What the engine says comes back within half a step of its number, whatever the byte order.
void LiveSamplerTest::practiceFramesSayTheSample() {
    const CanMap &map = practiceCanMap();
    const CanDecoder decoder(map);
    PracticeSample p;
    double v = 3.1;
    for (const PracticeChannel &c : practiceChannels())
        p.*c.member = v += 1.37;
    p.sparkDeg = -7.3;
    p.intakeC = -12.4;
    p.exhaustC = 871;
    p.rpm = 6543;
    p.lambda = 0.8123;
    p.lambdaTarget = 0.7876;
    std::vector<double> values(decoder.channels().size(), std::nan(""));
    constexpr std::size_t aRound = 10; // until every page was sent
    for (std::size_t i = 0; i < aRound; ++i)
        for (const CanFrame &f : practiceFrames(p, i))
            QVERIFY(decoder.take(f, values));
    const std::vector<std::pair<std::string, double>> said{{"rpm", p.rpm},
                                                           {"map", p.mapKpa},
                                                           {"throttle", p.throttlePercent},
                                                           {"lambda", p.lambda},
                                                           {"spark", p.sparkDeg},
                                                           {"knock retard", p.knockRetardDeg},
                                                           {"lambda target", p.lambdaTarget},
                                                           {"boost target", p.boostTargetKpa},
                                                           {"pulse width", p.pulseMs},
                                                           {"injector duty", p.dutyPercent},
                                                           {"fuel pressure", p.railKpa},
                                                           {"ethanol", p.contentPercent},
                                                           {"intake temperature", p.intakeC},
                                                           {"coolant temperature", p.coolantC},
                                                           {"fuel temperature", p.fuelC},
                                                           {"oil pressure", p.oilKpa},
                                                           {"battery", p.batteryV},
                                                           {"exhaust temperature", p.exhaustC},
                                                           {"solenoid duty", p.solenoidPercent},
                                                           {"speed", p.speedKmH},
                                                           {"gear", std::round(p.gear)},
                                                           {"spray flow", p.sprayCcMin}};
    // All but the clock, and the page of the slow message.
    QCOMPARE(said.size() + 1, practiceChannels().size());
    QCOMPARE(decoder.channels().size(), said.size() + 1);
    for (const auto &[name, value] : said) {
        const auto at = std::ranges::find(decoder.channels(), name, &CanDecoder::Channel::name);
        QVERIFY2(at != decoder.channels().end(), name.c_str());
        COMPARE_NEAR(values[static_cast<std::size_t>(at - decoder.channels().begin())], value,
                     at->signal->scale / 2 + 1e-9);
    }
    // A hundred steps a second: at most 350 frames, a load of a slow bus.
    std::size_t frames = 0;
    for (std::size_t i = 0; i < 100; ++i)
        frames += practiceFrames(p, i).size();
    QCOMPARE(frames, std::size_t{350});
}

void LiveSamplerTest::practiceChannelsAreRecognised() {
    const CanDecoder decoder(practiceCanMap());
    const LogLayout layout = liveLayout(decoder);
    const ChannelMap map = fitted(suggestMap(layout), layout);
    std::set<ChannelRole> roles;
    for (std::size_t i = 0; i < layout.columns.size(); ++i) {
        QCOMPARE(layout.columns[i].clock, std::size_t{0});
        const ChannelRole role = map.columns[i].role;
        if (role != ChannelRole::none) QVERIFY(roles.insert(role).second);
    }
    QCOMPARE(map.columns.front().role, ChannelRole::time);
    // Every one but the page and the events.
    QCOMPARE(roles.size(), layout.columns.size() - 2);
}

void LiveSamplerTest::theMapIsOneOfOurOwn() {
    QCOMPARE(canMapFromJson(canMapToJson(practiceCanMap())), practiceCanMap());
}

CORE_TEST_MAIN(LiveSamplerTest)
#include "live_sampler_test.moc"
