// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/study.h"

#include <optional>
#include <span>
#include <vector>

namespace wheelwright {

/// How much logs say of a place.
enum class BeenThere : unsigned char {
    never, ///< no log has been there
    seen,  ///< one has
    proven ///< it ran there on target and without knock, on the calibration as it is
};

/// Where logs have been, as a value that whoever judges a job can be given: cells of engine speed and
/// manifold pressure in bands of content. Made of a coverage (core/evidence/coverage.h); without logs all is
/// never.
class Proof {
  public:
    Proof() = default;
    /// cells: rpm fastest, then load, then band.
    Proof(Axis rpm, Axis loadKpa, std::vector<double> bandEnds, std::vector<BeenThere> cells);

    bool empty() const { return m_cells.empty(); }
    /// Of the cell nearest to a place.
    BeenThere at(const OperatingPoint &place) const;
    /// The highest load that is proven at the speed nearest to this one, at a content; none: nothing is.
    std::optional<double> highestProven(double content, double rpm) const;
    /// Clean pulls have been made at a content: at every speed from pullsFromShare of the rev limit up to it,
    /// the highest cell that the engine reaches there, or the one below, is proven; of seen the same.
    BeenThere pulls(const Study &study, double content) const;
    /// The same at several contents.
    std::vector<BeenThere> pulls(const Study &study, std::span<const double> contents) const;
    bool anyProven() const;
    bool operator==(const Proof &) const = default;

  private:
    std::size_t bandOf(double content) const;
    BeenThere pullsWithin(std::span<const ReachAtSpeed> reach, double revLimitRpm, std::size_t band) const;
    BeenThere cell(std::size_t x, std::size_t y, std::size_t band) const;

    Axis m_rpm = Axis(std::vector<double>{0}), m_load = Axis(std::vector<double>{0});
    std::vector<double> m_bands;
    std::vector<BeenThere> m_cells;
};

/// From where on a pull is one; common practice.
inline constexpr double pullsFromShare = 0.45, pullsToShare = 0.9;

} // namespace wheelwright
