// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/curve.h"

#include "core/base/error.h"

#include <cmath>

namespace wheelwright {

Curve::Curve(std::vector<double> x, std::vector<double> y, std::string_view where)
    : m_x(std::move(x), where), m_y(std::move(y)) {
    if (m_y.size() != m_x.size())
        throw InputError(std::string(where),
                         Phrase{MARKED("expected.values", "{a} values"), {}, {std::to_string(m_x.size())}},
                         std::to_string(m_y.size()));
    for (std::size_t i = 0; i < m_y.size(); ++i)
        if (!std::isfinite(m_y[i]))
            throw InputError(std::string(where) + " value " + std::to_string(i + 1),
                             MARKED("expected.a_finite_number", "a finite number"),
                             MARKED("found.not_a_number", "not a number"));
}

double Curve::at(double x) const {
    const AxisPosition p = m_x.locate(x);
    if (m_y.size() == 1) return m_y[0];
    return (1 - p.t) * m_y[p.cell] + p.t * m_y[p.cell + 1];
}

} // namespace wheelwright
