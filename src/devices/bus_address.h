// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstdint>
#include <string>

namespace wheelwright {

/// Which bus is listened to.
struct BusAddress {
    enum class Kind {
        loopback, ///< a virtual bus between programs of this machine
        socketCan ///< an interface of the system: "can0"
    } kind = Kind::loopback;
    std::uint16_t port = 0;   ///< of a virtual bus
    std::string interface {}; ///< of the system

    bool operator==(const BusAddress &) const = default;
};

/// "virtual:41234", on this machine alone, or "socketcan:can0". Throws InputError at `where` for anything
/// else, also for another machine.
BusAddress busAddressFrom(const std::string &text, const std::string &where);
std::string inWords(const BusAddress &address);

} // namespace wheelwright
