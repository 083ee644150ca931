// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

namespace wheelwright {

/// Tables may go by manifold pressure, air mass or throttle; the engine is judged by manifold pressure. The
/// load axis at a pressure, and back. Air mass: ideal gas at 100 % VE and usual intake air (Heywood 1988,
/// eq. 2.27). Throttle: the job's curve, held at its ends.
double axisOfLoad(const Job &job, double loadKpa);
double loadOfAxis(const Job &job, double y);

/// The same job with fuel, spark and lambda tables over manifold pressure, exact: a table over throttle gets
/// the curve's points as further rows, so that it stays straight between them; with no room for them (64
/// rows) it is straight in pressure between its own.
Job inPressure(const Job &job);

/// The job with its tables' breakpoints expressed on another axis; cells stay. Marks follow. Throws
/// InputError where two breakpoints would fall together.
Job changeLoadAxis(const Job &job, LoadAxis axis);

/// Boost tables over gear or throttle. To gears: each of six gets the row of full throttle. To throttle: the
/// highest of all gears at full throttle, as one row.
Job changeBoostAxis(const Job &job, BoostAxis axis);

} // namespace wheelwright
