// SPDX-License-Identifier: GPL-3.0-or-later
// What the programs share that try proposals on hidden engines.
#pragma once
#include "core/proposal/fuel_proposal.h"
#include "core/study/fuel_delivery.h"
#include "formats/job_json.h"
#include "support/practice_log.h"

#include <array>
#include <cstdio>
#include <fstream>
#include <map>
#include <sstream>

namespace wheelwright::closed {

using testing::hiddenKnockLimit;
using testing::PracticeLog;

inline Job withSparkMoved(Job job, double deg) {
    TwoTable &spark = job.calibration.of(CalibratedQuantity::spark);
    for (Table2D *t : {&spark.base, &spark.top})
        for (std::size_t y = 0; y < t->y().size(); ++y)
            for (std::size_t x = 0; x < t->x().size(); ++x)
                t->setCell({x, y}, t->cell(x, y) + deg);
    return job;
}

/// The demo job at 160 kPa, with its spark moved and without what it knows of ceilings and best spark: that
/// would end a search early.
inline Job demoWithSpark(double deg) {
    std::ifstream f(DEMO_JOB);
    std::stringstream text;
    text << f.rdbuf();
    Job job = withSparkMoved(jobFromJson(text.str()), deg);
    TwoTable &boost = job.calibration.of(CalibratedQuantity::boost);
    for (Table2D *t : {&boost.base, &boost.top})
        *t = Table2D::uniform(t->x(), t->y(), 160);
    job.extras.eraseIf([](const ExtraTable &t) {
        return t.kind == TableKind::sparkCeiling || t.kind == TableKind::sparkBest;
    });
    return job;
}

/// Two pulls with time to cool, and a stretch of calm.
inline std::string pullsAt(double content) {
    std::string steps;
    for (int i = 0; i < 2; ++i)
        steps +=
            R"({"do": "pull", "mode": "loaded", "from_rpm": 2200, "to_rpm": 6700}, {"do": "cool_down", "seconds": 60}, )";
    steps += R"({"do": "hold", "rpm": 3000, "load_kpa": 95, "seconds": 4})";
    return R"({"start": "warm", "ethanol": )" + std::to_string(content) + R"(, "steps": [)" + steps + "]}";
}

/// True intake air and λ by cell of a table, over logs.
class TrueAir {
  public:
    explicit TrueAir(const Table2D &cells) : m_cells(cells) {}
    void add(const PracticeLog &log) {
        for (std::size_t i = 0; i < log.samples().size(); ++i) {
            const PracticeSample &row = log.samples()[i];
            if (row.throttlePercent < 20 || row.pulseMs <= 0) continue;
            std::array<double, 4> &sum = m_sums[keyOf(row.rpm, row.mapKpa)];
            sum[0] += log.truth()[i].intakeC;
            sum[1] += log.truth()[i].lambda;
            ++sum[2];
            sum[3] += log.truth()[i].intakeC - row.intakeC;
        }
    }
    bool knows(double rpm, double loadKpa) const { return m_sums.contains(keyOf(rpm, loadKpa)); }
    double intakeC(double rpm, double loadKpa) const { return mean(rpm, loadKpa, 0); }
    /// True air over what the sensor reads, which is slow.
    double overSensorK(double rpm, double loadKpa) const { return mean(rpm, loadKpa, 3); }
    double lambda(double rpm, double loadKpa) const { return mean(rpm, loadKpa, 1); }

  private:
    std::pair<double, double> keyOf(double rpm, double loadKpa) const {
        return {m_cells.x()[m_cells.x().nearest(rpm)], m_cells.y()[m_cells.y().nearest(loadKpa)]};
    }
    double mean(double rpm, double loadKpa, std::size_t of) const {
        const std::array<double, 4> &sum = m_sums.at(keyOf(rpm, loadKpa));
        return sum[of] / sum[2];
    }
    Table2D m_cells;
    std::map<std::pair<double, double>, std::array<double, 4>> m_sums;
};

} // namespace wheelwright::closed
