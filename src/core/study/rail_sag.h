// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/operating_point.h"
#include "core/study/study.h"

#include <optional>

namespace wheelwright {

/// The pressure across the injectors that is commanded where a log's highest flow is: as the log has it; or,
/// where nobody has read that and the rail is commanded, the rail's own at the point of highest flow.
struct CommandedAcross {
    double kpa = 0;                     ///< 0: neither is known
    std::optional<OperatingPoint> at{}; ///< of a commanded rail
};

/// content: that the log was taken at.
CommandedAcross commandedAcross(const Study &study, double content);

} // namespace wheelwright
