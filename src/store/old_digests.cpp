// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/old_digests.h"

#include "core/base/error.h"

#include <xxhash.h>

#include <map>
#include <span>

namespace wheelwright {
namespace {

std::string digestOfRows(std::span<const Row> rows, const std::string &before = {}) {
    constexpr std::size_t columns = 4;
    std::string buffer = before;
    for (const Row &row : rows)
        for (std::size_t i = 0; i < columns; ++i)
            feedDigest(buffer, row[i]);
    XXH128_canonical_t bytes;
    XXH128_canonicalFromHash(&bytes, XXH3_128bits(buffer.data(), buffer.size()));
    return {reinterpret_cast<const char *>(bytes.digest), sizeof bytes.digest};
}

std::map<std::string, std::string> oldDigestsOf(const JobRows &rows) {
    std::map<std::string, std::string> out;
    out[infoChapter] = digestOfRows(rows.in(RowTable::info));
    out[fieldChapter] = digestOfRows(rows.in(RowTable::field));
    out[limitChapter] = digestOfRows(rows.in(RowTable::limit));
    std::string &chain = out[actionChapter];
    for (const Row &row : rows.in(RowTable::action))
        chain = digestOfRows({&row, 1}, chain);
    for (const CurveField &c : allCurves())
        out[c.path] = digestOfRows(rows.at(RowTable::curvePoint, c.path));
    for (const TableField &t : allTables())
        out[t.path] = digestOfRows(rows.at(RowTable::cell, t.path),
                                   digestOfRows(rows.at(RowTable::breakpoint, t.path)));
    for (const RecordList &l : allRecordLists())
        if (l.path != "stated" && !l.path.starts_with("evidence.") && !l.path.starts_with("runs.") &&
            !l.path.starts_with("vehicle.") && !l.path.starts_with("ladder.") &&
            l.path != "engine.inspections") // came after
            out[l.path] = digestOfRows(rows.at(RowTable::record, l.path));
    out[oldOriginsPath] = digestOfRows(rows.at(RowTable::record, oldOriginsPath));
    return out;
}

} // namespace

std::vector<std::string> brokenOldChapters(const JobRows &rows) {
    std::map<std::string, std::string> stated;
    for (const Row &row : rows.in(RowTable::digest))
        if (const auto *value = std::get_if<Blob>(&row[1]))
            stated[std::get<std::string>(row[0])] = value->bytes;
    std::vector<std::string> broken;
    for (const auto &[chapter, digest] : oldDigestsOf(rows)) {
        const auto at = stated.find(chapter);
        // A curve that came with a newer program has neither rows nor a digest in an older file.
        const bool neither = at == stated.end() && curveByPath(chapter) && digest == digestOfRows({});
        if (!neither && (at == stated.end() || at->second != digest)) broken.push_back(chapter);
        if (at != stated.end()) stated.erase(at);
    }
    for (const auto &[chapter, unused] : stated)
        broken.push_back("digest of " + echoed(chapter, 40));
    if (rows.in(RowTable::action).empty()) broken.emplace_back(actionChapter);
    return broken;
}

} // namespace wheelwright
