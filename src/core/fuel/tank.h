// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/blend.h"

#include <string>
#include <vector>

namespace wheelwright {

/// What is in a tank. Volumes in litres at one temperature; contraction on mixing (under 0.5 %) is ignored.
struct TankState {
    /// So much of the volume is a hydrocarbon other than the job's gasoline.
    struct Share {
        std::string hydrocarbon;
        double fraction = 0;
        bool operator==(const Share &) const = default;
    };

    double volumeL = 0;
    Blend content;
    std::vector<Share> others = {};
};

/// A number with its standard uncertainty.
struct Uncertain {
    double value = 0;
    double sigma = 0;
};

/// hydrocarbon: of the fuel's gasoline part; empty: the job's own.
TankState afterPour(const TankState &tank, double litres, const Blend &fuel,
                    const std::string &hydrocarbon = {});
/// Drains or burns: the content stays. Throws InputError for more than there is.
TankState afterDrain(const TankState &tank, double litres);

/// Content after several pours, with the uncertainty that levels, meters and contents give it (first order).
struct UncertainPour {
    Uncertain litres;
    Uncertain content;
};
Uncertain contentAfter(Uncertain volumeL, Uncertain content, const std::vector<UncertainPour> &pours);

struct FlushPlan {
    bool possible = false; ///< false: the fill itself is further from the target than the tolerance
    int fills = 0;
    double fuelL = 0;             ///< poured in all
    double lastL = 0;             ///< of the last fill, where a whole one would go past the target; else 0
    std::vector<double> contents; ///< after each fill
};
/// How many fills, the last of them only as far as needed, bring the tank within `tolerance` of `target`.
/// Throws InputError for volumes that make no sense.
FlushPlan planFlush(double volumeL, double content, double fillContent, double restL, double capacityL,
                    double target, double tolerance);

} // namespace wheelwright
