// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/file_lock.h"

#include "store/file_bytes.h"

#include <cerrno>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <chrono>
#include <thread>
#include <utility>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

// SQLite locks 512 bytes from 0x40000000 on (sqlite.org/lockingv3.html, section 3); this one is behind them.
constexpr off_t lockByte = 0x40001000;

bool sameFile(const fs::path &path, int handle) {
    struct stat byName {
    }, byHandle{};
    return ::stat(path.c_str(), &byName) == 0 && ::fstat(handle, &byHandle) == 0 &&
           byName.st_ino == byHandle.st_ino && byName.st_dev == byHandle.st_dev;
}

constexpr PhraseText heldByAnother =
    MARKED("found.written_by_another", "one that another window or command is writing");

PhraseText openingFailed(int error) {
    switch (error) {
    case EACCES:
    case EPERM:
    case EROFS:
        return MARKED("found.one_in_folder", "one in a folder that may not be written");
    case ENOSPC:
    case EDQUOT:
        return MARKED("found.full_disk", "a full disk");
    default:
        return MARKED("found.cannot_be_locked", "one that cannot be locked");
    }
}

} // namespace

FileLock::Attempt FileLock::take(const fs::path &jobFile, int patienceMs) {
    const fs::path real = behindLinks(jobFile);
    const fs::path path = real.string() + ".lock";
    const auto until = std::chrono::steady_clock::now() + std::chrono::milliseconds(patienceMs);
    for (;;) {
        const int handle = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NONBLOCK, 0644);
        if (handle < 0) return {std::nullopt, openingFailed(errno)};
        const bool held = ::flock(handle, LOCK_EX | LOCK_NB) == 0;
        // Someone may have removed the file between our opening and our locking it: then the lock is on
        // nothing.
        if (held && sameFile(path, handle)) {
            FileLock lock(path, handle);
            std::error_code ignored;
            if (!fs::exists(real, ignored) || lock.lockFile(real)) return {std::move(lock), {}};
        } else {
            ::close(handle);
        }
        if (std::chrono::steady_clock::now() >= until) return {std::nullopt, heldByAnother};
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
}

bool FileLock::lockFile(const fs::path &jobFile) {
    const int file = ::open(jobFile.c_str(), O_RDWR | O_CLOEXEC | O_NONBLOCK);
    if (file < 0) return false;
    // Of the open file, not of the process: another handle that is closed does not give it back.
    struct flock byte {};
    byte.l_type = F_WRLCK;
    byte.l_whence = SEEK_SET;
    byte.l_start = lockByte;
    byte.l_len = 1;
    if (::fcntl(file, F_OFD_SETLK, &byte) != 0) {
        ::close(file);
        return false;
    }
    m_file = file;
    return true;
}

bool FileLock::stillNamed(const fs::path &jobFile) const {
    return m_file >= 0 && sameFile(jobFile, m_file);
}

FileLock::FileLock(FileLock &&other) noexcept
    : m_path(std::move(other.m_path)), m_handle(std::exchange(other.m_handle, -1)),
      m_file(std::exchange(other.m_file, -1)) {}

FileLock &FileLock::operator=(FileLock &&other) noexcept {
    std::swap(m_path, other.m_path); // the other gives back what was held here
    std::swap(m_handle, other.m_handle);
    std::swap(m_file, other.m_file);
    return *this;
}

FileLock::~FileLock() {
    if (m_file >= 0) ::close(m_file);
    if (m_handle < 0) return;
    ::unlink(m_path.c_str());
    ::close(m_handle);
}

} // namespace wheelwright
