// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/log_import/word_places.h"

#include "core/base/error.h"
#include "formats/log_import/text_form.h"

#include <algorithm>
#include <limits>

namespace wheelwright {

double WordPlaces::place(std::string_view text) {
    if (const auto found = m_places.find(text); found != m_places.end())
        return static_cast<double>(found->second);
    // One line of UTF-8, since they are kept a line each; a changed one may be there already.
    std::string kept = asUtf8(text);
    if (kept.size() > longest) kept = echoed(kept, longest);
    std::ranges::replace(kept, '\n', ' ');
    std::ranges::replace(kept, '\r', ' ');
    if (const auto found = m_places.find(kept); found != m_places.end())
        return static_cast<double>(found->second);
    if (m_texts.size() == most) {
        ++m_dropped;
        return std::numeric_limits<double>::quiet_NaN();
    }
    m_places.emplace(kept, m_texts.size());
    m_texts.push_back(std::move(kept));
    return static_cast<double>(m_texts.size() - 1);
}

} // namespace wheelwright
