// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Probability that Student's t of so many degrees of freedom (1 or more) is at most so far from 0 on either
/// side: Abramowitz, Stegun, Handbook of Mathematical Functions (1964), eq. 26.7.3 and 26.7.4.
double studentWithin(double t, int freedom);
/// How far from 0 it is at most, with a probability over 0 and under 1: 95 % of it lies within 2.228 for 10.
double studentReach(double probability, int freedom);

} // namespace wheelwright
