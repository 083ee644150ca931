// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/engine_map.h"

#include <algorithm>

namespace wheelwright {

EngineMap dutyMap(const Study &study, double content) {
    constexpr double endless = 99; // no pressure across the injector: nothing flows
    const DutyModel model(study.job(), content, study.job().conditions.intakeColdestC);
    return mapOverFuelTable(study, content, [&](double rpm, double load, double fuel, double lambda) {
        return std::min(endless, model.at(rpm, load, fuel, lambda).duty);
    });
}

} // namespace wheelwright
