// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/seal.h"

#include <QCryptographicHash>

#include <stdexcept>

namespace wheelwright {
namespace {

constexpr std::string_view head = "wheelwright-handover 1 calibration=", digestHead = " sha256=";
constexpr std::size_t digits = 64;

struct Place {
    std::string calibration;
    std::size_t digest; ///< where it begins
};

std::optional<Place> find(std::string_view document) {
    const std::size_t at = document.find(head);
    if (at == std::string_view::npos) return std::nullopt;
    const std::size_t from = at + head.size(), to = document.find(digestHead, from);
    constexpr std::size_t most = 64; // of a fingerprint
    if (to == std::string_view::npos || to - from > most) return std::nullopt;
    const std::size_t digest = to + digestHead.size();
    if (digest + digits > document.size()) return std::nullopt;
    return Place{std::string(document.substr(from, to - from)), digest};
}

std::string digestOf(std::string document, std::size_t place) {
    document.replace(place, digits, digits, '0');
    QCryptographicHash hash(QCryptographicHash::Sha256);
    hash.addData(QByteArrayView(document.data(), static_cast<qsizetype>(document.size())));
    return hash.result().toHex().toStdString();
}

} // namespace

std::string unsealedMark(std::string_view calibration) {
    return std::string(head) + std::string(calibration) + std::string(digestHead) + std::string(digits, '0');
}

std::string sealed(std::string document) {
    const auto place = find(document);
    if (!place || document.find(head, place->digest) != std::string::npos)
        throw std::logic_error("a document to be sealed holds one mark");
    document.replace(place->digest, digits, digestOf(document, place->digest));
    return document;
}

std::optional<Seal> sealOf(std::string_view document) {
    const auto place = find(document);
    if (!place) return std::nullopt;
    const std::string all(document);
    return Seal{place->calibration, all.substr(place->digest, digits) == digestOf(all, place->digest)};
}

} // namespace wheelwright
