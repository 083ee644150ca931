// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/log_import/mdf4_blocks.h"

#include "core/base/error.h"
#include "formats/log_import/text_form.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace wheelwright {
namespace {

constexpr std::size_t mostLinks = 1u << 20, mostSmallData = 64u << 10;
constexpr std::size_t mostBlocks = 1u << 20; // of one list: longer ones are rings

std::uint64_t littleEndian(std::string_view bytes) {
    std::uint64_t v = 0;
    for (std::size_t i = bytes.size(); i-- > 0;)
        v = v << 8 | static_cast<unsigned char>(bytes[i]);
    return v;
}

std::string place(std::uint64_t at) {
    return "byte " + std::to_string(at);
}

[[noreturn]] void refuseCut(std::uint64_t at) {
    throw InputError(place(at), MARKED("expected.mdf_whole", "the whole of an MDF block"),
                     MARKED("found.end_of_file", "the end of the file"));
}

std::string exactly(const LogBytes &bytes, std::uint64_t at, std::size_t count) {
    if (at > bytes.size() || count > bytes.size() - at) refuseCut(at);
    std::string out(count, '\0');
    out.resize(bytes.read(at, out));
    if (out.size() < count) refuseCut(at);
    return out;
}

// Text of a TX block, or of the <TX> of an MD block's XML.
std::string textAt(const LogBytes &bytes, std::uint64_t at) {
    if (at == 0) return {};
    const MdfBlock block(bytes, at, {"##TX", "##MD"});
    std::string text = block.text();
    if (block.id() == "##MD") {
        const std::size_t open = text.find("<TX>"), shut = text.find("</TX>");
        text = open != std::string::npos && shut != std::string::npos && shut > open
                   ? text.substr(open + 4, shut - open - 4)
                   : std::string();
    }
    while (!text.empty() && (text.back() == ' ' || text.back() == '\n' || text.back() == '\r'))
        text.pop_back();
    return asUtf8(text);
}

// What of a conversion cannot be read, in words; empty: all of it can.
Phrase readConversion(const LogBytes &bytes, std::uint64_t at, MdfConversion &to, std::string &unit) {
    if (at == 0) return {};
    const MdfBlock block(bytes, at, {"##CC"});
    if (unit.empty()) unit = textAt(bytes, block.link(1));
    const std::uint64_t type = block.number(0, 1), references = block.number(4, 2),
                        count = block.number(6, 2);
    for (std::size_t i = 0; i < count; ++i)
        to.values.push_back(block.real(24 + 8 * i));
    using Kind = MdfConversion::Kind;
    const auto need = [&](std::size_t least, std::size_t step, std::size_t more) {
        if (count < least || (count - more) % step != 0)
            throw InputError(place(at),
                             MARKED("expected.mdf_conversion", "a conversion with all its numbers"),
                             std::to_string(count) + " of them");
    };
    switch (type) {
    case 0:
        return {};
    case 1:
        need(2, 1, 0);
        to.kind = Kind::linear;
        return {};
    case 2:
        need(6, 1, 0);
        to.kind = Kind::rational;
        return {};
    case 4:
        need(2, 2, 0);
        to.kind = Kind::interpolated;
        return {};
    case 5:
        need(2, 2, 0);
        to.kind = Kind::table;
        return {};
    case 6:
        need(4, 3, 1);
        to.kind = Kind::ranges;
        return {};
    case 7:
    case 8: {
        if (type == 8) need(2, 2, 0);
        to.kind = type == 7 ? Kind::texts : Kind::rangeTexts;
        for (std::size_t i = 0; i < references; ++i) { // behind name, unit, comment and inverse
            const std::uint64_t link = block.link(4 + i);
            if (link != 0 && MdfBlock(bytes, link, {"##TX", "##MD", "##CC"}).id() == "##CC")
                return {MARKED("mdf.nested", "a conversion within a conversion")};
            to.texts.push_back(textAt(bytes, link));
        }
        const std::size_t entries = type == 7 ? to.values.size() : to.values.size() / 2;
        if (to.texts.size() < entries)
            throw InputError(place(at), MARKED("expected.mdf_texts", "a text for each value"),
                             std::to_string(to.texts.size()) + " for " + std::to_string(entries));
        return {};
    }
    default:
        return {MARKED("mdf.conversion", "a conversion of type {a}"), {}, {std::to_string(type)}};
    }
}

class FileReader {
  public:
    explicit FileReader(const LogBytes &bytes) : m_bytes(bytes) {}

    MdfFile read() {
        std::string id(64, '\0');
        m_bytes.read(0, id);
        if (id.starts_with("UnFinMF"))
            throw InputError("file", MARKED("expected.mdf_finished", "an MDF that its writer has finished"),
                             MARKED("found.mdf_unfinished", "one that was left unfinished"));
        if (id[8] != '4')
            throw InputError("file", MARKED("expected.mdf_4", "version 4 of MDF"),
                             "version " + echoed(id.substr(8, 4), 10));
        const MdfBlock head(m_bytes, 64, {"##HD"});
        follow(head.link(0), {"##DG"}, [this](const MdfBlock &b) { readStream(b); });
        if (m_channels == 0)
            throw InputError("file", MARKED("expected.mdf_channels", "groups of channels with records"),
                             MARKED("found.none", "none"));
        return std::move(m_file);
    }

  private:
    // A list of blocks, each with the next one first.
    template <class Work>
    void follow(std::uint64_t at, std::initializer_list<std::string_view> ids, Work work) {
        for (; at != 0;) {
            if (++m_steps > std::min<std::uint64_t>(mostBlocks, m_bytes.size() / mdfHeadBytes))
                throw InputError(place(at), MARKED("expected.mdf_list", "a list that ends"),
                                 MARKED("found.ring", "a ring, or a million blocks"));
            const MdfBlock block(m_bytes, at, ids);
            work(block);
            at = block.link(0);
        }
    }

    void readStream(const MdfBlock &b) {
        MdfStream stream;
        stream.data = b.link(2);
        stream.idBytes = static_cast<std::uint32_t>(b.number(0, 1));
        if (stream.idBytes > 8 || (stream.idBytes & (stream.idBytes - 1)) != 0)
            throw InputError(place(b.dataBegins()),
                             MARKED("expected.mdf_id_size", "record ids of 0, 1, 2, 4 or 8 bytes"),
                             std::to_string(stream.idBytes));
        follow(b.link(1), {"##CG"}, [&](const MdfBlock &g) { stream.groups.push_back(group(g)); });
        const bool records = std::ranges::any_of(
            stream.groups, [](const MdfGroup &g) { return g.records > 0 && !g.channels.empty(); });
        if (stream.data != 0 && records) m_file.streams.push_back(std::move(stream));
    }

    MdfGroup group(const MdfBlock &b) {
        MdfGroup g;
        g.recordId = b.number(0, 8);
        g.records = b.number(8, 8);
        g.variable = (b.number(16, 2) & 1) != 0;
        g.dataBytes = static_cast<std::uint32_t>(b.number(24, 4));
        g.invalidBytes = static_cast<std::uint32_t>(b.number(28, 4));
        constexpr std::uint32_t most = 64u << 20;
        if (g.dataBytes > most || g.invalidBytes > most)
            throw InputError(place(b.dataBegins()),
                             MARKED("expected.mdf_record", "records of at most 64 MiB"),
                             std::to_string(g.dataBytes) + " bytes");
        if (g.variable) return g;
        readChannels(b.link(1), g);
        const bool timed = std::ranges::any_of(g.channels, [](const MdfChannel &c) { return c.master; });
        if (timed || g.records == 0) {
            m_channels += g.channels.size();
        } else {
            if (!g.channels.empty())
                m_file.warnings.emplace_back(
                    MARKED("mdf.no_time", "'{a}' and {b} others have no time: left out"),
                    std::vector<Measured>{},
                    std::vector{g.channels.front().name, std::to_string(g.channels.size() - 1)});
            g.channels.clear();
        }
        return g;
    }

    void readChannels(std::uint64_t at, MdfGroup &to) {
        follow(at, {"##CN"}, [&](const MdfBlock &b) {
            if (m_channels + to.channels.size() >= mostLogColumns)
                throw InputError(place(b.dataBegins()),
                                 Phrase{MARKED("expected.columns", "at most {a} columns"),
                                        {},
                                        {std::to_string(mostLogColumns)}},
                                 MARKED("found.more", "more"));
            readChannel(b, to);
        });
    }

    void leaveOut(const std::string &name, const Phrase &why) {
        m_file.warnings.emplace_back(MARKED("mdf.left_out", "'{a}' is left out: it has {A}"),
                                     std::vector<Measured>{}, std::vector{echoed(name, 60)},
                                     std::vector{why});
    }

    void readChannel(const MdfBlock &b, MdfGroup &to) {
        MdfChannel c;
        c.name = textAt(m_bytes, b.link(2));
        c.unit = textAt(m_bytes, b.link(6));
        if (const std::uint64_t part = b.link(1); part != 0) {
            if (MdfBlock(m_bytes, part, {"##CN", "##CA", "##DS", "##CL", "##CV", "##CU"}).id() == "##CN")
                readChannels(part, to); // the members of a structure
            else
                leaveOut(c.name, MARKED("mdf.array", "many values at a time"));
            return;
        }
        const std::uint64_t type = b.number(0, 1), sync = b.number(1, 1), kind = b.number(2, 1);
        c.bitOffset = static_cast<std::uint32_t>(b.number(3, 1));
        c.byteOffset = static_cast<std::uint32_t>(b.number(4, 4));
        c.bits = static_cast<std::uint32_t>(b.number(8, 4));
        const std::uint64_t flags = b.number(12, 4);
        c.allInvalid = (flags & 1) != 0;
        if ((flags & 2) != 0) c.invalidBit = static_cast<std::uint32_t>(b.number(16, 4));
        const bool masters = type == 2 || type == 3;
        c.counted = type == 3 || type == 6;
        c.master = masters && sync == 1;
        if (masters && sync != 1)
            return leaveOut(c.name, MARKED("mdf.no_clock", "no time in it, but an angle or a way"));
        if (type == 1 || type == 4 || type == 5 || type > 6)
            return leaveOut(
                c.name,
                {MARKED("mdf.type", "values of varying length (type {a})"), {}, {std::to_string(type)}});
        if (kind > static_cast<std::uint64_t>(MdfNumber::utf16BigText))
            return leaveOut(c.name, {MARKED("mdf.data_type", "values that are no numbers (data type {a})"),
                                     {},
                                     {std::to_string(kind)}});
        c.number = static_cast<MdfNumber>(kind);
        if (const Phrase why = readConversion(m_bytes, b.link(4), c.conversion, c.unit); !why.empty())
            return leaveOut(c.name, why);
        if (!c.counted) requireInside(c, to, b);
        to.channels.push_back(std::move(c));
    }

    void requireInside(const MdfChannel &c, const MdfGroup &g, const MdfBlock &b) const {
        const std::uint64_t end = std::uint64_t{c.byteOffset} * 8 + c.bitOffset + c.bits;
        const bool real = c.number == MdfNumber::realLittle || c.number == MdfNumber::realBig;
        const bool fits = c.isText() ? c.bits % 8 == 0 && c.bitOffset == 0
                          : real     ? (c.bits == 32 || c.bits == 64) && c.bitOffset == 0
                                     : c.bits >= 1 && c.bits + c.bitOffset <= 64 && c.bitOffset < 8;
        if (!fits || end > std::uint64_t{g.dataBytes} * 8)
            throw InputError(place(b.dataBegins()),
                             MARKED("expected.mdf_inside", "a channel inside of its record"),
                             "'" + echoed(c.name, 40) + "', " + std::to_string(c.bits) + " bits at byte " +
                                 std::to_string(c.byteOffset) + " of " + std::to_string(g.dataBytes));
        if (c.invalidBit && *c.invalidBit / 8 >= g.invalidBytes)
            throw InputError(place(b.dataBegins()),
                             MARKED("expected.mdf_invalid_bit", "its bit of validity inside of its record"),
                             "'" + echoed(c.name, 40) + "', bit " + std::to_string(*c.invalidBit));
    }

    const LogBytes &m_bytes;
    MdfFile m_file;
    std::size_t m_steps = 0, m_channels = 0;
};

} // namespace

MdfBlock::MdfBlock(const LogBytes &bytes, std::uint64_t at, std::initializer_list<std::string_view> ids)
    : m_where(place(at)) {
    const std::string head = exactly(bytes, at, mdfHeadBytes);
    m_id = head.substr(0, 4);
    if (std::ranges::find(ids, m_id) == ids.end())
        throw InputError(
            m_where,
            Phrase{MARKED("expected.mdf_block", "an MDF block {a}"), {}, {std::string(*ids.begin())}},
            "'" + echoed(m_id, 10) + "'");
    const std::uint64_t length = littleEndian(std::string_view(head).substr(8, 8));
    const std::uint64_t links = littleEndian(std::string_view(head).substr(16, 8));
    if (links > mostLinks || length < mdfHeadBytes + 8 * links)
        throw InputError(m_where, MARKED("expected.mdf_links", "an MDF block that holds its links"),
                         std::to_string(links) + " links in " + std::to_string(length) + " bytes");
    const std::string raw = exactly(bytes, at + mdfHeadBytes, static_cast<std::size_t>(8 * links));
    for (std::size_t i = 0; i < links; ++i)
        m_links.push_back(littleEndian(std::string_view(raw).substr(8 * i, 8)));
    m_dataBegins = at + mdfHeadBytes + 8 * links;
    m_dataSize = length - mdfHeadBytes - 8 * links;
    // The data of data blocks are read where they are wanted.
    if (m_id != "##DT" && m_id != "##DV" && m_id != "##SD")
        m_data = exactly(bytes, m_dataBegins,
                         static_cast<std::size_t>(std::min<std::uint64_t>(
                             m_dataSize, m_id == "##DZ" ? mdfHeadBytes : mostSmallData)));
}

std::uint64_t MdfBlock::number(std::size_t at, std::size_t bytes) const {
    if (at + bytes > m_data.size())
        throw InputError(
            m_where,
            Phrase{MARKED("expected.mdf_block_of", "an MDF block {a} with all its numbers"), {}, {m_id}},
            std::to_string(m_data.size()) + " bytes");
    return littleEndian(std::string_view(m_data).substr(at, bytes));
}

double MdfBlock::real(std::size_t at) const {
    return std::bit_cast<double>(number(at, 8));
}

std::string MdfBlock::text() const {
    return m_data.substr(0, m_data.find('\0'));
}

double MdfConversion::of(double raw) const {
    const std::vector<double> &p = values;
    switch (kind) {
    case Kind::linear:
        return p[0] + p[1] * raw;
    case Kind::rational:
        return (p[0] * raw * raw + p[1] * raw + p[2]) / (p[3] * raw * raw + p[4] * raw + p[5]);
    case Kind::interpolated: { // held at both ends
        const std::size_t points = p.size() / 2;
        if (!(raw > p[0])) return raw == raw ? p[1] : raw;
        for (std::size_t i = 1; i < points; ++i)
            if (raw <= p[2 * i])
                return p[2 * i - 1] +
                       (p[2 * i + 1] - p[2 * i - 1]) * (raw - p[2 * i - 2]) / (p[2 * i] - p[2 * i - 2]);
        return p[2 * points - 1];
    }
    case Kind::table: { // the nearest; of two as near the lower
        std::size_t best = 0;
        for (std::size_t i = 1; i < p.size() / 2; ++i)
            if (std::abs(p[2 * i] - raw) < std::abs(p[2 * best] - raw)) best = i;
        return p[2 * best + 1];
    }
    case Kind::ranges: // whole numbers belong to both ends, others not to the upper one
        for (std::size_t i = 0; i + 3 < p.size(); i += 3)
            if (raw >= p[i] && (raw < p[i + 1] || (raw == p[i + 1] && raw == std::floor(raw))))
                return p[i + 2];
        return p.back();
    default:
        return raw;
    }
}

std::optional<std::size_t> MdfConversion::textOf(double raw) const {
    const std::size_t entries = kind == Kind::texts ? values.size() : values.size() / 2;
    for (std::size_t i = 0; i < entries; ++i) {
        const bool here =
            kind == Kind::texts ? raw == values[i] : raw >= values[2 * i] && raw <= values[2 * i + 1];
        if (here) return i;
    }
    if (texts.size() > entries && !texts[entries].empty()) return entries; // for all others
    return std::nullopt;
}

MdfFile readMdf(const LogBytes &bytes) {
    return FileReader(bytes).read();
}

} // namespace wheelwright
