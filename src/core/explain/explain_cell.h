// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/study/proof.h"
#include "core/study/study.h"

namespace wheelwright {

/// The working of one number of the blended ('now') table of a quantity: base, top, weight, result. proof:
/// where logs have been; nullptr: nobody has looked.
Explanation explainBlendedCell(const Study &study, CalibratedQuantity q, double content, CellIndex cell,
                               const Proof *proof = nullptr);

/// The working of one number of a base or top table: what it means and how much of it the engine gets now.
Explanation explainTableCell(const Study &study, CalibratedQuantity q, bool top, double content,
                             CellIndex cell, const Proof *proof = nullptr);

/// The working of one number of another table of the controller; content: the one looked at.
Explanation explainExtraCell(const Study &study, const ExtraTable &extra, double content, CellIndex cell);

/// The working of the weight of the top table at a content.
Explanation explainWeight(const Study &study, CalibratedQuantity q, double content);

} // namespace wheelwright
