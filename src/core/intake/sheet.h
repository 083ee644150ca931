// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/part.h"
#include "core/job/statements.h"
#include "core/verify/verdict.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

std::string_view knowledgeKey(Knowledge knowledge); ///< stable: "stated"
PhraseText knowledgeWord(Knowledge knowledge);

/// How far a part has been looked at.
enum class LookedAt { good, partly, notYet, wrong };
std::string_view lookedAtKey(LookedAt state); ///< stable: "not_yet"
PhraseText lookedAtWord(LookedAt state);

struct FigureState {
    std::string_view path;
    Phrase said; ///< "holds 60 L"; "holds ?" where nobody has said it
    Knowledge known = Knowledge::unknown;
};

struct InspectionState {
    const InspectionItem *item;
    std::optional<InspectionMark> last{}; ///< empty: never looked at
};

/// A part as it is drawn.
struct PartState {
    const Part *part;
    bool fitted = true;
    bool canFit = false, canRemove = false;
    std::vector<FigureState> figures{};
    Knowledge known = Knowledge::stated; ///< of the figures the least known
    std::vector<InspectionState> inspections{};
    LookedAt inspected = LookedAt::notYet;
    std::optional<CheckState> verdict{}; ///< the worst of its checks; empty: none was worked out
};

PartState partStateOf(const Part &part, const Job &job, const Verdict *verdict = nullptr);
/// All parts that an engine like this one could have, in the order of an inspection. verdict: nullptr while
/// there is none.
std::vector<PartState> intakeSheet(const Job &job, const Verdict *verdict = nullptr);

/// Notes that something was looked at. The last word on an item counts. Throws InputError for an unknown
/// item.
void markInspected(Job &job, std::string_view item, const std::string &at, bool wrong,
                   const std::string &note);

/// Says that the fields and curves of a part are as they stand: defaults and estimates among them are stated.
void confirmPart(Job &job, const Part &part);
/// How many of them are not stated.
std::size_t unstatedOf(const Job &job, const Part &part);

/// The part to go on with: one that was found wrong, else the least known, in the order of an inspection;
/// nullptr: all that is there is stated.
const PartState *nextPart(const std::vector<PartState> &sheet);
const PartState *nextPart(std::vector<PartState> &&) = delete; ///< it would point at nothing

/// Every part that is there is known and none was found wrong.
bool sheetComplete(const std::vector<PartState> &sheet);

} // namespace wheelwright
