// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <span>

namespace wheelwright {

/// Takes the samples of a log as whoever reads its file comes to them: each series in order, a stretch at a
/// time, all series of one clock with the same stretches.
class SampleSink {
  public:
    SampleSink() = default;
    SampleSink(const SampleSink &) = delete;
    SampleSink &operator=(const SampleSink &) = delete;
    virtual ~SampleSink() = default;
    /// The next samples of a series, as the file has them. Not a number: there is none at that time.
    virtual void put(std::size_t series, std::span<const double> samples) = 0;
};

} // namespace wheelwright
