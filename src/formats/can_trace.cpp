// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/can_trace.h"

#include "core/base/error.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>
#include <string>

namespace wheelwright {
namespace {

constexpr int sixteen = 16, ten = 10;

std::vector<std::string_view> wordsOf(std::string_view line) {
    std::vector<std::string_view> out;
    constexpr std::string_view blanks = " \t\r";
    for (std::size_t at = line.find_first_not_of(blanks); at != std::string_view::npos;) {
        const std::size_t end = std::min(line.find_first_of(blanks, at), line.size());
        out.push_back(line.substr(at, end - at));
        at = line.find_first_not_of(blanks, end);
    }
    return out;
}

template <class T>
std::optional<T> wholeNumber(std::string_view text, int base) {
    T v{};
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v, base);
    if (error != std::errc{} || end != text.data() + text.size() || text.empty()) return std::nullopt;
    return v;
}

std::optional<double> secondsOf(std::string_view text) {
    double v = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

class TraceReader {
  public:
    explicit TraceReader(const std::function<void(const CanFrame &)> &each) : m_each(each) {}

    CanTraceRead read(std::string_view text) {
        while (!text.empty()) {
            ++m_line;
            const std::size_t end = text.find('\n');
            const std::vector<std::string_view> words = wordsOf(text.substr(0, end));
            text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
            if (words.empty()) continue;
            if (m_out.format.empty()) recognise(words);
            if (m_out.format == "candump")
                candump(words);
            else
                asc(words);
        }
        if (m_out.frames == 0)
            throw InputError(
                "file", MARKED("expected.can_trace", "frames of a CAN bus, as candump or ASC write them"),
                MARKED("found.no_frames", "none"));
        return m_out;
    }

  private:
    [[noreturn]] void refuse(const Phrase &expected, std::string_view found) const {
        throw InputError("line " + std::to_string(m_line), expected,
                         "'" + echoed(std::string(found), 40) + "'");
    }

    void recognise(const std::vector<std::string_view> &words) {
        const bool stamped = words[0].starts_with('(') && words[0].ends_with(')') && words.size() >= 3;
        const bool screen = words.size() >= 3 && words[2].starts_with('[');
        if (stamped || screen)
            m_out.format = "candump";
        else if (words[0] == "date" || words[0] == "base" || words[0] == "//" || words[0].starts_with("//") ||
                 words[0] == "Begin")
            m_out.format = "asc";
        else
            refuse(MARKED("expected.can_trace", "frames of a CAN bus, as candump or ASC write them"),
                   words[0]);
    }

    void hand(CanFrame &frame) {
        m_each(frame);
        ++m_out.frames;
    }

    void identifier(CanFrame &frame, std::string_view text, int base, bool extended) const {
        const auto id = wholeNumber<std::uint32_t>(text, base);
        if (!id || *id > mostLongId)
            refuse(MARKED("expected.can_identifier", "an identifier of 11 or 29 bits"), text);
        frame.id = *id;
        frame.extended = extended;
        if (!extended && *id > mostShortId)
            refuse(MARKED("expected.can_identifier", "an identifier of 11 or 29 bits"), text);
    }

    // "(1436509052.249713) vcan0 044#2A366C2B", "044##1 2A36…" with flexible data rate, or with blanks:
    // "(0.1) can0 044 [4] 2A 36 6C 2B".
    void candump(const std::vector<std::string_view> &words) {
        std::size_t at = 0;
        CanFrame frame;
        if (words[0].starts_with('(')) {
            const auto time = secondsOf(words[0].substr(1, words[0].size() - 2));
            if (!time || !words[0].ends_with(')'))
                refuse(MARKED("expected.can_time", "a time in brackets"), words[0]);
            frame.timeS = *time;
            at = 1;
        }
        if (words.size() < at + 2) refuse(MARKED("expected.can_frame", "bus and frame"), words.back());
        const std::string_view body = words[at + 1];
        const std::size_t hash = body.find('#');
        if (hash == std::string_view::npos) return screen(frame, words, at + 1);
        std::string_view data = body.substr(hash + 1);
        longByDigits(frame, body.substr(0, hash));
        if (m_error) return leaveOut();
        if (data.starts_with('R')) return leaveOut();
        if (data.starts_with('#')) { // one digit of flags
            if (data.size() < 2) refuse(MARKED("expected.can_flags", "a digit of flags"), body);
            data.remove_prefix(2);
        }
        if (data.size() % 2 != 0 || data.size() / 2 > mostFrameBytes)
            refuse(MARKED("expected.can_data", "pairs of hexadecimal digits"), body);
        for (std::size_t i = 0; i < data.size(); i += 2)
            byte(frame, data.substr(i, 2), sixteen);
        hand(frame);
    }

    // Eight digits are 29 bits; the marks of error frames are above them.
    void longByDigits(CanFrame &frame, std::string_view text) {
        constexpr std::size_t longDigits = 8;
        constexpr std::uint32_t errorMark = 0x20000000;
        const auto id = wholeNumber<std::uint32_t>(text, sixteen);
        m_error = id && text.size() == longDigits && (*id & errorMark) != 0;
        if (!m_error) identifier(frame, text, sixteen, text.size() == longDigits);
    }

    void screen(CanFrame &frame, const std::vector<std::string_view> &words, std::size_t at) {
        longByDigits(frame, words[at]);
        if (m_error) return leaveOut();
        if (words.size() < at + 2 || words[at + 1].size() < 3 || !words[at + 1].starts_with('['))
            refuse(MARKED("expected.can_size_brackets", "the number of bytes in brackets"), words.back());
        const auto size = wholeNumber<std::size_t>(words[at + 1].substr(1, words[at + 1].size() - 2), ten);
        if (!size || *size > mostFrameBytes)
            refuse(MARKED("expected.can_size", "0 to 64 bytes"), words[at + 1]);
        if (words.size() > at + 2 && words[at + 2] == "remote") return leaveOut();
        if (words.size() < at + 2 + *size)
            refuse(MARKED("expected.can_all_bytes", "all bytes of the frame"), words.back());
        for (std::size_t i = 0; i < *size; ++i)
            byte(frame, words[at + 2 + i], sixteen);
        hand(frame);
    }

    // "0.001 1 123x Rx d 8 11 22 …": time, channel, identifier, way, data, count, bytes.
    void asc(const std::vector<std::string_view> &words) {
        if (words[0] == "base" && words.size() >= 2) {
            m_base = words[1] == "dec" ? ten : sixteen;
            m_relative = words.size() >= 4 && words[3] == "relative";
            return;
        }
        const auto time = secondsOf(words[0]);
        if (!time) return; // heads, remarks, blocks of triggers
        if (m_relative)
            m_time += *time;
        else
            m_time = *time;
        constexpr std::size_t way = 3, kind = 4, count = 5, bytes = 6;
        if (words.size() > 1 && words[1] == "CANFD") return flexible(words);
        const bool frameLine = words.size() > kind && (words[way] == "Rx" || words[way] == "Tx");
        if (!frameLine || words[kind] != "d") return leaveOut();
        CanFrame frame;
        frame.timeS = m_time;
        std::string_view id = words[2];
        const bool extended = id.ends_with('x') || id.ends_with('X');
        if (extended) id.remove_suffix(1);
        identifier(frame, id, m_base, extended);
        const auto size =
            words.size() > count ? wholeNumber<std::size_t>(words[count], sixteen) : std::nullopt;
        if (!size || *size > 8) refuse(MARKED("expected.can_size_8", "0 to 8 bytes"), words.back());
        if (words.size() < bytes + *size)
            refuse(MARKED("expected.can_all_bytes", "all bytes of the frame"), words.back());
        for (std::size_t i = 0; i < *size; ++i)
            byte(frame, words[bytes + i], m_base);
        hand(frame);
    }

    // "0.1 CANFD 1 Rx 123 name 1 0 d 12 11 22 …": the name may be missing; the byte count stands after the
    // length code.
    void flexible(const std::vector<std::string_view> &words) {
        constexpr std::size_t id = 4, after = 5;
        if (words.size() <= id) return leaveOut();
        CanFrame frame;
        frame.timeS = m_time;
        std::string_view text = words[id];
        const bool extended = text.ends_with('x') || text.ends_with('X');
        if (extended) text.remove_suffix(1);
        if (!wholeNumber<std::uint32_t>(text, sixteen)) return leaveOut(); // an error frame
        identifier(frame, text, sixteen, extended);
        // Flags of bit rate and error state, one digit each, then the length code and the bytes.
        std::size_t at = after;
        const auto flag = [&](std::size_t i) {
            return i < words.size() && (words[i] == "0" || words[i] == "1");
        };
        if (!flag(at) || !flag(at + 1)) ++at; // a name
        if (!flag(at) || !flag(at + 1) || words.size() <= at + 3)
            refuse(MARKED("expected.can_flexible", "flags, length and bytes of a frame"), words.back());
        const auto size = wholeNumber<std::size_t>(words[at + 3], ten);
        if (!size || *size > mostFrameBytes)
            refuse(MARKED("expected.can_size", "0 to 64 bytes"), words[at + 3]);
        if (words.size() < at + 4 + *size)
            refuse(MARKED("expected.can_all_bytes", "all bytes of the frame"), words.back());
        for (std::size_t i = 0; i < *size; ++i)
            byte(frame, words[at + 4 + i], sixteen);
        hand(frame);
    }

    void byte(CanFrame &frame, std::string_view text, int base) const {
        const auto v = wholeNumber<std::uint8_t>(text, base);
        if (!v) refuse(MARKED("expected.can_byte", "a byte"), text);
        frame.data[frame.size++] = *v;
    }
    void leaveOut() { ++m_out.leftOut; }

    const std::function<void(const CanFrame &)> &m_each;
    CanTraceRead m_out;
    std::size_t m_line = 0;
    int m_base = sixteen;
    bool m_relative = false, m_error = false;
    double m_time = 0;
};

} // namespace

CanTraceRead readCanTrace(std::string_view text, const std::function<void(const CanFrame &)> &each) {
    return TraceReader(each).read(text);
}

} // namespace wheelwright
