// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/watch_rule.h"

#include <optional>
#include <stop_token>
#include <vector>

namespace wheelwright {

/// How long exhaust takes to the sensor at some flow of air.
struct DelayAtFlow {
    double airGS = 0;   ///< mean of its steps, g/s
    double delayMs = 0; ///< transport alone, by the curve that all steps share
    double sigmaMs = 0; ///< standard error of that curve here
    int steps = 0;      ///< of fuel and λ at such a flow
};

/// Delay of λ behind the fuel of a log.
struct LambdaDelay {
    std::vector<DelayAtFlow> byFlow; ///< ascending; empty: the log has no steps that tell
    double lagMs = 0;                ///< the sensor's own, first order, fitted beside it
    /// delay = atOnceMs + gramsMs / air flow, fitted to all steps; empty where the flows are too alike.
    struct Curve {
        double atOnceMs = 0, gramsMs = 0, sigmaMs = 0;
        double at(double airGS) const { return atOnceMs + gramsMs / airGS; }
    };
    std::optional<Curve> curve;
    bool stated = false; ///< by the job, not found in this log
    bool any() const { return curve.has_value() || !byFlow.empty(); }
};

/// Finds it from steps of injected fuel and λ (cuts, tip-ins, changes of target): λ in the cylinder follows
/// from pulses, tables and a film on the walls; the transport and the lag are those with which it comes
/// nearest to what the sensor reads. Least squares over a grid; steps that the model explains poorly say
/// little. Needs pulses, λ,
/// speed and manifold pressure, at 20 Hz or more: InputError says what is missing.
LambdaDelay findDelay(const WatchedLog &log, std::stop_token stop = {});

/// The delay that the job states (limits evidence.delay.*): delay = at once + by flow / air; empty where it
/// states none.
std::optional<LambdaDelay> statedDelay(const Job &job);
/// As limits of a job, for the next logs. Nothing happens where the delay has no curve and no bins.
void stateDelay(Job &job, const LambdaDelay &delay);

/// Where λ of each sample is read: the sample at which its exhaust is at the sensor, by the delay at its flow
/// and by the lag; size() behind the end of the log, or where nobody knows the flow.
std::vector<std::size_t> placesOfLambda(const WatchedLog &log, const LambdaDelay &delay);
/// The log with λ moved to where it belongs: each sample by the delay at its flow, and by the lag.
std::vector<double> lambdaInItsPlace(const WatchedLog &log, const LambdaDelay &delay);

} // namespace wheelwright
