// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/corrections.h"

#include "core/base/text.h"
#include "core/job/describe.h"
#include "core/job/job.h"

#include <array>
#include <charconv>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;
constexpr std::size_t mostCorrections = 2000, mostSearches = 20000;

// In the order of the enumeration.
constexpr std::array<std::string_view, 5> phases{"raise_two", "raise_one", "recheck", "sweep", "done"};
static_assert(static_cast<std::size_t>(SearchPhase::done) + 1 == phases.size());

std::vector<std::string> phaseKeys() {
    return {phases.begin(), phases.end()};
}

RecordList correctionList() {
    const auto list = listOf<Correction>([](auto &j) -> auto & { return j.corrections; });
    return list.list(
        MARKED("evidence.corrections", "Corrections from logs"), mostCorrections,
        {list.date(MARKED("evidence.corrections.at", "When"), &Correction::at,
                   MARKED("evidence.corrections.at.help", "ISO 8601.")),
         list.choice(MARKED("evidence.corrections.kind", "What"), {"fuel", "joint", "spark", "sweep"},
                     {MARKED("evidence.corrections.kind.fuel", "Fuel at one content"),
                      MARKED("evidence.corrections.kind.joint", "Fuel of all contents"),
                      MARKED("evidence.corrections.kind.spark", "Spark by knock"),
                      MARKED("evidence.corrections.kind.sweep", "Best spark by sweeps")},
                     &Correction::kind, MARKED("evidence.corrections.kind.help", "What was corrected.")),
         list.field(MARKED("evidence.corrections.logs", "Logs"), &Correction::logs,
                    MARKED("evidence.corrections.logs.help", "Ids, with spaces between.")),
         list.number(MARKED("evidence.corrections.content", "Content"), D::content, 0, 1,
                     &Correction::content,
                     MARKED("evidence.corrections.content.help", "That it was made at.")),
         list.number(MARKED("evidence.corrections.damping", "Share taken"), D::ratio, 0, 1,
                     &Correction::damping, MARKED("evidence.corrections.damping.help", "Of what was found.")),
         list.number(MARKED("evidence.corrections.rms_before", "Error before"), D::none, 0, 1000,
                     &Correction::rmsBefore,
                     MARKED("evidence.corrections.rms_before.help",
                            "Root of the mean square: a share of fuel, or degrees.")),
         list.number(MARKED("evidence.corrections.rms_predicted", "Error foretold"), D::none, 0, 1000,
                     &Correction::rmsPredicted,
                     MARKED("evidence.corrections.rms_predicted.help", "That the next log should find.")),
         list.field(MARKED("evidence.corrections.note", "Note"), &Correction::note,
                    MARKED("evidence.corrections.note.help", "Anything worth remembering.")),
         list.field(MARKED("evidence.corrections.cells", "Cells"), &Correction::cells,
                    MARKED("evidence.corrections.cells.help",
                           "A line each: table, x, y, hits, ± and error, with tabs between."))});
}

RecordList searchList() {
    const auto list = listOf<SparkSearch>([](auto &j) -> auto & { return j.sparkSearches; });
    const auto count = [&list](PhraseText title, double SparkSearch::*member, PhraseText help) {
        return list.number(title, D::count, 0, 1e6, member, help);
    };
    const auto spark = [&list](PhraseText title, double SparkSearch::*member, PhraseText help) {
        return list.number(title, D::sparkAngle, -90, 90, member, help);
    };
    return list.list(
        MARKED("evidence.spark_search", "Search for spark"), mostSearches,
        {list.number(MARKED("evidence.spark_search.rpm", "Engine speed"), D::engineSpeed, 0, 30000,
                     &SparkSearch::rpm, MARKED("evidence.spark_search.rpm.help", "Of the cell.")),
         list.number(MARKED("evidence.spark_search.load_kpa", "Manifold pressure"), D::pressure, 0, 1000,
                     &SparkSearch::loadKpa, MARKED("evidence.spark_search.load_kpa.help", "Of the cell.")),
         list.number(MARKED("evidence.spark_search.content", "Content"), D::content, 0, 1,
                     &SparkSearch::content,
                     MARKED("evidence.spark_search.content.help", "Middle of its band.")),
         list.choice(MARKED("evidence.spark_search.phase", "Next"), phaseKeys(),
                     {MARKED("evidence.spark_search.phase.raise_two", "two degrees more"),
                      MARKED("evidence.spark_search.phase.raise_one", "a degree more"),
                      MARKED("evidence.spark_search.phase.recheck", "log again"),
                      MARKED("evidence.spark_search.phase.sweep", "sweep for power"),
                      MARKED("evidence.spark_search.phase.done", "nothing more")},
                     &SparkSearch::phase,
                     MARKED("evidence.spark_search.phase.help", "What the search does next.")),
         count(MARKED("evidence.spark_search.steps", "Steps"), &SparkSearch::steps,
               MARKED("evidence.spark_search.steps.help", "Proposals that were taken.")),
         count(MARKED("evidence.spark_search.clean", "Clean"), &SparkSearch::clean,
               MARKED("evidence.spark_search.clean.help",
                      "Logs in a row without knock since the last step down.")),
         spark(MARKED("evidence.spark_search.knocked_deg", "Knocked at"), &SparkSearch::knockedDeg,
               MARKED("evidence.spark_search.knocked_deg.help",
                      "The least delivered spark that did. 0: none has.")),
         spark(MARKED("evidence.spark_search.clean_deg", "Clean to"), &SparkSearch::cleanDeg,
               MARKED("evidence.spark_search.clean_deg.help",
                      "The most delivered spark that did not knock. 0: none.")),
         list.field(MARKED("evidence.spark_search.logs", "Counted"), &SparkSearch::logs,
                    MARKED("evidence.spark_search.logs.help", "Ids of logs, with spaces between."))});
}

} // namespace

std::string_view searchPhaseKey(SearchPhase phase) {
    return phases[static_cast<std::size_t>(phase)];
}

Chapter correctionsChapter() {
    Chapter c;
    c.fields = {choice(
        MARKED("evidence.spark_school", "Spark is sought"), {"dyno", "road", "fixed"},
        {MARKED("evidence.spark_school.dyno", "on the dyno, by power"),
         MARKED("evidence.spark_school.road", "on the road, by knock"),
         MARKED("evidence.spark_school.fixed", "not at all: fixed values")},
        [](auto &j) -> auto & { return j.sparkSchool; },
        MARKED(
            "evidence.spark_school.help",
            "By power on a dyno, by knock on a closed road, or known-safe values that knock only lowers."))};
    c.lists = {correctionList(), searchList()};
    c.same = [](const Job &a, const Job &b) {
        return a.sparkSchool == b.sparkSchool && a.corrections == b.corrections &&
               a.sparkSearches == b.sparkSearches;
    };
    return c;
}

std::string textOf(const std::vector<CorrectedCell> &cells) {
    std::string out;
    for (const CorrectedCell &c : cells) {
        out += c.table;
        for (const double v : {c.rpm, c.y, c.hits, c.plusMinus, c.error})
            out += '\t' + exactNumber(v);
        out += '\n';
    }
    return out;
}

std::vector<CorrectedCell> correctedCells(std::string_view text) {
    std::vector<CorrectedCell> out;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        std::vector<std::string_view> parts;
        for (std::size_t tab = 0; tab != std::string_view::npos;) {
            tab = line.find('\t');
            parts.push_back(line.substr(0, tab));
            if (tab != std::string_view::npos) line.remove_prefix(tab + 1);
        }
        constexpr std::size_t columns = 6;
        if (parts.size() != columns || parts[0].empty()) continue;
        CorrectedCell c;
        c.table = parts[0];
        bool numbers = true;
        std::size_t at = 1;
        for (double *v : {&c.rpm, &c.y, &c.hits, &c.plusMinus, &c.error}) {
            const std::string_view number = parts[at++];
            const auto read = std::from_chars(number.data(), number.data() + number.size(), *v);
            numbers = numbers && read.ec == std::errc() && read.ptr == number.data() + number.size() &&
                      std::isfinite(*v);
        }
        if (numbers) out.push_back(std::move(c));
    }
    return out;
}

CellCorrection lastCorrectionOf(const Job &job, std::string_view table, double rpm, double y) {
    for (std::size_t i = job.corrections.size(); i-- > 0;) {
        const Correction &c = job.corrections.values()[i];
        for (CorrectedCell &cell : correctedCells(c.cells))
            if (cell.table == table && cell.rpm == rpm && cell.y == y) return {&c, std::move(cell)};
    }
    return {};
}

std::string listOfIds(const std::vector<std::string> &ids) {
    std::string out;
    for (const std::string &id : ids)
        out += (out.empty() ? "" : " ") + id;
    return out;
}

bool listsId(std::string_view list, std::string_view id) {
    for (std::size_t at = list.find(id); at != std::string_view::npos; at = list.find(id, at + 1)) {
        const std::size_t end = at + id.size();
        if ((at == 0 || list[at - 1] == ' ') && (end == list.size() || list[end] == ' ')) return true;
    }
    return false;
}

const SparkSearch *searchAt(const Job &job, double rpm, double loadKpa, double content) {
    const SparkSearch *best = nullptr;
    constexpr double halfBand = 0.05 + 1e-9;
    for (const SparkSearch &s : job.sparkSearches.values()) {
        const double apart = std::abs(s.content - content);
        if (s.rpm == rpm && s.loadKpa == loadKpa && apart <= halfBand &&
            (!best || apart < std::abs(best->content - content)))
            best = &s;
    }
    return best;
}

Phrase inWords(const SparkSearch &s, double cleanTimes) {
    const Measured steps{s.steps, Dimension::count};
    switch (s.phase) {
    case SearchPhase::raiseTwo:
        return {
            MARKED("search.raise_two", "Search for spark: steps so far {0}; two degrees more when clean."),
            {steps}};
    case SearchPhase::raiseOne:
        return {MARKED("search.raise_one", "Search for spark: steps so far {0}; one degree more when clean."),
                {steps}};
    case SearchPhase::recheck:
        return {
            MARKED("search.recheck", "Search for spark: steps so far {0}; clean {1} of {2}, then log again."),
            {steps, {s.clean, Dimension::count}, {cleanTimes, Dimension::count}}};
    case SearchPhase::sweep:
        return {
            MARKED("search.sweep", "Search for spark: steps so far {0}; clean, a sweep for power is next."),
            {steps}};
    case SearchPhase::done:
        break;
    }
    return {MARKED("search.done", "Search for spark: found in {0} steps."), {steps}};
}

} // namespace wheelwright
