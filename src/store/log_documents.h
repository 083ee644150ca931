// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/evidence/sample_sink.h"
#include "store/job_store.h"

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

// Samples of logs beside a JSON document: thistle.json has them in the folder thistle-logs, a text for each
// clock of a log. What such a text looks like is for the formats to say (formats/log_csv.h).

using ReadStretch =
    std::function<std::vector<double>(std::size_t series, std::size_t from, std::size_t count)>;
/// Writes the samples of one clock, piece by piece.
using WriteSeries = std::function<void(const Job &job, const std::string &log, std::size_t clock,
                                       const ReadStretch &read, const WritePiece &write)>;
/// Reads such a text into the series that it names.
using ReadSeriesText = std::function<void(const LogBytes &bytes, SampleSink &sink)>;

/// Writes the samples of all logs of a job file that are in it. Returns how many logs had none.
std::size_t exportLogs(const std::filesystem::path &jobFile, const Job &job,
                       const std::filesystem::path &document, const WriteSeries &format);

/// A job file made of a document, with the samples that lie beside it. Throws InputError, and leaves no file,
/// for samples that are not those of the log; a log without any keeps its record.
struct ImportedJob {
    JobStore store;
    std::size_t logsWithoutSamples = 0;
};
ImportedJob importJob(const std::filesystem::path &target, const Job &job, const std::string &at,
                      const std::filesystem::path &document, const ReadSeriesText &format);

} // namespace wheelwright
