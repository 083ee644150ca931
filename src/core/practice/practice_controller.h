// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/boost_plan.h"
#include "core/study/fuel_delivery.h"
#include "core/study/study.h"

#include <memory>
#include <optional>
#include <vector>

namespace wheelwright {

/// What a controller sees of an engine, a moment ago.
struct Sensed {
    double rpm = 0, mapKpa = 100, throttlePercent = 0, intakeC = 20, coolantC = 90, fuelC = 25,
           batteryV = 13.8;
    double contentHz = 0; ///< of the content sensor; 0: no signal
    double knock = 0;     ///< strength that the knock sensor reports, 0–1
    double gear = 4;
    double sinceStartS = 60;
    double targetOffsetKpa =
        0;                  ///< of a file that is not the one that was sent: more boost than its tables say
    bool sprayLost = false; ///< the spray should flow, and its flow switch says that it does not
};

/// What it does about it.
struct Commanded {
    double content = 0;  ///< that it goes by
    double pulseMs = 0;  ///< of one pulse; 0: cut
    double sparkDeg = 0; ///< with all corrections and retard
    double knockRetardDeg = 0;
    double lambdaTarget = 1;
    double boostTargetKpa = 100; ///< absolute
    double solenoidDuty = 0;     ///< 0–1
    bool fuelCut = false;
};

/// A controller that runs a job's calibration: the product's own blending, corrections, fallbacks, limits and
/// content sensing, and nothing else. What the job does not say, it does not do; it has no closed loop on
/// mixture. Without a content sensor it goes by the file that was loaded for a content.
class PracticeController {
  public:
    explicit PracticeController(std::shared_ptr<const Study> study);
    /// The file for this content, of a job without a sensor; with one, what it believes before any reading.
    void load(double content);
    /// The calibration becomes another; what it has learned and believes stays.
    void setStudy(std::shared_ptr<const Study> study);
    /// The duty of the solenoid whatever the tables say; nothing: by the tables.
    void holdSolenoid(std::optional<double> duty) { m_heldDuty = duty; }

    Commanded step(const Sensed &sensed, double seconds);
    double content() const { return m_content; }

  private:
    void followContent(const Sensed &sensed, double seconds);
    double fuelPulse(const Sensed &sensed, double tableFuel, double lambda, double seconds);
    double spark(const Sensed &sensed, double asked);
    void feelKnock(double knock, double seconds);
    double solenoid(const Sensed &sensed, double targetKpa, double seconds);
    bool cuts(const Sensed &sensed);
    const InjectorDemand &demand(double intakeC);

    std::shared_ptr<const Study> m_study;
    std::vector<BoostGroup> m_boostGroups;
    std::optional<RailPressure> m_rail;
    std::optional<double> m_heldDuty;
    double m_content = 0, m_retardDeg = 0, m_fallbackShare = 1, m_boostTrim = 0, m_lastThrottle = 0,
           m_enrichment = 0, m_cutS = 0;
    bool m_speedCut = false;
    struct Demand {
        double content, intakeC;
        InjectorDemand demand;
    };
    std::optional<Demand> m_demand; ///< of a moment ago: it changes slowly
};

} // namespace wheelwright
