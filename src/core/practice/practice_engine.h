// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/seeded_noise.h"
#include "core/combustion/charge.h"
#include "core/flow/fuel_pump.h"
#include "core/practice/fault.h"
#include "core/practice/fuel_circuit.h"
#include "core/practice/hidden_engine.h"
#include "core/practice/practice_controller.h"
#include "core/tables/lambda_lines.h"

#include <array>
#include <memory>
#include <span>
#include <vector>

namespace wheelwright {

/// One row of a log: what sensors and controller say.
struct PracticeSample {
    double timeS = 0, rpm = 0, mapKpa = 0, throttlePercent = 0, lambda = 1, lambdaTarget = 1, sparkDeg = 0,
           knockRetardDeg = 0, contentPercent = 0, fuelC = 0, intakeC = 0, coolantC = 0, pulseMs = 0,
           dutyPercent = 0, railKpa = 0, oilKpa = 0, batteryV = 0, exhaustC = 0, boostTargetKpa = 0,
           solenoidPercent = 0, speedKmH = 0, gear = 0, sprayCcMin = 0;
};
/// A column of the log; the unit is in the key.
struct PracticeChannel {
    std::string_view key; ///< "map_kpa"
    double PracticeSample::*member;
    int decimals;
};
std::span<const PracticeChannel> practiceChannels();

/// One cylinder of it, as it really is.
CylinderShape hiddenCylinder(const Job &job, const HiddenEngine &truth);

/// What it was really like then.
struct PracticeTruth {
    double lambda = 1;        ///< of all cylinders together
    double leanestLambda = 1; ///< of one
    double sparkDeg = 0;      ///< delivered
    double content = 0;       ///< alcohol at the injectors
    double mapKpa = 0, intakeC = 0;
    double knock = 0; ///< strength, 0–1
    double knockIntegral = 0;
    double peakKpa = 0;  ///< of the hottest cylinder
    double torqueNm = 0; ///< at the crank
    double airMg = 0, fuelMg = 0;
    double dynoTorqueNm = 0; ///< as a dyno shows it: less driveline, with its noise
    Charge hottest;          ///< in the hottest and leanest cylinder, as it burned last
    Burn hottestBurn;
};

/// What has been done to the engine, each against what it stands: 1 destroys it.
struct PracticeDamage {
    double knock = 0, lean = 0, pressure = 0, overspeed = 0, heat = 0;
    double oilDilution = 0; ///< share of fuel in the oil: worn, not destroyed
    /// "knock", "lean_mixture", "cylinder_pressure", "overspeed" or "heat" of what reached 1; empty: it
    /// lives.
    std::string_view destroyedBy() const;
    bool operator==(const PracticeDamage &) const = default;
};

enum class DynoMode { held, inertia, loaded, road };

/// What driver and dyno do.
struct Drive {
    double throttlePercent = 0;
    double gear = 4; ///< 1–6
    DynoMode mode = DynoMode::held;
    double heldRpm = 900;
    bool running = true; ///< false: ignition off, with fans
};

/// An engine with a hidden truth on a dyno or a road, run by the calibration of a job, step by step: a clock
/// that is handed in, chance from one seed, the same on every machine. Common practice, from memory, for all
/// that is not the cylinder itself.
class PracticeEngine {
  public:
    static constexpr double stepS = 0.01;

    /// The study's calibration runs it. Throws InputError for a truth or a fault that makes no sense.
    PracticeEngine(std::shared_ptr<const Study> study, const HiddenEngine &truth,
                   std::vector<FaultSetting> faults = {});

    /// Tank to three quarters, lines and rail of this content, and the file for it loaded where there is no
    /// sensor.
    void fill(double content);
    void fill(const FuelMix &mix);
    void warm();
    void cold(double celsius);
    void setStudy(std::shared_ptr<const Study> study);

    const PracticeSample &step(const Drive &drive);
    /// Engine off, fans on, without a log.
    void rest(double seconds);

    double timeS() const { return m_timeS; }
    const PracticeSample &sample() const { return m_sample; }
    const PracticeTruth &truth() const { return m_truth; }
    const PracticeDamage &damage() const { return m_damage; }
    const HiddenEngine &hidden() const { return m_hidden; }
    const FuelComponents &components() const { return m_components; }
    FuelCircuit &circuit() { return m_circuit; }
    const FuelCircuit &circuit() const { return m_circuit; }
    PracticeController &controller() { return m_controller; }
    double burnedL() const { return m_burnedL; } ///< of fuel, since the beginning
    double mapKpa() const { return m_mapKpa; }
    double rpm() const { return m_rpm; }
    const Job &job() const { return m_study->job(); }

  private:
    struct Injected {
        double meanMg = 0, leanestFactor = 1, useL = 0, railKpa = 0, dutyShare = 0;
    };
    void breathe(const Drive &drive);
    void sense(const Drive &drive);
    Injected inject();
    double mechanicalFuelMg() const;
    void spray();
    void burn(const Injected &injected);
    void wetWall(const Injected &injected);
    Breath breath() const;
    void fire(Breath breath);
    void senseLambda();
    double brake(double workKpa) const;
    void turn(const Drive &drive);
    void warmUp(const Drive &drive);
    void flowFuel(const Injected &injected);
    void wear();
    void record(const Drive &drive, const Injected &injected);
    double railDrop(double useAtRegulatedL, double across, double gauge, double &useL) const;
    double cycles() const; ///< of one cylinder in a step
    bool mechanical() const { return job().control == FuelControl::mechanical; }

    std::shared_ptr<const Study> m_study;
    HiddenEngine m_hidden;
    FaultsNow m_faults;
    FuelComponents m_components;
    FuelCircuit m_circuit;
    PracticeController m_controller;
    Cylinder m_cylinder;
    ChargeModel m_model;
    LeanLine m_lean;
    RailPressure m_rail;
    BlendProperties m_fuel;
    SeededNoise m_chanceKnock, m_chanceMap, m_chanceLambda, m_chanceContent, m_chanceTorque, m_chanceRail,
        m_chanceExhaust;

    std::uint64_t m_steps = 0;
    double m_restedS = 0, m_timeS = 0, m_sinceStartS = 0, m_rpm = 900, m_boostKpa = 0, m_boostRate = 0,
           m_mapKpa = 100, m_intakeC = 25, m_intakeSensorC = 25, m_soakK = 0, m_coolantC = 20, m_oilC = 20,
           m_fuelC = 25, m_exhaustC = 300, m_openK = 1500, m_filmMg = 0, m_lambdaSensor = 1,
           m_contentSensor = 0, m_contentHz = 50, m_burnedL = 0, m_batteryV = 13.9, m_sprayCcMin = 0,
           m_sprayMethanolMg = 0, m_sprayCoolingK = 0;
    bool m_starved = false;
    std::array<double, 64> m_lambdaOnTheWay{}; ///< of the last steps, a ring
    std::size_t m_wayAt = 0;
    Sensed m_sensed;
    Commanded m_commanded;
    PracticeSample m_sample;
    PracticeTruth m_truth;
    PracticeDamage m_damage;
};

} // namespace wheelwright
