// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <CLI/CLI.hpp>

#include <string>

namespace wheelwright {

/// What bash needs to complete a program's subcommands, options and the words that an option takes, as a
/// script to be sourced. Files are completed where nothing else is.
std::string bashCompletion(const CLI::App &app);

/// Gives a program --version, --help-all for its manual page, and --bash-completion.
void addGeneralOptions(CLI::App &app);

} // namespace wheelwright
