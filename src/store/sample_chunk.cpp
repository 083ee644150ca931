// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/sample_chunk.h"

#include "core/base/error.h"

#include <xxhash.h>
#include <zstd.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <memory>

namespace wheelwright {
namespace {

static_assert(std::endian::native == std::endian::little, "chunks are little-endian");

constexpr int zstdLevel = 1; // decision 0031: 5.6 to 1 at 350 MB/s; higher levels pack little more
constexpr std::size_t mostBytes = samplesPerChunk * sizeof(double);

[[noreturn]] void refuseChunk(const char *what) {
    throw InputError("samples", MARKED("expected.samples_as_written", "samples as they were written"),
                     Phrase{MARKED("found.damaged_samples", "damage: {a}"), {}, {what}});
}

// All first bytes, then all second ones: neighbours differ in their last bytes alone.
void shuffle(const char *in, std::size_t count, std::size_t width, char *out) {
    for (std::size_t b = 0; b < width; ++b)
        for (std::size_t i = 0; i < count; ++i)
            *out++ = in[i * width + b];
}

void gather(const char *in, std::size_t count, std::size_t width, char *out) {
    for (std::size_t b = 0; b < width; ++b)
        for (std::size_t i = 0; i < count; ++i)
            out[i * width + b] = *in++;
}

// Contexts are dear to make and are used by one thread at a time.
struct FreeContext {
    void operator()(ZSTD_CCtx *c) const { ZSTD_freeCCtx(c); }
    void operator()(ZSTD_DCtx *c) const { ZSTD_freeDCtx(c); }
};

std::string compressed(std::string_view bytes, std::string head) {
    thread_local const std::unique_ptr<ZSTD_CCtx, FreeContext> context(ZSTD_createCCtx());
    const std::size_t at = head.size();
    head.resize(at + ZSTD_compressBound(bytes.size()));
    const std::size_t size = ZSTD_compressCCtx(context.get(), head.data() + at, head.size() - at,
                                               bytes.data(), bytes.size(), zstdLevel);
    if (ZSTD_isError(size)) throw std::bad_alloc(); // nothing else can go wrong with enough room
    head.resize(at + size);
    head.shrink_to_fit();
    return head;
}

std::string expanded(std::string_view frame, std::size_t unit) {
    thread_local const std::unique_ptr<ZSTD_DCtx, FreeContext> context(ZSTD_createDCtx());
    const unsigned long long size = ZSTD_getFrameContentSize(frame.data(), frame.size());
    if (size == ZSTD_CONTENTSIZE_ERROR || size == ZSTD_CONTENTSIZE_UNKNOWN || size > mostBytes ||
        size % unit != 0)
        refuseChunk("no such chunk");
    std::string out(static_cast<std::size_t>(size), '\0');
    const std::size_t got =
        ZSTD_decompressDCtx(context.get(), out.data(), out.size(), frame.data(), frame.size());
    if (ZSTD_isError(got) || got != out.size()) refuseChunk("bytes that do not unpack");
    return out;
}

std::string packedBytes(const char *values, std::size_t count, std::size_t width, std::string head) {
    thread_local std::string shuffled;
    shuffled.resize(count * width);
    shuffle(values, count, width, shuffled.data());
    return compressed(shuffled, std::move(head));
}

Digest hashOf(const char *values, std::size_t bytes, SampleWidth width) {
    const XXH128_hash_t h = XXH3_128bits_withSeed(values, bytes, static_cast<XXH64_hash_t>(width));
    return {h.low64, h.high64};
}

float outward(double v, bool up) {
    const auto f = static_cast<float>(v);
    if (up ? static_cast<double>(f) >= v : static_cast<double>(f) <= v) return f;
    constexpr float far = std::numeric_limits<float>::infinity();
    return std::nextafter(f, up ? far : -far);
}

template <class Sample>
std::string levelsOf(const std::vector<Sample> &samples) {
    std::vector<LevelPair> pairs;
    pairs.reserve(samples.size() / samplesPerLevel + 1);
    for (std::size_t from = 0; from < samples.size(); from += samplesPerLevel) {
        const std::size_t to = std::min(from + samplesPerLevel, samples.size());
        constexpr Sample far = std::numeric_limits<Sample>::infinity();
        Sample least = far, most = -far;
        for (std::size_t i = from; i < to; ++i) { // comparisons with what is missing are false
            least = samples[i] < least ? samples[i] : least;
            most = samples[i] > most ? samples[i] : most;
        }
        constexpr float none = std::numeric_limits<float>::quiet_NaN();
        pairs.push_back(least > most ? LevelPair{none, none}
                                     : LevelPair{outward(least, false), outward(most, true)});
    }
    return packedBytes(reinterpret_cast<const char *>(pairs.data()), 2 * pairs.size(), sizeof(float), {});
}

template <class Sample>
PackedChunk packAs(std::span<const double> samples, SampleWidth width) {
    thread_local std::vector<Sample> kept;
    kept.resize(samples.size());
    for (std::size_t i = 0; i < samples.size(); ++i)
        kept[i] = samples[i] == samples[i] ? static_cast<Sample>(samples[i])
                                           : std::numeric_limits<Sample>::quiet_NaN();
    const auto *bytes = reinterpret_cast<const char *>(kept.data());
    PackedChunk out;
    out.hash = hashOf(bytes, kept.size() * sizeof(Sample), width);
    out.samples = kept.size();
    out.levels = levelsOf(kept);
    out.packed = packedBytes(bytes, kept.size(), sizeof(Sample), std::string(1, static_cast<char>(width)));
    return out;
}

template <class Sample>
std::vector<double> unpackAs(std::string_view frame, const Digest &hash, SampleWidth width) {
    const std::string shuffled = expanded(frame, sizeof(Sample));
    std::vector<Sample> samples(shuffled.size() / sizeof(Sample));
    gather(shuffled.data(), samples.size(), sizeof(Sample), reinterpret_cast<char *>(samples.data()));
    if (hashOf(reinterpret_cast<const char *>(samples.data()), shuffled.size(), width) != hash)
        refuseChunk("samples that are not what their hash says");
    return {samples.begin(), samples.end()};
}

} // namespace

PackedChunk pack(std::span<const double> samples, SampleWidth width) {
    return width == SampleWidth::single ? packAs<float>(samples, width) : packAs<double>(samples, width);
}

std::vector<double> unpack(std::string_view packed, const Digest &hash) {
    if (packed.empty()) refuseChunk("nothing");
    const auto width = static_cast<SampleWidth>(packed.front());
    packed.remove_prefix(1);
    if (width == SampleWidth::single) return unpackAs<float>(packed, hash, width);
    if (width == SampleWidth::twice) return unpackAs<double>(packed, hash, width);
    refuseChunk("no such width");
}

std::vector<LevelPair> unpackLevels(std::string_view levels) {
    const std::string shuffled = expanded(levels, sizeof(LevelPair));
    std::vector<LevelPair> pairs(shuffled.size() / sizeof(LevelPair));
    gather(shuffled.data(), 2 * pairs.size(), sizeof(float), reinterpret_cast<char *>(pairs.data()));
    return pairs;
}

} // namespace wheelwright
