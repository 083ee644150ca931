// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <memory>
#include <string>
#include <utility>

namespace wheelwright {

/// A long text that stays where it is until somebody asks for it. Copies share it.
class DeferredText {
  public:
    /// Where a text is read from, once. May be asked by several threads at a time.
    class Source {
      public:
        virtual ~Source() = default;
        /// Throws InputError when it cannot be read, or is not what was written.
        virtual const std::string &text() const = 0;
    };

    DeferredText() = default;
    DeferredText(std::string text) : m_source(std::make_shared<Held>(std::move(text))) {}
    DeferredText(const char *text) : DeferredText(std::string(text)) {}
    explicit DeferredText(std::shared_ptr<const Source> source) : m_source(std::move(source)) {}

    /// Throws InputError as the source does.
    const std::string &text() const {
        static const std::string none;
        return m_source ? m_source->text() : none;
    }
    /// Texts of one source are not read to be compared.
    bool operator==(const DeferredText &other) const {
        return m_source == other.m_source || text() == other.text();
    }

  private:
    struct Held : Source {
        explicit Held(std::string held) : m_text(std::move(held)) {}
        const std::string &text() const override { return m_text; }
        std::string m_text;
    };
    std::shared_ptr<const Source> m_source;
};

} // namespace wheelwright
