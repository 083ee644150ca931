// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <algorithm>
#include <cstdint>
#include <cstring>
#include <span>
#include <string_view>

namespace wheelwright {

/// The bytes of a log file of any size, wherever they are. May be asked by several threads at once.
class LogBytes {
  public:
    LogBytes() = default;
    LogBytes(const LogBytes &) = delete;
    LogBytes &operator=(const LogBytes &) = delete;
    virtual ~LogBytes() = default;
    virtual std::uint64_t size() const = 0;
    /// As many as there are from there on, up to the size of `to`. Throws InputError for a disk that fails.
    virtual std::size_t read(std::uint64_t at, std::span<char> to) const = 0;
};

/// Of what lies in memory.
class LogText : public LogBytes {
  public:
    explicit LogText(std::string_view bytes) : m_bytes(bytes) {}
    std::uint64_t size() const override { return m_bytes.size(); }
    std::size_t read(std::uint64_t at, std::span<char> to) const override {
        if (at >= m_bytes.size()) return 0;
        const std::size_t count = std::min(to.size(), m_bytes.size() - static_cast<std::size_t>(at));
        std::memcpy(to.data(), m_bytes.data() + at, count);
        return count;
    }

  private:
    std::string_view m_bytes;
};

} // namespace wheelwright
