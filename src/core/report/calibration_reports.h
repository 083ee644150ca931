// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/revision.h"
#include "core/report/report.h"
#include "core/study/fuel_meaning.h"
#include "core/study/school_conversion.h"
#include "core/study/spark_budget.h"
#include "core/tables/region_edit.h"
#include "core/verify/injector_change.h"
#include "core/verify/verdict.h"

#include <optional>
#include <vector>

namespace wheelwright {

/// The verdict, its most important sentence first, then what was not judged.
Report verdictReport(const Verdict &verdict);

/// What a conversion loses.
struct ConversionLoss {
    School school;
    std::vector<SchoolError> errors;
    std::optional<TableResidual> fuel{}; ///< where the fuel tables mean something else
    bool loadAxis = false, boostAxis = false;
    std::vector<double> levels{}; ///< contents at which the other school has tables of their own
};
/// before: the job that is converted, for its units.
Report conversionReport(const Job &before, const ConversionLoss &loss);
/// Of each table that is not exact what is lost over content, with the levels on its zero.
std::vector<ReportChart> conversionCharts(const Job &before, const ConversionLoss &loss);

Report injectorChangeReport(const InjectorChange &change);

/// What differs: of a field what it is and was, of a table how many cells and the largest step.
Phrase saidDifference(const Job &job, const Difference &difference);
/// differences: of this job to another.

/// A table on other breakpoints. field: with the units of the job.
Report regridReport(const TableField &field, const Regridded &regridded, bool same);

/// Asked and delivered spark, step by step.
Report budgetReport(const SparkBudget &budget, const OperatingPoint &at);

} // namespace wheelwright
