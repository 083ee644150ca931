// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

namespace wheelwright {

/// The table of a kind that is in use; nullptr without one.
const ExtraTable *extraInUse(const Job &job, TableKind kind);

/// Its value at a place; the kind's neutral without one.
double extraAt(const Job &job, TableKind kind, double x, double y = 0);

} // namespace wheelwright
