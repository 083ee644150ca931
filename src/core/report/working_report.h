// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/report/report.h"

namespace wheelwright {

/// The working of a number to be read: the number, its formula with the numbers in it, from what, what would
/// change it, by whose word and how sure. An input that can be changed links to where it stands.
Report workingReport(const Explanation &working);

} // namespace wheelwright
