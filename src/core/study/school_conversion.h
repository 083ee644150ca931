// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/school.h"

#include <vector>

namespace wheelwright {

/// What a quantity loses when it is expressed in another school, over its cells and contents.
struct SchoolError {
    CalibratedQuantity quantity = CalibratedQuantity::fuel;
    double worst = 0;                   ///< new less old, in the unit of the table
    double mean = 0;                    ///< of its size
    double content = 0, rpm = 0, y = 0; ///< of the worst
    double worstRelative = 0;           ///< the largest share of an old value, wherever that is
    /// Over all cells at each content in steps of 1 % from 0 to 1: the largest with its sign, and the mean of
    /// sizes.
    std::vector<double> worstAt, meanAt;
};

struct SchoolConversion {
    Job job;                         ///< the same calibration in the other school; passes validate()
    std::vector<SchoolError> errors; ///< one for each quantity
};

/// How to express it.
struct SchoolRequest {
    School school = School::twoTables;
    std::vector<double>
        contents; ///< D and E: of the levels, ascending; empty: five evenly spaced, or the old levels
    double windowTolerance = 0.03; ///< D: windows reach as far as λ stays within this
};

/// Expresses the job's calibration in a school. Where it cannot be exact: two tables and base + adder take
/// the tables at the calibrated contents and, for each content in steps of 5 %, the weight of least squares
/// over all cells; the fuel model takes the true VE and c(E) that are nearest to all contents in least
/// squares (rank one, by alternating); levels are the tables at their contents. Errors are measured in steps
/// of 1 % over 0–1, as the controller would blend. Throws InputError for contents that make no levels.
SchoolConversion convertSchool(const Job &job, const SchoolRequest &request);

/// The contents about one at which a file made for it keeps λ within a tolerance: fuel multiplier K(E) of the
/// job's fuel (handbook: 70 % in the file and 80 % in the tank are 4.9 % lean).
struct ContentWindow {
    double low = 0, high = 1;
};
ContentWindow windowOf(const Job &job, double content, double tolerance);

/// λ that a file made for one content gives on another, over the λ meant: 1.049 is 4.9 % lean.
double lambdaOfFileOn(const Job &job, double fileContent, double tankContent);

/// The four tables for one fuel, and where they may be used.
struct BakedFile {
    double content = 0;
    ContentWindow window;
    std::array<Table2D, calibratedQuantityCount> tables;
};

/// Single-fuel calibrations for controllers without a sensor. tolerance: of λ. Throws InputError for contents
/// that do not ascend or lie outside 0–1.
std::vector<BakedFile> bake(const Job &job, const std::vector<double> &contents, double tolerance = 0.03);

/// Contents between the lowest and the highest file that no window covers, as pairs.
std::vector<std::pair<double, double>> gapsBetween(const std::vector<BakedFile> &files);

} // namespace wheelwright
