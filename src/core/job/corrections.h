// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

struct Job;

/// What a correction was made by.
enum class CorrectionKind {
    fuel,  ///< cells at one content
    joint, ///< tables of all contents and the curve between them
    spark, ///< by knock
    sweep  ///< best spark by sweeps
};

/// One correction of tables from logs: what was found then, so that every number says where it comes from and
/// the next log can be held against it.
struct Correction {
    std::string at; ///< ISO 8601
    CorrectionKind kind = CorrectionKind::fuel;
    std::string logs;        ///< ids, with spaces between
    double content = 0;      ///< that it was made at; of all contents: 0
    double damping = 1;      ///< share of the error that was taken
    double rmsBefore = 0;    ///< of what it corrects: a share of fuel, or degrees
    double rmsPredicted = 0; ///< that the next log should find
    std::string note;
    std::string cells; ///< a line each, as CorrectedCell

    bool operator==(const Correction &) const = default;
};

/// Ids with spaces between, and whether one is among them.
std::string listOfIds(const std::vector<std::string> &ids);
bool listsId(std::string_view list, std::string_view id);

/// A cell that a correction has changed. As text: table, x, y, hits, ± and error with tabs between.
struct CorrectedCell {
    std::string table; ///< path
    double rpm = 0, y = 0;
    double hits = 0;      ///< weight of the samples; 0: inferred from its neighbours
    double plusMinus = 0; ///< of what was found, 95 %: a share of fuel, or degrees
    double error = 0;     ///< that was found
    bool operator==(const CorrectedCell &) const = default;
};
std::string textOf(const std::vector<CorrectedCell> &cells);
/// Lines that are none are left out.
std::vector<CorrectedCell> correctedCells(std::string_view text);

/// The last correction of a cell that still stands there, and its line; nullptr: none is known.
struct CellCorrection {
    const Correction *of = nullptr;
    CorrectedCell cell;
};
CellCorrection lastCorrectionOf(const Job &job, std::string_view table, double rpm, double y);

/// How spark is sought: chapter 1 of the handbook of the trade, 'schools of practice'.
enum class SparkSchool {
    dyno, ///< raise until power stops rising, then the least spark that gave it
    road, ///< raise until knock shows, subtract it, log again until clean, then a degree less
    fixed ///< known-safe values; knock only takes away
};

/// Where the search for spark stands in a cell.
enum class SearchPhase {
    raiseTwo, ///< nothing has been tried yet: two degrees more
    raiseOne, ///< clean so far: one more
    recheck,  ///< it knocked and was taken back: clean so many times first
    sweep,    ///< dyno: clean; power decides
    done      ///< nothing more is proposed
};

std::string_view searchPhaseKey(SearchPhase phase); ///< "raise_two"

/// One cell of the search, at one content.
struct SparkSearch {
    double rpm = 0, loadKpa = 0, content = 0;
    SearchPhase phase = SearchPhase::raiseTwo;
    double steps = 0;      ///< proposals that were taken
    double clean = 0;      ///< logs in a row without knock since the last step down
    double knockedDeg = 0; ///< the least delivered spark that knocked; 0: none has
    double cleanDeg = 0;   ///< the most delivered spark that did not; 0: none
    std::string logs;      ///< ids that have been counted, with spaces between

    bool operator==(const SparkSearch &) const = default;
};

/// The search at a cell, nearest to a content and no further from it than half a content band; nullptr: none.
const SparkSearch *searchAt(const Job &job, double rpm, double loadKpa, double content);
/// Where it stands and what is next: "3 steps; clean 1 of 2: log again".
Phrase inWords(const SparkSearch &search, double cleanTimes);

} // namespace wheelwright
