// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/series_outline.h"
#include "core/job/logs.h"
#include "session/work.h"

#include <QObject>

#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// What is needed to draw the channels of one log at any magnification, however long it is: levels of all,
/// and of what is looked at closely the samples, which come when they are asked for.
class StripSamples : public QObject {
    Q_OBJECT
  public:
    explicit StripSamples(QObject *parent = nullptr);

    /// Another log: its levels are read beside the window's thread. An empty id: none.
    void open(const std::filesystem::path &jobFile, const std::string &log,
              const std::vector<LogChannel> &channels);
    const std::string &log() const { return m_log; }
    bool ready() const { return m_levels != nullptr; }
    const QString &trouble() const { return m_opening.error(); }

    /// In internal units. Of levels while the samples are not there yet; none before anything is.
    std::optional<SeriesOutline> outline(const LogChannel &channel, double fromS, double toS,
                                         std::size_t columns);

  signals:
    void arrived(); ///< something can be drawn, or drawn better

  private:
    struct Levels {
        std::map<std::size_t, ClockMarks> clocks;             ///< by series
        std::map<std::size_t, std::vector<LevelPair>> series; ///< by series
        std::map<std::size_t, ClockMarks> coarseClocks;       ///< the same of many levels at a time
        std::map<std::size_t, std::vector<LevelPair>> coarse;
    };
    struct ChunkName {
        std::size_t series, number;
        auto operator<=>(const ChunkName &) const = default;
    };
    using Chunk = std::shared_ptr<const std::vector<double>>;
    using Chunks = std::map<ChunkName, Chunk>;

    static std::shared_ptr<const Levels> readLevels(const std::filesystem::path &jobFile,
                                                    const std::string &log,
                                                    const std::vector<LogChannel> &channels,
                                                    const WorkControl &control);
    bool stretch(std::size_t series, std::size_t from, std::size_t to, std::vector<double> &out);
    void want(ChunkName chunk);
    void fetch();
    void take();

    std::filesystem::path m_jobFile;
    std::string m_log;
    std::map<std::size_t, LogChannel> m_clocks;
    std::shared_ptr<const Levels> m_levels;
    Chunks m_chunks;
    std::map<ChunkName, std::uint64_t> m_lastUsed;
    std::vector<ChunkName> m_wanted;
    std::uint64_t m_uses = 0;
    bool m_fetchPosted = false;
    Work<std::shared_ptr<const Levels>> m_opening;
    Work<Chunks> m_fetching;
};

} // namespace wheelwright
