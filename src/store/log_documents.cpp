// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/log_documents.h"

#include "core/base/error.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

fs::path seriesFile(const fs::path &document, const std::string &log, std::size_t clock) {
    const fs::path folder = document.parent_path() / (document.stem().string() + "-logs");
    return folder / (log + "-" + std::to_string(clock) + ".csv");
}

// A log's id becomes a part of a file name: nothing else than digits may.
bool isPlainId(const std::string &id) {
    return !id.empty() && id.find_first_not_of("0123456789abcdef") == std::string::npos;
}

template <class Work>
void eachClock(const Job &job, const std::string &log, Work work) {
    for (const LogChannel *c : channelsOf(job, log))
        if (c->kind == ChannelKind::clock) work(static_cast<std::size_t>(c->series));
}

} // namespace

std::size_t exportLogs(const fs::path &jobFile, const Job &job, const fs::path &document,
                       const WriteSeries &format) {
    if (job.logs.empty()) return 0;
    const SampleReader reader(jobFile);
    std::size_t without = 0;
    for (const LogInfo &log : job.logs) {
        if (!isPlainId(log.id) || !reader.has(log.id)) {
            ++without;
            continue;
        }
        const ReadStretch read = [&](std::size_t series, std::size_t from, std::size_t count) {
            return reader.read(log.id, series, from, count);
        };
        eachClock(job, log.id, [&](std::size_t clock) {
            const fs::path file = seriesFile(document, log.id, clock);
            std::error_code problem;
            fs::create_directories(file.parent_path(), problem);
            replaceFile(file, [&](const WritePiece &piece) { format(job, log.id, clock, read, piece); });
        });
    }
    return without;
}

namespace {

std::size_t importLogs(const JobStore &store, const Job &job, const fs::path &document,
                       const ReadSeriesText &format) {
    std::size_t without = 0;
    for (const LogInfo &log : job.logs) {
        std::size_t series = 0, files = 0;
        std::set<std::size_t> clocks;
        for (const LogChannel *c : channelsOf(job, log.id))
            series = std::max(series, static_cast<std::size_t>(c->series) + 1);
        std::error_code ignored;
        eachClock(job, log.id, [&](std::size_t clock) {
            clocks.insert(clock);
            files += isPlainId(log.id) && fs::exists(seriesFile(document, log.id, clock), ignored);
        });
        if (files == 0 || files < clocks.size()) {
            ++without;
            continue;
        }
        SampleWriter writer(store, series, clocks);
        for (const std::size_t clock : clocks) {
            const fs::path path = seriesFile(document, log.id, clock);
            const OpenFile file(path);
            try {
                format(file, writer);
            } catch (const InputError &e) {
                throw InputError(path.string() + ", " + e.where(), e.expected(), e.found());
            }
        }
        if (const std::string id = writer.seal(); id != log.id)
            throw InputError(seriesFile(document, log.id, *clocks.begin()).string(),
                             Phrase{MARKED("expected.samples_of", "the samples of log {a}"), {}, {log.id}},
                             Phrase{MARKED("found.samples_of_another", "others, {a}"), {}, {id}});
    }
    return without;
}

} // namespace

ImportedJob importJob(const fs::path &target, const Job &job, const std::string &at, const fs::path &document,
                      const ReadSeriesText &format) {
    ImportedJob out{JobStore::create(target, job, at)};
    try {
        out.logsWithoutSamples = importLogs(out.store, job, document, format);
    } catch (const InputError &) {
        std::error_code ignored;
        fs::remove(target, ignored); // not half a job
        throw;
    }
    return out;
}

} // namespace wheelwright
