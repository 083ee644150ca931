// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// How large everything in the windows is drawn, in percent of its designed size. Layouts, icons and drawings
/// grow with the text, so that a window of W × H pixels at p percent is laid out as one of W·100/p × H·100/p.
/// Under one pixel of the screen per pixel of the layout text alone gets smaller, and leaves more room around
/// it: a painter cannot draw on less than one.
constexpr int leastTextPercent = 80, usualTextPercent = 100, mostTextPercent = 200;

int textPercent();
/// Clamped to the range. Windows take it when they are made: there must be none, see ShellHost. It multiplies
/// a scale that the screen or the environment asks for.
void setTextPercent(int percent);

/// Pixels of the screen for a pixel of the layout, 1 or more.
double windowScale();

/// Pixels of the layout that a font designed with so many has now; digits never under what can be read.
int fontPixels(int designed);

/// The next one up or down of the steps that the keys take; the same at the ends.
int largerText(int percent);
int smallerText(int percent);

} // namespace wheelwright
