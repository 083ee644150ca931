#pragma once
#include "core/job/job_schema.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// What differs between two jobs, small enough to keep for every step of undo and exact enough to write only
/// the changed rows of the job file.
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
    struct CellSteps { ///< axes unchanged
        std::string path;
        std::vector<Cell> cells;
        bool operator==(const CellSteps &) const = default;
    };
    struct TableStep { ///< axes changed: the whole table
        std::string path;
        Step<Table2D> step;
        bool operator==(const TableStep &) const = default;
    };
    struct RecordsStep { ///< the whole list: records are few and small
        std::string path;
        Step<RecordContents> step;
        bool operator==(const RecordsStep &) const = default;
    };
    struct LimitStep { ///< empty: the shipped limit
        std::string id;
        Step<std::optional<double>> step;
        bool operator==(const LimitStep &) const = default;
    };

    std::vector<FieldStep> fields;
    std::vector<CurveStep> curves;
    std::vector<CellSteps> cells;
    std::vector<TableStep> tables;
    std::vector<LimitStep> limits;
    std::vector<RecordsStep> records;

    bool empty() const {
        return fields.empty() && curves.empty() && cells.empty() && tables.empty() && limits.empty() &&
               records.empty();
    }
    bool operator==(const JobChange &) const = default;
};

JobChange difference(const Job &before, const Job &after);

/// The change that takes the other way.
JobChange reversed(const JobChange &change);

/// Takes a job that equals the change's 'before' to its 'after'.
void apply(Job &job, const JobChange &change);

} // namespace wheelwright
