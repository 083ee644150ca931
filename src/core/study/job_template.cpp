// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/job_template.h"

#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"
#include "core/study/headroom.h"
#include "core/tables/lambda_lines.h"
#include "core/tables/table_kind.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

double rounded(double v, double step) {
    return std::round(v / step) * step;
}

// About so many breakpoints from first to last, on round numbers.
Axis evenAxis(double first, double last, double count, double round) {
    const double pitch = std::max(round, std::ceil((last - first) / (count - 1) / round) * round);
    std::vector<double> points;
    for (double v = first; v < last; v += pitch)
        points.push_back(v);
    points.push_back(std::max(last, points.back() + round));
    return Axis(std::move(points));
}

template <class Value>
Table2D filled(const Axis &x, const Axis &y, double step, Value value) {
    Table2D t = Table2D::uniform(x, y, 0);
    for (std::size_t yi = 0; yi < y.size(); ++yi)
        for (std::size_t xi = 0; xi < x.size(); ++xi)
            t.setCell({xi, yi}, rounded(value(x[xi], y[yi]), step));
    return t;
}

// All estimates below: common practice, from memory.
double veAt(double speedShare, double peakAt, double loadKpa) {
    constexpr double peak = 92, falls = 40, throttledLoss = 18, openKpa = 100, idleKpa = 30;
    const double throttled = std::clamp((openKpa - loadKpa) / (openKpa - idleKpa), 0.0, 1.0);
    return peak - falls * (speedShare - peakAt) * (speedShare - peakAt) - throttledLoss * throttled;
}

double sparkOf(double speedShare, double peakAt, double loadKpa, bool top) {
    constexpr double idle = 12, full = 26, fullAt = 0.5, partLoad = 0.12, most = 38, least = 4, openKpa = 100;
    // Where the cylinders are fullest the charge burns fastest and knocks first.
    constexpr double dip = 2, reach = 0.3, lightKpa = 20;
    const double beside = std::max(0.0, 1 - std::abs(speedShare - peakAt) / reach);
    const double fullness = std::clamp((loadKpa - lightKpa) / (openKpa - lightKpa), 0.0, 1.0);
    // Alcohol helps where knock keeps the base fuel back, not where both are at best torque.
    const double perKpaOfBoost = top ? 1.0 / 14 : 1.0 / 7;
    const double bySpeed = idle + (full - idle) * std::min(1.0, speedShare / fullAt);
    const double byLoad = loadKpa < openKpa
                              ? (openKpa - loadKpa) * partLoad * std::min(1.0, speedShare / fullAt)
                              : -(loadKpa - openKpa) * perKpaOfBoost;
    return std::clamp(bySpeed + byLoad - dip * beside * fullness, least, most);
}

// A turbocharger's rise over speed; a blower turns with the crank, and leaks a little at low speed.
double boostAt(double speedShare, double boostKpa, Charging charging) {
    constexpr double begins = 0.25, full = 0.5, blowerLow = 0.85;
    const double spun = std::clamp((speedShare - begins) / (full - begins), 0.0, 1.0);
    return charging == Charging::turbo
               ? boostKpa * spun
               : boostKpa * (blowerLow + (1 - blowerLow) * std::min(1.0, speedShare / full));
}

void addStarting(Job &job) {
    // Fuel against a warm engine on gasoline, at −20, 0, 20 and 80 °C.
    const Axis coolant({-20, 0, 20, 80});
    const std::vector<double> gasoline{3, 2, 1.4, 1}, growth{3, 2.2, 1.6, 1.2};
    const auto start = [&](TableKind kind, double share, double offset) {
        ExtraTable e = newExtraTable(kind, std::string(definitionOf(kind).title.text));
        std::vector<double> cells;
        const Axis content({0, 0.5, 1});
        for (const double c : content.points())
            for (std::size_t i = 0; i < coolant.size(); ++i)
                cells.push_back(rounded((gasoline[i] * (1 + c * (growth[i] - 1)) - offset) * share, 0.01));
        e.table = Table2D(coolant, content, std::move(cells));
        job.extras.push_back(std::move(e));
    };
    start(TableKind::cranking, 1, 0);
    start(TableKind::afterStart, 0.3, 1);
    const auto protect = [&](TableKind kind, Axis temperature, Axis load, std::vector<double> cells) {
        ExtraTable e = newExtraTable(kind, std::string(definitionOf(kind).title.text));
        e.table = Table2D(std::move(temperature), std::move(load), std::move(cells));
        job.extras.push_back(std::move(e));
    };
    protect(TableKind::sparkIntake, Axis({40, 60, 80}), Axis({100}), {0, -2, -5});
    const Axis oneRow = newExtraTable(TableKind::sparkCoolant, "").table.y();
    protect(TableKind::sparkCoolant, Axis({90, 105, 120}), oneRow, {0, -2, -6});
}

Charging chargingOf(const EngineTemplate &k) {
    return k.boostKpa > 0 ? k.charging : Charging::none;
}

void refuseNoEngine(const EngineTemplate &k) {
    const auto within = [](const char *what, double v, double least, double most, const char *unit) {
        if (!(v >= least && v <= most)) throw InputError(what, fromTo(least, most, unit), exactly(v));
    };
    within("rev_limit_rpm", k.revLimitRpm, 2000, 20000, "rpm");
    if (!(k.topContent - k.baseContent >= 0.01))
        throw InputError("top_content",
                         MARKED("expected.least_0_01_over_base", "at least 0.01 over the base content"),
                         std::to_string(k.topContent));
    if (k.torquePeakRpm != 0) within("torque_peak_rpm", k.torquePeakRpm, 500, k.revLimitRpm, "rpm");
    within("boost_kpa", k.boostKpa, 0, 400, "kPa of boost");
}

} // namespace

Job flatJob(const EngineTemplate &k) {
    Job job;
    job.name = k.name;
    const auto take = [&](std::string_view path, auto &to, const auto &from) {
        if (std::ranges::find(k.stated, path) == k.stated.end()) return;
        to = from;
        state(job, path);
    };
    take("engine.displacement_l", job.engine.displacementL, k.displacementL);
    take("engine.cylinders", job.engine.cylinders, k.cylinders);
    take("engine.compression_ratio", job.engine.compressionRatio, k.compressionRatio);
    take("engine.charging", job.engine.charging, chargingOf(k));
    take("engine.rev_limit_rpm", job.engine.revLimitRpm, k.revLimitRpm);
    take("fuel.alcohol", job.alcohol, k.alcohol);
    take("calibration.base_content", job.calibration.baseContent, k.baseContent);
    take("calibration.top_content", job.calibration.topContent, k.topContent);
    take("injectors.flow_cc_min", job.injectors.flowCcMin, k.injectorCcMin);
    makeTablesFlat(job);
    stateWhatDiffers(job);
    validate(job);
    return job;
}

Job templateJob(const EngineTemplate &k) {
    refuseNoEngine(k);
    Job job = newJob(k.name);
    const Job flat = job;
    job.alcohol = k.alcohol;
    job.engine.displacementL = k.displacementL;
    job.engine.cylinders = k.cylinders;
    job.engine.revLimitRpm = k.revLimitRpm;
    job.engine.charging = chargingOf(k);
    job.engine.compressionRatio = k.compressionRatio;
    job.injectors.flowCcMin = k.injectorCcMin;
    job.injectors.ratedPressureKpa = 300;
    Calibration &c = job.calibration;
    c.baseContent = k.baseContent;
    c.topContent = k.topContent;

    const double ambient = job.conditions.ambientKpa;
    constexpr double roomKpa = 25;
    // A blower gives what its pulley gives, whatever the fuel.
    const double baseShare = k.charging == Charging::blower ? 1 : 0.6;
    const double most = rounded(ambient + k.boostKpa, 1);
    job.boost.cutKpa = k.boostKpa > 0 ? most + roomKpa : 0;
    // The smallest usual sensor that leaves room.
    for (const double sensor : {115.0, 250.0, 300.0, 400.0, 600.0}) {
        job.engine.mapSensorMaxKpa = sensor;
        if (k.boostKpa <= 0 || most + roomKpa <= sensor * 0.93) break;
    }
    if (k.boostKpa <= 0) job.limits["boost.overshoot"] = 0; // nothing to overshoot with
    const Axis rpm = evenAxis(500, k.revLimitRpm, 16, 250);
    // Rows close enough that a degree for 7 kPa makes no step that Verify would call one.
    constexpr double leastLoad = 20, widestStep = 22;
    const double mostLoad = std::max(110.0, most + roomKpa);
    const double rows = std::max(16.0, std::ceil((mostLoad - leastLoad) / widestStep) + 1);
    const Axis load = evenAxis(leastLoad, mostLoad, rows, 5);
    constexpr double usualPeak = 0.6;
    const double peakAt = k.torquePeakRpm > 0 ? k.torquePeakRpm / k.revLimitRpm : usualPeak;
    const Axis throttle({0, 50, 100});
    const BlendModel blends = blendModelOf(job);
    const Blend reference = blendAt(job, c.fuelReferenceContent);
    const LeanLine lean(job.limits);
    for (const bool top : {false, true}) {
        const double content = top ? k.topContent : k.baseContent;
        const double multiplier = blends.volumeMultiplier(blendAt(job, content), reference);
        const auto table = [&](CalibratedQuantity q) -> Table2D & {
            return top ? c.of(q).top : c.of(q).base;
        };
        const auto speed = [&](double r) { return r / k.revLimitRpm; };
        table(CalibratedQuantity::fuel) = filled(
            rpm, load, 0.01, [&](double r, double l) { return veAt(speed(r), peakAt, l) * multiplier; });
        table(CalibratedQuantity::spark) =
            filled(rpm, load, 0.5, [&](double r, double l) { return sparkOf(speed(r), peakAt, l, top); });
        table(CalibratedQuantity::boost) = filled(rpm, throttle, 1, [&](double r, double t) {
            return ambient +
                   boostAt(speed(r), k.boostKpa * (top ? 1 : baseShare), k.charging) * t / throttle.last();
        });
        constexpr double underLean = 0.03, stoichiometric = 1, fullThrottle = 0.88, closing = 0.85;
        table(CalibratedQuantity::lambda) = filled(rpm, load, 0.005, [&](double, double l) {
            // Towards the air around the throttle is open, boost or none.
            const double open = std::clamp((l / ambient - closing) / (1 - closing), 0.0, 1.0);
            const double throttled = stoichiometric + open * (fullThrottle - stoichiometric);
            return std::min(throttled, lean.at(l, 0, 0) - underLean);
        });
    }
    std::vector<double> contents;
    constexpr int limitPoints = 10;
    for (int i = 0; i <= limitPoints; ++i)
        contents.push_back(k.baseContent + (k.topContent - k.baseContent) * i / limitPoints);
    std::vector<double> limit = boostTargets(Study(job), contents);
    for (double &kpa : limit)
        kpa = rounded(kpa + roomKpa, 1);
    job.engine.boostLimitKpa = Curve(contents, limit);
    addStarting(job);
    job.notes =
        "Estimated by a template from displacement, boost and fuels. This is not a calibration: check "
        "every number before the engine makes load.";
    constexpr double late = 10; // degrees: common practice, from memory
    double latest = late;
    for (const bool top : {false, true}) {
        const double highest = ambient + k.boostKpa * (top ? 1 : baseShare);
        latest = std::min({latest, sparkOf(1, peakAt, highest, top), sparkOf(peakAt, peakAt, highest, top)});
    }
    if (latest < late)
        job.notes +=
            " Spark under 10° at full boost burns late: the exhaust, its valves and the turbine get what "
            "the pistons do not. Watch the exhaust temperature, and ask for less boost on this fuel first.";
    recordOrigins(flat, job, CellOrigin::estimated);
    // What happens to come out as the flat tables have it is an estimate as well.
    for (const NamedTable &t : namedTables(job)) {
        std::vector<CellOrigin> origins = t.table->origins();
        std::ranges::replace(origins, CellOrigin::assumed, CellOrigin::estimated);
        namedTable(job, t.path)->setOrigins(std::move(origins));
    }
    stateWhatDiffers(job);
    for (const std::string &path : k.stated)
        state(job, path);
    validate(job);
    return job;
}

} // namespace wheelwright
