// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>

namespace wheelwright {

/// What stands on the pages that are handed over and follows from nothing else.
struct HandoverSetup {
    std::string call;   ///< whom the owner calls: a name and a number, as typed
    std::string note;   ///< for the owner
    std::string photos; ///< paths of those that go along, a line each
    bool operator==(const HandoverSetup &) const = default;
};

} // namespace wheelwright
