// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/run_file.h"

#include "core/base/error.h"
#include "formats/log_import/log_import.h"
#include "formats/run_csv.h"

#include <algorithm>

namespace wheelwright {

namespace {

// What of a file is read by itself: all of it, or a part with its own remarks.
void readPulls(const LogBytes &bytes, const RunStatement &stated, const std::vector<StatedColumn> &columns,
               MapSurroundings around, RunFile &out) {
    if (stated.air) around.ambientKpa = stated.air->pressureKpa; // zero of what boost is stated against
    const auto source = openLog(bytes);
    const RunColumns found = runColumns(*source, columns, around);
    for (const Phrase &p : found.said)
        if (std::ranges::none_of(out.said, [&p](const Phrase &s) { return format(s) == format(p); }))
            out.said.push_back(p); // of several parts once
    for (std::size_t side = 0; side < found.sides.size(); ++side) {
        FoundPulls some = findPulls(found.sides[side], found.pullNumbers[side]);
        if (some.coastedRows > 0)
            out.said.push_back(
                Phrase{MARKED("run.said.coast", "Rows that roll out without torque are left out: {0}."),
                       {{static_cast<double>(some.coastedRows), Dimension::count}}});
        for (FoundPull &p : some.pulls)
            out.pulls.push_back(std::move(p));
    }
}

} // namespace

RunFile readRunFile(const LogBytes &bytes, const std::string &name, const RunStatement &stated,
                    const std::vector<StatedColumn> &columns, const MapSurroundings &around) {
    std::string within = name;
    try {
        RunFile out;
        out.statement = stated;
        const std::vector<RunPart> parts = runParts(bytes);
        if (parts.empty()) {
            out.statement = withRemarks(stated, runRemarks(bytes), out.said);
            readPulls(bytes, out.statement, columns, around, out);
        }
        for (std::size_t i = 0; i < parts.size(); ++i) {
            within = name + ", run " + std::to_string(i + 1);
            const std::size_t before = out.pulls.size();
            const RunStatement own = withRemarks(stated, parts[i].remarks, out.said);
            readPulls(LogText(parts[i].text), own, columns, around, out);
            for (std::size_t k = before; k < out.pulls.size(); ++k)
                out.pulls[k].remarks = parts[i].remarks;
        }
        if (out.statement.name.empty()) out.statement.name = name;
        if (out.statement.source.empty()) out.statement.source = name;
        return out;
    } catch (const InputError &e) {
        throw InputError(e.where() == "file" ? within : within + ", " + e.where(), e.expected(), e.found());
    }
}

bool seemsRuns(const LogBytes &bytes) {
    constexpr std::size_t looked = 1 << 16;
    std::string head(static_cast<std::size_t>(std::min<std::uint64_t>(bytes.size(), looked)), '\0');
    head.resize(bytes.read(0, head));
    if (const std::size_t end = head.rfind('\n'); end != std::string::npos && head.size() < bytes.size())
        head.resize(end + 1);
    try {
        const LogText first(head);
        const ChannelMap map = suggestMap(openLog(first)->layout());
        const auto has = [&map](ChannelRole role) {
            return std::ranges::any_of(map.columns, [role](const MappedColumn &m) {
                constexpr double byName = 0.5; // a clock that is taken for one by its place alone is none
                return m.role == role && (role != ChannelRole::time || m.confidence > byName);
            });
        };
        const RunRemarks remarks = runRemarks(first);
        return has(ChannelRole::rpm) && (has(ChannelRole::torque) || has(ChannelRole::power)) &&
               (!has(ChannelRole::time) || remarks.contains("mode") || remarks.contains("correction"));
    } catch (const InputError &) {
        return false;
    }
}

} // namespace wheelwright
