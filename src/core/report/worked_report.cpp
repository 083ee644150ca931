// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/worked_report.h"

#include <iterator>
#include <string_view>

namespace wheelwright {
namespace {

constexpr std::string_view working = "working:";

void shift(Sentence &s, std::size_t by) {
    if (s.link.starts_with(working))
        s.link = std::string(working) + std::to_string(std::stoul(s.link.substr(working.size())) + by);
}

} // namespace

void WorkedReport::append(WorkedReport other) {
    const std::size_t by = workings.size();
    for (Block &b : other.report.blocks) {
        if (auto *s = std::get_if<Sentence>(&b)) shift(*s, by);
        if (auto *steps = std::get_if<Steps>(&b))
            for (Sentence &s : steps->steps)
                shift(s, by);
        if (auto *grid = std::get_if<Grid>(&b))
            for (std::vector<Sentence> &row : grid->rows)
                for (Sentence &s : row)
                    shift(s, by);
        report.blocks.push_back(std::move(b));
    }
    std::move(other.workings.begin(), other.workings.end(), std::back_inserter(workings));
}

} // namespace wheelwright
