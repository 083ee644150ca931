// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/version.h"

namespace wheelwright {

const std::string_view version = WHEELWRIGHT_VERSION;

} // namespace wheelwright
