// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/fuel_samples.h"
#include "core/proposal/joint_system.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// What is known of an unknown of the joint solution.
enum class JointKnown {
    measured,     ///< by samples in it
    inferred,     ///< by its neighbours: well enough to be changed
    notSeparable, ///< samples do not say it apart from others, or not at all: left alone
    pinned        ///< 0 by definition: where a table was calibrated the table says it
};
std::string_view jointKnownKey(JointKnown known); ///< "not_separable"

struct JointUnknown {
    double value = 0;         ///< relative step: 0.02 is 2 % more fuel
    double standardError = 0; ///< of it
    double hits = 0;
    JointKnown known = JointKnown::notSeparable;
    double atEnd = 0; ///< of a cell: samples with the supply at its end, which are left out, to its share
    /// It ran where injectors or rail could give no more: more in the table would hide the cause.
    bool supplyAtEnd() const {
        constexpr double tenth = 0.1; // speaks for all of them
        return atEnd >= 1 && atEnd > tenth * (hits + atEnd);
    }
};

/// A fuel table of the job's school, as the joint solution sees it.
struct JointTable {
    std::string path;   ///< "calibration.fuel.base"
    double content = 0; ///< that it was calibrated at
    Table2D now;
    std::vector<JointUnknown> cells; ///< row by row
};
struct JointNode {
    double content = 0;
    JointUnknown of; ///< of the curve over content that is on top of the blend
};

struct JointOptions {
    std::optional<JointPrior> prior; ///< empty: chosen by leaving logs out; with one log the usual one
    std::optional<double> leastHits; ///< empty: limit evidence.least_hits
};

/// What all logs say together: the corrections of the tables of all contents and of the curve between them.
/// A sample at content c: Σ share · φ · table · step / blend + f(c) = needed/given − 1.
struct JointFuel {
    std::vector<JointTable> tables; ///< by content
    std::vector<JointNode> curve;   ///< every 5 %
    JointPrior prior;
    bool chosen = false;                ///< the prior was, by leaving logs out
    std::optional<double> leftOutRms;   ///< of logs that the solution has not seen; empty with one log
    double rmsBefore = 0, rmsAfter = 0; ///< of samples, with robust weights
    double explained = 0;               ///< share of their variance about 0 that the solution takes up
    double sigma = 0, correlation = 0;  ///< of a sample; of one with the next
    double outliers = 0;                ///< share of the samples' weight that counts for nothing
    std::size_t samples = 0, unknowns = 0;
    std::vector<double> contents; ///< mean of each used log, ascending
    std::size_t count(JointKnown known) const;
};

/// Throws InputError where no log can be used, saying why of each.
JointFuel solveJointFuel(const Study &study, const FuelSamples &samples, const JointOptions &options = {},
                         std::stop_token stop = {});

/// The system alone, with the rows of the samples: for comparison and benchmarks.
JointSystem jointSystemOf(const Study &study, const FuelSamples &samples);
std::vector<JointRow> jointRowsOf(const Study &study, const FuelSamples &samples);

/// Known to so much (95 %), a cell is changed: common practice, the error that a fuel table is allowed to
/// have at all. Cells beside it follow, by the mean of their neighbours. Of the curve samples must have told
/// so much of what was not known before.
inline constexpr double separableWithin = 0.03, curveTold = 0.8;

/// What becomes of a joint solution in the job's school.
struct JointApplied {
    Job job;
    std::size_t changed = 0, locked = 0, outOfRange = 0, supply = 0; ///< cells; supply: at its end
    /// What the school cannot hold: by content, as a share of the fuel; and the school that could.
    struct Residual {
        double content = 0, residual = 0;
    };
    std::vector<Residual> residuals;
    std::optional<School> schoolThatCould;
};
struct JointApplyOptions {
    double damping = 1;
    std::optional<double> clamp;   ///< most that a cell moves; empty: all the way
    std::string at;                ///< when, ISO 8601; empty: no correction is noted
    std::vector<std::string> logs; ///< ids, for that note
};
/// Tables take their steps, cell by cell; the curve goes where the school has one: the weight curve of the
/// fuel tables (A, B), c(E) (C). D and E have none: levels alone.
JointApplied withJointFuel(const Job &job, const JointFuel &joint, const JointApplyOptions &options = {});

} // namespace wheelwright
