// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/intake/part.h"

#include "core/base/error.h"
#include "core/job/statements.h"

#include <algorithm>
#include <iterator>

namespace wheelwright {
namespace {

constexpr std::size_t mostEchoed = 40; // bytes of what was typed that a sentence repeats

std::vector<Part> joined() {
    std::vector<Part> all = fuelPathParts();
    for (auto *more : {airPathParts, engineParts})
        std::ranges::move(more(), std::back_inserter(all));
    return all;
}

InputError unknown(const char *what, const std::string &known, std::string_view found) {
    return {what, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}},
            "'" + echoed(std::string(found), mostEchoed) + "'"};
}

} // namespace

std::span<const Part> allParts() {
    static const std::vector<Part> all = joined();
    return all;
}

const Part &partById(std::string_view id) {
    const auto at = std::ranges::find(allParts(), id, &Part::id);
    if (at != allParts().end()) return *at;
    std::string known;
    for (const Part &p : allParts())
        known.append(known.empty() ? "" : ", ").append(p.id);
    throw unknown("part", known, id);
}

const Part *partOfPath(std::string_view path) {
    for (const Part &p : allParts())
        if (std::ranges::find(p.fields, path) != p.fields.end() ||
            std::ranges::find(p.lists, path) != p.lists.end())
            return &p;
    return nullptr;
}

const Part *partOfPath(std::string_view path, const Job &job) {
    for (const Part &p : allParts())
        if (std::ranges::find(p.fields, path) != p.fields.end() && belongsTo(p, job) && isFitted(p, job))
            return &p;
    return partOfPath(path);
}

const Part &partOfInspection(std::string_view id) {
    std::string known;
    for (const Part &p : allParts())
        for (const InspectionItem &i : p.inspections) {
            if (i.id == id) return p;
            known.append(known.empty() ? "" : ", ").append(i.id);
        }
    throw unknown("inspection", known, id);
}

const InspectionItem &inspectionById(std::string_view id) {
    return *std::ranges::find(partOfInspection(id).inspections, id, &InspectionItem::id);
}

bool belongsTo(const Part &part, const Job &job) {
    return !part.belongs || part.belongs(job);
}

bool isFitted(const Part &part, const Job &job) {
    return belongsTo(part, job) && (!part.fitted || part.fitted(job));
}

void fitPart(Job &job, const Part &part, bool fitted) {
    const auto change = fitted ? part.add : part.remove;
    if (!change || !belongsTo(part, job))
        throw InputError(std::string(part.id),
                         MARKED("expected.part_of_choice", "a part that can be fitted and taken off"),
                         MARKED("found.part_no_choice", "one that follows from the others"));
    if (isFitted(part, job) == fitted) return;
    change(job);
    if (!fitted) return;
    for (const std::string_view path : part.madeUp)
        estimate(job, path);
}

} // namespace wheelwright
