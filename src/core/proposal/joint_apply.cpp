// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"
#include "core/proposal/changed_cells.h"
#include "core/proposal/joint_fuel.h"
#include "core/study/cell_trust.h"
#include "core/study/content_curve.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr auto ofFuel = CalibratedQuantity::fuel;

bool changes(JointKnown known) {
    return known == JointKnown::measured || known == JointKnown::inferred;
}

// f(c) with what is not known left out: straight lines between the nodes that are, held at no step beyond.
double learnedAt(const JointFuel &joint, double content) {
    const JointNode *below = nullptr, *above = nullptr;
    for (const JointNode &k : joint.curve) {
        if (k.of.known == JointKnown::notSeparable) continue;
        if (k.content <= content) below = &k;
        if (k.content >= content && !above) above = &k;
    }
    if (!below || !above) return 0; // beyond what anybody has seen
    if (below == above) return below->of.value;
    return below->of.value + (content - below->content) / (above->content - below->content) *
                                 (above->of.value - below->of.value);
}

class Applier {
  public:
    Applier(const Job &job, const JointFuel &joint, const JointApplyOptions &options)
        : m_before(job), m_joint(joint), m_options(options) {
        m_out.job = job;
    }

    JointApplied apply() {
        for (const JointTable &t : m_joint.tables)
            step(t);
        switch (m_before.calibration.school) {
        case School::twoTables:
        case School::baseAndAdder:
            bendWeight();
            break;
        case School::fuelModel:
            bendCorrection();
            break;
        case School::windowSet:
        case School::stack:
            for (const JointNode &k : m_joint.curve)
                if (changes(k.of.known)) leave(k.content, k.of.value);
            break;
        }
        if (!m_out.residuals.empty())
            m_out.schoolThatCould = m_before.calibration.school == School::windowSet ||
                                            m_before.calibration.school == School::stack
                                        ? School::twoTables
                                        : School::stack;
        return std::move(m_out);
    }

  private:
    double limited(double step) const {
        step *= m_options.damping;
        return m_options.clamp ? std::clamp(step, -*m_options.clamp, *m_options.clamp) : step;
    }

    void step(const JointTable &joint) {
        Table2D *table = namedTable(m_out.job, joint.path);
        if (!table) return;
        const std::vector<bool> locks = locksOf(m_before, joint.path, *table);
        const TableField field = tableIn(m_before, ofFuel, false);
        const InjectorDemand demand(m_before, joint.content, m_before.conditions.intakeUsualC);
        const std::size_t nx = table->x().size();
        for (std::size_t i = 0; i < joint.cells.size(); ++i) {
            const JointUnknown &u = joint.cells[i];
            if (!changes(u.known)) continue;
            const CellIndex cell{i % nx, i / nx};
            const double offset =
                demand.lineAt({table->x()[cell.x], loadOfAxis(m_before, table->y()[cell.y])}).offset;
            const double wanted = offset + (table->cell(cell) - offset) * (1 + limited(u.value));
            if (wanted == table->cell(cell)) continue;
            if (locks[i])
                ++m_out.locked;
            else if (u.value > 0 && u.supplyAtEnd())
                ++m_out.supply;
            else if (!(wanted >= field.least && wanted <= field.most))
                ++m_out.outOfRange;
            else {
                table->setCell(cell, wanted);
                ++m_out.changed;
            }
        }
    }

    void leave(double content, double residual) {
        constexpr double worthSaying = 0.002;
        if (std::abs(residual) > worthSaying) m_out.residuals.push_back({content, residual});
    }

    // To visit(hits, low, high) in every cell that logs have been in, with what both ends say there.
    void inLoggedCells(const BlendEnds &ends, const auto &visit) const {
        for (const JointTable &t : m_joint.tables)
            for (std::size_t i = 0; i < t.cells.size(); ++i) {
                if (!(t.cells[i].hits > 0)) continue;
                const double rpm = t.now.x()[i % t.now.x().size()], y = t.now.y()[i / t.now.x().size()];
                visit(t.cells[i].hits, ends.low->lookup(rpm, y).value, ends.high->lookup(rpm, y).value);
            }
    }

    // The weight that gives what f asks for, by least squares over the cells that logs have been in: a step
    // of the weight moves the blend by (top − base), which is about the same share of it everywhere.
    double weightStep(const BlendEnds &ends, double learned) const {
        double product = 0, squares = 0;
        inLoggedCells(ends, [&](double hits, double low, double high) {
            const double apart = ends.scale * (high - low);
            product += hits * ends.blend(low, high) * apart;
            squares += hits * apart * apart;
        });
        return squares > 0 ? learned * product / squares : 0;
    }

    // What of f is left at a content when the weight has moved by a step.
    double left(const BlendEnds &ends, double learned, double step) const {
        double sum = 0, weights = 0;
        inLoggedCells(ends, [&](double hits, double low, double high) {
            sum += hits * (learned - step * ends.scale * (high - low) / ends.blend(low, high));
            weights += hits;
        });
        return weights > 0 ? sum / weights : learned;
    }

    void bendWeight() {
        TwoTable &two = m_out.job.calibration.of(ofFuel);
        const Calibration &was = m_before.calibration;
        const SchoolModel model(m_before);
        std::vector<double> contents, weights;
        bool bent = false;
        double last = 0;
        for (const JointNode &k : m_joint.curve) {
            const double learned = limited(learnedAt(m_joint, k.content));
            if (k.content < was.baseContent || k.content > was.topContent) {
                if (changes(k.of.known)) leave(k.content, learned);
                continue;
            }
            const BlendEnds ends = model.at(ofFuel, k.content);
            const double wanted = ends.weight + weightStep(ends, learned);
            // Weights stay from 0 to 1 and never fall.
            double w = std::clamp(wanted, last, 1.0);
            if (k.content == was.baseContent) w = 0;
            if (k.content == was.topContent) w = 1;
            if (changes(k.of.known)) leave(k.content, left(ends, learned, w - ends.weight));
            bent = bent || learned != 0;
            contents.push_back(k.content);
            weights.push_back(w);
            last = w;
        }
        if (!bent || contents.size() < 2) return;
        two.shape = WeightShape::custom;
        two.customWeight = Curve(std::move(contents), std::move(weights));
    }

    void bendCorrection() {
        Curve &curve = m_out.job.calibration.learnedFuelCorrection;
        std::vector<double> contents, values;
        bool bent = false;
        for (const JointNode &k : m_joint.curve) {
            const double learned = limited(learnedAt(m_joint, k.content));
            bent = bent || learned != 0;
            contents.push_back(k.content);
            values.push_back(curve.at(k.content) * (1 + learned));
        }
        if (bent) curve = Curve(std::move(contents), std::move(values));
    }

    const Job &m_before;
    const JointFuel &m_joint;
    const JointApplyOptions &m_options;
    JointApplied m_out;
};

} // namespace

JointApplied withJointFuel(const Job &job, const JointFuel &joint, const JointApplyOptions &options) {
    JointApplied out = Applier(job, joint, options).apply();
    if (options.at.empty()) return out;
    Correction c;
    c.at = options.at;
    c.kind = CorrectionKind::joint;
    c.damping = options.damping;
    c.logs = listOfIds(options.logs);
    c.rmsBefore = joint.rmsBefore;
    c.rmsPredicted = joint.rmsAfter;
    c.cells = textOf(changedCells(job, out.job, ofFuel, [&](const std::string &path, double rpm, double y) {
        CorrectedCell found;
        for (const JointTable &t : joint.tables) {
            if (t.path != path) continue;
            const JointUnknown &u = t.cells[t.now.y().nearest(y) * t.now.x().size() + t.now.x().nearest(rpm)];
            constexpr double at95 = 1.96;
            found.hits = u.known == JointKnown::measured ? u.hits : 0;
            found.plusMinus = at95 * u.standardError;
            found.error = u.value;
        }
        return found;
    }));
    out.job.corrections.push_back(std::move(c));
    return out;
}

} // namespace wheelwright
