// SPDX-License-Identifier: GPL-3.0-or-later
// Streams of records: plain (DT), in lists (DL, HL), packed (DZ).
#include "core/base/error.h"
#include "formats/log_import/mdf4_blocks.h"

#include <zlib.h>

#include <algorithm>

namespace wheelwright {
namespace {

constexpr std::size_t pieceOfData = std::size_t{1} << 20;
constexpr std::size_t mostListed = 1u << 22;
constexpr std::uint64_t mostUnpacked = std::uint64_t{1} << 30;
constexpr std::uint64_t bestPacking = 1032; // of deflate: RFC 1951 holds 258 bytes in 2 bits

[[noreturn]] void refuseData(std::uint64_t at, PhraseText expected, const std::string &found) {
    throw InputError("byte " + std::to_string(at), expected, found);
}

std::string inflated(std::string_view packed, std::size_t size, std::uint64_t at) {
    std::string out(size, '\0');
    z_stream z{};
    if (inflateInit(&z) != Z_OK) throw std::bad_alloc();
    z.next_in = reinterpret_cast<Bytef *>(const_cast<char *>(packed.data()));
    z.avail_in = static_cast<uInt>(packed.size());
    z.next_out = reinterpret_cast<Bytef *>(out.data());
    z.avail_out = static_cast<uInt>(out.size());
    const int result = inflate(&z, Z_FINISH);
    const std::size_t got = z.total_out;
    inflateEnd(&z);
    if (result != Z_STREAM_END || got != size)
        refuseData(at, MARKED("expected.mdf_packed", "packed data of the length that the block says"),
                   std::to_string(got) + " of " + std::to_string(size) + " bytes");
    return out;
}

// Rows of so many bytes lie column by column; what is left over at the end lies as it is.
std::string rowWise(const std::string &columns, std::size_t width) {
    if (width < 2 || width > columns.size()) return columns; // no whole row
    const std::size_t rows = columns.size() / width;
    std::string out(columns.size(), '\0');
    for (std::size_t c = 0; c < width; ++c)
        for (std::size_t r = 0; r < rows; ++r)
            out[r * width + c] = columns[c * rows + r];
    std::copy(columns.begin() + static_cast<std::ptrdiff_t>(rows * width), columns.end(),
              out.begin() + static_cast<std::ptrdiff_t>(rows * width));
    return out;
}

} // namespace

MdfData::MdfData(const LogBytes &bytes, std::uint64_t block) : m_bytes(bytes), m_waiting{block} {}

bool MdfData::next(std::string &to) {
    for (;;) {
        if (m_left > 0) {
            const auto count = static_cast<std::size_t>(std::min<std::uint64_t>(m_left, pieceOfData));
            const std::size_t before = to.size();
            to.resize(before + count);
            const std::size_t got = m_bytes.read(m_at, std::span(to).subspan(before));
            to.resize(before + got);
            m_at += got;
            m_left -= got;
            if (got == 0)
                throw InputError("byte " + std::to_string(m_at),
                                 MARKED("expected.mdf_whole", "the whole of an MDF block"),
                                 MARKED("found.end_of_file", "the end of the file"));
            return true;
        }
        if (m_waiting.empty()) return false;
        const std::uint64_t at = m_waiting.back();
        m_waiting.pop_back();
        if (++m_steps > std::min<std::uint64_t>(mostListed, m_bytes.size() / mdfHeadBytes))
            refuseData(at, MARKED("expected.mdf_list", "a list that ends"), "a ring, or millions of blocks");
        const MdfBlock block(m_bytes, at, {"##DT", "##DZ", "##DL", "##HL"});
        if (block.id() == "##DT") {
            m_at = block.dataBegins();
            m_left = block.dataSize();
        } else if (block.id() == "##HL") {
            if (block.link(0) != 0) m_waiting.push_back(block.link(0));
        } else if (block.id() == "##DL") {
            if (block.link(0) != 0) m_waiting.push_back(block.link(0));
            for (std::size_t i = block.links(); i-- > 1;)
                if (block.link(i) != 0) m_waiting.push_back(block.link(i));
        } else {
            unpack(block, to);
            return true;
        }
    }
}

void MdfData::unpack(const MdfBlock &block, std::string &to) const {
    const std::uint64_t size = block.number(8, 8), packed = block.number(16, 8), type = block.number(2, 1);
    const std::uint64_t at = block.dataBegins();
    if (block.number(0, 2) != ('D' | 'T' << 8))
        refuseData(at, MARKED("expected.mdf_packed_dt", "packed data of a DT block"), "others");
    if (type > 1)
        refuseData(at, MARKED("expected.mdf_zip", "deflate, with or without transposition"),
                   "type " + std::to_string(type));
    constexpr std::uint64_t headOfZip = 24;
    if (packed > block.dataSize() || block.dataSize() < headOfZip || packed > block.dataSize() - headOfZip ||
        size > mostUnpacked || size > (packed + 1) * bestPacking)
        refuseData(at, MARKED("expected.mdf_packed", "packed data of the length that the block says"),
                   std::to_string(packed) + " bytes for " + std::to_string(size));
    const auto refuseCut = [at] {
        throw InputError("byte " + std::to_string(at),
                         MARKED("expected.mdf_whole", "the whole of an MDF block"),
                         MARKED("found.end_of_file", "the end of the file"));
    };
    // Before there is room made for it: a block may claim anything.
    if (at + headOfZip > m_bytes.size() || packed > m_bytes.size() - at - headOfZip) refuseCut();
    std::string bytes(static_cast<std::size_t>(packed), '\0');
    if (m_bytes.read(at + headOfZip, bytes) != bytes.size()) refuseCut();
    const std::string plain = inflated(bytes, static_cast<std::size_t>(size), at);
    to += type == 1 ? rowWise(plain, static_cast<std::size_t>(block.number(4, 4))) : plain;
}

} // namespace wheelwright
