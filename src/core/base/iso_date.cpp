// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/iso_date.h"

#include <charconv>
#include <chrono>

namespace wheelwright {
std::optional<int> dayOf(std::string_view iso) {
    const auto number = [&](std::size_t at, std::size_t digits) -> std::optional<int> {
        int v = 0;
        if (iso.size() < at + digits) return std::nullopt;
        const auto [end, problem] = std::from_chars(iso.data() + at, iso.data() + at + digits, v);
        return problem == std::errc() && end == iso.data() + at + digits ? std::optional(v) : std::nullopt;
    };
    const auto year = number(0, 4), month = number(5, 2), day = number(8, 2);
    if (!year || !month || !day || iso[4] != '-' || iso[7] != '-') return std::nullopt;
    const std::chrono::year_month_day date{std::chrono::year(*year),
                                           std::chrono::month(static_cast<unsigned>(*month)),
                                           std::chrono::day(static_cast<unsigned>(*day))};
    if (!date.ok()) return std::nullopt;
    return static_cast<int>(std::chrono::sys_days(date).time_since_epoch().count());
}

namespace {

// Reads a text from left to right; each step says whether it found what was asked for.
class Reader {
  public:
    explicit Reader(std::string_view text) : m_text(text) {}
    bool atEnd() const { return m_text.empty(); }
    bool sign(char c) {
        const bool found = m_text.starts_with(c);
        if (found) m_text.remove_prefix(1);
        return found;
    }
    bool digits(std::size_t count, int most) {
        int v = 0;
        for (std::size_t i = 0; i < count; ++i) {
            if (i >= m_text.size() || m_text[i] < '0' || m_text[i] > '9') return false;
            v = 10 * v + (m_text[i] - '0');
        }
        m_text.remove_prefix(count);
        return v <= most;
    }
    bool fraction() {
        if (!digits(1, 9)) return false;
        while (digits(1, 9)) {
        }
        return true;
    }

  private:
    std::string_view m_text;
};

} // namespace

bool isIsoDate(std::string_view text) {
    constexpr std::size_t date = 10;
    constexpr int lastHour = 23, lastMinute = 59, leapSecond = 60;
    if (!dayOf(text)) return false;
    Reader r(text.substr(date));
    if (r.atEnd()) return true;
    if (!r.sign('T') || !r.digits(2, lastHour) || !r.sign(':') || !r.digits(2, lastMinute)) return false;
    if (r.sign(':') && (!r.digits(2, leapSecond) || (r.sign('.') && !r.fraction()))) return false;
    if (r.sign('Z')) return r.atEnd();
    if ((r.sign('+') || r.sign('-')) && (!r.digits(2, lastHour) || !r.sign(':') || !r.digits(2, lastMinute)))
        return false;
    return r.atEnd();
}

} // namespace wheelwright
