// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/view.h"

#include <array>

namespace wheelwright {

#define WHEELWRIGHT_VIEW(name) const ViewDefinition &name##View();
#include "ui/views/all_views.def"
#undef WHEELWRIGHT_VIEW

std::span<const ViewDefinition *const> allViews() {
    static const std::array views{
#define WHEELWRIGHT_VIEW(name) &name##View(),
#include "ui/views/all_views.def"
#undef WHEELWRIGHT_VIEW
    };
    return views;
}

} // namespace wheelwright
