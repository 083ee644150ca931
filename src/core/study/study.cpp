// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study.h"

#include "core/study/load_axis.h"

namespace wheelwright {

Study::Study(Job job) : m_job(std::move(job)), m_blends(blendModelOf(m_job)), m_school(m_job) {}

Study::~Study() = default;

Table2D Study::blended(CalibratedQuantity q, double content) const {
    return blendedTable(ends(q, content));
}

std::vector<ReachAtSpeed> Study::reach(double content, std::span<const double> rpm) const {
    return Reach(m_job, rpm).at(ends(CalibratedQuantity::boost, content));
}

const Study &Study::inPressure() const {
    if (m_job.calibration.loadAxis == LoadAxis::manifoldPressure) return *this;
    std::call_once(m_pressureOnce,
                   [this] { m_pressure = std::make_unique<const Study>(wheelwright::inPressure(m_job)); });
    return *m_pressure;
}

const Evaluation &Study::evaluation() const {
    std::call_once(m_evaluationOnce,
                   [this] { m_evaluation = std::make_unique<const Evaluation>(inPressure()); });
    return *m_evaluation;
}

} // namespace wheelwright
