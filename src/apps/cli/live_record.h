// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/error.h"
#include "core/live/can_signal.h"

#include <CLI/CLI.hpp>

#include <string>

namespace wheelwright {

/// live record and live recover.
void addLiveRecordCommands(CLI::App &live, int &exitCode);

/// A map of frames, our own or a common text description (its warnings go to standard error). Throws
/// InputError naming the file.
CanMap canMapIn(const std::string &file);

/// What is read of a file says its name when it throws.
template <class T>
auto inFile(const std::string &file, T read) {
    try {
        return read();
    } catch (const InputError &e) {
        throw InputError(file + " " + e.where(), e.expected(), e.found());
    }
}

} // namespace wheelwright
