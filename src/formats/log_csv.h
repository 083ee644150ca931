// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/evidence/sample_sink.h"
#include "core/job/job.h"

#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Samples of a series from one place on, as they are kept; fewer at its end.
using ReadSeries =
    std::function<std::vector<double>(std::size_t series, std::size_t from, std::size_t count)>;
using WriteText = std::function<void(std::string_view)>;

/// A log as comma-separated text: names, units, then a row for each time that any of its clocks has, in the
/// internal units of the roles; channels without a role as they came. Written piece by piece.
void logToCsv(const Job &job, const std::string &id, const ReadSeries &read, const WriteText &write);

/// The samples of one clock of a log as they are kept, to be read back exactly: the first row names series by
/// their numbers, the clock first.
void seriesToCsv(const Job &job, const std::string &id, std::size_t clock, const ReadSeries &read,
                 const WriteText &write);

/// Reads what seriesToCsv() wrote into the series that it names. Throws InputError for anything else.
void seriesFromCsv(const LogBytes &bytes, SampleSink &sink);

} // namespace wheelwright
