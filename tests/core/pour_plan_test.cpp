// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/small_programme.h"
#include "core/fuel/pour_plan.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <glpk.h>

#include <random>

using namespace wheelwright;
using testing::says;
using enum PourStrategy;

namespace {

using Random = std::mt19937;
double between(Random &r, double low, double high) {
    return std::uniform_real_distribution<>(low, high)(r);
}

PourRequest randomRequest(Random &r, std::size_t fuels) {
    PourRequest q;
    q.capacityL = between(r, 20, 100);
    q.volumeL = between(r, 0.5, q.capacityL * 0.9);
    q.content = between(r, 0, 1);
    q.target = between(r, 0, 1);
    for (std::size_t i = 0; i < fuels; ++i)
        q.shelf.push_back({"f", between(r, 0, 1), between(r, 0.5, 4), r() % 4 ? 1e9 : between(r, 1, 30), 0});
    return q;
}

double added(const PourPlan &p) {
    double sum = 0;
    for (double litres : p.pourL)
        sum += litres;
    return sum;
}

// Two fuels, no drain: for each grid value of the first, the second follows from the content. The least
// added, or −1.
double bruteLeastAdded(const PourRequest &q, double step) {
    double best = -1;
    const ShelfFuel &a = q.shelf[0], &b = q.shelf[1];
    for (double x = 0; x <= std::min(a.availableL, q.capacityL); x += step) {
        const double pull = b.content - q.target;
        const double y = (q.volumeL * (q.target - q.content) - x * (a.content - q.target)) / pull;
        if (y < -1e-12 || y > b.availableL || q.volumeL + x + y > q.capacityL) continue;
        if (best < 0 || x + y < best) best = x + y;
    }
    return best;
}

// The nearest whole-can content by trying every pair of counts.
double bruteCanError(const PourRequest &q) {
    double best = 1e9;
    const ShelfFuel &a = q.shelf[0], &b = q.shelf[1];
    for (int i = 0; i * a.canL <= std::min(q.capacityL - q.volumeL, a.availableL) + 1e-9; ++i)
        for (int j = 0;
             i * a.canL + j * b.canL <= q.capacityL - q.volumeL + 1e-9 && j * b.canL <= b.availableL + 1e-9;
             ++j) {
            const double volume = q.volumeL + i * a.canL + j * b.canL;
            const double alcohol = q.volumeL * q.content + i * a.canL * a.content + j * b.canL * b.content;
            best = std::min(best, std::abs(alcohol / volume - q.target));
        }
    return best;
}

void verifyPlan(const PourRequest &q, const PourPlan &p) {
    double volume = q.volumeL - p.drainL, alcohol = volume * q.content, price = 0;
    QVERIFY(p.drainL >= 0 && p.drainL <= q.volumeL + 1e-9);
    for (std::size_t i = 0; i < q.shelf.size(); ++i) {
        QVERIFY(p.pourL[i] >= 0 && p.pourL[i] <= q.shelf[i].availableL + 1e-7);
        volume += p.pourL[i];
        alcohol += p.pourL[i] * q.shelf[i].content;
        price += p.pourL[i] * q.shelf[i].pricePerL;
    }
    QVERIFY(volume <= q.capacityL + 1e-7);
    if (q.levelL && p.strategy != wholeCans) COMPARE_NEAR(volume, *q.levelL, 1e-6);
    COMPARE_NEAR(p.volumeL, volume, 1e-9);
    COMPARE_NEAR(p.content, alcohol / volume, 1e-9);
    COMPARE_NEAR(p.price, price, 1e-9);
    QCOMPARE(p.exact, std::abs(p.content - q.target) <= 1e-4);
}

} // namespace

/// The planner against brute force over fine grids and against GLPK.
class PourPlanTest : public QObject {
    Q_OBJECT
  private slots:
    void programmesAgreeWithGlpk();
    void everyPlanHoldsItsConstraints();
    void leastAddedAgreesWithBruteForce();
    void strategiesAreOrdered();
    void leastDrainIsLeast();
    void nearestIsNearest();
    void cansAgreeWithBruteForce();
    void cansOfThreeAgreeWithBruteForce();
    void examples();
    void emptyTank();
    void saysWhyNot();
    void refusesNonsense();
};

void PourPlanTest::programmesAgreeWithGlpk() {
    glp_term_out(GLP_OFF);
    Random r(11);
    int solved = 0;
    for (int round = 0; round < 3000; ++round) {
        const std::size_t n = 2 + r() % 5, rows = 1 + r() % 2;
        SmallProgramme p;
        for (std::size_t i = 0; i < n; ++i) {
            p.cost.push_back(between(r, -2, 3));
            p.upper.push_back(between(r, 0.5, 40));
        }
        for (std::size_t e = 0; e < rows; ++e) {
            SmallProgramme::Equation equation;
            for (std::size_t i = 0; i < n; ++i)
                equation.row.push_back(between(r, -1, 1));
            equation.value = between(r, -10, 10);
            p.equations.push_back(equation);
        }
        glp_prob *lp = glp_create_prob();
        glp_set_obj_dir(lp, GLP_MIN);
        glp_add_cols(lp, static_cast<int>(n));
        glp_add_rows(lp, static_cast<int>(rows));
        for (std::size_t i = 0; i < n; ++i) {
            glp_set_col_bnds(lp, static_cast<int>(i) + 1, GLP_DB, 0, p.upper[i]);
            glp_set_obj_coef(lp, static_cast<int>(i) + 1, p.cost[i]);
        }
        for (std::size_t e = 0; e < rows; ++e) {
            std::vector<int> index{0};
            std::vector<double> value{0};
            for (std::size_t i = 0; i < n; ++i) {
                index.push_back(static_cast<int>(i) + 1);
                value.push_back(p.equations[e].row[i]);
            }
            glp_set_mat_row(lp, static_cast<int>(e) + 1, static_cast<int>(n), index.data(), value.data());
            glp_set_row_bnds(lp, static_cast<int>(e) + 1, GLP_FX, p.equations[e].value, p.equations[e].value);
        }
        glp_smcp options;
        glp_init_smcp(&options);
        options.msg_lev = GLP_MSG_OFF;
        glp_simplex(lp, &options);
        const bool feasible = glp_get_status(lp) == GLP_OPT;
        const double expected = glp_get_obj_val(lp);
        glp_delete_prob(lp);
        const auto x = p.solve();
        QCOMPARE(x.has_value(), feasible);
        if (!x) continue;
        ++solved;
        double cost = 0;
        for (std::size_t i = 0; i < n; ++i)
            cost += p.cost[i] * (*x)[i];
        COMPARE_NEAR(cost, expected, 1e-5);
    }
    glp_free_env();
    QVERIFY(solved > 1000);
}

void PourPlanTest::everyPlanHoldsItsConstraints() {
    Random r(21);
    for (int round = 0; round < 2000; ++round) {
        PourRequest q = randomRequest(r, 1 + r() % 3);
        if (round % 3 == 0) q.levelL = between(r, q.volumeL, q.capacityL);
        if (round % 4 == 0)
            for (ShelfFuel &f : q.shelf)
                f.canL = r() % 2 ? 5 : 20;
        for (const PourPlan &p : planPour(q).plans)
            verifyPlan(q, p);
    }
}

void PourPlanTest::leastAddedAgreesWithBruteForce() {
    Random r(31);
    int feasible = 0;
    constexpr double step = 0.02;
    for (int round = 0; round < 2000; ++round) {
        const PourRequest q = randomRequest(r, 2);
        if (std::abs(q.shelf[1].content - q.target) < 0.02) continue; // the brute force divides by it
        const double brute = bruteLeastAdded(q, step);
        const PourAnswer answer = planPour(q);
        const PourPlan *plan = planOf(answer, leastAdded);
        if (brute >= 0) QVERIFY2(plan, "the grid found a way that the planner did not");
        if (!plan) continue;
        ++feasible;
        if (brute >= 0) {
            QVERIFY2(added(*plan) <= brute + 1e-7, "the grid found less");
            const double slope =
                1 + std::abs((q.shelf[0].content - q.target) / (q.shelf[1].content - q.target));
            QVERIFY2(added(*plan) >= brute - step * slope - 1e-7, "less than can be");
        }
    }
    QVERIFY(feasible > 300);
}

void PourPlanTest::strategiesAreOrdered() {
    Random r(41);
    int planned = 0;
    for (int round = 0; round < 1500; ++round) {
        const PourAnswer answer = planPour(randomRequest(r, 3));
        const PourPlan *least = planOf(answer, leastAdded), *full = planOf(answer, fullest),
                       *cheap = planOf(answer, cheapest);
        if (!least) continue;
        ++planned;
        QVERIFY(full && cheap);
        QVERIFY(added(*least) <= added(*full) + 1e-7 && added(*least) <= added(*cheap) + 1e-7);
        QVERIFY(cheap->price <= least->price + 1e-7 && cheap->price <= full->price + 1e-7);
        QVERIFY(full->volumeL >= least->volumeL - 1e-7);
        QVERIFY(least->exact && full->exact && cheap->exact);
        QVERIFY(answer.why.empty());
    }
    QVERIFY2(planned > 300, qPrintable(QString::number(planned)));
}

void PourPlanTest::leastDrainIsLeast() {
    Random r(51);
    int drained = 0;
    for (int round = 0; round < 1500; ++round) {
        const PourRequest q = randomRequest(r, 2);
        const PourAnswer answer = planPour(q);
        const PourPlan *plan = planOf(answer, leastDrain);
        if (!plan) continue;
        ++drained;
        QVERIFY(plan->exact);
        // With a little less drained it cannot be done by pouring alone.
        PourRequest less = q;
        less.volumeL = q.volumeL - plan->drainL + 0.05;
        if (plan->drainL > 0.1) QVERIFY(!planOf(planPour(less), leastAdded));
        less.volumeL = std::max(1e-6, q.volumeL - plan->drainL - 1e-5);
        QVERIFY(planOf(planPour(less), leastAdded));
    }
    QVERIFY(drained > 200);
}

void PourPlanTest::nearestIsNearest() {
    Random r(61);
    int checked = 0;
    for (int round = 0; round < 800; ++round) {
        const PourRequest q = randomRequest(r, 2);
        const PourAnswer answer = planPour(q);
        const PourPlan *plan = planOf(answer, nearest);
        if (!plan || plan->exact) continue;
        ++checked;
        const double room = q.capacityL - q.volumeL;
        for (double x = 0; x <= std::min(room, q.shelf[0].availableL); x += room / 60)
            for (double y = 0; x + y <= room + 1e-9 && y <= q.shelf[1].availableL; y += room / 60) {
                const double c = (q.volumeL * q.content + x * q.shelf[0].content + y * q.shelf[1].content) /
                                 (q.volumeL + x + y);
                QVERIFY(std::abs(c - q.target) >= std::abs(plan->content - q.target) - 1e-9);
            }
    }
    QVERIFY(checked > 100);
}

void PourPlanTest::cansAgreeWithBruteForce() {
    Random r(71);
    for (int round = 0; round < 2000; ++round) {
        PourRequest q = randomRequest(r, 2);
        q.shelf[0].canL = r() % 2 ? 5 : 20;
        q.shelf[1].canL = r() % 2 ? 2 : 10;
        const PourAnswer answer = planPour(q);
        const PourPlan *plan = planOf(answer, wholeCans);
        QVERIFY(plan);
        COMPARE_NEAR(std::abs(plan->content - q.target), bruteCanError(q), 1e-9);
        for (std::size_t i = 0; i < 2; ++i)
            COMPARE_NEAR(plan->pourL[i], plan->cans[i] * q.shelf[i].canL, 1e-12);
    }
}

// Three canned fuels: every count of every one, tried. The least error, and then the least poured, must be
// found.
void PourPlanTest::cansOfThreeAgreeWithBruteForce() {
    Random r(77);
    for (int round = 0; round < 1500; ++round) {
        PourRequest q = randomRequest(r, 3);
        for (ShelfFuel &f : q.shelf) {
            f.canL = r() % 5 == 0 ? 0 : std::round(between(r, 2, 10));
            f.availableL = r() % 2 ? 1e9 : std::round(between(r, 0, 40));
        }
        double least = 1e9, leastVolume = 0;
        const double room = q.capacityL - q.volumeL;
        const auto most = [&](std::size_t i) {
            const ShelfFuel &f = q.shelf[i];
            return f.canL > 0 ? static_cast<int>((std::min(room, f.availableL) + 1e-9) / f.canL) : 0;
        };
        for (int a = 0; a <= most(0); ++a)
            for (int b = 0; b <= most(1); ++b)
                for (int c = 0; c <= most(2); ++c) {
                    const double x = a * q.shelf[0].canL, y = b * q.shelf[1].canL, z = c * q.shelf[2].canL;
                    const double volume = q.volumeL + x + y + z;
                    if (x + y + z > room + 1e-9) continue;
                    const double alcohol = q.volumeL * q.content + x * q.shelf[0].content +
                                           y * q.shelf[1].content + z * q.shelf[2].content;
                    const double error = std::abs(alcohol / volume - q.target);
                    if (error < least - 1e-12 || (error < least + 1e-12 && volume < leastVolume - 1e-12)) {
                        least = error;
                        leastVolume = volume;
                    }
                }
        const PourAnswer answer = planPour(q);
        const PourPlan *plan = planOf(answer, wholeCans);
        if (!plan) {
            QVERIFY(q.shelf[0].canL + q.shelf[1].canL + q.shelf[2].canL == 0);
            continue;
        }
        verifyPlan(q, *plan);
        COMPARE_NEAR(std::abs(plan->content - q.target), least, 1e-9);
        COMPARE_NEAR(plan->volumeL, leastVolume, 1e-9);
        for (std::size_t i = 0; i < 3; ++i)
            COMPARE_NEAR(plan->pourL[i], plan->cans[i] * q.shelf[i].canL, 1e-12);
    }
}

void PourPlanTest::examples() {
    // Handbook: 61 L at 44 % of E59, wanted E26: brim full of E0 is E26.0 (25.96), so E26 needs a little less
    // of it.
    PourRequest q{61,   26.84,        0.59,
                  0.26, std::nullopt, {{"E0", 0.0, 1.9, 1e9, 0}, {"E85", 0.85, 1.2, 1e9, 0}}};
    const PourAnswer answer = planPour(q);
    const PourPlan *least = planOf(answer, leastAdded);
    QVERIFY(least);
    COMPARE_NEAR(least->pourL[0], 26.84 * (0.59 - 0.26) / 0.26, 1e-9);
    COMPARE_NEAR(least->pourL[1], 0, 1e-9);
    COMPARE_NEAR(planOf(answer, fullest)->volumeL, 61, 1e-6);
    q.levelL = 60.5; // two fuels on the shelf, one level: two equations
    COMPARE_NEAR(planOf(planPour(q), fullest) ? 1 : 0, 0,
                 1e-9); // 60.5 L is less than E26 from E0 alone needs
    q.target = 0.28;
    const PourPlan *level = nullptr;
    const PourAnswer second = planPour(q);
    level = planOf(second, leastAdded);
    QVERIFY(level);
    const double b = (60.5 * 0.28 - 26.84 * 0.59) / 0.85;
    COMPARE_NEAR(level->pourL[1], b, 1e-9);
    COMPARE_NEAR(level->pourL[0], 60.5 - 26.84 - b, 1e-9);
    q.content = 0.28;
    q.levelL.reset();
    QCOMPARE(added(*planOf(planPour(q), leastAdded)), 0.0); // there already
}

void PourPlanTest::emptyTank() {
    const PourAnswer answer =
        planPour({60, 0, 0, 0.4, std::nullopt, {{"E0", 0, 0, 1e9, 0}, {"E100", 1, 0, 1e9, 0}}});
    const PourPlan *plan = planOf(answer, leastAdded);
    QVERIFY(plan);
    COMPARE_NEAR(plan->pourL[1], 24, 1e-9);
    COMPARE_NEAR(plan->volumeL, 60, 1e-9);
}

void PourPlanTest::saysWhyNot() {
    const std::vector<ShelfFuel> pump{{"E10", 0.10, 0, 1e9, 0}};
    QVERIFY(says(planPour({60, 30, 0.2, 0.5, std::nullopt, pump}).why, "do not mix to it"));
    QVERIFY(says(planPour({60, 55, 0.8, 0.2, std::nullopt, pump}).why, "room"));
    QVERIFY(says(planPour({60, 55, 0.8, 0.2, 40.0, pump}).why, "more than the wanted level"));
    const PourAnswer full = planPour({60, 55, 0.8, 0.2, std::nullopt, pump});
    QVERIFY(planOf(full, leastDrain) && planOf(full, nearest) && !planOf(full, leastAdded));
    COMPARE_NEAR(planOf(full, nearest)->volumeL, 60, 1e-9);
}

void PourPlanTest::refusesNonsense() {
    const std::vector<ShelfFuel> shelf{{"E10", 0.10, 0, 1e9, 0}};
    EXPECT_INPUT_ERROR(planPour({0, 0, 0, 0.5, std::nullopt, shelf}), "capacity");
    EXPECT_INPUT_ERROR(planPour({60, 70, 0, 0.5, std::nullopt, shelf}), "volume");
    EXPECT_INPUT_ERROR(planPour({60, 30, 2, 0.5, std::nullopt, shelf}), "content");
    EXPECT_INPUT_ERROR(planPour({60, 30, 0, std::nan(""), std::nullopt, shelf}), "target");
    EXPECT_INPUT_ERROR(planPour({60, 30, 0, 0.5, 70.0, shelf}), "level");
    EXPECT_INPUT_ERROR(planPour({60, 30, 0, 0.5, std::nullopt, {}}), "shelf");
    EXPECT_INPUT_ERROR(planPour({60, 30, 0, 0.5, std::nullopt, {{"x", 0.1, -1, 1, 0}}}),
                       "shelf fuel 1 price");
    EXPECT_INPUT_ERROR(SmallProgramme{}.solve(), "programme");
}

CORE_TEST_MAIN(PourPlanTest)
#include "pour_plan_test.moc"
