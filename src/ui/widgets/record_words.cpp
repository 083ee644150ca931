// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/record_words.h"

#include "ui/text.h"

#include <algorithm>

namespace wheelwright {

QString shownContent(const RecordField &f, const FieldContent &content, const UnitChoice &units) {
    if (const double *v = std::get_if<double>(&content))
        return f.zeroIsNone && *v == 0 ? QString() : text(formatExact(*v, f.dimension, units));
    const std::string &word = std::get<std::string>(content);
    const auto choice = std::ranges::find(f.choices, word);
    return choice == f.choices.end()
               ? text(word)
               : text(f.choiceTitles[static_cast<std::size_t>(choice - f.choices.begin())]);
}

FieldContent typedContent(const RecordList &list, const RecordField &f, const QString &typed,
                          const UnitChoice &units) {
    Job blank;
    list.resize(blank, 1);
    const std::string words = typed.toStdString();
    if (std::holds_alternative<double>(f.read(blank, 0))) {
        if (f.zeroIsNone && typed.trimmed().isEmpty()) return 0.0;
        return parse(words, f.dimension, units, text(f.title).toStdString());
    }
    for (std::size_t i = 0; i < f.choices.size(); ++i)
        if (!words.empty() && text(f.choiceTitles[i]).startsWith(typed, Qt::CaseInsensitive))
            return f.choices[i];
    return words;
}

} // namespace wheelwright
