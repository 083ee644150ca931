// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/combustion/charge.h"
#include "core/study/study.h"

#include <optional>
#include <span>
#include <stop_token>
#include <string>
#include <vector>

namespace wheelwright {

/// What the physics of one cylinder says of a place where nobody has been: an estimate, which evidence
/// overrules.
struct SparkEstimate {
    Breath breath;
    TrappedCharge trapped;
    KnockLimit knock;    ///< the spark from which on it knocks
    double bestDeg = 0;  ///< half burned at 10°
    double sparkDeg = 0; ///< that the rest is worked out at: the lesser of both, or what was asked for
    CycleResult cycle;
    double torqueNm = 0; ///< of the whole engine
};

/// What is asked otherwise than the job says it.
struct EstimateAt {
    std::optional<double> lambda, intakeC, compressionRatio, sparkDeg;
    std::optional<double> veShare; ///< of the air that the tables imply
};

/// Estimates for the engine that a job describes: its compression, rods, place of injection, usual intake
/// air, the air that its fuel tables imply, its λ targets. Of a mechanical job, its one fuel and its mixture
/// over speed. Made once, asked often. Keeps a reference to the study.
class SparkEstimator {
  public:
    explicit SparkEstimator(const Study &study);
    /// Throws InputError as blendedPoint(), and for a λ, a temperature or a compression ratio of no engine.
    SparkEstimate at(const OperatingPoint &point, const EstimateAt &asked = {}) const;

    /// What the engine breathes there, as the job has it.
    Breath breath(const OperatingPoint &point, const EstimateAt &asked = {}) const;
    /// Of a charge that is not the job's own, in the job's cylinder.
    KnockLimit limit(const TrappedCharge &charge, double rpm) const {
        return m_cylinder.knockLimit(charge.charge, charge.burn, rpm);
    }
    /// Of many at once; where one never knocks, earliestSparkTried. octaneFactor: of the octane index.
    std::vector<double> limits(std::span<const Breath> breaths, double octaneFactor = 1) const;
    const ChargeModel &model() const { return m_model; }
    /// The same with another model: what of an effect comes from where.
    SparkEstimator with(const ChargeModel &model) const;

  private:
    const Study &m_study;
    ChargeModel m_model;
    Cylinder m_cylinder;
};

/// How far an estimate may be off, degrees, and of what it is made: the model alone 4° before any evidence
/// (common practice: what a first guess misses by), and each thing that nobody has stated by what it moves
/// the knock limit, as the root of the sum of squares.
struct EstimateSigma {
    struct Part {
        Phrase title;
        double offBy = 0; ///< of the thing itself
        Dimension dimension = Dimension::none;
        double deg = 0; ///< that it moves the estimate by
        std::string link;
    };
    std::vector<Part> parts; ///< the model first
    double deg = 0;
};
inline constexpr double modelSigmaDeg = 4;
EstimateSigma estimateSigma(const SparkEstimator &estimator, const Job &job, const OperatingPoint &point);

/// The working of the knock limit, of best spark.
Explanation explainKnockLimit(const Study &study, const OperatingPoint &point, const EstimateAt &asked = {});
Explanation explainBestSpark(const Study &study, const OperatingPoint &point, const EstimateAt &asked = {});

/// Knock limit and best spark in every cell of the spark table at a content, row by row.
struct EstimateTable {
    Axis rpm, loadKpa;
    double content = 0;
    std::vector<double> knockDeg; ///< where it never knocks, the earliest spark that was tried
    std::vector<bool> knocks;     ///< whether it does at all
    std::vector<double> bestDeg;
    double sigmaDeg = 0;
};
/// Stopped: without cells.
EstimateTable estimateTable(const Study &study, double content, std::stop_token stop = {});

/// The job with a ceiling and a best-spark table at each content, every cell an estimate, ± from
/// estimateSigma(): they show where to look and clear no question. Loads from 100 kPa up for the ceilings.
/// Those that an earlier estimate left at the same content are replaced; what somebody has said stays.
/// Stopped: the job as it was. Throws InputError for a content outside 0–1.
Job withEstimatedCeilings(const Study &study, std::span<const double> contents, std::stop_token stop = {});
/// The same of tables that are worked out already.
Job withEstimatedCeilings(const Study &study, std::span<const EstimateTable> tables);

/// The share of the spark between base and top fuel that each content gives, by the knock limit and no
/// further than best spark on the top fuel, where the base fuel is knocked hardest: at its highest boost, at
/// the speed where it stands least. Nothing where the two ends differ by less than a degree.
struct KnockShares {
    OperatingPoint at;                    ///< of the base content
    std::vector<double> contents, shares; ///< ascending, 0 to 1
    /// The share of the knock limit alone at the content half-way, and with one thing or the other left out;
    /// beside it the mole fraction's, which octane goes by.
    double middleContent = 0, middle = 0, withoutSensitivity = 0, withoutCooling = 0, moleFraction = 0;
};
std::optional<KnockShares> knockShares(const Study &study);

/// The weight curve of spark as the knock limit goes, as the user's own curve. Throws InputError for a school
/// without a curve, and where the estimate says nothing.
void takeKnockShape(Job &job);

} // namespace wheelwright
