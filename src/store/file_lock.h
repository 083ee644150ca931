#pragma once
#include <filesystem>
#include <optional>

namespace wheelwright {

/// The right to write a job file, held by one process and one opener. The system gives it back when the
/// process dies, in whatever way. Beside the job file lies an empty `<name>.lock`; it is removed when the
/// right is given back in order. The lock is a file of its own, since closing any other handle of the job
/// file would drop SQLite's own locks.
class FileLock {
  public:
    /// Empty when someone else holds it, or when the folder cannot be written to.
    static std::optional<FileLock> take(const std::filesystem::path &jobFile);

    FileLock(FileLock &&other) noexcept;
    FileLock &operator=(FileLock &&other) noexcept;
    ~FileLock();

  private:
    FileLock(std::filesystem::path path, int handle) : m_path(std::move(path)), m_handle(handle) {}
    std::filesystem::path m_path;
    int m_handle;
};

} // namespace wheelwright
