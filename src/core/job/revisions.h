// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/deferred_text.h"

#include <string>

namespace wheelwright {

/// The calibration as it was, under a name. `state` is text made by stateOf() (job/revision.h), read
/// from the file when somebody asks for it.
struct Revision {
    std::string name = "Revision"; ///< unique
    std::string at{};              ///< ISO 8601
    std::string note{};
    bool sent = false;    ///< handed to the controller
    std::string parent{}; ///< name of the one that it was made from; empty: nobody knows, or it is the first
    bool current = false; ///< the one that the tables of now were made from; of at most one
    std::string cameBack{}; ///< ISO 8601: read back from the controller, and found the same; empty: not yet
    std::string released{}; ///< ISO 8601: handed over to be driven; empty: not
    DeferredText state{};

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
