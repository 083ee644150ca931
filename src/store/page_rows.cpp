// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/page_rows.h"

#include <algorithm>
#include <bit>
#include <optional>
#include <set>

namespace wheelwright {
namespace {

constexpr std::size_t fileHeader = 100;
constexpr unsigned interiorIndex = 0x02, leafIndex = 0x0A, leafTable = 0x0D;

class Pages {
  public:
    explicit Pages(std::string_view file) : m_file(file) {
        const std::size_t stated = number(16, 2) == 1 ? 65536 : number(16, 2);
        m_size = stated >= 512 && std::has_single_bit(stated) ? stated : 4096;
        const std::size_t reserved = number(20, 1);
        m_usable = reserved < m_size - 480 ? m_size - reserved : m_size;
        readFreeList();
    }

    std::size_t count() const { return m_file.size() / m_size; }
    std::size_t usable() const { return m_usable; }
    bool isFree(std::size_t page) const { return m_free.contains(page); }
    /// Counted from 1. Empty where the file ends before.
    std::string_view page(std::size_t n) const {
        return n >= 1 && n <= count() ? m_file.substr((n - 1) * m_size, m_usable) : std::string_view();
    }
    std::size_t number(std::size_t at, std::size_t bytes) const { return number(m_file, at, bytes); }
    /// Big-endian; 0 where the bytes are not there.
    static std::size_t number(std::string_view in, std::size_t at, std::size_t bytes) {
        if (at + bytes > in.size()) return 0;
        std::size_t v = 0;
        for (std::size_t i = 0; i < bytes; ++i)
            v = v << 8 | static_cast<unsigned char>(in[at + i]);
        return v;
    }

  private:
    void readFreeList() {
        for (std::size_t trunk = number(32, 4); trunk != 0 && m_free.insert(trunk).second;) {
            const std::string_view p = page(trunk);
            const std::size_t leaves = std::min(number(p, 4, 4), m_usable / 4 - 2);
            for (std::size_t i = 0; i < leaves; ++i)
                m_free.insert(number(p, 8 + 4 * i, 4));
            trunk = number(p, 0, 4);
        }
    }

    std::string_view m_file;
    std::size_t m_size = 4096, m_usable = 4096;
    std::set<std::size_t> m_free;
};

// A number of 1 to 9 bytes, 7 bits each; the ninth has 8.
std::optional<std::uint64_t> varint(std::string_view in, std::size_t &at) {
    std::uint64_t v = 0;
    for (int i = 0; i < 9; ++i) {
        if (at >= in.size()) return std::nullopt;
        const auto byte = static_cast<unsigned char>(in[at++]);
        if (i == 8) return v << 8 | byte;
        v = v << 7 | (byte & 0x7F);
        if (byte < 0x80) return v;
    }
    return v;
}

// The bytes of a record, with those that went over to other pages.
std::optional<std::string> payload(const Pages &pages, std::string_view page, std::size_t at,
                                   std::uint64_t size, bool ofIndex) {
    const std::size_t u = pages.usable();
    const std::size_t most = ofIndex ? (u - 12) * 64 / 255 - 23 : u - 35, least = (u - 12) * 32 / 255 - 23;
    constexpr std::uint64_t larger = 64u << 20; // than any text of a job
    if (size > larger) return std::nullopt;
    std::size_t here = static_cast<std::size_t>(size);
    if (size > most) {
        here = least + (static_cast<std::size_t>(size) - least) % (u - 4);
        if (here > most) here = least;
    }
    if (at + here > page.size()) return std::nullopt;
    std::string out(page.substr(at, here));
    std::size_t next = here < size ? Pages::number(page, at + here, 4) : 0;
    while (out.size() < size) {
        const std::string_view more = pages.page(next);
        if (more.empty() || pages.isFree(next)) return std::nullopt;
        out += more.substr(4, std::min<std::size_t>(u - 4, static_cast<std::size_t>(size) - out.size()));
        next = Pages::number(more, 0, 4);
    }
    return out;
}

std::optional<RowValue> value(std::uint64_t type, std::string_view record, std::size_t &at) {
    constexpr std::array<std::size_t, 7> widths{0, 1, 2, 3, 4, 6, 8};
    if (type == 0) return RowValue{};
    if (type == 8 || type == 9) return RowValue{static_cast<std::int64_t>(type - 8)};
    if (type == 10 || type == 11) return std::nullopt; // never in a file
    const std::size_t width = type <= 6   ? widths[type]
                              : type == 7 ? 8
                                          : static_cast<std::size_t>((type - 12) / 2);
    if (width > record.size() || at > record.size() - width) return std::nullopt;
    const std::string_view bytes = record.substr(at, width);
    at += width;
    if (type >= 12) {
        if (type % 2 == 0) return RowValue{Blob{std::string(bytes)}};
        return RowValue{std::string(bytes)};
    }
    const std::uint64_t raw = Pages::number(bytes, 0, width);
    if (type == 7) {
        const double v = std::bit_cast<double>(raw);
        return v == v ? std::optional<RowValue>(v) : std::nullopt; // SQLite keeps no NaN
    }
    const unsigned unused = 64 - 8 * static_cast<unsigned>(width);
    return RowValue{static_cast<std::int64_t>(raw << unused) >> unused}; // two's complement
}

std::optional<std::vector<RowValue>> columns(std::string_view record) {
    std::size_t head = 0;
    const auto headSize = varint(record, head);
    if (!headSize || *headSize > record.size()) return std::nullopt;
    std::size_t at = static_cast<std::size_t>(*headSize);
    std::vector<RowValue> out;
    while (head < *headSize) {
        const auto type = varint(record, head);
        auto v = type ? value(*type, record, at) : std::nullopt;
        constexpr std::size_t most = 5;
        if (!v || out.size() == most) return std::nullopt;
        out.push_back(std::move(*v));
    }
    return out;
}

bool isText(const RowValue &v) {
    return std::holds_alternative<std::string>(v);
}
bool isWhole(const RowValue &v) {
    return std::holds_alternative<std::int64_t>(v);
}
bool isNumber(const RowValue &v) {
    return isWhole(v) || std::holds_alternative<double>(v);
}

// The file keeps whole numbers of REAL columns as integers.
RowValue real(const RowValue &v) {
    return isWhole(v) ? RowValue{static_cast<double>(std::get<std::int64_t>(v))} : v;
}

// Of the calibration, or of a record.
bool isTablePath(const std::string &path) {
    return tableByPath(path) ||
           (path.find('#') != std::string::npos && recordListByPath(path.substr(0, path.find('#'))));
}

// Which table a row belongs to, by its shape and by what its path is a path of.
void place(const std::vector<RowValue> &c, bool action, std::uint64_t id, JobRows &out) {
    if (action) {
        if (c.size() == 3 && isText(c[1]) && isText(c[2]))
            out.in(RowTable::action).push_back({static_cast<std::int64_t>(id), c[1], c[2]});
        return;
    }
    if ((c.size() != 2 && c.size() != 4 && c.size() != 5) || !isText(c[0])) return;
    const auto &path = std::get<std::string>(c[0]);
    if (c.size() == 2) {
        if (std::holds_alternative<Blob>(c[1]))
            out.in(RowTable::digest).push_back({c[0], c[1]});
        else if (fieldByPath(path))
            out.in(RowTable::field).push_back({c[0], c[1]});
        else if (path == "min_reader_version")
            out.in(RowTable::info).push_back({c[0], c[1]});
        else if (isNumber(c[1]))
            out.in(RowTable::limit).push_back({c[0], real(c[1])});
    } else if (isText(c[1]) && isWhole(c[2]) && isNumber(c[3]) && isTablePath(path)) {
        out.in(RowTable::breakpoint).push_back({c[0], c[1], c[2], real(c[3])});
    } else if (isWhole(c[1]) && isWhole(c[2]) && isNumber(c[3]) && isTablePath(path)) {
        // Rows from before version 8 end before the origin.
        out.in(RowTable::cell).push_back({c[0], c[1], c[2], real(c[3]), c.size() == 5 ? c[4] : RowValue{}});
    } else if (isWhole(c[1]) && isNumber(c[2]) && isNumber(c[3]) && curveByPath(path)) {
        out.in(RowTable::curvePoint).push_back({c[0], c[1], real(c[2]), real(c[3])});
    } else if (isWhole(c[1]) && isText(c[2]) && (recordListByPath(path) || path == oldOriginsPath)) {
        out.in(RowTable::record).push_back({c[0], c[1], c[2], c[3]});
    }
}

void readPage(const Pages &pages, std::size_t number, JobRows &out) {
    const std::string_view page = pages.page(number);
    const std::size_t head = number == 1 ? fileHeader : 0;
    const std::size_t kind = Pages::number(page, head, 1);
    if (kind != interiorIndex && kind != leafIndex && kind != leafTable) return;
    const std::size_t cells = Pages::number(page, head + 3, 2);
    const std::size_t pointers = head + (kind == interiorIndex ? 12 : 8);
    for (std::size_t i = 0; i < cells && pointers + 2 * i + 2 <= page.size(); ++i) {
        std::size_t at = Pages::number(page, pointers + 2 * i, 2) + (kind == interiorIndex ? 4 : 0);
        const auto size = varint(page, at);
        const auto id = kind == leafTable ? varint(page, at) : std::optional<std::uint64_t>(0);
        if (!size || !id) continue;
        const auto bytes = payload(pages, page, at, *size, kind != leafTable);
        if (!bytes) continue;
        if (const auto c = columns(*bytes)) place(*c, kind == leafTable, *id, out);
    }
}

void sortAndReconcile(std::vector<Row> &rows, std::size_t key) {
    std::ranges::sort(rows);
    rows.erase(std::unique(rows.begin(), rows.end()), rows.end());
    const auto sameKey = [key](const Row &a, const Row &b) {
        return std::equal(a.begin(), a.begin() + static_cast<std::ptrdiff_t>(key), b.begin());
    };
    std::vector<Row> kept;
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (!(i > 0 && sameKey(rows[i - 1], rows[i])) &&
            !(i + 1 < rows.size() && sameKey(rows[i], rows[i + 1])))
            kept.push_back(std::move(rows[i]));
    rows = std::move(kept);
}

} // namespace

PageRows rowsFromPages(std::string_view file) {
    const Pages pages(file);
    PageRows out;
    if (file.starts_with("SQLite format 3")) out.version = static_cast<int>(pages.number(60, 4));
    for (std::size_t n = 1; n <= pages.count(); ++n)
        if (!pages.isFree(n)) readPage(pages, n, out.rows);
    for (std::size_t t = 0; t < rowTables; ++t)
        sortAndReconcile(out.rows.of[t], definitionOf(static_cast<RowTable>(t)).keys);
    out.rows.version = out.version > 0 ? out.version : schemaVersion;
    return out;
}

} // namespace wheelwright
