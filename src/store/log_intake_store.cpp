// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/log_intake_store.h"

#include "core/base/error.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/sample_store.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>
#include <xxhash.h>

#include <cerrno>
#include <memory>

namespace wheelwright {
namespace {

[[noreturn]] void refuseToRead(const std::filesystem::path &path) {
    throw InputError(path.string(), MARKED("expected.a_file_that_can_be_read", "a file that can be read"),
                     diskTrouble(errno));
}

struct FreeHash {
    void operator()(XXH3_state_t *s) const { XXH3_freeState(s); }
};

std::string hashOf(const LogBytes &bytes, const LogReading &how) {
    const std::unique_ptr<XXH3_state_t, FreeHash> state(XXH3_createState());
    XXH3_128bits_reset(state.get());
    std::string block(std::size_t{1} << 20, '\0');
    std::uint64_t at = 0;
    while (const std::size_t got = bytes.read(at, block)) {
        if (how.stop.stop_requested()) return {};
        XXH3_128bits_update(state.get(), block.data(), got);
        at += got;
    }
    XXH128_canonical_t digits;
    XXH128_canonicalFromHash(&digits, XXH3_128bits_digest(state.get()));
    std::string out;
    for (const unsigned char byte : digits.digest) {
        out += "0123456789abcdef"[byte >> 4];
        out += "0123456789abcdef"[byte & 0xF];
    }
    return out;
}

} // namespace

OpenFile::OpenFile(const std::filesystem::path &path) : m_path(path) {
    requireReadable(path, UINTMAX_MAX);
    m_handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    struct stat s {};
    if (m_handle < 0 || ::fstat(m_handle, &s) != 0) refuseToRead(path);
    m_size = static_cast<std::uint64_t>(s.st_size);
    ::posix_fadvise(m_handle, 0, 0, POSIX_FADV_SEQUENTIAL);
}

OpenFile::~OpenFile() {
    if (m_handle >= 0) ::close(m_handle);
}

std::size_t OpenFile::read(std::uint64_t at, std::span<char> to) const {
    std::size_t done = 0;
    while (done < to.size()) {
        const ssize_t got =
            ::pread(m_handle, to.data() + done, to.size() - done, static_cast<off_t>(at + done));
        if (got < 0 && errno == EINTR) continue;
        if (got < 0) refuseToRead(m_path);
        if (got == 0) break;
        done += static_cast<std::size_t>(got);
    }
    return done;
}

TakenLog takeLog(const JobStore &store, const LogBytes &bytes, const LogSource &source, const ChannelMap &map,
                 const MapSurroundings &around, const LogReading &how) {
    const LogLayout &layout = source.layout();
    LogIntake intake(fitted(map, layout), layout, around);
    std::set<std::size_t> clocks;
    for (const LogChannel &c : intake.channels())
        if (c.kind == ChannelKind::clock) clocks.insert(static_cast<std::size_t>(c.series));
    SampleWriter writer(store, intake.series(), clocks);
    intake.handTo(writer);
    TakenLog out;
    const LogRead read = source.read(intake, how);
    const std::string hash = read.stopped ? std::string() : hashOf(bytes, how);
    out.stopped = hash.empty();
    if (out.stopped) return out;
    out.summary = intake.summary(read);
    out.summary.info.id = writer.seal();
    out.summary.info.sourceHash = hash;
    out.packedBytes = writer.packedBytes();
    return out;
}

} // namespace wheelwright
