#pragma once
#include "core/job/job.h"
#include "core/units/unit.h"

#include <span>
#include <string_view>

namespace wheelwright {

/// One axis of a kind of table.
struct AxisKind {
    std::string_view title; ///< empty: there is no such axis, and the table has one row
    Dimension dimension = Dimension::none;
    double least = 0, most = 0;
};

/// What a kind of table holds. Its numbers are in the internal unit of the dimension.
struct TableKindDefinition {
    TableKind kind;
    std::string_view id;    ///< stable: "spark_intake"
    std::string_view title; ///< "Spark by intake air"
    std::string_view help;
    Dimension dimension;
    double least, most, step;
    double neutral; ///< what a new table holds everywhere
    AxisKind x, y;
};

std::span<const TableKindDefinition> allTableKinds();
const TableKindDefinition &definitionOf(TableKind kind);

/// A neutral table of a kind, with usual breakpoints.
ExtraTable newExtraTable(TableKind kind, std::string name);

/// The table of a kind that is in use; nullptr without one.
const ExtraTable *extraInUse(const Job &job, TableKind kind);

/// Its value at a place; the kind's neutral without one.
double extraAt(const Job &job, TableKind kind, double x, double y = 0);

/// Throws InputError naming the table, its axes or the cell.
void validate(const ExtraTable &extra, const std::string &where);

} // namespace wheelwright
