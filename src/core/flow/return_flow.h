#pragma once
#include "core/job/job.h"

#include <vector>

namespace wheelwright {

/// The controller holds the content here.
bool frozenAt(const FuelSupply &supply, double rpm, double loadKpa);

/// What comes back to the tank, at every breakpoint of the fuel table that the boost target of a content lets
/// the engine reach, L/min; rpm-major like a table's cells. Negative: the pumps do not even fill the engine.
struct ReturnFlowMap {
    std::vector<double> rpm, loadKpa;
    std::vector<double> lMin;
    std::vector<bool> reached;
};
/// Throws InputError when the pumps have no data.
ReturnFlowMap returnFlow(const Job &job, double content);

/// Above this load and this speed, both together, the reading of a sensor in the return is to be held: the
/// corner of all points, at any content, where too little comes back.
struct FreezeLine {
    bool needed = false;
    double loadKpa = 0, rpm = 0;
};
FreezeLine freezeLine(const Job &job);

} // namespace wheelwright
