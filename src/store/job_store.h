// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/job/job_change.h"
#include "store/file_bytes.h"
#include "store/schema.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

struct JobStoreOptions {
    std::string vfs; ///< SQLite's file layer by name; empty: the system's own. For tests that make it fail
    bool readOnly = false;  ///< do not even try to write
    bool mustWrite = false; ///< refuse, saying why, where the file cannot be written to
    int patienceMs = 0;     ///< to wait for another writer to finish
    int version =
        schemaVersion; ///< schema that this program knows; with `migrations`, for tests of migration
    std::span<const Migration> migrations = allMigrations();
};

/// A job file on disk. Every commit is one transaction, flushed before it returns: after a crash or a power
/// cut the file holds the last confirmed change, or the one that was being written, whole; whoever opens it
/// next rolls a journal that was left behind back first. Every row is checked for type, index and count, and
/// every chapter against its digest. Errors are InputError with a sentence for the user; after one the file
/// is as it was before the call.
class JobStore {
  public:
    using Options = JobStoreOptions;
    struct Action {
        std::string at; ///< ISO 8601, as handed to commit()
        std::string what;
    };
    struct Salvage {
        Job job;
        /// What could not be read, in words, and what stands there now: newJob()'s, or the nearest of what is
        /// left. Also what was read but is not what its digest says, so that some of it may be wrong.
        std::vector<Phrase> lost;
    };

    /// Makes a new file, beside its name, and gives it the name when it is whole: a maker that dies leaves
    /// nothing that blocks the name. Refuses to replace a file. `at`: the time now, ISO 8601.
    static JobStore create(const std::filesystem::path &path, const Job &job, const std::string &at,
                           Options options = {});

    /// Opens a file; read-only when someone else has it open, or it cannot be written. A file of an older
    /// schema is brought up to date after a copy `<name>.v<old>` has been kept (`-2`, `-3` … where another
    /// file has that name); the copy is without samples of logs, which no migration changes. Refuses newer,
    /// foreign and damaged files.
    static JobStore open(const std::filesystem::path &path, Options options = {});

    /// Reads what can be read of a damaged or truncated file, page by page. Throws InputError when nothing
    /// can.
    static Salvage salvage(const std::filesystem::path &path);

    JobStore(JobStore &&) noexcept;
    JobStore &operator=(JobStore &&) noexcept;
    ~JobStore();

    Job read() const;
    /// Whether another program has written since, past the lock.
    bool writtenElsewhere() const;
    /// The job as it is in the file now. What was read before stays what commits are held against.
    struct Reading {
        Job job;
        std::int64_t lastAction = 0;
    };
    Reading readAgain() const;
    bool readOnly() const;
    /// Throws InputError where the file may not be written to, or its name leads to another file by now.
    void requireWritable() const;
    Phrase whyReadOnly() const; ///< a sentence, or empty
    const std::filesystem::path &path() const;
    std::vector<Action> actions() const;

    /// Writes the rows that the change names, their digests, and the action. Refuses when the file has
    /// another last action than the one that was read or written here, or when its name leads to another
    /// file.
    /// after: the last action of a reading that the change was made for, where it was read again.
    void commit(const JobChange &change, const std::string &what, const std::string &at,
                std::optional<std::int64_t> after = {});

  private:
    struct Open;
    /// The bytes of the file as they are once a journal beside it has been rolled back, where that can be
    /// done.
    static MappedFile rolledBackBytes(const std::filesystem::path &path);
    static void bringUpToDate(Open &open, const Options &options);
    static Reading readAll(Open &open, int version);
    explicit JobStore(std::unique_ptr<Open> open);
    std::unique_ptr<Open> m_open;
};

} // namespace wheelwright
