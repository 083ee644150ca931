#include "store/file_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <utility>

namespace wheelwright {
namespace {

// Someone may have removed the file between our opening and our locking it: then the lock is on nothing.
bool stillThere(const std::filesystem::path &path, int handle) {
    struct stat byName {
    }, byHandle{};
    return ::stat(path.c_str(), &byName) == 0 && ::fstat(handle, &byHandle) == 0 &&
           byName.st_ino == byHandle.st_ino;
}

} // namespace

std::optional<FileLock> FileLock::take(const std::filesystem::path &jobFile) {
    const std::filesystem::path path = jobFile.string() + ".lock";
    constexpr int attempts = 10;
    for (int i = 0; i < attempts; ++i) {
        const int handle = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
        if (handle < 0) return std::nullopt;
        if (::flock(handle, LOCK_EX | LOCK_NB) != 0) {
            ::close(handle);
            return std::nullopt;
        }
        if (stillThere(path, handle)) return FileLock(path, handle);
        ::close(handle);
    }
    return std::nullopt;
}

FileLock::FileLock(FileLock &&other) noexcept
    : m_path(std::move(other.m_path)), m_handle(std::exchange(other.m_handle, -1)) {}

FileLock &FileLock::operator=(FileLock &&other) noexcept {
    std::swap(m_path, other.m_path); // the other gives back what was held here
    std::swap(m_handle, other.m_handle);
    return *this;
}

FileLock::~FileLock() {
    if (m_handle < 0) return;
    ::unlink(m_path.c_str());
    ::close(m_handle);
}

} // namespace wheelwright
