// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Something to look at on a part, and what is good. Common practice.
struct InspectionItem {
    std::string_view id; ///< stable: "leak_test"
    PhraseText title;
    PhraseText help;
    std::string_view alsoSays{}; ///< path of a flag of the job that says the same; empty: none
};

/// A number that a part carries on the drawing.
struct PartFigure {
    std::string_view path;      ///< of a field, curve or list
    PhraseText said;            ///< with {A} for the value: "holds {A}"
    bool zeroIsUnknown = false; ///< 0 is no statement, whoever typed it
};

/// A part of the engine as the intake sheet draws it: on the path of the fuel or of the air, with what is
/// known of it. The sheet holds no values: all of them are fields, curves and lists of the job, and every one
/// of them that says something about hardware belongs to one part.
struct Part {
    std::string_view id; ///< stable: "tank"
    PhraseText title;
    PhraseText help; ///< what it does, in a sentence
    std::vector<PartFigure> figures{};
    std::vector<std::string_view> fields{}; ///< paths of its fields and curves, in their order
    std::vector<std::string_view> lists{};  ///< paths of its lists
    std::vector<InspectionItem> inspections{};
    std::vector<std::string_view> checks{}; ///< ids of those of Verify that are about it
    PhraseText caution{};
    /// Whether an engine like this one could have it at all; none: every one could.
    bool (*belongs)(const Job &) = nullptr;
    /// Whether this one has it; none: whenever it belongs.
    bool (*fitted)(const Job &) = nullptr;
    /// Fits it or takes it off; none: that is no choice of its own. What add makes up is named in madeUp.
    void (*add)(Job &) = nullptr;
    void (*remove)(Job &) = nullptr;
    std::vector<std::string_view> madeUp{}; ///< fields that add fills with what is usual: estimates
};

/// In the order of an inspection: the way of the fuel, the way of the air, the engine. Adding one is an entry
/// in the file of its path.
std::span<const Part> allParts();
/// Throws InputError naming the known ids.
const Part &partById(std::string_view id);
/// The part that a field, curve or list belongs to; nullptr: none, it stands at a station.
const Part *partOfPath(std::string_view path);
/// Of several that share it, the place of injection for one, the one that this engine has.
const Part *partOfPath(std::string_view path, const Job &job);
/// Throws InputError naming the known ids.
const InspectionItem &inspectionById(std::string_view id);
const Part &partOfInspection(std::string_view id);

bool belongsTo(const Part &part, const Job &job);
bool isFitted(const Part &part, const Job &job);

/// Fits or takes off a part. Throws InputError where that is no choice of its own. What it makes up is an
/// estimate until somebody states it.
void fitPart(Job &job, const Part &part, bool fitted);

// The parts by path, for allParts().
std::vector<Part> fuelPathParts();
std::vector<Part> airPathParts();
std::vector<Part> engineParts();

} // namespace wheelwright
