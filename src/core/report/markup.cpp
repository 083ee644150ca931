// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/markup.h"

namespace wheelwright {

std::string escaped(std::string_view text) {
    std::string out;
    for (const char c : text)
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        default:
            out += c;
        }
    return out;
}

} // namespace wheelwright
