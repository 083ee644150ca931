// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/log_import/text_form.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// What is wrong with a row.
struct RowTrouble {
    std::size_t line = 0;   ///< within the block, from 0
    std::size_t column = 0; ///< from 0
    Phrase expected, found;
    bool lastLine = false; ///< the text ends with it: it may have been cut
    bool noEnd = false;    ///< and without a line end: it was
};

/// Rows of a stretch of text as numbers, column by column. Buffers are used again.
struct TextBlock {
    std::string text; ///< whole lines, and a zero behind them
    std::size_t rows = 0, lines = 0;
    std::size_t room = 0; ///< rows that `numbers` has room for in each column
    std::vector<double> numbers;
    struct Word {
        std::size_t row, column;
        std::string text;
    };
    std::vector<Word> words; ///< of columns of words, and of those that are open
    std::size_t infinite = 0;
    std::size_t infiniteRow = 0, infiniteColumn = 0; ///< of the first
    std::size_t heads = 0;                           ///< times that the names stood there again
    std::optional<RowTrouble> trouble;               ///< rows before it are good

    std::span<const double> column(std::size_t c) const { return std::span(numbers).subspan(c * room, rows); }
};

/// Fills in all but the text. Stops at the first row that cannot be read.
void readRows(const TextForm &form, TextBlock &block);

} // namespace wheelwright
