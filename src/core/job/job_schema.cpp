// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"

#include <algorithm>
#include <unordered_map>

namespace wheelwright {

#define WHEELWRIGHT_CHAPTER(name) Chapter name##Chapter();
#include "core/job/all_chapters.def"
#undef WHEELWRIGHT_CHAPTER

namespace {

template <class Described>
std::vector<Described> gathered(std::vector<Described> Chapter::*part) {
    std::vector<Described> all;
    for (const Chapter &c : allChapters())
        all.insert(all.end(), (c.*part).begin(), (c.*part).end());
    return all;
}

// By path: asked for every row of a file.
template <class Described>
const Described *found(std::span<const Described> all, std::string_view path) {
    static const std::unordered_map<std::string_view, const Described *> places = [all] {
        std::unordered_map<std::string_view, const Described *> made;
        for (const Described &d : all)
            made.emplace(d.path, &d);
        return made;
    }();
    const auto at = places.find(path);
    return at == places.end() ? nullptr : at->second;
}

} // namespace

std::span<const Chapter> allChapters() {
    static const std::vector<Chapter> chapters{
#define WHEELWRIGHT_CHAPTER(name) name##Chapter(),
#include "core/job/all_chapters.def"
#undef WHEELWRIGHT_CHAPTER
    };
    return chapters;
}

std::span<const Field> allFields() {
    static const std::vector<Field> fields = gathered(&Chapter::fields);
    return fields;
}

std::span<const CurveField> allCurves() {
    static const std::vector<CurveField> curves = gathered(&Chapter::curves);
    return curves;
}

std::span<const RecordList> allRecordLists() {
    static const std::vector<RecordList> lists = gathered(&Chapter::lists);
    return lists;
}

const Field *fieldByPath(std::string_view path) {
    return found(allFields(), path);
}

const CurveField *curveByPath(std::string_view path) {
    return found(allCurves(), path);
}

const RecordList *recordListByPath(std::string_view path) {
    return found(allRecordLists(), path);
}

const TableField *tableByPath(std::string_view path) {
    return found(allTables(), path);
}

std::vector<std::string> namesIn(const Job &job, std::string_view path) {
    const RecordList &list = *recordListByPath(path);
    std::vector<std::string> names;
    for (std::size_t i = 0; i < list.size(job); ++i) {
        std::string name = std::get<std::string>(list.fields.front().read(job, i));
        if (std::ranges::find(names, name) == names.end()) names.push_back(std::move(name));
    }
    return names;
}

void renameReferences(Job &job, std::string_view path, const std::string &from, const std::string &to) {
    // Where another record still has the old name, it is that one that is meant.
    if (from.empty() || std::ranges::count(namesIn(job, path), from) > 0) return;
    for (const RecordList &list : allRecordLists())
        for (const RecordField &f : list.fields) {
            if (f.refersTo != path) continue;
            for (std::size_t i = 0; i < list.size(job); ++i)
                if (std::get<std::string>(f.read(job, i)) == from) f.write(job, i, to);
        }
}

RecordContents recordsOf(const Job &job, const RecordList &list) {
    RecordContents out(list.size(job));
    for (std::size_t i = 0; i < out.size(); ++i)
        for (const RecordField &f : list.fields)
            out[i].push_back(f.read(job, i));
    return out;
}

void setRecords(Job &job, const RecordList &list, const RecordContents &contents) {
    list.resize(job, 0);
    list.resize(job, contents.size());
    for (std::size_t i = 0; i < contents.size(); ++i)
        for (std::size_t k = 0; k < list.fields.size(); ++k)
            list.fields[k].write(job, i, contents[i][k]);
}

} // namespace wheelwright
