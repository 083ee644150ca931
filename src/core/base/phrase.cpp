#include "core/base/phrase.h"

#include <cmath>

namespace wheelwright {

std::string format(const std::string &text, const std::vector<Measured> &values, const UnitChoice &choice) {
    std::string out = text;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const std::string mark = "{" + std::to_string(i) + "}";
        const std::string shown = format(values[i].value, values[i].dimension, choice);
        for (std::size_t at = out.find(mark); at != std::string::npos; at = out.find(mark, at + shown.size()))
            out.replace(at, mark.size(), shown);
    }
    return out;
}

std::string format(const Phrase &phrase, const UnitChoice &choice) {
    return format(phrase.text, phrase.values, choice);
}

std::string contentName(double content, bool methanol) {
    return (methanol ? "M" : "E") + std::to_string(std::lround(content * 100));
}

} // namespace wheelwright
