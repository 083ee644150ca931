// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/arithmetic.h"

#include <charconv>
#include <cmath>
#include <limits>
#include <string_view>

namespace wheelwright::testing {
namespace {

class Sum {
  public:
    Sum(std::string_view text, const std::vector<Measured> &values) : m_text(text), m_values(values) {}

    std::optional<double> value() {
        const double left = sum();
        double right = left;
        if (take("=")) right = sum();
        if (!m_good || !m_text.empty() || m_signs == 0) return std::nullopt;
        const bool agree = std::abs(left - right) <= 1e-9 * std::max(1.0, std::abs(left));
        return agree ? left : std::numeric_limits<double>::infinity();
    }

  private:
    bool take(std::string_view sign) {
        while (m_text.starts_with(' '))
            m_text.remove_prefix(1);
        if (!m_text.starts_with(sign)) return false;
        m_text.remove_prefix(sign.size());
        while (m_text.starts_with(' '))
            m_text.remove_prefix(1);
        return true;
    }
    double sum() {
        double v = product();
        for (;;)
            if (take("+"))
                ++m_signs, v += product();
            else if (take("−"))
                ++m_signs, v -= product();
            else
                return v;
    }
    double product() {
        double v = factor();
        for (;;)
            if (take("·"))
                ++m_signs, v *= factor();
            else if (take("/"))
                ++m_signs, v /= factor();
            else
                return v;
    }
    double factor() {
        if (take("(")) {
            const double v = sum();
            m_good = m_good && take(")");
            return v;
        }
        if (take("{")) {
            std::size_t i = 0;
            const auto [end, problem] = std::from_chars(m_text.data(), m_text.data() + m_text.size(), i);
            m_good = m_good && problem == std::errc() && i < m_values.size();
            if (!m_good) return 0;
            m_text.remove_prefix(static_cast<std::size_t>(end - m_text.data()));
            m_good = take("}");
            return m_values[i].value;
        }
        double v = 0;
        const auto [end, problem] = std::from_chars(m_text.data(), m_text.data() + m_text.size(), v);
        m_good = m_good && problem == std::errc();
        if (m_good) m_text.remove_prefix(static_cast<std::size_t>(end - m_text.data()));
        return v;
    }

    std::string_view m_text;
    const std::vector<Measured> &m_values;
    int m_signs = 0;
    bool m_good = true;
};

} // namespace

std::optional<double> valueOf(const Phrase &line) {
    return Sum(line.text, line.values).value();
}

} // namespace wheelwright::testing
