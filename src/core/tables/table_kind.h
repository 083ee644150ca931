// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/tables/table2d.h"
#include "core/tables/table_axis.h"

#include <span>
#include <string>
#include <string_view>

namespace wheelwright {

/// What else a controller holds tables of.
enum class TableKind {
    sparkIntake,
    sparkCoolant,
    sparkFuel,
    sparkCylinder,
    sparkFallback,
    sparkCeiling,
    sparkBest,
    fuelIntake,
    fuelCoolant,
    fuelTemperature,
    fuelContent,
    cranking,
    afterStart,
    prime,
    acceleration,
    solenoidDuty,
    boostCut,
    revLimit,
    railPressure,
    portShare
};

/// What kinds belong together, in the order in which they are shown.
enum class TableGroup { knock, spark, fuel, starting, boost };
inline constexpr TableGroup allTableGroups[] = {TableGroup::knock, TableGroup::spark, TableGroup::fuel,
                                                TableGroup::starting, TableGroup::boost};
TableGroup groupOf(TableKind kind);
PhraseText titleOf(TableGroup group);

/// One of them. A kind may stand more than once (by name): of kinds that stand at a content all are in use,
/// of others the first.
struct ExtraTable {
    TableKind kind = TableKind::sparkIntake;
    std::string name = "Table";
    Table2D table;
    double content = 0;   ///< that it was found at; of kinds that stand at one
    double plusMinus = 0; ///< of its numbers, in their unit; 0: not stated. Of the same kinds

    bool operator==(const ExtraTable &) const = default;
};

/// What a kind of table holds. Its numbers are in the internal unit of the dimension.
struct TableKindDefinition {
    TableKind kind;
    std::string_view id; ///< stable: "spark_intake"
    PhraseText title;    ///< "Spark by intake air"
    PhraseText help;
    Dimension dimension;
    double least, most, step;
    double neutral; ///< what a new table holds everywhere
    TableAxis x, y;
    bool atContent = false; ///< found on one fuel: several stand beside each other, each at its content
};

std::span<const TableKindDefinition> allTableKinds();
const TableKindDefinition &definitionOf(TableKind kind);

/// A neutral table of a kind, with usual breakpoints. Nobody has said any of its numbers yet: they are
/// assumed.
ExtraTable newExtraTable(TableKind kind, std::string name);

/// Throws InputError naming the table, its axes or the cell.
void validate(const ExtraTable &extra, const std::string &where);

} // namespace wheelwright
