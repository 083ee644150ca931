// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/json_text.h"

#include "core/base/error.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <set>
#include <vector>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

constexpr std::size_t mostRepeated = 40; // bytes of the document that a sentence repeats

// Reads the text once to refuse what the document itself would hide: keys that stand twice, of which one
// would be dropped; lists in lists without end; and what is no JSON, with the line that says where.
class Scanner : public Json::json_sax_t {
  public:
    Scanner(std::string_view text, std::string_view document) : m_text(text), m_document(document) {}
    bool null() override { return true; }
    bool boolean(bool) override { return true; }
    bool number_integer(number_integer_t) override { return true; }
    bool number_unsigned(number_unsigned_t) override { return true; }
    bool number_float(number_float_t, const string_t &) override { return true; }
    bool string(string_t &) override { return true; }
    bool binary(binary_t &) override { return true; }
    bool start_object(std::size_t) override { return deeper(); }
    bool start_array(std::size_t) override { return deeper(); }
    bool end_object() override { return higher(); }
    bool end_array() override { return higher(); }
    bool key(string_t &key) override {
        Level &level = m_levels.back();
        level.key = key;
        if (!level.keys.insert(key).second)
            throw InputError(placeAt(m_levels.size() - 1), MARKED("expected.each_key_once", "each key once"),
                             "'" + echoed(key, mostRepeated) + "' again");
        return true;
    }
    bool parse_error(std::size_t at, const std::string &token, const Json::exception &e) override {
        // The library counts bytes; people count lines.
        const std::size_t before = std::min(at > 0 ? at - 1 : 0, m_text.size());
        const auto line =
            1 + std::count(m_text.begin(), m_text.begin() + static_cast<std::ptrdiff_t>(before), '\n');
        constexpr int numberOutOfRange = 406;
        const std::string words = e.what();
        if (e.id == numberOutOfRange)
            throw InputError(
                place(line),
                MARKED("expected.numbers_that_a_computer_can_hold", "numbers that a computer can hold"),
                "'" + echoed(token, mostRepeated) + "'");
        if (words.find("UTF-8") != std::string::npos)
            throw InputError(place(line), MARKED("expected.text_in_utf_8", "text in UTF-8"),
                             MARKED("found.bytes_of_another_encoding", "bytes of another encoding"));
        throw InputError(place(line), MARKED("expected.json", "JSON"),
                         before + 1 < m_text.size() ? "something else" : "the end of the text");
    }

  private:
    struct Level {
        std::string key;
        std::set<std::string> keys;
    };
    std::string place(std::ptrdiff_t line) const {
        return std::string(m_document) + (m_document.empty() ? "line " : ", line ") + std::to_string(line);
    }
    std::string placeAt(std::size_t depth) const {
        std::string path;
        for (std::size_t i = 0; i < depth; ++i)
            if (!m_levels[i].key.empty()) path += (path.empty() ? "" : ".") + m_levels[i].key;
        if (path.empty()) return m_document.empty() ? "job" : std::string(m_document);
        return m_document.empty() ? path : std::string(m_document) + " " + path;
    }
    bool deeper() {
        constexpr std::size_t deepest = 32; // those of jobs are 5
        if (m_levels.size() == deepest)
            throw InputError(
                placeAt(2),
                MARKED("expected.objects_and_lists_at_most_32_deep", "objects and lists at most 32 deep"),
                MARKED("found.deeper_ones", "deeper ones"));
        m_levels.emplace_back();
        return true;
    }
    bool higher() {
        m_levels.pop_back();
        return true;
    }

    std::string_view m_text, m_document;
    std::vector<Level> m_levels;
};

} // namespace

Json jsonFrom(std::string_view text, std::string_view document) {
    for (const auto &[mark, name] : {std::pair("\xFF\xFE", "UTF-16"), std::pair("\xFE\xFF", "UTF-16")})
        if (text.starts_with(mark))
            throw InputError(document.empty() ? "document" : std::string(document),
                             MARKED("expected.text_in_utf_8", "text in UTF-8"),
                             std::string("text in ") + name);
    if (text.find_first_not_of(" \t\r\n") == std::string_view::npos)
        throw InputError(document.empty() ? "document" : std::string(document),
                         MARKED("expected.json", "JSON"), MARKED("found.nothing", "nothing"));
    Scanner scanner(text, document);
    Json::sax_parse(text, &scanner);
    return Json::parse(text);
}

} // namespace wheelwright
