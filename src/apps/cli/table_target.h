// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"

#include <CLI/CLI.hpp>

#include <memory>
#include <string>

namespace wheelwright {

class JobEditor;
class JobStore;

/// A table as it is named on the command line: "spark.base", "spark.top", or "spark.0.35" for the level of
/// that content in a job whose school holds levels; "extras.Name" for another table.
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
    std::string m_extra; ///< its name; empty: none
};

/// "spark" alone: a quantity as a whole. False for anything else.
bool isQuantity(const std::string &name, CalibratedQuantity &quantity);

/// A job that a command is about to change. Its file is locked before it is read and until the change is
/// written, so that no change of another command comes between; without `write` it is only read.
class JobEdit {
  public:
    /// Throws InputError when the job cannot be read, or cannot be written to although `write`.
    JobEdit(const std::string &path, bool write);
    JobEdit(JobEdit &&) noexcept;
    ~JobEdit();
    const Job &before() const { return m_before; }
    const JobStore &store() const; ///< only with `write`
    /// Writes what differs as one action of the job file, with the origin of the cells that changed. Locks
    /// hold for edits of cells, not for whole tables. Without `write` the change is only checked.
    void commit(Job after, const std::string &what, CellOrigin how);

  private:
    std::unique_ptr<JobEditor> m_editor;
    Job m_before;
};

/// Content that was asked for, or the tank's. Throws InputError outside 0–1.
double contentOrTank(const Job &job, const CLI::Option &option, double asked);

} // namespace wheelwright
