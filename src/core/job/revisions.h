// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/deferred_text.h"

#include <string>

namespace wheelwright {

/// The calibration as it was, under a name. `state` is text made by stateOf() (job/revision.h), read
/// from the file when somebody asks for it.
struct Revision {
    std::string name = "Revision"; ///< unique
    std::string at;                ///< ISO 8601
    std::string note;
    bool sent = false; ///< handed to the controller
    DeferredText state;

    bool operator==(const Revision &) const = default;
};

/// A note on one cell, or its lock. The cell is named by its breakpoints, so it survives other tables.
struct CellMark {
    std::string table; ///< path
    double rpm = 0, y = 0;
    bool locked = false;
    std::string note;

    bool operator==(const CellMark &) const = default;
};

} // namespace wheelwright
