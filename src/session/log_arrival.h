// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/map_answers.h"
#include "session/work.h"

#include <QObject>
#include <QString>

#include <filesystem>
#include <memory>
#include <optional>
#include <string>

namespace wheelwright {

class Session;
struct TakenLog;

/// What a log file is, before it is read through.
struct LogPreview {
    LogLayout layout;
    ChannelMap map;          ///< suggested, or remembered by the names of the columns
    bool remembered = false; ///< the user has confirmed it for such a file before
};

/// What the user says of a log that comes in.
struct LogStatement {
    ChannelMap map;
    std::string revision;
    std::optional<double> content;
    std::string note;
    bool partly = false;
};

/// A log file on its way into the open job: looked at, then read through beside the window's thread, then one
/// change of the job. Another job, or none, stops it.
class LogArrival : public QObject {
    Q_OBJECT
  public:
    /// memory: folder of the maps that users have confirmed, one JSON file for each set of columns.
    LogArrival(Session &session, std::filesystem::path memory, QObject *parent = nullptr);
    ~LogArrival() override;

    /// Whether the first bytes of a file are those of a log rather than of a table.
    static bool seemsALog(const std::filesystem::path &file);

    /// Says looked() or refused(). delimiter, decimal: as the user says; none: as it is recognised.
    void look(const std::filesystem::path &file, std::optional<char> delimiter = {},
              std::optional<char> decimal = {}, bool partly = false);
    const LogPreview *preview() const { return m_looking.result(); }
    const std::filesystem::path &file() const { return m_file; }

    /// Says cameIn(), refused() or stopped().
    void bring(const LogStatement &statement);
    void cancel();
    WorkSignals &looking() { return m_looking; }
    WorkSignals &bringing() { return m_bringing; }

    /// The map as open JSON. Throw InputError.
    static void saveMap(const ChannelMap &map, const std::filesystem::path &file);
    static ChannelMap loadMap(const std::filesystem::path &file);

  signals:
    void looked();
    void refused(QString why);
    void cameIn(std::string id);
    void stopped();

  private:
    void finish();
    std::filesystem::path remembranceOf(const LogLayout &layout) const;

    Session &m_session;
    std::filesystem::path m_memory, m_file;
    LogStatement m_statement;
    Work<LogPreview> m_looking;
    Work<std::shared_ptr<const TakenLog>> m_bringing;
};

} // namespace wheelwright
