// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/live/can_decoder.h"

#include <map>

namespace wheelwright {

CanDecoder::CanDecoder(const CanMap &map) : m_map(map) {
    validate(m_map);
    std::map<std::string, int> names;
    for (const CanMessage &m : m_map.messages)
        for (const CanSignal &s : m.numbers)
            ++names[s.name];
    for (const CanMessage &m : m_map.messages) {
        Known known{&m, nullptr, m_channels.size()};
        for (const CanSignal &s : m.numbers) {
            if (s.multiplexer) known.multiplexer = &s;
            m_channels.push_back({names[s.name] > 1 ? m.name + "." + s.name : s.name, &s});
        }
        m_known.emplace(keyOf(m.id, m.extended), known);
    }
}

bool CanDecoder::take(const CanFrame &frame, std::span<double> values,
                      std::vector<std::size_t> *changed) const {
    const auto at = m_known.find(keyOf(frame.id, frame.extended));
    if (at == m_known.end()) return false;
    const Known &known = at->second;
    const std::optional<std::uint64_t> which =
        known.multiplexer ? bitsOf(frame, *known.multiplexer) : std::nullopt;
    bool any = false;
    for (std::size_t i = 0; i < known.message->numbers.size(); ++i) {
        const CanSignal &s = known.message->numbers[i];
        if (s.multiplexValue && s.multiplexValue != which) continue;
        const double value = valueOf(frame, s);
        if (value != value) continue; // too short, or a floating number that says that it is none
        values[known.first + i] = value;
        if (changed) changed->push_back(known.first + i);
        any = true;
    }
    return any;
}

} // namespace wheelwright
