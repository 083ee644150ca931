// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "devices/bus_address.h"
#include "devices/frame_queue.h"

#include <QThread>

#include <functional>
#include <mutex>

namespace wheelwright {

/// Seconds that only grow, of one clock for all who look at a bus.
using LiveClock = std::function<double()>;
LiveClock steadyClock();

/// Plugins of the bus layer write into the log of the program what they do; after this they do not.
void quietBusPlugins();

/// Hears a bus in a thread of its own and hands its frames to a queue, each with the time at which it came.
/// It has no way to send: the device stays inside, and nothing here writes to it. A bus that is lost is tried
/// again twice a second. Needs the loop of an application only while it is made.
///
/// On a real bus the hardware acknowledges what it hears unless its interface was brought up as
/// listening only, which is a setting of the system.
class BusListener {
  public:
    BusListener(const BusAddress &address, FrameQueue &queue, LiveClock clock);
    ~BusListener(); ///< lets the bus go
    BusListener(const BusListener &) = delete;
    BusListener &operator=(const BusListener &) = delete;

    struct State {
        bool connected = false;
        std::size_t losses = 0; ///< how often it was lost
        std::size_t errors = 0; ///< error frames
        Phrase trouble{};       ///< why it is not connected; empty where nothing is known
    };
    State state() const;

  private:
    class Wire;
    mutable std::mutex m_mutex;
    State m_state;
    QThread m_thread;
};

} // namespace wheelwright
