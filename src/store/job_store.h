#pragma once
#include "core/job/job.h"
#include "core/job/job_change.h"
#include "store/schema.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace wheelwright {

struct JobStoreOptions {
    std::string vfs; ///< SQLite's file layer by name; empty: the system's own. For tests that make it fail
    bool readOnly = false; ///< do not even try to write
    int version =
        schemaVersion; ///< schema that this program knows; with `migrations`, for tests of migration
    std::span<const Migration> migrations = allMigrations();
};

/// A job file on disk. Every commit is one transaction, flushed before it returns: after a crash or a power
/// cut the file holds the last confirmed change, or the one that was being written, whole. Errors are
/// InputError with a sentence for the user; after one the file is as it was before the call.
class JobStore {
  public:
    using Options = JobStoreOptions;
    struct Action {
        std::string at; ///< ISO 8601, as handed to commit()
        std::string what;
    };
    struct Salvage {
        Job job;
        std::vector<std::string> lost; ///< what could not be read, in words; the job holds newJob()'s there
    };

    /// Makes a new file. Refuses to replace one. `at`: the time now, ISO 8601.
    static JobStore create(const std::filesystem::path &path, const Job &job, const std::string &at,
                           Options options = {});

    /// Opens a file; read-only when someone else has it open, or it cannot be written. A file of an older
    /// schema is brought up to date after a copy `<name>.v<old>` has been kept. Refuses newer, foreign and
    /// damaged files.
    static JobStore open(const std::filesystem::path &path, Options options = {});

    /// Reads what can be read of a damaged file. Throws InputError when it is no job file at all.
    static Salvage salvage(const std::filesystem::path &path);

    JobStore(JobStore &&) noexcept;
    JobStore &operator=(JobStore &&) noexcept;
    ~JobStore();

    Job read() const;
    bool readOnly() const;
    std::string whyReadOnly() const; ///< a sentence, or empty
    const std::filesystem::path &path() const;
    std::vector<Action> actions() const;

    /// Writes the rows that the change names and records the action.
    void commit(const JobChange &change, const std::string &what, const std::string &at);

  private:
    struct Open;
    static void bringUpToDate(Open &open, const Options &options);
    explicit JobStore(std::unique_ptr<Open> open);
    std::unique_ptr<Open> m_open;
};

} // namespace wheelwright
