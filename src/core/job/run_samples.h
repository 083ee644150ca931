// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/channel_role.h"

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// A column of a run as its file has it; what its numbers mean stands beside them:
/// internal = number × scale + offset.
struct RunColumn {
    ChannelRole role = ChannelRole::none;
    std::string name, unit; ///< as the file writes them
    double scale = 1, offset = 0;
    std::vector<double> numbers; ///< not a number: there is none in that row

    double internal(std::size_t row) const { return numbers[row] * scale + offset; }
};

/// The numbers of a run, row by row in the order in which they were measured.
struct RunSamples {
    std::vector<RunColumn> columns; ///< all of one length
    std::size_t rows() const { return columns.empty() ? 0 : columns.front().numbers.size(); }
    /// The first column of a role; nullptr: none.
    const RunColumn *of(ChannelRole role) const;
    std::size_t place(ChannelRole role) const; ///< of that column; columns.size() where there is none
};

/// Columns and rows that a run may have.
inline constexpr std::size_t mostRunColumns = 100, mostRunRows = 200'000;

/// As text, exact: a line a column with role, name, unit, scale and offset, an empty line, then the rows;
/// tabs between. This is what a job holds of a run.
std::string runSamplesText(const RunSamples &samples);
/// Throws InputError naming `where` and the line.
RunSamples runSamplesFrom(std::string_view text, const std::string &where);

} // namespace wheelwright
