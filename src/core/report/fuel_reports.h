// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/explain/explain_fuel.h"
#include "core/report/worked_report.h"

#include <string>
#include <vector>

namespace wheelwright {

/// What is in the tank, with its ±; each number leads to its working.
WorkedReport tankReport(const Job &job);
/// Whether there is enough for a pull, and what the opinions on the content come to.
Report tankWordsReport(const Job &job, const ContentOpinions &opinions);

/// What must be known of the fuels on the shelf, and how to handle them.
Report shelfReport(const std::vector<Fuel> &shelf);

/// How long until injectors and sensor have the new fuel, idling and driving.
WorkedReport settlingReport(const Job &job, double before, double after);

/// What must change against the fuel in the tank, for one of the comparison.
Report mustChangeReport(const ComparedFuel &fuel);
/// Two fuels mixed, `share` of the second.
Report mixReport(const std::string &first, const std::string &second, double share,
                 const ComparedFuel &mixed);

WorkedReport tubeReport(const TubeReading &reading, bool methanol);
/// pulseMs as in readContentSensor().
WorkedReport sensorReport(double hertz, double pulseMs);
/// What a display may count a mixture on.
struct MixtureLine {
    Phrase scale; ///< "gasoline scale"
    double stoichiometry = 14.7;
};
/// A mixture that was read, on every scale that a display may have.
WorkedReport mixtureReport(double lambda, double content, const std::vector<MixtureLine> &lines,
                           WorkedReport::Explain working);

} // namespace wheelwright
