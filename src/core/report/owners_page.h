// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/tank.h"
#include "core/report/flow_reports.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Whether a fuel may be in the tank alone.
struct OwnersFuel {
    std::string name;
    Uncertain content;                        ///< of the job's alcohol, 0 to 1
    CheckState state = CheckState::notJudged; ///< the worst within its content ± two standard uncertainties
    std::vector<Phrase> flags;                ///< of the shelf
};
/// Every fuel of the shelf that goes into plans. today: ISO 8601, for what was opened too long ago.
std::vector<OwnersFuel> ownersFuels(const Verdict &verdict, std::string_view today);

/// Contents at which logs hold clean pulls on this calibration, ascending.
std::vector<double> drivenContents(const Verdict &verdict);

/// One page: what it may run on, what to watch, how to change fuel, and whom to call.
WorkedReport ownersPage(const FlowLook &look, std::string_view today);

} // namespace wheelwright
