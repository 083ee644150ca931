// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <optional>
#include <vector>

namespace wheelwright {

/// A linear programme small enough to try every corner: minimise cost · x, with 0 ≤ xᵢ ≤ upperᵢ and one or
/// two equations row · x = value. A corner has at most as many variables between their bounds as there are
/// equations (Dantzig, *Linear Programming and Extensions* (1963), basic solutions), so all corners can be
/// listed.
struct SmallProgramme {
    struct Equation {
        std::vector<double> row;
        double value = 0;
    };
    std::vector<double> cost;
    std::vector<double> upper; ///< may be infinity where another equation bounds the variable
    std::vector<Equation> equations;

    /// The best corner, or nothing when there is none. At most two equations and twelve variables; else
    /// InputError.
    std::optional<std::vector<double>> solve() const;
};

} // namespace wheelwright
