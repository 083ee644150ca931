// SPDX-License-Identifier: GPL-3.0-or-later
// MDF 4: see LogImporter. Each group of channels has a clock of its own. Checked against files that a small
// writer of the tests makes: no other was to be had.
#include "core/base/error.h"
#include "formats/log_import/log_import.h"
#include "formats/log_import/mdf4_blocks.h"
#include "formats/log_import/text_form.h"
#include "formats/log_import/word_places.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>
#include <limits>

namespace wheelwright {
namespace {

constexpr double noValue = std::numeric_limits<double>::quiet_NaN();
constexpr double mostKept = std::numeric_limits<float>::max();
constexpr std::size_t recordsAtATime = 8192;

// Channels as they become columns, with what is found on the way.
struct MdfColumn {
    const MdfChannel *channel;
    std::size_t column = 0;
    std::vector<double> samples; ///< waiting to be handed on
    WordPlaces words;
    std::vector<double> wordPlaces; ///< of the texts of a conversion; not asked yet: negative
    std::size_t infinite = 0;

    bool makesWords() const { return channel->isText() || channel->conversion.makesWords(); }
};

template <class Number>
Number numberAt(const char *record, bool big) {
    std::array<char, sizeof(Number)> bytes;
    std::memcpy(bytes.data(), record, sizeof(Number));
    if (big) std::ranges::reverse(bytes);
    return std::bit_cast<Number>(bytes);
}

double wholeAt(const MdfChannel &c, const char *at, bool big, bool isSigned) {
    const std::uint32_t bytes = (c.bitOffset + c.bits + 7) / 8;
    std::uint64_t v = 0;
    for (std::uint32_t i = 0; i < bytes; ++i)
        v |= std::uint64_t{static_cast<unsigned char>(at[big ? bytes - 1 - i : i])} << 8 * i;
    v >>= c.bitOffset;
    const std::uint32_t unused = 64 - c.bits;
    if (isSigned) return static_cast<double>(static_cast<std::int64_t>(v << unused) >> unused);
    return static_cast<double>(v << unused >> unused);
}

double rawNumber(const MdfChannel &c, const char *record) {
    const char *at = record + c.byteOffset;
    switch (c.number) {
    case MdfNumber::realLittle:
    case MdfNumber::realBig: {
        const bool big = c.number == MdfNumber::realBig;
        return c.bits == 64 ? numberAt<double>(at, big) : static_cast<double>(numberAt<float>(at, big));
    }
    case MdfNumber::unsignedLittle:
        return wholeAt(c, at, false, false);
    case MdfNumber::unsignedBig:
        return wholeAt(c, at, true, false);
    case MdfNumber::signedLittle:
        return wholeAt(c, at, false, true);
    default:
        return wholeAt(c, at, true, true);
    }
}

std::string textIn(const MdfChannel &c, const char *record) {
    std::string raw(record + c.byteOffset, c.bits / 8);
    if (c.number == MdfNumber::utf16LittleText || c.number == MdfNumber::utf16BigText) {
        const LogText bytes(raw);
        TextStream text(bytes,
                        c.number == MdfNumber::utf16LittleText ? TextEncoding::utf16LittleEndian
                                                               : TextEncoding::utf16BigEndian,
                        0);
        std::string decoded;
        while (text.next(decoded, raw.size() + 4)) {
        }
        raw = std::move(decoded);
    }
    return raw.substr(0, raw.find('\0'));
}

bool isInvalid(const MdfChannel &c, const MdfGroup &g, const char *record) {
    if (c.allInvalid) return true;
    if (!c.invalidBit) return false;
    const auto byte = static_cast<unsigned char>(record[g.dataBytes + *c.invalidBit / 8]);
    return (byte >> *c.invalidBit % 8 & 1) != 0;
}

double sampleOf(MdfColumn &to, const MdfGroup &g, const char *record, std::uint64_t number) {
    const MdfChannel &c = *to.channel;
    if (isInvalid(c, g, record)) return noValue;
    if (c.isText()) {
        const std::string text = textIn(c, record);
        return text.empty() ? noValue : to.words.place(text);
    }
    const double raw = c.counted ? static_cast<double>(number) : rawNumber(c, record);
    if (c.conversion.makesWords()) {
        const auto text = c.conversion.textOf(raw);
        if (!text) return noValue;
        to.wordPlaces.resize(c.conversion.texts.size(), -1);
        double &place = to.wordPlaces[*text];
        if (place < 0) place = to.words.place(c.conversion.texts[*text]);
        return place;
    }
    const double v = c.conversion.of(raw);
    if (std::abs(v) <= mostKept || c.master) return v;
    if (v == v) ++to.infinite;
    return noValue;
}

// A group on its way: records come in, columns go out.
struct Group {
    const MdfGroup *group;
    std::vector<MdfColumn> columns;
    std::uint64_t records = 0;

    void take(const char *record) {
        for (MdfColumn &c : columns)
            c.samples.push_back(sampleOf(c, *group, record, records));
        ++records;
    }
    void handOn(SampleSink &sink) {
        for (MdfColumn &c : columns) {
            sink.put(c.column, c.samples);
            c.samples.clear();
        }
    }
    bool full() const { return !columns.empty() && columns.front().samples.size() >= recordsAtATime; }
};

class MdfLog : public LogSource {
  public:
    explicit MdfLog(const LogBytes &bytes) : m_bytes(bytes), m_file(readMdf(bytes)) {
        m_layout.format = "mdf4";
        for (const MdfStream &s : m_file.streams)
            for (const MdfGroup &g : s.groups)
                addColumns(g);
        showSome();
    }

    const LogLayout &layout() const override { return m_layout; }

    LogRead read(SampleSink &sink, const LogReading &how) const override {
        LogRead out;
        out.warnings = m_file.warnings;
        out.kinds.resize(m_layout.columns.size(), ChannelKind::number);
        out.texts.resize(m_layout.columns.size());
        std::size_t column = 0;
        for (const MdfStream &s : m_file.streams) {
            std::vector<Group> groups = groupsOf(s, column);
            try {
                readStream(s, groups, sink, how, UINT64_MAX, out.stopped);
            } catch (const InputError &e) {
                handAllOn(groups, sink);
                fail(e, groups, how.partly, out);
            }
            handAllOn(groups, sink);
            if (out.stopped) return out;
            finish(groups, out);
            if (how.progress)
                how.progress(static_cast<double>(column) / static_cast<double>(m_layout.columns.size()));
        }
        if (out.rows == 0)
            throw InputError("file", MARKED("expected.mdf_channels", "groups of channels with records"),
                             MARKED("found.none", "none"));
        return out;
    }

  private:
    void addColumns(const MdfGroup &g) {
        const std::size_t first = m_layout.columns.size();
        std::size_t clock = first;
        for (std::size_t i = 0; i < g.channels.size(); ++i)
            if (g.channels[i].master) clock = first + i;
        for (const MdfChannel &c : g.channels) {
            LogColumn column;
            column.name = c.name;
            column.unit = c.master && c.unit.empty() ? "s" : c.unit;
            column.clock = clock;
            column.knownClock = true;
            column.kind = c.isText() || c.conversion.makesWords() ? ChannelKind::words : ChannelKind::number;
            m_layout.columns.push_back(std::move(column));
        }
    }

    static std::vector<Group> groupsOf(const MdfStream &s, std::size_t &column) {
        std::vector<Group> groups;
        for (const MdfGroup &g : s.groups) {
            Group &group = groups.emplace_back();
            group.group = &g;
            for (const MdfChannel &c : g.channels)
                group.columns.push_back({&c, column++, {}, {}, {}, 0});
        }
        return groups;
    }

    static void handAllOn(std::vector<Group> &groups, SampleSink &sink) {
        for (Group &g : groups)
            g.handOn(sink);
    }

    // Record after record, each of the group that its id names.
    void readStream(const MdfStream &s, std::vector<Group> &groups, SampleSink &sink, const LogReading &how,
                    std::uint64_t most, bool &stopped) const {
        MdfData data(m_bytes, s.data);
        std::string bytes;
        std::uint64_t before = 0; // bytes of the stream that came before
        for (std::size_t at = 0; data.next(bytes); before += at) {
            if (how.stop.stop_requested()) {
                stopped = true;
                return;
            }
            at = 0;
            while (const std::size_t used = takeRecord(s, groups, std::string_view(bytes).substr(at))) {
                at += used;
                for (Group &g : groups)
                    if (g.full()) g.handOn(sink);
                if (std::ranges::any_of(groups, [most](const Group &g) { return g.records >= most; })) return;
            }
            bytes.erase(0, at);
        }
        for (const Group &g : groups)
            if (g.records < g.group->records && !g.columns.empty())
                throw InputError("byte " + std::to_string(before + bytes.size()) + " of the records",
                                 Phrase{MARKED("expected.mdf_records", "{a} records"),
                                        {},
                                        {std::to_string(g.group->records)}},
                                 std::to_string(g.records));
    }

    // Bytes of the record that these begin with; 0: it is not whole.
    static std::size_t takeRecord(const MdfStream &s, std::vector<Group> &groups, std::string_view bytes) {
        Group *group = &groups.front();
        if (s.idBytes > 0) {
            if (bytes.size() < s.idBytes) return 0;
            std::uint64_t id = 0;
            for (std::size_t i = s.idBytes; i-- > 0;)
                id = id << 8 | static_cast<unsigned char>(bytes[i]);
            const auto at = std::ranges::find(groups, id, [](const Group &g) { return g.group->recordId; });
            if (at == groups.end())
                throw InputError("records", MARKED("expected.mdf_id", "the id of a group"),
                                 std::to_string(id));
            group = &*at;
        }
        std::size_t size = s.idBytes + group->group->recordBytes();
        if (group->group->variable) {
            constexpr std::size_t lengthBytes = 4;
            if (bytes.size() < s.idBytes + lengthBytes) return 0;
            size = s.idBytes + lengthBytes + numberAt<std::uint32_t>(bytes.data() + s.idBytes, false);
        }
        constexpr std::size_t largest = std::size_t{128} << 20;
        if (size == 0 || size > largest)
            throw InputError("records", MARKED("expected.mdf_record_size", "records of 1 byte to 128 MiB"),
                             std::to_string(size) + " bytes");
        if (bytes.size() < size) return 0;
        if (!group->group->variable && group->records < group->group->records)
            group->take(bytes.data() + s.idBytes);
        return size;
    }

    static void fail(const InputError &e, const std::vector<Group> &groups, bool partly, LogRead &out) {
        std::uint64_t rows = 0;
        for (const Group &g : groups)
            rows = std::max(rows, g.records);
        if (!partly)
            throw InputError(e.where(), e.expected(),
                             Phrase{MARKED("found.rows_before", "{A}; {0} rows before it can be read, and "
                                                                "--partly takes those alone"),
                                    {{static_cast<double>(rows), Dimension::count}},
                                    {},
                                    {e.found()}});
        out.warnings.emplace_back(MARKED("log.warn.partly", "Read only up to {a}: expected {A}, found {B}"),
                                  std::vector<Measured>{}, std::vector{e.where()},
                                  std::vector{e.expected(), e.found()});
    }

    static void finish(const std::vector<Group> &groups, LogRead &out) {
        for (const Group &g : groups) {
            if (!g.columns.empty()) out.rows = std::max(out.rows, static_cast<std::size_t>(g.records));
            for (const MdfColumn &c : g.columns) {
                if (c.makesWords()) out.kinds[c.column] = ChannelKind::words;
                out.texts[c.column] = c.words.texts();
                if (c.infinite > 0)
                    out.warnings.emplace_back(
                        MARKED("mdf.infinite",
                               "'{a}': {0} numbers are infinite or beyond what is kept: taken as missing"),
                        std::vector{Measured{static_cast<double>(c.infinite), Dimension::count}},
                        std::vector{c.channel->name});
            }
        }
    }

    // The first records of every group.
    void showSome() {
        class Preview : public SampleSink {
          public:
            explicit Preview(LogLayout &layout) : m_layout(layout) {}
            void put(std::size_t series, std::span<const double> samples) override {
                std::vector<double> &to = m_layout.columns[series].preview;
                to.insert(to.end(), samples.begin(), samples.end());
            }

          private:
            LogLayout &m_layout;
        };
        constexpr std::uint64_t shown = 2000;
        Preview preview(m_layout);
        std::size_t column = 0;
        bool stopped = false;
        for (const MdfStream &s : m_file.streams) {
            std::vector<Group> groups = groupsOf(s, column);
            try {
                readStream(s, groups, preview, {}, shown, stopped);
            } catch (const InputError &) {
                // What is wrong with it is said when it is read.
            }
            handAllOn(groups, preview);
        }
    }

    const LogBytes &m_bytes;
    MdfFile m_file;
    LogLayout m_layout;
};

} // namespace

LogImporter mdf4LogImporter() {
    return {"mdf4", MARKED("importer.mdf4", "MDF 4"), "mf4 mdf dat",
            [](std::string_view head) { return head.starts_with("MDF ") || head.starts_with("UnFinMF"); },
            [](const LogBytes &bytes, const LogForm &) -> std::unique_ptr<LogSource> {
                return std::make_unique<MdfLog>(bytes);
            }};
}

} // namespace wheelwright
