// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <filesystem>
#include <optional>

namespace wheelwright {

/// The right to write a job file, held by one process and one opener, by whatever name the file is opened.
/// The system gives it back when the process dies, in whatever way.
///
/// Two locks make it: an empty `<name>.lock` beside the file that the name leads to, which also holds while
/// the file is being made; and a byte of the file itself, far beyond its end, which a second hard link cannot
/// go round. The byte is not one that SQLite uses (lockByte below), and both are advisory: a reader is not
/// kept out.
class FileLock {
  public:
    struct Attempt;
    /// Tries again until `patienceMs` have passed.
    static Attempt take(const std::filesystem::path &jobFile, int patienceMs = 0);

    FileLock(FileLock &&other) noexcept;
    FileLock &operator=(FileLock &&other) noexcept;
    ~FileLock();

    /// Whether the name still leads to the file that is locked: it may have been moved, or replaced by
    /// another.
    bool stillNamed(const std::filesystem::path &jobFile) const;
    /// After the file has been made, under a lock that was taken before it was there.
    bool lockFile(const std::filesystem::path &jobFile);

  private:
    FileLock(std::filesystem::path path, int handle) : m_path(std::move(path)), m_handle(handle) {}
    std::filesystem::path m_path; ///< of the file beside
    int m_handle;                 ///< of the file beside
    int m_file = -1;              ///< of the job file
};

struct FileLock::Attempt {
    std::optional<FileLock> lock;
    Phrase why; ///< where there is none, in words that follow "found": "one that another window … holds"
};

} // namespace wheelwright
