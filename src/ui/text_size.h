// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QSize>

namespace wheelwright {

/// How large everything in the windows is drawn, in percent of its designed size. Layouts, icons and drawings
/// grow with the text, so that a window of W × H pixels at p percent is laid out as one of W·100/p × H·100/p.
constexpr int leastTextPercent = 80, usualTextPercent = 100, mostTextPercent = 200;

int textPercent();
/// Clamped to the range. Windows take it when they are made: there must be none, see ShellHost. It multiplies
/// a scale that the screen or the environment asks for.
void setTextPercent(int percent);

/// The next one up or down of the steps that the keys take; the same at the ends.
int largerText(int percent);
int smallerText(int percent);

} // namespace wheelwright
