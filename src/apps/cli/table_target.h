#pragma once
#include "core/job/job_schema.h"
#include "core/tables/cell_trust.h"

#include <CLI/CLI.hpp>

#include <string>

namespace wheelwright {

/// A table as it is named on the command line: "spark.base", "spark.top", or "spark.0.35" for the level of
/// that content in a job whose school holds levels.
class TableTarget {
  public:
    /// Throws InputError, saying which tables this job has.
    TableTarget(const Job &job, const std::string &name);
    const TableField &field() const { return m_field; } ///< with the path and title of this table
    Table2D &of(Job &job) const;

  private:
    TableField m_field;
    double m_content = 0;
    bool m_level = false;
};

/// "spark" alone: a quantity as a whole. False for anything else.
bool isQuantity(const std::string &name, CalibratedQuantity &quantity);

/// Writes what differs as one action of the job file, with the origin of the cells that changed. Locks hold
/// for edits of cells, not for whole tables.
void commitChange(const std::string &path, const Job &before, Job after, const std::string &what,
                  CellOrigin how);

/// Content that was asked for, or the tank's. Throws InputError outside 0–1.
double contentOrTank(const Job &job, const CLI::Option &option, double asked);

} // namespace wheelwright
