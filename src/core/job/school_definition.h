// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <span>
#include <string_view>

namespace wheelwright {

/// A way in which content enters a calibration.
struct SchoolDefinition {
    School school;
    std::string_view id;     ///< "two_tables"
    std::string_view letter; ///< "A"
    PhraseText title;
    PhraseText help;
    bool levels; ///< holds ContentLevels
};
std::span<const SchoolDefinition> allSchools();
const SchoolDefinition &definitionOf(School school);

/// Levels ascend, windows hold their content, and schools D and E have enough of them. Throws InputError.
void validateSchool(const Job &job);

} // namespace wheelwright
