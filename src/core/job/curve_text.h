// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <string>
#include <string_view>

namespace wheelwright {

/// A curve as people type it: "0 %: 200 kPa; 30 %: 228 kPa". Numbers without a unit are in the shown one.
std::string curveToText(const Curve &curve, const CurveField &field, const UnitChoice &units);

/// Throws InputError naming the point.
Curve curveFromText(std::string_view text, const CurveField &field, const UnitChoice &units);

} // namespace wheelwright
