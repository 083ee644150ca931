// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/formula.h"

#include "core/base/error.h"
#include "core/job/channel_role.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace wheelwright {

/// Reads a formula by descent: sums of products of signed operands.
class Formula::Reader {
  public:
    Reader(std::string_view text, Formula &to) : m_text(text), m_to(to) {}

    void whole() {
        sum();
        skipBlanks();
        if (m_at < m_text.size()) refuse("an operator such as + or *");
    }

  private:
    static constexpr int deepest = 60; // a formula that people write has a few

    [[noreturn]] void refuse(const char *expected) const {
        const std::string_view rest = m_text.substr(std::min(m_at, m_text.size()));
        throw InputError("formula, place " + std::to_string(m_at + 1), verbatim(expected),
                         rest.empty() ? std::string("its end") : "'" + echoed(std::string(rest), 20) + "'");
    }

    void skipBlanks() {
        while (m_at < m_text.size() && (m_text[m_at] == ' ' || m_text[m_at] == '\t'))
            ++m_at;
    }
    bool take(char c) {
        skipBlanks();
        if (m_at >= m_text.size() || m_text[m_at] != c) return false;
        ++m_at;
        return true;
    }
    void put(Op op, double number = 0, std::size_t index = 0) {
        m_to.m_steps.push_back({op, number, index});
        const bool operand = op == Op::number || op == Op::name, alone = op == Op::negate || op == Op::size;
        m_waiting += operand ? 1 : alone ? 0 : -1;
        m_to.m_depth = std::max(m_to.m_depth, static_cast<std::size_t>(m_waiting));
    }

    void sum() {
        if (++m_deep > deepest) refuse("fewer brackets inside of one another");
        product();
        for (;;) {
            if (take('+')) {
                product();
                put(Op::add);
            } else if (take('-')) {
                product();
                put(Op::subtract);
            } else {
                --m_deep;
                return;
            }
        }
    }
    void product() {
        signedOperand();
        for (;;) {
            if (take('*')) {
                signedOperand();
                put(Op::multiply);
            } else if (take('/')) {
                signedOperand();
                put(Op::divide);
            } else {
                return;
            }
        }
    }
    void signedOperand() {
        bool negative = false;
        for (;;) {
            if (take('-'))
                negative = !negative;
            else if (!take('+'))
                break;
        }
        operand();
        if (negative) put(Op::negate);
    }
    void operand() {
        skipBlanks();
        if (m_at >= m_text.size()) refuse("a number, a role, or a column in square brackets");
        const char c = m_text[m_at];
        if (take('(')) {
            sum();
            if (!take(')')) refuse("a closing bracket");
        } else if (take('[')) {
            const std::size_t end = m_text.find(']', m_at);
            if (end == std::string_view::npos || end == m_at) refuse("the name of a column and ]");
            name({std::string(m_text.substr(m_at, end - m_at)), true});
            m_at = end + 1;
        } else if ((c >= '0' && c <= '9') || c == '.') {
            number();
        } else {
            word();
        }
    }
    void number() {
        double v = 0;
        const char *from = m_text.data() + m_at;
        const auto [end, error] = std::from_chars(from, m_text.data() + m_text.size(), v);
        if (error != std::errc{} || !std::isfinite(v)) refuse("a number");
        m_at += static_cast<std::size_t>(end - from);
        put(Op::number, v);
    }
    void word() {
        const std::size_t from = m_at;
        while (m_at < m_text.size() && ((m_text[m_at] >= 'a' && m_text[m_at] <= 'z') || m_text[m_at] == '_'))
            ++m_at;
        const std::string word(m_text.substr(from, m_at - from));
        for (const auto &[key, op] : {std::pair{"min", Op::least}, {"max", Op::most}, {"abs", Op::size}})
            if (word == key) return function(op);
        if (!roleByKey(word) || word == "none") {
            m_at = from;
            refuse("a number, a role such as rpm or pulse_width, or a column in square brackets");
        }
        name({word, false});
    }
    void function(Op op) {
        if (!take('(')) refuse("an opening bracket");
        sum();
        if (op != Op::size) {
            if (!take(',')) refuse("a comma");
            sum();
        }
        if (!take(')')) refuse("a closing bracket");
        put(op);
    }
    void name(Name n) {
        auto at = std::ranges::find(m_to.m_names, n);
        if (at == m_to.m_names.end()) at = m_to.m_names.insert(at, std::move(n));
        put(Op::name, 0, static_cast<std::size_t>(at - m_to.m_names.begin()));
    }

    std::string_view m_text;
    Formula &m_to;
    std::size_t m_at = 0;
    int m_waiting = 0, m_deep = 0;
};

Formula::Formula(std::string_view text) {
    Reader(text, *this).whole();
    if (m_names.empty())
        throw InputError("formula", MARKED("expected.formula_channel", "at least one channel to work with"),
                         MARKED("found.none", "none"));
}

double Formula::operator()(std::span<const double> values) const {
    // As many as wait at a time: few, and known before.
    std::array<double, 64> few{};
    std::vector<double> many(m_depth > few.size() ? m_depth : 0);
    double *stack = many.empty() ? few.data() : many.data();
    std::size_t top = 0;
    for (const Step &s : m_steps) {
        if (s.op == Op::number || s.op == Op::name) {
            stack[top++] = s.op == Op::number ? s.number : values[s.index];
            continue;
        }
        double &a = s.op == Op::negate || s.op == Op::size ? stack[top - 1] : stack[top - 2];
        const double b = stack[top - 1];
        switch (s.op) {
        case Op::add:
            a += b;
            break;
        case Op::subtract:
            a -= b;
            break;
        case Op::multiply:
            a *= b;
            break;
        case Op::divide:
            a /= b;
            break;
        case Op::least:
            a = b < a || b != b ? b : a;
            break;
        case Op::most:
            a = b > a || b != b ? b : a;
            break;
        case Op::negate:
            a = -a;
            continue;
        case Op::size:
            a = std::abs(a);
            continue;
        default:
            break;
        }
        --top;
    }
    return std::isfinite(stack[0]) ? stack[0] : std::nan("");
}

} // namespace wheelwright
