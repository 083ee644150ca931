// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace wheelwright {

/// One value of a record as it is, not as text.
using RecordValue = std::variant<double, bool, std::string, Table2D, DeferredText>;

/// What differs between two jobs, row by row of the job file: small enough to keep for every step of undo,
/// and what an edit writes and nothing else.
struct JobChange {
    template <class T>
    struct Step {
        T before;
        T after;
        bool operator==(const Step &) const = default;
    };
    struct Cell {
        CellIndex at;
        double before = 0, after = 0;
        CellOrigin originBefore = CellOrigin::unknown, originAfter = CellOrigin::unknown;
        bool operator==(const Cell &) const = default;
    };
    struct FieldStep {
        std::string path;
        Step<FieldContent> step;
        bool operator==(const FieldStep &) const = default;
    };
    struct CurveStep {
        std::string path;
        Step<Curve> step;
        bool operator==(const CurveStep &) const = default;
    };
    struct CellSteps {    ///< axes unchanged
        std::string path; ///< of any table of the job (named_tables.h)
        std::vector<Cell> cells;
        bool operator==(const CellSteps &) const = default;
    };
    struct TableStep { ///< axes changed: the whole table
        std::string path;
        Step<Table2D> step;
        bool operator==(const TableStep &) const = default;
    };
    /// A record that came, went, or changed some of its values. Tables of a record that stays have steps of
    /// their own, under their own path.
    struct RecordStep {
        enum class Kind { inserted, removed, set };
        struct Value {
            std::size_t field; ///< of the list
            Step<RecordValue> step;
            bool operator==(const Value &) const = default;
        };
        RecordId id = 0;
        Kind kind = Kind::set;
        std::vector<RecordValue> whole; ///< of one that came or went, in the order of the list's fields
        std::vector<Value> values;      ///< of one that changed
        bool operator==(const RecordStep &) const = default;
    };
    struct RecordSteps {
        std::string path;
        std::vector<RecordStep> steps; ///< ascending in id
        bool operator==(const RecordSteps &) const = default;
    };
    struct LimitStep { ///< empty: the shipped limit
        std::string id;
        Step<std::optional<double>> step;
        bool operator==(const LimitStep &) const = default;
    };

    std::vector<FieldStep> fields;
    std::vector<CurveStep> curves;
    std::vector<RecordSteps> records;
    std::vector<CellSteps> cells;
    std::vector<TableStep> tables;
    std::vector<LimitStep> limits;

    bool empty() const {
        return fields.empty() && curves.empty() && cells.empty() && tables.empty() && limits.empty() &&
               records.empty();
    }
    bool operator==(const JobChange &) const = default;
    /// Whether anything below a path differs: "fuel.", "calibration.spark". Limits are below "limits.".
    bool touches(std::string_view prefix) const;
};

/// Costs what differs: lists and tables that both jobs share are not looked at.
JobChange difference(const Job &before, const Job &after);

/// The change that takes the other way.
JobChange reversed(JobChange change);

/// Takes a job that equals the change's 'before' to its 'after'. Throws InputError, with the job half
/// changed, where a record, table or cell is not there.
void apply(Job &job, const JobChange &change);

/// Whether both write the same row, or rows that stand and fall together (the axes and cells of a table, a
/// record and its values).
bool overlap(const JobChange &a, const JobChange &b);

} // namespace wheelwright
