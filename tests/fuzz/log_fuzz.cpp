// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever bytes a log file holds: it is read, or refused in a sentence. Built by tools/fuzz.
#include "core/base/error.h"
#include "core/evidence/log_intake.h"
#include "formats/log_import/log_import.h"

#include <cstdlib>

using namespace wheelwright;

namespace {

// All series of a clock are as long as it is, and clocks only go on.
class Checked : public SampleSink {
  public:
    explicit Checked(const std::vector<LogChannel> &channels)
        : m_channels(channels), m_counts(channels.size()), m_last(channels.size()) {}
    void put(std::size_t series, std::span<const double> samples) override {
        if (series >= m_counts.size()) std::abort();
        if (m_channels[series].kind == ChannelKind::clock)
            for (const double t : samples) {
                if (!(t >= m_last[series]) && (m_counts[series] > 0 || t != t)) std::abort();
                m_last[series] = t;
            }
        m_counts[series] += samples.size();
    }
    void finish() const {
        for (std::size_t i = 0; i < m_counts.size(); ++i)
            if (m_counts[i] != m_counts[static_cast<std::size_t>(m_channels[i].clock)]) std::abort();
    }

  private:
    const std::vector<LogChannel> &m_channels;
    std::vector<std::size_t> m_counts;
    std::vector<double> m_last;
};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size) {
    if (size == 0) return 0;
    const LogText text({reinterpret_cast<const char *>(bytes) + 1, size - 1});
    LogReading how;
    how.threads = 1;
    how.partly = (bytes[0] & 1) != 0;
    try {
        const auto source = openLog(text);
        LogIntake intake(suggestMap(source->layout()), source->layout(), {});
        Checked to(intake.channels());
        intake.handTo(to);
        intake.summary(source->read(intake, how));
        to.finish();
    } catch (const InputError &e) {
        if (std::string_view(e.what()).empty()) std::abort();
    }
    return 0;
}
