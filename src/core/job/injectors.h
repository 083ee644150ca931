// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/records.h"
#include "core/flow/injector_set.h"
#include "core/tables/curve.h"

#include <string>

namespace wheelwright {

struct Injectors {
    double flowCcMin = 440;                   ///< each, static, at the rated differential pressure
    double ratedPressureKpa = 300;            ///< differential pressure at which the flow was measured
    double railPressureKpa = 300;             ///< gauge, with the engine off
    Curve railByLoadKpa = Curve::constant(0); ///< commanded, gauge, over manifold pressure; 0: not commanded
    bool boostReferenced = true;              ///< the regulator adds manifold pressure
    double deadTimeMs = 0.9;                  ///< at the usual battery voltage, where no table states it
    double batteryV = 13.5;                   ///< usual, with the engine running
    bool batch = false;                       ///< two pulses a cycle instead of one
    double linearMinMs = 0;   ///< pulse under which the flow is not linear any more; 0: not stated
    double testFluidKgM3 = 0; ///< rated with a fluid of this density; 0: with fuel, no correction
    Records<DeadTimePoint> deadTimes;

    bool operator==(const Injectors &) const = default;
};

/// An injector's own flow, as measured on a bench.
struct MeasuredInjector {
    std::string label = "Injector";
    double flowCcMin = 440;

    bool operator==(const MeasuredInjector &) const = default;
};

} // namespace wheelwright
