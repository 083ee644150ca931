// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/school_definition.h"
#include "core/study/two_table_school.h"

#include <array>

namespace wheelwright {

/// What a quantity is made of at one content: T = scale · ((1 − weight) · low + weight · high). Every school
/// comes down to this, so whoever blends needs to know nothing about schools.
struct BlendEnds {
    const Table2D *low = nullptr, *high = nullptr; ///< the same table where one is used alone
    double lowContent = 0, highContent = 0;        ///< that they were calibrated at
    double weight = 0;
    double scale = 1;          ///< c(E) of school C
    bool outside = false;      ///< content beyond what was calibrated, or in no window
    bool extrapolated = false; ///< …and the rule is to go on

    double blend(double atLow, double atHigh) const {
        return scale * ((1 - weight) * atLow + weight * atHigh);
    }
    /// What stands at a place: rpm, and y as the tables' own axis has it (loadOfAxis(), or what boost goes
    /// by).
    double at(double rpm, double y) const;
};

/// The controller blends by what a content sensor says.
bool followsSensor(const Job &job);

/// The ends of all four quantities, by content. Keeps a reference to the job.
class SchoolModel {
  public:
    explicit SchoolModel(const Job &job) : m_job(job), m_weights(job) {}
    /// content 0–1.
    std::array<BlendEnds, calibratedQuantityCount> at(double content) const;
    BlendEnds at(CalibratedQuantity q, double content) const {
        return at(content)[static_cast<std::size_t>(q)];
    }

    const WeightModel &weights() const { return m_weights; }

  private:
    const Job &m_job;
    WeightModel m_weights;
};

/// Every table that a quantity can be made of, each once.
std::vector<const Table2D *> tablesOf(const Job &job, CalibratedQuantity q);
std::vector<Table2D *> tablesOf(Job &job, CalibratedQuantity q);

/// The tables beside a content, for editing: low and high end of a quantity. Of the school's levels where it
/// has them; otherwise base and top.
const Table2D &endTable(const Job &job, CalibratedQuantity q, double content, bool high);
Table2D &endTable(Job &job, CalibratedQuantity q, double content, bool high);

} // namespace wheelwright
