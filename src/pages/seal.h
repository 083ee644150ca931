// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <optional>
#include <string>
#include <string_view>

namespace wheelwright {

/// What a document says of where it comes from: "wheelwright-handover 1 calibration=… sha256=…", in plain
/// letters, wherever its format keeps a remark. The digest is of all its bytes with noughts in the place of
/// the digest: it tells what was changed by accident or by hand, not who made it.
struct Seal {
    std::string calibration; ///< fingerprint of the state that it tells of (calibrationPrint())
    bool intact = false;     ///< the bytes are those that were written
};

/// To be put into a document before it is sealed.
std::string unsealedMark(std::string_view calibration);

/// The document with its digest. Throws std::logic_error without exactly one mark in it.
std::string sealed(std::string document);

/// Empty where there is none.
std::optional<Seal> sealOf(std::string_view document);

} // namespace wheelwright
