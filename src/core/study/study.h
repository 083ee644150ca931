// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/evaluation.h"
#include "core/study/reach.h"
#include "core/study/school.h"

#include <memory>
#include <mutex>

namespace wheelwright {

/// What follows from one version of a job, worked out once and read by everybody: the window, the verdict,
/// the explanations. Immutable; parts that cost something are made when first asked for, also from several
/// threads at once. The job must pass validate().
class Study {
  public:
    explicit Study(Job job);
    Study(const Study &) = delete; // its parts refer to its job
    Study &operator=(const Study &) = delete;
    ~Study();

    const Job &job() const { return m_job; }
    const BlendModel &blends() const { return m_blends; }
    /// content 0–1.
    std::array<BlendEnds, calibratedQuantityCount> ends(double content) const { return m_school.at(content); }
    BlendEnds ends(CalibratedQuantity q, double content) const { return m_school.at(q, content); }
    const WeightModel &weights() const { return m_school.weights(); }
    /// What the engine gets at a content, on the low end's axes.
    Table2D blended(CalibratedQuantity q, double content) const;
    /// How far the engine can go at these speeds.
    std::vector<ReachAtSpeed> reach(double content, std::span<const double> rpm) const;
    BlendProperties fuelAt(double content) const { return m_blends.properties(blendAt(m_job, content)); }

    /// The same with fuel, spark and lambda tables over manifold pressure (load_axis.h): this study itself
    /// where they are already.
    const Study &inPressure() const;
    /// The job at every content and grid point: dear, so not for the window's thread.
    const Evaluation &evaluation() const;

  private:
    Job m_job;
    BlendModel m_blends;
    SchoolModel m_school;
    mutable std::once_flag m_pressureOnce, m_evaluationOnce;
    mutable std::unique_ptr<const Study> m_pressure;
    mutable std::unique_ptr<const Evaluation> m_evaluation;
};

} // namespace wheelwright
