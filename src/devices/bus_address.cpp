// SPDX-License-Identifier: GPL-3.0-or-later
#include "devices/bus_address.h"

#include "core/base/error.h"

#include <algorithm>
#include <charconv>

namespace wheelwright {
namespace {

constexpr std::string_view virtualName = "virtual:", systemName = "socketcan:";
constexpr std::size_t longestInterface = 15; // IFNAMSIZ less its end

bool isInterface(std::string_view name) {
    return !name.empty() && name.size() <= longestInterface && std::ranges::all_of(name, [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' ||
               c == '-' || c == '.';
    });
}

} // namespace

BusAddress busAddressFrom(const std::string &text, const std::string &where) {
    BusAddress out;
    if (text.starts_with(virtualName)) {
        const std::string_view port = std::string_view(text).substr(virtualName.size());
        unsigned number = 0;
        const auto [end, problem] = std::from_chars(port.data(), port.data() + port.size(), number);
        if (problem == std::errc{} && end == port.data() + port.size() && number >= 1 && number <= 65535) {
            out.port = static_cast<std::uint16_t>(number);
            return out;
        }
    } else if (text.starts_with(systemName) && isInterface(text.substr(systemName.size()))) {
        out.kind = BusAddress::Kind::socketCan;
        out.interface = text.substr(systemName.size());
        return out;
    }
    constexpr std::size_t longest = 40;
    throw InputError(where,
                     MARKED("expected.a_bus", "a bus: virtual:PORT of this machine, or socketcan:INTERFACE"),
                     "'" + echoed(text, longest) + "'");
}

std::string inWords(const BusAddress &address) {
    return address.kind == BusAddress::Kind::loopback
               ? std::string(virtualName) + std::to_string(address.port)
               : std::string(systemName) + address.interface;
}

} // namespace wheelwright
