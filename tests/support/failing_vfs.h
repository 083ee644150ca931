// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright::testing {

/// A file layer of SQLite that counts the writes, flushes, truncations, removals and openings of the layer
/// below and makes one of them fail. What failed once keeps failing until the count is set anew, as a disk
/// does that is gone.
class FailingVfs {
  public:
    static const char *name(); ///< registers it on first use
    /// Counted from 1; 0: never. full: writes fail for want of room, not of a disk.
    static void failFrom(int operation, bool full = false);
    static int operations(); ///< since the last failFrom()
};

} // namespace wheelwright::testing
