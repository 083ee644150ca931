// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// The air that the engine is judged in.
struct Conditions {
    double ambientKpa = 101.325;
    double intakeUsualC = 40;
    double intakeColdestC = 10; ///< densest charge: the worst case for injectors
    bool operator==(const Conditions &) const = default;
};

} // namespace wheelwright
