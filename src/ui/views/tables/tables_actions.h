// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/views/view.h"

namespace wheelwright {

/// Everything that can be done to the tables, for the menu.
std::vector<ViewAction> tablesActions();

} // namespace wheelwright
