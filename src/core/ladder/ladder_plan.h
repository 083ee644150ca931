// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/rung.h"
#include "core/study/study.h"

namespace wheelwright {

/// Contents of the way up that a job without its own list gets, under its top. Common practice.
std::vector<double> usualLadderContents();

/// The contents that the ladder of a job goes over, ascending, from the base content to the top.
struct LadderContents {
    double base = 0, top = 0;
    std::vector<double> up; ///< over the base, the top last; empty: the top is the base
};
LadderContents ladderContents(const Study &study);

/// The whole way from the first start to the hand-over, as the job's goal, fuels, tank, limits and passed
/// rungs have it; drains and pours are planned from the tank as it is now, in whole cans. A rung that a part
/// would end by the model (injectors over their caution, pumps, spring, MAP sensor, the engine's own limit)
/// is out of reach and says why. Of mechanical injection by planPasses(). today: ISO 8601
/// date, for the cautions of what was opened too long ago. Common practice; limits ladder.*.
Ladder planLadder(const Study &study, std::string_view today = {});

/// The job with boost target and overboost cut, or with the pill, as a rung wants them: at the base content
/// and, until the top has its own boost rungs, at the top alike, so that no content between asks for more.
/// What the tables asked for becomes the stated goal, where there is none.
void setForRung(Job &job, const Rung &rung);

} // namespace wheelwright
