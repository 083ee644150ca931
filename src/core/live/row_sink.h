// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// Rows at even times: seconds, what each channel of a bus said then, and which event came: its place among
/// the events so far, from 0. What nobody said is not a number.
struct LiveRows {
    std::size_t width = 0; ///< channels and two
    std::vector<double> numbers{};

    std::size_t count() const { return width == 0 ? 0 : numbers.size() / width; }
    std::span<const double> row(std::size_t i) const { return std::span(numbers).subspan(i * width, width); }
};

/// Where rows of a recording go.
class RowSink {
  public:
    RowSink() = default;
    RowSink(const RowSink &) = delete;
    RowSink &operator=(const RowSink &) = delete;
    virtual ~RowSink() = default;
    /// rows: those that are new. events: all texts so far. When it returns they are kept, whatever happens to
    /// the program. Throws InputError where they could not be.
    virtual void keep(const LiveRows &rows, std::span<const std::string> events) = 0;
};

} // namespace wheelwright
