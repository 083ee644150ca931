// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/fuel/can_route.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <functional>
#include <limits>
#include <random>

using namespace wheelwright;
using testing::says;

namespace {

CanStop stopAt(double content, double within, double burnL) {
    return {content - within, content + within, content - within, content + within, burnL};
}

double unitOf(const ShelfFuel &f) {
    return f.canL > 0 ? f.canL : 1;
}

// The least dear way by trying every drain and every count of up to two fuels at every stop, one after the
// other: money and drained litres. Nothing: no way.
struct Dear {
    double drainedL = std::numeric_limits<double>::infinity(), price = 0;
    int drains = 0;
};
bool lessDear(const Dear &a, const Dear &b, bool money) {
    const auto key = [money](const Dear &d) {
        const double price = std::round(d.price * 1e6);
        return std::tuple(money ? price : 0, std::round(d.drainedL * 1e6), d.drains, price);
    };
    return key(a) < key(b);
}

Dear brute(const CanRequest &r) {
    const bool money = r.least == CanRouteLeast::money;
    Dear best;
    if (money) best.price = best.drainedL;
    std::vector<int> used(r.shelf.size(), 0);
    const std::function<void(std::size_t, double, double, Dear)> from = [&](std::size_t stop, double volume,
                                                                            double alcohol, Dear dear) {
        if (stop == r.stops.size()) {
            if (lessDear(dear, best, money)) best = dear;
            return;
        }
        const CanStop &s = r.stops[stop];
        std::vector<double> drains; // by the can, and to the last whole litre
        for (int d = 0; d * r.drainCanL <= volume + 1e-9; ++d)
            drains.push_back(d * r.drainCanL);
        drains.push_back(std::max(drains.back(), std::floor(volume - 0.5 + 1e-9)));
        for (const double out : drains) {
            const double left = volume > 0 ? 1 - out / volume : 0;
            std::vector<int> count(r.shelf.size(), 0);
            const std::function<void(std::size_t, int)> pour = [&](std::size_t fuel, int kinds) {
                if (fuel < r.shelf.size()) {
                    for (int n = 0;; ++n) {
                        const double litres = n * unitOf(r.shelf[fuel]);
                        if (litres > r.capacityL || (n > 0 && kinds == 2) ||
                            (used[fuel] + n) * unitOf(r.shelf[fuel]) > r.shelf[fuel].availableL + 1e-9)
                            break;
                        count[fuel] = n;
                        pour(fuel + 1, kinds + (n > 0 ? 1 : 0));
                    }
                    count[fuel] = 0;
                    return;
                }
                double v = volume * left, a = alcohol * left;
                Dear now = dear;
                now.drainedL += out;
                now.drains += out > 0 ? 1 : 0;
                for (std::size_t f = 0; f < count.size(); ++f) {
                    const double litres = count[f] * unitOf(r.shelf[f]);
                    v += litres;
                    a += litres * r.shelf[f].content;
                    now.price += litres * r.shelf[f].pricePerL;
                }
                if (v > r.capacityL + 1e-9 || v < r.reserveL + s.burnL - 1e-9 || !(v > 0)) return;
                if (a / v < s.low - 1e-9 || a / v > s.high + 1e-9) return;
                if (!lessDear(now, best, money)) return;
                for (std::size_t f = 0; f < count.size(); ++f)
                    used[f] += count[f];
                const double kept = (v - s.burnL) / v;
                const std::vector<int> here = count;
                from(stop + 1, v * kept, a * kept, now);
                count = here;
                for (std::size_t f = 0; f < count.size(); ++f)
                    used[f] -= count[f];
            };
            pour(0, 0);
        }
    };
    from(0, r.volumeL, r.volumeL * r.content, {0, 0, 0});
    return best;
}

// What a route comes to when somebody does it: throws where a step cannot be done.
void walk(const CanRequest &r, const CanRoute &route) {
    double volume = r.volumeL, alcohol = volume * r.content, drained = 0, poured = 0, price = 0;
    for (std::size_t i = 0; i < route.steps.size(); ++i) {
        const CanStep &s = route.steps[i];
        QVERIFY(s.drainL <= volume + 1e-9);
        QVERIFY(s.drainL <= s.drainCans * r.drainCanL && s.drainL > (s.drainCans - 1) * r.drainCanL);
        if (s.drainL != s.drainCans * r.drainCanL) { // all that can be had
            QCOMPARE(s.drainL, std::floor(s.drainL));
            QVERIFY(volume - s.drainL >= 0.5 - 1e-9 && volume - s.drainL < 1.5);
        }
        if (volume > 0) alcohol *= 1 - s.drainL / volume;
        volume -= s.drainL;
        drained += s.drainL;
        for (std::size_t f = 0; f < r.shelf.size(); ++f) {
            QCOMPARE(s.pourL[f], s.count[f] * unitOf(r.shelf[f]));
            volume += s.pourL[f];
            alcohol += s.pourL[f] * r.shelf[f].content;
            poured += s.pourL[f];
            price += s.pourL[f] * r.shelf[f].pricePerL;
        }
        QVERIFY(std::abs(volume - s.volumeL) < 1e-6);
        QVERIFY(std::abs(alcohol / volume - s.content) < 1e-6);
        QVERIFY(volume <= r.capacityL + 1e-6);
        QVERIFY(volume - r.stops[i].burnL >= r.reserveL - 1e-6);
        const CanStop &stop = r.stops[i];
        QVERIFY(s.content >= (s.wider ? stop.widerLow : stop.low) - 1e-6);
        QVERIFY(s.content <= (s.wider ? stop.widerHigh : stop.high) + 1e-6);
        alcohol *= 1 - stop.burnL / volume;
        volume -= stop.burnL;
    }
    QVERIFY(std::abs(drained - route.drainedL) < 1e-6);
    QVERIFY(std::abs(poured - route.pouredL) < 1e-6);
    QVERIFY(std::abs(price - route.price) < 1e-6);
}

// So much E10 in a tank of 60 L, E85 by the litre.
CanRequest pumpIn60(double volumeL, std::vector<CanStop> stops) {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = volumeL;
    r.content = 0.10;
    r.reserveL = 8;
    r.shelf = {{"Strong", 0.85, 1.5, 1e9, 0}};
    r.stops = std::move(stops);
    return r;
}

} // namespace

class CanRouteTest : public QObject {
    Q_OBJECT

  private slots:
    void isTheHandWorkedOne();
    void isTheBestOfAllWays();
    void losesLittleByThinning();
    void takesNoMoreThanTheShelfHas();
    void keepsWhatIsNeededLater();
    void goesWiderOnlyWhereItMust();
    void drainsAllWhereWholeCansAreNotEnough();
    void staysOnWhatDid();
    void drainsOnceWhereItCan();
    void saysWhyItEnds();
    void drainsMoreForLessMoney();
    void refusesWhatMakesNoSense();
};

// Worked by hand. 12 L of E10 in a tank of 60 L, E85 by the litre and in cans of 5 L.
//   E25: 12 · 0.10 = 1.2 L of alcohol. n litres of E85: (1.2 + 0.85 n)/(12 + n) within 0.235 to 0.265
//        n = 3: 3.75/15 = 0.25. n = 2.8 to 3.2 only: 3 L.
//   3 L are burned: 12 L of E25 are left, 3 L of alcohol.
//   E40: (3 + 0.85 n)/(12 + n) within 0.385 to 0.415: n = 4: 6.4/16 = 0.40.
void CanRouteTest::isTheHandWorkedOne() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 12;
    r.content = 0.10;
    r.reserveL = 8;
    r.shelf = {{"Strong", 0.85, 1.5, 1e9, 0}};
    r.stops = {stopAt(0.25, 0.015, 3), stopAt(0.40, 0.015, 3)};
    const CanRoute route = planCans(r);
    QCOMPARE(route.steps.size(), std::size_t(2));
    QCOMPARE(route.steps[0].pourL, std::vector<double>{3});
    QVERIFY(std::abs(route.steps[0].content - 0.25) < 1e-12);
    QCOMPARE(route.steps[1].pourL, std::vector<double>{4});
    QVERIFY(std::abs(route.steps[1].content - 0.40) < 1e-12);
    QVERIFY(std::abs(route.price - 10.5) < 1e-12);
    QCOMPARE(route.drainedL, 0.0);
    QVERIFY(!route.thinned && route.why.empty());
    // In cans of 5 L the first stop cannot be met: 5 L make E32.
    r.shelf[0].canL = 5;
    QVERIFY(planCans(r).steps.empty());
    r.volumeL = 20; // 20 L of E10: one can makes (2 + 4.25)/25 = 0.25
    const CanRoute cans = planCans(r);
    QVERIFY(!cans.steps.empty());
    QCOMPARE(cans.steps[0].count, std::vector<int>{1});
    QVERIFY(std::abs(cans.steps[0].content - 0.25) < 1e-12);
    // Then 22 L of E25 hold 5.5 L; one can: 9.75/27 = 0.361, two: 14/32 = 0.4375: neither will do. A can of
    // 10 L drained first: 12 L, 3 L of alcohol; one can: 7.25/17 = 0.4265, not yet either. Two: 2 L, 0.5 L;
    // one can: 4.75/7 = 0.679.
    QCOMPARE(cans.steps.size(), std::size_t(1));
    QVERIFY(says(cans.why, "no whole cans"));
}

void CanRouteTest::isTheBestOfAllWays() {
    std::mt19937 chance(4);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(chance); };
    int reached = 0, drained = 0;
    for (int i = 0; i < 60; ++i) {
        CanRequest r;
        r.capacityL = std::floor(between(14, 26));
        r.volumeL = std::floor(between(2, r.capacityL));
        r.content = between(0.05, 0.3);
        r.reserveL = 2;
        r.drainCanL = 5;
        r.least = i % 3 == 0 ? CanRouteLeast::money : CanRouteLeast::drained;
        r.shelf = {{"Pump", between(0.05, 0.1), between(1, 2), 1e9, 0},
                   {"Strong", between(0.7, 0.9), between(1, 2), i % 4 ? 1e9 : 15.0, i % 2 ? 5.0 : 2.0}};
        const double first = between(0.2, 0.4);
        r.stops = {stopAt(first, 0.03, std::floor(between(0, 3))),
                   stopAt(first + between(0.1, 0.3), 0.03, std::floor(between(0, 3)))};
        r.mostStates = 1'000'000;
        const CanRoute route = planCans(r);
        const Dear best = brute(r);
        walk(r, route);
        QVERIFY(!route.thinned);
        const bool there = route.steps.size() == r.stops.size();
        QCOMPARE(there, std::isfinite(r.least == CanRouteLeast::money ? best.price : best.drainedL));
        if (!there) continue;
        ++reached;
        drained += route.drainedL > 0 ? 1 : 0;
        QVERIFY2(std::abs(route.drainedL - best.drainedL) < 1e-6 && std::abs(route.price - best.price) < 1e-6,
                 qPrintable(QStringLiteral("%1: %2 L for %3, by trying %4 L for %5")
                                .arg(i)
                                .arg(route.drainedL)
                                .arg(route.price)
                                .arg(best.drainedL)
                                .arg(best.price)));
    }
    QVERIFY2(reached > 30 && drained > 5, qPrintable(QStringLiteral("%1, %2").arg(reached).arg(drained)));
}

// A real tank over all of the usual contents: what the states that are left out cost.
void CanRouteTest::losesLittleByThinning() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 18;
    r.content = 0.10;
    r.reserveL = 8;
    r.shelf = {{"Pump", 0.1, 1.8, 1e9, 0}, {"Strong", 0.82, 1.2, 1e9, 0}, {"Can", 0.98, 4, 1e9, 5}};
    for (const double c : {0.25, 0.40, 0.50, 0.60, 0.70, 0.82})
        r.stops.push_back(stopAt(c, 0.015, 4));
    const CanRoute thinned = planCans(r);
    r.mostStates = 4000;
    const CanRoute more = planCans(r);
    walk(r, thinned);
    walk(r, more);
    QCOMPARE(thinned.steps.size(), r.stops.size());
    QVERIFY(thinned.thinned);
    QVERIFY(thinned.drainedL <= more.drainedL + 10);
    QVERIFY2(thinned.price <= more.price * 1.1,
             qPrintable(QStringLiteral("%1 for %2").arg(thinned.price).arg(more.price)));
}

void CanRouteTest::takesNoMoreThanTheShelfHas() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 12;
    r.content = 0.1;
    r.shelf = {{"Strong", 0.85, 1.5, 5.5, 0}}; // 5 L of it, by the litre
    r.stops = {stopAt(0.25, 0.02, 3), stopAt(0.40, 0.02, 3)};
    QCOMPARE(planCans(r).steps.size(), std::size_t(1)); // 3 L, and then 2 are not enough
    r.shelf[0].availableL = 7;
    QCOMPARE(planCans(r).steps.size(), std::size_t(2));
}

// Two of the same strength, and little of each: the cheaper one by the litre must be kept for the second
// stop, where a can would be too much, although a can costs more now.
void CanRouteTest::keepsWhatIsNeededLater() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 20;
    r.content = 0.1;
    r.shelf = {{"Litres", 0.85, 1, 5, 0}, {"Can", 0.85, 1.5, 5, 5}};
    r.stops = {stopAt(0.25, 0.002, 0), stopAt(8.8 / 28, 0.005, 0)}; // 5 L, then 3: (6.25 + 2.55)/28
    const CanRoute route = planCans(r);
    QCOMPARE(route.steps.size(), std::size_t(2));
    QCOMPARE(route.steps[0].count, (std::vector<int>{0, 1}));
    QCOMPARE(route.steps[1].count, (std::vector<int>{3, 0}));
}

void CanRouteTest::goesWiderOnlyWhereItMust() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 12;
    r.content = 0.1;
    r.shelf = {{"Strong", 0.85, 1.5, 1e9, 5}};
    r.stops = {{0.29, 0.31, 0.27, 0.33, 0}}; // 5 L: 5.45/17 = 0.3206
    const CanRoute wide = planCans(r);
    QCOMPARE(wide.steps.size(), std::size_t(1));
    QVERIFY(wide.steps[0].wider);
    r.stops[0].high = 0.325;
    QVERIFY(!planCans(r).steps[0].wider);
}

void CanRouteTest::saysWhyItEnds() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 12;
    r.content = 0.1;
    r.reserveL = 8;
    r.shelf = {{"Pump", 0.1, 1.5, 1e9, 0}};
    r.stops = {stopAt(0.5, 0.02, 0)};
    QVERIFY(says(planCans(r).why, "tank and shelf do not mix to it"));
    r.stops = {stopAt(0.1, 0.02, 55)};
    QVERIFY(says(planCans(r).why, "the reserve"));
}

// Worked by hand. 19 L of E10 in a tank of 60 L, to E85 ± 3 % by E85: a can of 10 L leaves 9 L, and 51 L on
// top make (0.9 + 43.35)/60 = E73.75. All but a litre leaves 0.1 L of alcohol: (0.1 + 0.85 n)/(1 + n) over
// 0.82 from n = 24 on (20.5/25 = 0.82).
void CanRouteTest::drainsAllWhereWholeCansAreNotEnough() {
    const CanRequest r = pumpIn60(19, {{0.84, 0.86, 0.82, 0.88, 4}});
    const CanRoute route = planCans(r);
    QCOMPARE(route.steps.size(), std::size_t(1));
    const CanStep &s = route.steps[0];
    QCOMPARE(s.drainL, 18.0);
    QCOMPARE(s.drainCans, 2);
    QCOMPARE(s.pourL,
             std::vector<double>{24}); // a full tank is (0.1 + 50.15)/60 = 0.8375: within 1 % none is
    QVERIFY(s.wider);
    walk(r, route);
}

// What came no nearer than its wider limits stays in for the next stop of the same content: nobody drains 50
// L for a per cent and a half.
void CanRouteTest::staysOnWhatDid() {
    CanRequest r = pumpIn60(
        2.4, {{0.835, 0.865, 0.82, 0.88, 4}, {0.835, 0.865, 0.82, 0.88, 2}, {0.835, 0.865, 0.82, 0.88, 2}});
    r.stops[0].low = r.stops[0].high = 0.86; // cannot be met
    r.stops[0].widerHigh = 0.88;
    const CanRoute route = planCans(r);
    QCOMPARE(route.steps.size(), std::size_t(3));
    QVERIFY(route.steps[0].wider && route.steps[1].wider && route.steps[2].wider);
    QCOMPARE(route.steps[1].drainL + route.steps[2].drainL, 0.0);
    walk(r, route);
}

// 30 L of E10: what has to go, to E85, goes at once, when the fuel is changed, and not from pulls before it.
void CanRouteTest::drainsOnceWhereItCan() {
    const CanRequest r = pumpIn60(30, {stopAt(0.10, 0.03, 1), {0.835, 0.865, 0.82, 0.88, 4}});
    const CanRoute route = planCans(r);
    QCOMPARE(route.steps.size(), std::size_t(2));
    QCOMPARE(route.steps[0].drainL, 0.0);
    QCOMPARE(route.steps[1].drainL, 28.0); // of 29 L
    walk(r, route);
}

// 40 L of E10, to E50. Without draining as little as can be: money first drains all it can and pours less.
void CanRouteTest::drainsMoreForLessMoney() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 20;
    r.content = 0.1;
    r.reserveL = 5;
    r.shelf = {{"Strong", 0.9, 2, 1e9, 0}};
    r.stops = {stopAt(0.5, 0.01, 0)};
    // x litres: (2 + 0.9 x)/(20 + x) = 0.5 → x = 20; the least within the limits: 0.49 → 7.8/0.41 = 19.02.
    const CanRoute little = planCans(r);
    QCOMPARE(little.steps[0].pourL[0], 20.0);
    QCOMPARE(little.drainedL, 0.0);
    r.least = CanRouteLeast::money;
    // One can of 10 L out: 10 L; x = 10 (0.49: 9.51). Two: an empty tank gets no E50 of E90.
    const CanRoute cheap = planCans(r);
    QCOMPARE(cheap.drainedL, 10.0);
    QCOMPARE(cheap.steps[0].pourL[0], 10.0);
    QVERIFY(cheap.price < little.price);
}

void CanRouteTest::refusesWhatMakesNoSense() {
    CanRequest r;
    r.capacityL = 60;
    r.volumeL = 12;
    r.shelf = {{"Strong", 0.9, 2, 1e9, 0}};
    r.stops = {stopAt(0.5, 0.01, 0)};
    const auto spoilt = [&](auto spoil) {
        CanRequest q = r;
        spoil(q);
        return planCans(q);
    };
    QCOMPARE(planCans(r).steps.size(), std::size_t(1));
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.capacityL = 0; }), "capacity");
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.volumeL = 61; }), "volume");
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.drainCanL = 0; }), "drain can");
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.shelf.clear(); }), "shelf");
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.shelf[0].content = -0.1; }), "shelf fuel 1 content");
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.stops[0].high = 0.4; }), "stop 1");
    EXPECT_INPUT_ERROR(spoilt([](CanRequest &q) { q.stops[0].burnL = -1; }), "stop 1 burned");
}

CORE_TEST_MAIN(CanRouteTest)
#include "can_route_test.moc"
