// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

namespace wheelwright {

/// The number with no more decimals than it has, up to two: 2.4 rather than 2.40.
Measured shortly(double value, Dimension dimension);

/// What stands in a field, in words: a number in its unit or what its 0 says, the title of a choice, yes or
/// no, a text as it is.
Phrase saidContent(const Field &field, const FieldContent &content);
/// A constant by its value, another curve by its first and last.
Phrase saidCurve(const CurveField &field, const Curve &curve);

} // namespace wheelwright
