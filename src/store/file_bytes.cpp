// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/file_bytes.h"

#include "core/base/error.h"

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <utility>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

// A handle that closes itself.
class Handle {
  public:
    explicit Handle(int handle) : m_handle(handle) {}
    Handle(const Handle &) = delete;
    Handle &operator=(const Handle &) = delete;
    ~Handle() { close(); }
    operator int() const { return m_handle; }
    bool close() {
        const int handle = std::exchange(m_handle, -1);
        return handle < 0 || ::close(handle) == 0;
    }

  private:
    int m_handle;
};

[[noreturn]] void refuseToWrite(const fs::path &path, int error) {
    throw InputError(path.string(),
                     MARKED("expected.a_file_that_can_be_written", "a file that can be written"),
                     diskTrouble(error));
}

// Removes a file unless it has become what it was to be.
struct Unfinished {
    fs::path path;
    bool finished = false;
    ~Unfinished() {
        if (!finished) ::unlink(path.c_str());
    }
};

void writeAll(int handle, const char *bytes, std::size_t size, const fs::path &path) {
    while (size > 0) {
        const ssize_t written = ::write(handle, bytes, size);
        if (written < 0 && errno == EINTR) continue;
        if (written < 0) refuseToWrite(path, errno);
        bytes += written;
        size -= static_cast<std::size_t>(written);
    }
}

void flushFolder(const fs::path &file) {
    const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    const Handle handle(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (handle >= 0) ::fsync(handle); // some file systems cannot; the file itself has been flushed
}

bool isDatabase(const fs::path &path) {
    std::ifstream in(path, std::ios::binary);
    char head[16] = {};
    in.read(head, sizeof head);
    return std::memcmp(head, "SQLite format 3", 16) == 0;
}

} // namespace

fs::path behindLinks(const fs::path &path) {
    std::error_code problem;
    const fs::path real = fs::weakly_canonical(path, problem);
    return problem ? path : real;
}

Phrase diskTrouble(int error) {
    switch (error) {
    case ENOSPC:
    case EDQUOT:
        return MARKED("found.full_disk", "a full disk");
    case EACCES:
    case EPERM:
    case EROFS:
        return MARKED("found.may_not_be_written", "a file or folder that may not be written");
    case ENOENT:
    case ENOTDIR:
        return MARKED("found.no_such_folder", "no such folder");
    case EISDIR:
        return MARKED("found.a_folder", "a folder");
    case ENAMETOOLONG:
        return MARKED("found.long_name", "a name that is too long");
    default:
        return {MARKED("found.disk_error", "an error of the disk: {a}"), {}, {std::strerror(error)}};
    }
}

void requireReadable(const fs::path &path, std::uintmax_t most) {
    struct stat s {};
    if (::stat(path.c_str(), &s) != 0) {
        const bool missing = errno == ENOENT || errno == ENOTDIR;
        throw InputError(path.string(), MARKED("expected.a_file", "a file"),
                         missing ? MARKED("found.no_file_of_that_name", "no file of that name")
                                 : diskTrouble(errno));
    }
    if (S_ISDIR(s.st_mode))
        throw InputError(path.string(), MARKED("expected.a_file", "a file"),
                         MARKED("found.a_folder", "a folder"));
    if (!S_ISREG(s.st_mode))
        throw InputError(path.string(), MARKED("expected.a_regular_file", "a regular file"),
                         MARKED("found.a_pipe_or_a_device", "a pipe or a device"));
    if (static_cast<std::uintmax_t>(s.st_size) > most)
        throw InputError(path.string(), MARKED("expected.at_most_256_mib", "at most 256 MiB"),
                         std::to_string(s.st_size >> 20) + " MiB");
    if (::access(path.c_str(), R_OK) != 0)
        throw InputError(path.string(), MARKED("expected.a_file_that_can_be_read", "a file that can be read"),
                         MARKED("found.one_that_may_not_be_read", "one that may not be read"));
}

std::string readFile(const fs::path &path) {
    requireReadable(path);
    std::ifstream in(path, std::ios::binary);
    std::string text((std::istreambuf_iterator<char>(in)), {});
    if (!in && !in.eof())
        throw InputError(path.string(), MARKED("expected.a_file_that_can_be_read", "a file that can be read"),
                         MARKED("found.an_error_of_the_disk", "an error of the disk"));
    return text;
}

void replaceFile(const fs::path &path, const std::string &text) {
    replaceFile(path, [&text](const WritePiece &piece) { piece(text); });
}

void replaceFile(const fs::path &path, const std::function<void(const WritePiece &)> &write) {
    std::error_code problem;
    fs::path real = fs::weakly_canonical(path, problem); // behind a link, the file itself
    if (problem) real = path;
    if (fs::is_directory(real, problem))
        throw InputError(path.string(), MARKED("expected.a_file_to_write", "a file to write"),
                         MARKED("found.a_folder", "a folder"));
    if (fs::exists(real, problem) && !fs::is_regular_file(real, problem)) {
        const Handle out(::open(real.c_str(), O_WRONLY | O_CLOEXEC));
        if (out < 0) refuseToWrite(path, errno);
        return write([&](std::string_view piece) { writeAll(out, piece.data(), piece.size(), path); });
    }
    if (real.extension() == ".wwjob" || isDatabase(real))
        throw InputError(
            path.string(), MARKED("expected.a_name_that_no_job_has", "a name that no job has"),
            MARKED("found.job_file_export_never_replaces", "a job file: an export never replaces a job"));
    struct stat old {};
    const bool replaces = ::stat(real.c_str(), &old) == 0;
    if (replaces && ::access(real.c_str(), W_OK) != 0) refuseToWrite(path, errno);
    Unfinished part{real.string() + ".XXXXXX"};
    std::string name = part.path.string();
    Handle out(::mkostemp(name.data(), O_CLOEXEC));
    part.path = name;
    if (out < 0) refuseToWrite(path, errno);
    const mode_t mask = ::umask(0);
    ::umask(mask);
    ::fchmod(out, replaces ? old.st_mode & 07777 : 0666 & ~mask);
    write([&](std::string_view piece) { writeAll(out, piece.data(), piece.size(), path); });
    if (::fsync(out) != 0 || !out.close()) refuseToWrite(path, errno);
    if (::rename(part.path.c_str(), real.c_str()) != 0) refuseToWrite(path, errno);
    part.finished = true;
    flushFolder(real);
}

MappedFile::MappedFile(const fs::path &path) {
    requireReadable(path, UINTMAX_MAX);
    const auto refuse = [&path] {
        throw InputError(path.string(), MARKED("expected.a_file_that_can_be_read", "a file that can be read"),
                         diskTrouble(errno));
    };
    const Handle in(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    struct stat s {};
    if (in < 0 || ::fstat(in, &s) != 0) refuse();
    m_size = static_cast<std::size_t>(s.st_size);
    if (m_size == 0) return;
    void *at = ::mmap(nullptr, m_size, PROT_READ, MAP_PRIVATE, in, 0);
    if (at == MAP_FAILED) refuse();
    m_bytes = static_cast<const char *>(at);
}

MappedFile::MappedFile(MappedFile &&other) noexcept
    : m_bytes(std::exchange(other.m_bytes, nullptr)), m_size(std::exchange(other.m_size, 0)) {}

MappedFile::~MappedFile() {
    if (m_bytes) ::munmap(const_cast<char *>(m_bytes), m_size);
}

void copyFile(const fs::path &from, const fs::path &to) {
    const MappedFile source(from);
    const std::string_view bytes = source.bytes();
    Unfinished part{to.string() + ".part"};
    Handle out(::open(part.path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644));
    if (out < 0) refuseToWrite(to, errno);
    writeAll(out, bytes.data(), bytes.size(), to);
    if (::fsync(out) != 0 || !out.close()) refuseToWrite(to, errno);
    nameNewFile(part.path, to);
    part.finished = true;
}

void nameNewFile(const fs::path &part, const fs::path &path) {
    int result = ::renameat2(AT_FDCWD, part.c_str(), AT_FDCWD, path.c_str(), RENAME_NOREPLACE);
    if (result != 0 && errno == EINVAL) { // a file system that cannot say 'only when nobody has it'
        std::error_code ignored;
        if (fs::exists(path, ignored))
            errno = EEXIST;
        else
            result = ::rename(part.c_str(), path.c_str());
    }
    if (result != 0) {
        if (errno == EEXIST)
            throw InputError(path.string(), MARKED("expected.a_new_name", "a new name"),
                             MARKED("found.a_file_that_is_there_already", "a file that is there already"));
        refuseToWrite(path, errno);
    }
    flushFolder(path);
}

} // namespace wheelwright
