// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/practice_run.h"

#include "core/base/error.h"
#include "core/base/text.h"
#include "core/job/named_tables.h"
#include "core/job/tank_history.h"
#include "core/practice/inspection.h"
#include "core/study/mechanical_lambda.h"
#include "core/tables/cell_expression.h"
#include "core/tables/table_edit.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double tickS = PracticeEngine::stepS;
constexpr double idleRpm = 950, idleKpa = 36, wideOpen = 100;

// How far there and back, 0 to 1 and 0, in so many seconds.
double thereAndBack(double seconds, double period) {
    const double phase = seconds / period - std::floor(seconds / period);
    return phase < 0.5 ? 2 * phase : 2 - 2 * phase;
}

} // namespace

struct PracticeDriver::Driving {
    Driving(const Job &job, const HiddenEngine &truth, const std::vector<FaultSetting> &faults,
            PracticeRowTaker row, std::stop_token stop)
        : m_job(job), m_engine(std::make_shared<Study>(job), truth, faults), m_row(std::move(row)),
          m_stop(std::move(stop)) {}

    PracticeResult result() const {
        PracticeResult out = m_result;
        out.damage = m_engine.damage();
        out.destroyedBy = m_engine.damage().destroyedBy();
        out.seconds = m_engine.timeS();
        out.burnedL = m_engine.burnedL();
        out.content = m_engine.truth().content;
        out.tankL = m_engine.circuit().tankL();
        out.tankContent = FuelComponents::alcohol(m_engine.circuit().inTank());
        return out;
    }

    bool gone() const { return m_stop.stop_requested() || !m_engine.damage().destroyedBy().empty(); }
    bool over() const { return m_lifted || gone(); }

    void fill(const PracticeScript &script) {
        if (script.ethanol)
            m_engine.fill(*script.ethanol);
        else if (m_job.control == FuelControl::mechanical)
            m_engine.fill(mechanicalContent(m_job));
        else
            m_engine.fill(std::clamp(alcoholOf(tankNow(m_job).content), 0.0, 1.0));
        if (script.cold)
            m_engine.cold(script.coldC);
        else
            m_engine.warm();
    }

    void step(const Drive &drive) {
        const PracticeSample &s = m_engine.step(drive);
        ++m_result.rows;
        m_row(s, m_engine.truth());
    }

    // The driver's foot: straight to where the throttle alone gives the pressure, then a little at a time.
    void follow(Drive &drive, double loadKpa) {
        const double error = loadKpa - m_engine.mapKpa();
        constexpr double perKpaS = 4, fastestPerS = 120;
        const double wish = std::clamp(perKpaS * error, -fastestPerS, fastestPerS);
        drive.throttlePercent = std::clamp(drive.throttlePercent + wish * tickS, 0.5, wideOpen);
    }

    void idle(double seconds, double untilCoolantC = 1e9) {
        Drive drive = m_drive;
        drive.mode = DynoMode::held;
        drive.heldRpm = idleRpm;
        drive.gear = 1;
        for (double t = 0; t < seconds && !over() && m_engine.sample().coolantC < untilCoolantC; t += tickS) {
            follow(drive, idleKpa);
            step(drive);
        }
        m_drive = drive;
    }

    template <class Rpm, class Load>
    void hold(double seconds, double gear, Rpm rpm, Load load) {
        Drive drive = m_drive;
        drive.mode = DynoMode::held;
        drive.gear = gear;
        for (double t = 0; t < seconds && !over(); t += tickS) {
            drive.heldRpm = rpm(t);
            follow(drive, load(t));
            step(drive);
        }
        m_drive = drive;
    }

    void pull(const PracticeStep &s) {
        constexpr double rollS = 3, openS = 0.2, longestS = 60, coastS = 3, lightKpa = 55, everyRow = 5;
        const double to = s.says("to_rpm") ? s.toRpm : 0.97 * m_job.engine.revLimitRpm;
        if (!(to > s.fromRpm))
            throw InputError("to_rpm", MARKED("expected.over_from_rpm", "more than from_rpm"), exactly(to));
        hold(
            rollS, s.gear, [&](double) { return s.fromRpm; }, [&](double) { return lightKpa; });
        DynoRun run;
        const HiddenEngine &e = m_engine.hidden();
        run.number = static_cast<int>(m_result.runs.size()) + 1;
        run.mode = s.mode;
        run.gear = s.gear;
        run.startS = m_engine.timeS();
        run.ambientKpa = e.ambientKpa;
        run.ambientC = e.airC;
        run.humidity = e.humidity;
        run.startIntakeC = m_engine.sample().intakeC;
        run.startCoolantC = m_engine.sample().coolantC;
        run.startContentPercent = m_engine.sample().contentPercent;
        run.note = s.note;
        Drive drive = m_drive;
        drive.mode = s.mode;
        double cutS = 0;
        int row = 0;
        for (double t = 0; t < longestS && m_engine.rpm() < to && !over(); t += tickS) {
            drive.throttlePercent =
                std::min(s.throttlePercent, drive.throttlePercent + s.throttlePercent / openS * tickS);
            step(drive);
            // Against a limiter there is nothing more to come.
            constexpr double givesUpS = 0.6, nearLimit = 0.8; // lower it is an overboost cut, which passes
            const bool fast = m_engine.rpm() > nearLimit * m_job.engine.revLimitRpm;
            if (fast && m_engine.sample().pulseMs <= 0 && m_job.control == FuelControl::controller)
                cutS += tickS;
            if (cutS > givesUpS) break;
            if (row++ % static_cast<int>(everyRow) == 0) run.rows.push_back(rowNow());
        }
        for (const DynoRow &r : run.rows) {
            run.peakTorqueNm = std::max(run.peakTorqueNm, r.torqueNm);
            run.peakPowerKw = std::max(run.peakPowerKw, r.powerKw);
        }
        m_result.runs.push_back(std::move(run));
        drive.mode = DynoMode::held;
        for (double t = 0; t < coastS && !gone(); t += tickS) {
            drive.heldRpm = s.fromRpm;
            drive.throttlePercent = 0;
            step(drive);
        }
        m_drive = drive;
    }

    DynoRow rowNow() const {
        const PracticeSample &s = m_engine.sample();
        const double torque = m_engine.truth().dynoTorqueNm;
        return {s.rpm,     torque,     torque * s.rpm / 9549.297, s.mapKpa - m_engine.hidden().ambientKpa,
                s.lambda,  s.sparkDeg, s.contentPercent,          s.intakeC,
                s.coolantC};
    }

    void tipIn(const PracticeStep &s) {
        constexpr double settleS = 2;
        hold(
            settleS, s.gear, [&](double) { return s.rpm; }, [&](double) { return s.fromKpa; });
        // Where the throttle alone gives that pressure, at once; boost takes its time.
        const Curve &curve = m_job.engine.throttleKpa;
        double low = 0, high = wideOpen;
        constexpr int halvings = 20;
        for (int i = 0; i < halvings; ++i) {
            const double middle = (low + high) / 2;
            (curve.at(middle) / curve.at(wideOpen) * m_engine.hidden().ambientKpa < s.toKpa ? low : high) =
                middle;
        }
        m_drive.throttlePercent = high;
        hold(
            s.seconds, s.gear, [&](double) { return s.rpm; }, [&](double) { return s.toKpa; });
    }

    void coldStart(const PracticeStep &s) {
        m_engine.cold(s.coolantC);
        Drive crank;
        crank.heldRpm = 220;
        crank.throttlePercent = 3;
        crank.gear = 1;
        constexpr double crankS = 1.2;
        for (double t = 0; t < crankS && !over(); t += tickS)
            step(crank);
        m_drive = crank;
        idle(s.seconds);
    }

    void set(const PracticeStep &s) {
        const int asked = s.says("field") + s.says("table") + s.says("solenoid_duty");
        if (asked != 1)
            throw InputError("set",
                             MARKED("expected.field_table_or_duty", "one of field, table and solenoid_duty"),
                             std::to_string(asked));
        if (s.says("solenoid_duty")) {
            m_engine.controller().holdSolenoid(s.solenoidDuty);
            return;
        }
        Job job = m_job;
        if (s.says("field")) {
            const Field *field = fieldByPath(s.field);
            if (!field)
                throw InputError("field", MARKED("expected.a_field_of_the_job", "a field of the job"),
                                 "'" + s.field + "'");
            if (field->read(job).index() != s.value.index())
                throw InputError(
                    "value", MARKED("expected.a_value_of_its_kind", "a value of the field's kind"), s.field);
            validate(*field, s.value);
            field->write(job, s.value);
        } else {
            const std::string path = s.table.starts_with("calibration.") ? s.table : "calibration." + s.table;
            Table2D *table = namedTable(job, path);
            if (!table)
                throw InputError("table", MARKED("expected.a_table_of_the_job", "a table of the job"),
                                 "'" + s.table + "'");
            changeCells(*table, s);
        }
        validate(job);
        m_job = job;
        m_engine.setStudy(std::make_shared<Study>(job));
    }

    static void changeCells(Table2D &table, const PracticeStep &s) {
        const CellExpression expression = parseCellExpression(s.change, Dimension::none, UnitChoice{});
        const auto range = [&](const Axis &axis, const char *from, const char *to, double low, double high) {
            const double first = s.says(from) ? low : axis.first(), last = s.says(to) ? high : axis.last();
            std::pair<std::size_t, std::size_t> found{axis.size(), 0};
            for (std::size_t i = 0; i < axis.size(); ++i)
                if (axis[i] >= first && axis[i] <= last)
                    found = {std::min(found.first, i), std::max(found.second, i)};
            if (found.first > found.second)
                throw InputError(
                    from, MARKED("expected.a_range_with_a_breakpoint", "a range with a breakpoint in it"),
                    fromTo(first, last));
            return found;
        };
        const auto x = range(table.x(), "from_x", "to_x", s.fromX, s.toX);
        const auto y = range(table.y(), "from_y", "to_y", s.fromY, s.toY);
        applyExpression(table, CellRange{{x.first, y.first}, {x.second, y.second}}, expression);
    }

    void note(const std::string &what) {
        m_result.events.push_back(
            {m_engine.timeS(), what, FuelComponents::alcohol(m_engine.circuit().inTank())});
    }

    void doStep(const PracticeStep &s) {
        const auto steady = [](double v) { return [v](double) { return v; }; };
        constexpr double warmC = 80, longWarmUpS = 900;
        if (s.what == "warm_up") {
            idle(s.says("seconds") ? s.seconds : longWarmUpS, warmC);
        } else if (s.what == "idle") {
            idle(s.seconds);
        } else if (s.what == "hold") {
            hold(s.seconds, s.gear, steady(s.rpm), steady(s.loadKpa));
        } else if (s.what == "cruise") {
            constexpr double slowS = 23, fastS = 7; // no common measure, so that the window is covered
            hold(
                s.seconds, s.gear,
                [&](double t) { return s.fromRpm + (s.toRpm - s.fromRpm) * thereAndBack(t, slowS); },
                [&](double t) { return s.fromKpa + (s.toKpa - s.fromKpa) * thereAndBack(t, fastS); });
        } else if (s.what == "pull") {
            pull(s);
        } else if (s.what == "tip_in") {
            tipIn(s);
        } else if (s.what == "cold_start") {
            coldStart(s);
        } else if (s.what == "cool_down") {
            m_engine.rest(s.seconds);
            note("cool down " + exactNumber(s.seconds) + " s");
        } else if (s.what == "pour") {
            m_engine.circuit().pour(
                s.litres, m_engine.components().ofShelf(m_job, s.fuel, m_engine.hidden().highEthanolError));
            note("pour " + exactNumber(s.litres) + " L " + s.fuel);
        } else if (s.what == "drain") {
            m_engine.circuit().drain(s.litres);
            note("drain " + exactNumber(s.litres) + " L");
        } else if (s.what == "set") {
            set(s);
            note("set " + s.field + s.table +
                 (s.says("solenoid_duty") ? "solenoid " + exactNumber(s.solenoidDuty) : ""));
        } else if (s.what == "look") {
            note("look " + std::string(inspectionById(s.at, "at").id));
        } else if (s.what == "release") {
            m_engine.controller().holdSolenoid(std::nullopt);
        } else {
            stepKindById(s.what, "do");
        }
    }

    Job m_job;
    PracticeEngine m_engine;
    PracticeRowTaker m_row;
    std::stop_token m_stop;
    Drive m_drive;
    PracticeResult m_result;
    bool m_lifted = false;
};

PracticeDriver::PracticeDriver(const Job &job, const HiddenEngine &truth,
                               const std::vector<FaultSetting> &faults, PracticeRowTaker row,
                               std::stop_token stop)
    : m_driving(std::make_unique<Driving>(job, truth, faults, std::move(row), std::move(stop))) {}
PracticeDriver::~PracticeDriver() = default;

void PracticeDriver::fill(const PracticeScript &script) {
    m_driving->fill(script);
}

void PracticeDriver::doStep(const PracticeStep &step) {
    m_driving->m_lifted = false;
    m_driving->doStep(step);
}

void PracticeDriver::lift() {
    m_driving->m_lifted = true;
}

void PracticeDriver::load(const Job &job) {
    validate(job);
    m_driving->m_job = job;
    m_driving->m_engine.setStudy(std::make_shared<Study>(job));
}

const Job &PracticeDriver::job() const {
    return m_driving->m_job;
}

bool PracticeDriver::over() const {
    return m_driving->gone();
}

PracticeResult PracticeDriver::result() const {
    return m_driving->result();
}

PracticeResult runPractice(const Job &job, const HiddenEngine &truth, const std::vector<FaultSetting> &faults,
                           const PracticeScript &script, const PracticeRowTaker &row, std::stop_token stop) {
    PracticeDriver driver(job, truth, faults, row, std::move(stop));
    driver.fill(script);
    for (std::size_t i = 0; i < script.steps.size() && !driver.over(); ++i)
        try {
            driver.doStep(script.steps[i]);
        } catch (const InputError &e) {
            throw InputError("step " + std::to_string(i + 1) + ": " + e.where(), e.expected(), e.found());
        }
    return driver.result();
}

} // namespace wheelwright
