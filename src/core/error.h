#pragma once
#include <stdexcept>
#include <string>

namespace wheelwright {

/// Input that cannot be used. Says where it was found, what was expected there and what was found instead.
/// The one exception type that core, store, formats and devices throw for what a user can put right.
class InputError : public std::runtime_error {
  public:
    InputError(std::string where, std::string expected, std::string found)
        : std::runtime_error(where + ": expected " + expected + ", found " + found),
          m_where(std::move(where)), m_expected(std::move(expected)), m_found(std::move(found)) {}

    const std::string &where() const { return m_where; }
    const std::string &expected() const { return m_expected; }
    const std::string &found() const { return m_found; }

  private:
    std::string m_where;
    std::string m_expected;
    std::string m_found;
};

} // namespace wheelwright
