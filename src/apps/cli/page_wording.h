// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <CLI/CLI.hpp>

namespace wheelwright {

/// Gives a subcommand that writes pages for people --language: scripts read English, people what they speak.
void addLanguage(CLI::App *sub);

/// How such a page is written: in SI, in the language that was asked for, contents as written() has them.
Wording pageWording();

} // namespace wheelwright
