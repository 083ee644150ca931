// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/sample_sink.h"
#include "core/job/job.h"
#include "store/sample_chunk.h"

#include <filesystem>
#include <memory>
#include <set>
#include <string>
#include <vector>

namespace wheelwright {

class JobStore;

// Samples of logs lie in the job file beside the job (decision 0031): chunks that never change and are named
// by what they hold, and for each log a list of its chunks. Each of these has a connection of its own to the
// file and is used by one thread at a time. Errors are InputError with a sentence.

/// A chunk of a series, and how many samples it holds.
struct SamplePart {
    Digest chunk;
    std::size_t samples = 0;
};

/// Takes the samples of one log into a job file that is open for writing. What it has written is nothing to
/// anybody until it is sealed: whoever dies before leaves chunks that nobody names, and the next tidying
/// takes them.
class SampleWriter : public SampleSink {
  public:
    /// wide: series whose samples keep 8 bytes: clocks. Throws where the job may not be written.
    SampleWriter(const JobStore &store, std::size_t series, const std::set<std::size_t> &wide,
                 const std::string &vfs = {});
    ~SampleWriter() override; ///< takes back what was not sealed

    void put(std::size_t series, std::span<const double> samples) override;
    /// Names what was put. The same samples have the same name.
    std::string seal();
    std::uintmax_t packedBytes() const; ///< so far

  private:
    struct Writing;
    std::unique_ptr<Writing> m_open;
};

/// Reads samples of the logs of a job file, also while somebody writes to it.
class SampleReader {
  public:
    explicit SampleReader(const std::filesystem::path &jobFile);
    SampleReader(SampleReader &&) noexcept;
    ~SampleReader();

    bool has(const std::string &log) const;
    std::size_t samples(const std::string &log, std::size_t series) const;
    /// A stretch; all where the count is larger than what there is.
    std::vector<double> read(const std::string &log, std::size_t series, std::size_t from = 0,
                             std::size_t count = SIZE_MAX) const;
    /// One pair for each samplesPerLevel of a chunk: a chunk begins a new pair.
    std::vector<LevelPair> levels(const std::string &log, std::size_t series) const;

  private:
    struct Reading;
    std::unique_ptr<Reading> m_open;
};

/// Takes out of the file what belongs to no log of the job, and makes the file smaller where that is worth
/// it. Only while nobody imports. Returns chunks that went.
std::size_t tidySamples(const JobStore &store, const Job &job);

} // namespace wheelwright
