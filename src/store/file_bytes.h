// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>

namespace wheelwright {

/// Largest file that is read whole: a job or a table is far smaller.
inline constexpr std::uintmax_t mostFileBytes = 256u << 20;

/// The whole file. Only regular files: a pipe never ends, or never begins. Throws InputError naming the path
/// when it cannot be read or is larger than mostFileBytes.
std::string readFile(const std::filesystem::path &path);

/// Throws InputError when the path is not one of a regular file of at most so many bytes that can be read.
void requireReadable(const std::filesystem::path &path, std::uintmax_t most = mostFileBytes);

/// A file of any size as the bytes that it holds, read when they are looked at: a job file with its logs, a
/// log. Stays as it was where the name goes to another file; a file that is cut while it is mapped cannot be
/// read on.
class MappedFile {
  public:
    /// Throws InputError naming the path when it is no regular file that can be read.
    explicit MappedFile(const std::filesystem::path &path);
    MappedFile(MappedFile &&other) noexcept;
    MappedFile &operator=(MappedFile &&) = delete;
    ~MappedFile();
    std::string_view bytes() const { return {m_bytes, m_size}; }

  private:
    const char *m_bytes = nullptr;
    std::size_t m_size = 0;
};

/// Writes beside the path and renames: whoever looks sees the old file or the new one, whole. Devices and
/// pipes are written to as they are. Throws InputError when that fails, with nothing left behind, and for a
/// target that is a job file, or any database: an export never replaces a job.
void replaceFile(const std::filesystem::path &path, const std::string &text);
/// The same piece by piece: `write` gets what each piece is handed to.
using WritePiece = std::function<void(std::string_view)>;
void replaceFile(const std::filesystem::path &path, const std::function<void(const WritePiece &)> &write);

/// A copy under a name that nobody has, flushed to the disk. Throws InputError, with nothing left behind,
/// when that fails.
void copyFile(const std::filesystem::path &from, const std::filesystem::path &to);

/// Gives `part` the name `path`, unless a file has it: then InputError. Flushes the folder.
void nameNewFile(const std::filesystem::path &part, const std::filesystem::path &path);

/// The file that a name leads to: links are followed, also where the file is not there yet.
std::filesystem::path behindLinks(const std::filesystem::path &path);

/// errno in words that follow "found".
Phrase diskTrouble(int error);

} // namespace wheelwright
