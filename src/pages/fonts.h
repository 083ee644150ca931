// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Makes the product's own faces known, so that a page looks the same wherever it is made; sans is the usual
/// one from then on. Needs an application with fonts.
void loadPageFonts();

} // namespace wheelwright
