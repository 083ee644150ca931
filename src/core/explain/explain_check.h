// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/verify/check.h"

namespace wheelwright {

/// The number that a check holds its own against at a place: what it is made of, and where it is from.
Explanation explainLimitOf(const Check &check, const Job &job, const WorstPlace &place);

} // namespace wheelwright
