// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/cell_origin.h"

#include "core/base/error.h"
#include "core/tables/axis.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace wheelwright {
namespace {

constexpr std::array definitions{
    CellOriginDefinition{CellOrigin::unknown, '?', "unknown", MARKED("cell_origin.unknown", "not recorded")},
    CellOriginDefinition{CellOrigin::typed, 't', "typed", MARKED("cell_origin.typed", "typed")},
    CellOriginDefinition{CellOrigin::interpolated, 'i', "interpolated",
                         MARKED("cell_origin.interpolated", "interpolated from other cells")},
    CellOriginDefinition{CellOrigin::model, 'm', "model", MARKED("cell_origin.model", "scaled by the model")},
    CellOriginDefinition{CellOrigin::log, 'l', "log", MARKED("cell_origin.log", "corrected from a log")},
    CellOriginDefinition{CellOrigin::copied, 'c', "copied", MARKED("cell_origin.copied", "copied")},
    CellOriginDefinition{CellOrigin::estimated, 'e', "estimated",
                         MARKED("cell_origin.estimated", "an estimate")},
    CellOriginDefinition{CellOrigin::assumed, 'a', "assumed",
                         MARKED("cell_origin.assumed", "a flat table to begin with")},
    CellOriginDefinition{CellOrigin::knockSeen, 'k', "knock_seen",
                         MARKED("cell_origin.knock_seen", "where knock was seen")},
    CellOriginDefinition{CellOrigin::sweep, 's', "sweep",
                         MARKED("cell_origin.sweep", "from a sweep of spark")},
};

} // namespace

std::span<const CellOriginDefinition> allCellOrigins() {
    return definitions;
}

const CellOriginDefinition &definitionOf(CellOrigin origin) {
    return definitions[static_cast<std::size_t>(origin)];
}

std::string originsToText(const std::vector<CellOrigin> &origins) {
    std::string text;
    for (std::size_t i = 0; i < origins.size();) {
        std::size_t end = i;
        while (end < origins.size() && origins[end] == origins[i])
            ++end;
        text += std::to_string(end - i) + definitionOf(origins[i]).code;
        i = end;
    }
    return text;
}

std::vector<CellOrigin> originsFromText(std::string_view text, std::string_view where) {
    constexpr std::size_t mostCells = Axis::mostPoints * Axis::mostPoints;
    std::vector<CellOrigin> origins;
    std::size_t count = 0;
    bool counted = false;
    for (const char c : text) {
        if (std::isdigit(static_cast<unsigned char>(c))) {
            count = std::min(count * 10 + static_cast<std::size_t>(c - '0'), mostCells);
            counted = true;
            continue;
        }
        const auto at = std::ranges::find(definitions, c, &CellOriginDefinition::code);
        if (at == definitions.end())
            throw InputError(std::string(where),
                             MARKED("expected.counts_and_letters_of_timlce", "counts and letters of ?timlce"),
                             "'" + std::string(1, c) + "'");
        origins.insert(origins.end(), counted ? count : 1, at->origin);
        if (origins.size() > mostCells)
            throw InputError(
                std::string(where),
                Phrase{MARKED("expected.most_cells", "at most {a} cells"), {}, {std::to_string(mostCells)}},
                MARKED("found.more", "more"));
        count = 0;
        counted = false;
    }
    return origins;
}

} // namespace wheelwright
