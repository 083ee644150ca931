// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/flow/spray.h"

namespace wheelwright {

enum class SprayPlace { beforeCompressor, afterCompressor, ports };

enum class SprayFailSafe { none, boostCut, sparkRetard };

struct AuxiliaryInjection {
    bool fitted = false;
    Spray spray;
    SprayPlace place = SprayPlace::afterCompressor;
    bool trimmed = true; ///< the fuel tables are trimmed for it
    SprayFailSafe failSafe = SprayFailSafe::none;

    bool operator==(const AuxiliaryInjection &) const = default;
};

} // namespace wheelwright
