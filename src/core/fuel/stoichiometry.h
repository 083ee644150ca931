// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Atoms of each kind in one molecule (or in one carbon's worth of a hydrocarbon mixture): C_c H_h O_o.
struct ChemicalFormula {
    double carbon = 0;
    double hydrogen = 0;
    double oxygen = 0;
};

/// g/mol. Throws InputError when the formula holds no atoms or a negative number of them.
double molarMassGPerMol(const ChemicalFormula &formula);

/// Stoichiometric air-fuel ratio, kg of dry air per kg of fuel.
/// Heywood (1988) eq. 3.6 with 3.773 mol of atmospheric nitrogen per mol of oxygen and 28.966 g/mol of air.
/// Throws InputError when the formula needs no air.
double stoichiometricAfr(const ChemicalFormula &formula);

} // namespace wheelwright
