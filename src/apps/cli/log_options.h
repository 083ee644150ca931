// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <CLI/CLI.hpp>

#include <string>
#include <vector>

namespace wheelwright {

/// What every command is told that goes through logs.
struct ThroughLogs {
    std::string job;
    std::vector<std::string> logs; ///< ids or names of files; none: what the help says
    bool json = false;
};
/// otherwise: "all logs made with the calibration as it is". Keeps a reference to the arguments.
void addLogOptions(CLI::App *sub, ThroughLogs &a, const std::string &otherwise, bool jobNeeded = true);
inline constexpr const char *currentLogs = "all logs made with the calibration as it is";

} // namespace wheelwright
