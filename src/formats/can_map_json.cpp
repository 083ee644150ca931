// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/can_map_json.h"

#include "core/base/error.h"
#include "formats/json_text.h"

#include <nlohmann/json.hpp>

#include <array>
#include <charconv>
#include <set>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;
constexpr const char *canMapFormat = "wheelwright-can-map";
constexpr int canMapVersion = 1;
constexpr std::array<const char *, 2> canOrders{"little", "big"};
constexpr std::array<const char *, 3> canNumbers{"plain", "twos_complement", "floating"};

/// An object whose members are asked for by name; what nobody asked for is refused in the end.
class CanObject {
  public:
    CanObject(const Json &json, std::string where) : m_json(json), m_where(std::move(where)) {
        if (!json.is_object())
            throw InputError(m_where, MARKED("expected.an_object", "an object"),
                             std::string(json.type_name()));
    }
    const std::string &where() const { return m_where; }

    const Json *find(const char *key) {
        m_asked.insert(key);
        const auto at = m_json.find(key);
        return at == m_json.end() ? nullptr : &*at;
    }
    const Json &need(const char *key) {
        if (const Json *v = find(key)) return *v;
        throw InputError(m_where + "." + key, MARKED("expected.a_value", "a value"), std::string("nothing"));
    }
    std::string text(const char *key) { return textOf(key, need(key)); }
    std::string text(const char *key, const std::string &otherwise) {
        const Json *v = find(key);
        return v ? textOf(key, *v) : otherwise;
    }
    double number(const char *key, double otherwise) {
        const Json *v = find(key);
        if (!v) return otherwise;
        if (!v->is_number()) refuse(key, MARKED("expected.a_number", "a number"), *v);
        return v->get<double>();
    }
    int whole(const char *key) { return wholeOf(key, need(key)); }
    bool flag(const char *key) {
        const Json *v = find(key);
        if (!v) return false;
        if (!v->is_boolean()) refuse(key, MARKED("expected.true_or_false", "true or false"), *v);
        return v->get<bool>();
    }
    /// As it is, or as a text with hexadecimal digits.
    std::uint64_t unsignedNumber(const char *key, const Json &v) const {
        if (v.is_number_unsigned()) return v.get<std::uint64_t>();
        if (v.is_string()) {
            const auto s = v.get<std::string>();
            const bool hexadecimal = s.starts_with("0x") || s.starts_with("0X");
            std::uint64_t n = 0;
            const char *from = s.data() + (hexadecimal ? 2 : 0), *to = s.data() + s.size();
            constexpr int sixteen = 16, ten = 10;
            const auto [end, error] = std::from_chars(from, to, n, hexadecimal ? sixteen : ten);
            if (error == std::errc{} && end == to && from != to) return n;
        }
        refuse(key, MARKED("expected.whole_number", "a whole number, or text such as 0x600"), v);
    }
    template <std::size_t N>
    std::size_t choice(const char *key, const std::array<const char *, N> &choices, const Phrase &expected) {
        const Json *v = find(key);
        if (!v) return 0;
        for (std::size_t i = 0; i < N; ++i)
            if (*v == choices[i]) return i;
        refuse(key, expected, *v);
    }
    void onlyThese() const {
        for (const auto &[key, value] : m_json.items())
            if (!m_asked.contains(key))
                throw InputError(m_where, MARKED("expected.known_key", "a key that is known"),
                                 "'" + echoed(key, 40) + "'");
    }

  private:
    [[noreturn]] void refuse(const char *key, const Phrase &expected, const Json &found) const {
        throw InputError(m_where + "." + key, expected, echoed(found.dump(), 40));
    }
    std::string textOf(const char *key, const Json &v) const {
        if (!v.is_string()) refuse(key, MARKED("expected.text", "text"), v);
        return v.get<std::string>();
    }
    int wholeOf(const char *key, const Json &v) const {
        constexpr int most = 1'000'000;
        if (!v.is_number_integer() || v.get<double>() > most || v.get<double>() < -most)
            refuse(key, MARKED("expected.a_whole_number", "a whole number"), v);
        return v.get<int>();
    }

    const Json &m_json;
    std::string m_where;
    std::set<std::string> m_asked;
};

CanSignal signalFrom(const Json &json, const std::string &where) {
    CanObject o(json, where);
    CanSignal s;
    s.name = o.text("name");
    s.startBit = o.whole("start_bit");
    s.length = o.whole("bits");
    o.need("order"); // which end comes first must never be guessed
    s.order =
        static_cast<CanOrder>(o.choice("order", canOrders, MARKED("expected.can_order", "little or big")));
    s.number = static_cast<CanNumber>(
        o.choice("number", canNumbers, MARKED("expected.can_number", "plain, twos_complement or floating")));
    s.scale = o.number("scale", 1);
    s.offset = o.number("offset", 0);
    s.unit = o.text("unit", "");
    s.multiplexer = o.flag("multiplexer");
    if (const Json *v = o.find("multiplex_value")) s.multiplexValue = o.unsignedNumber("multiplex_value", *v);
    o.onlyThese();
    return s;
}

const Json &listIn(CanObject &o, const char *key) {
    const Json &list = o.need(key);
    if (!list.is_array())
        throw InputError(o.where() + "." + key, MARKED("expected.a_list", "a list"),
                         std::string(list.type_name()));
    return list;
}

CanMessage messageFrom(const Json &json, const std::string &where) {
    CanObject o(json, where);
    CanMessage m;
    const std::uint64_t id = o.unsignedNumber("id", o.need("id"));
    if (id > mostLongId)
        throw InputError(where + ".id",
                         Phrase{MARKED("expected.can_id", "an identifier of at most {a} bits"), {}, {"29"}},
                         std::to_string(id));
    m.id = static_cast<std::uint32_t>(id);
    m.extended = o.flag("extended");
    m.name = o.text("name", "");
    m.size = o.whole("bytes");
    std::size_t n = 0;
    for (const Json &s : listIn(o, "signals"))
        m.numbers.push_back(signalFrom(s, where + ".signals[" + std::to_string(n++) + "]"));
    o.onlyThese();
    return m;
}

} // namespace

std::string canMapToJson(const CanMap &map) {
    Json messages = Json::array();
    for (const CanMessage &m : map.messages) {
        Json signals = Json::array();
        for (const CanSignal &s : m.numbers) {
            Json one{{"name", s.name},
                     {"start_bit", s.startBit},
                     {"bits", s.length},
                     {"order", canOrders[static_cast<std::size_t>(s.order)]}};
            if (s.number != CanNumber::plain) one["number"] = canNumbers[static_cast<std::size_t>(s.number)];
            if (s.scale != 1) one["scale"] = s.scale;
            if (s.offset != 0) one["offset"] = s.offset;
            if (!s.unit.empty()) one["unit"] = s.unit;
            if (s.multiplexer) one["multiplexer"] = true;
            if (s.multiplexValue) one["multiplex_value"] = *s.multiplexValue;
            signals.push_back(std::move(one));
        }
        Json one{{"id", m.id}};
        if (m.extended) one["extended"] = true;
        if (!m.name.empty()) one["name"] = m.name;
        one["bytes"] = m.size;
        one["signals"] = std::move(signals);
        messages.push_back(std::move(one));
    }
    constexpr int indent = 2;
    return Json{{"format", canMapFormat}, {"version", canMapVersion}, {"messages", std::move(messages)}}.dump(
               indent) +
           "\n";
}

CanMap canMapFromJson(std::string_view text) {
    const Json json = jsonFrom(text, "CAN map");
    CanObject o(json, "CAN map");
    if (o.text("format") != canMapFormat)
        throw InputError("CAN map.format", Phrase{MARKED("expected.this_text", "{a}"), {}, {canMapFormat}},
                         echoed(o.text("format"), 40));
    if (o.whole("version") != canMapVersion)
        throw InputError("CAN map.version",
                         Phrase{MARKED("expected.this_text", "{a}"), {}, {std::to_string(canMapVersion)}},
                         std::to_string(o.whole("version")));
    CanMap map;
    std::size_t n = 0;
    for (const Json &m : listIn(o, "messages"))
        map.messages.push_back(messageFrom(m, "messages[" + std::to_string(n++) + "]"));
    o.onlyThese();
    validate(map);
    return map;
}

} // namespace wheelwright
