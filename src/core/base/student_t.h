// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Probability that Student's t of so many degrees of freedom (over 0, not only whole ones) is at most so far
/// from 0 on either side: Abramowitz, Stegun, Handbook of Mathematical Functions (1964), eq. 26.7.1 and
/// 26.5.8.
double studentWithin(double t, double freedom);
/// How far from 0 it is at most, with a probability over 0 and under 1: 95 % of it lies within 2.228 for 10.
double studentReach(double probability, double freedom);

/// Probability that a t-test at that reach finds a difference that lies so many of its standard errors from
/// none: of the noncentral t, either side, by summing over what the scatter may turn out to be (Johnson,
/// Kotz, Balakrishnan, Continuous Univariate Distributions 2 (1995), section 31.1).
double studentPower(double standardErrors, double freedom, double reach);

} // namespace wheelwright
