// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/evidence/log_bytes.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

// The blocks of an MDF 4 file (ASAM MDF 4.1.0, from knowledge of its layout): what it says of its channels.
// Numbers are little-endian, links are places in the file, 0 is none.

/// Id, reserved, length and number of links: no block is shorter, so no list of blocks is longer than the
/// file has room for. One that is, is a ring.
inline constexpr std::size_t mdfHeadBytes = 24;

/// A block: four letters, its links, and what follows them.
class MdfBlock {
  public:
    /// Throws InputError when no block with one of these ids begins there: "##CN".
    MdfBlock(const LogBytes &bytes, std::uint64_t at, std::initializer_list<std::string_view> ids);

    const std::string &id() const { return m_id; }
    std::uint64_t link(std::size_t i) const { return i < m_links.size() ? m_links[i] : 0; }
    std::size_t links() const { return m_links.size(); }
    std::uint64_t dataBegins() const { return m_dataBegins; }
    std::uint64_t dataSize() const { return m_dataSize; }
    /// Of the data of a small block. Throws InputError where they are not there.
    std::uint64_t number(std::size_t at, std::size_t bytes) const;
    double real(std::size_t at) const;
    /// All of it as text, up to a zero.
    std::string text() const;

  private:
    std::string m_id, m_where;
    std::vector<std::uint64_t> m_links;
    std::uint64_t m_dataBegins = 0, m_dataSize = 0;
    std::string m_data; ///< at most the first 64 KiB
};

/// How the number of a record becomes what it means.
struct MdfConversion {
    enum class Kind { none, linear, rational, interpolated, table, ranges, texts, rangeTexts };
    Kind kind = Kind::none;
    std::vector<double> values;
    std::vector<std::string> texts;

    bool makesWords() const { return kind == Kind::texts || kind == Kind::rangeTexts; }
    double of(double raw) const;
    /// Place among `texts`; empty: none of them.
    std::optional<std::size_t> textOf(double raw) const;
};

/// What a number of a record is.
enum class MdfNumber {
    unsignedLittle,
    unsignedBig,
    signedLittle,
    signedBig,
    realLittle,
    realBig,
    latinText,
    utf8Text,
    utf16LittleText,
    utf16BigText
};

struct MdfChannel {
    std::string name, unit;
    bool master = false;  ///< the time of its group
    bool counted = false; ///< it is the number of the record, from 0: not in it
    MdfNumber number = MdfNumber::unsignedLittle;
    std::uint32_t byteOffset = 0, bitOffset = 0, bits = 0;
    bool allInvalid = false;
    std::optional<std::uint32_t> invalidBit; ///< within the bytes behind the data of a record
    MdfConversion conversion;

    bool isText() const { return number >= MdfNumber::latinText; }
};

/// Records of one kind.
struct MdfGroup {
    std::uint64_t recordId = 0, records = 0;
    std::uint32_t dataBytes = 0, invalidBytes = 0;
    bool variable = false; ///< each record says its own length: of nothing that is read here
    std::vector<MdfChannel> channels;
    std::uint32_t recordBytes() const { return dataBytes + invalidBytes; }
};

/// Groups whose records lie in one stream of data.
struct MdfStream {
    std::uint64_t data = 0; ///< block
    std::uint32_t idBytes = 0;
    std::vector<MdfGroup> groups;
};

struct MdfFile {
    std::vector<MdfStream> streams;
    std::vector<Phrase> warnings; ///< channels that are left out, and why
};

/// Throws InputError for what is no MDF 4, and for blocks that are not known, by their names.
MdfFile readMdf(const LogBytes &bytes);

/// The bytes of a stream in order, a piece at a time, unpacked. Throws InputError where the file ends before
/// they do, or a block is not known.
class MdfData {
  public:
    MdfData(const LogBytes &bytes, std::uint64_t block);
    /// Appends a piece; false at the end.
    bool next(std::string &to);

  private:
    void open(std::uint64_t block);
    void unpack(const MdfBlock &block, std::string &to) const;
    const LogBytes &m_bytes;
    std::vector<std::uint64_t> m_waiting; ///< blocks, the next one last
    std::uint64_t m_at = 0, m_left = 0;   ///< of a block that is not packed
    std::size_t m_steps = 0;              ///< links that were followed: a ring has no end
};

} // namespace wheelwright
