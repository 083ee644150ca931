// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/log_arrival.h"

#include "core/base/error.h"
#include "core/base/fingerprint.h"
#include "formats/channel_map_json.h"
#include "formats/log_import/log_import.h"
#include "session/session.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/log_intake_store.h"

#include <algorithm>

namespace wheelwright {
namespace fs = std::filesystem;

namespace {

std::string columnsPrint(const LogLayout &layout) {
    std::string names = layout.format;
    for (const LogColumn &c : layout.columns)
        names += '\n' + c.name + '\t' + c.unit;
    return std::to_string(fingerprint(names));
}

// A map that does not fit is one of another file: what is recognised stands.
bool takeRemembered(LogPreview &preview, const fs::path &file) {
    std::error_code none;
    if (!fs::is_regular_file(file, none)) return false;
    try {
        preview.map = fitted(LogArrival::loadMap(file), preview.layout);
        return true;
    } catch (const InputError &) {
        return false;
    }
}

LogPreview lookInto(const fs::path &file, const LogForm &form) {
    const OpenFile bytes(file);
    LogPreview preview;
    preview.layout = openLog(bytes, form)->layout();
    preview.map = suggestMap(preview.layout);
    return preview;
}

} // namespace

LogArrival::LogArrival(Session &session, fs::path memory, QObject *parent)
    : QObject(parent), m_session(session), m_memory(std::move(memory)),
      m_looking(WorkSignals::Length::lengthy), m_bringing(WorkSignals::Length::lengthy) {
    connect(&m_looking, &WorkSignals::finished, this, [this] {
        if (m_looking.result())
            emit looked();
        else
            emit refused(m_looking.error());
    });
    connect(&m_bringing, &WorkSignals::finished, this, &LogArrival::finish);
    connect(&m_bringing, &WorkSignals::stopped, this, &LogArrival::stopped);
    // The samples go into the file of the job: it must not be closed under them.
    connect(&session, &Session::jobLeaving, this, [this] { m_bringing.forgetAndWait(); });
}

LogArrival::~LogArrival() = default;

bool LogArrival::seemsALog(const fs::path &file) {
    try {
        const OpenFile bytes(file);
        std::string head(std::min<std::uint64_t>(bytes.size(), 1u << 16), '\0');
        head.resize(bytes.read(0, head));
        if (const std::size_t end = head.rfind('\n'); end != std::string::npos && head.size() < bytes.size())
            head.resize(end + 1);
        const LogText first(head);
        const ChannelMap map = suggestMap(openLog(first)->layout());
        const auto roles = std::ranges::count_if(
            map.columns, [](const MappedColumn &m) { return m.role != ChannelRole::none; });
        return roles >= 2 && std::ranges::any_of(map.columns, [](const MappedColumn &m) {
                   return m.role == ChannelRole::time || m.role == ChannelRole::rpm;
               });
    } catch (const InputError &) {
        return false;
    }
}

fs::path LogArrival::remembranceOf(const LogLayout &layout) const {
    return m_memory / ("map-" + columnsPrint(layout) + ".json");
}

void LogArrival::look(const fs::path &file, std::optional<char> delimiter, std::optional<char> decimal,
                      bool partly) {
    m_file = file;
    m_looking.start(m_session.jobVersion(),
                    [this, file, form = LogForm{delimiter, decimal, partly}](const WorkControl &) {
                        LogPreview preview = lookInto(file, form);
                        preview.remembered = takeRemembered(preview, remembranceOf(preview.layout));
                        preview.map.delimiter = form.delimiter;
                        preview.map.decimal = form.decimal;
                        return preview;
                    });
}

void LogArrival::bring(const LogStatement &statement) {
    if (!m_session.hasJob() || !m_session.store()) return;
    m_statement = statement;
    m_bringing.start(m_session.jobVersion(), [file = m_file, store = m_session.store(), statement,
                                              around = surroundingsIn(m_session.study(), statement.content)](
                                                 const WorkControl &control) {
        const OpenFile bytes(file);
        const auto source =
            openLog(bytes, {statement.map.delimiter, statement.map.decimal, statement.partly});
        return std::make_shared<const TakenLog>(
            takeLog(*store, bytes, *source, statement.map, around,
                    {statement.partly, 2, control.token(), [&](double share) { control.progress(share); }}));
    });
}

void LogArrival::cancel() {
    m_looking.cancel();
    m_bringing.cancel();
}

void LogArrival::finish() {
    if (!m_bringing.result()) return emit refused(m_bringing.error());
    const TakenLog &taken = **m_bringing.result();
    if (taken.stopped) return emit stopped();
    const std::string id = taken.summary.info.id;
    const LogOrigin made{m_file.filename().string(), m_session.now().toStdString(), m_statement.revision,
                         m_statement.content, m_statement.note};
    const bool added = m_session.perform(tr("Bring in %1").arg(QString::fromStdString(made.name)),
                                         [&](Job &job) { addLog(job, taken.summary, made); });
    if (!added) return emit refused({});
    if (preview()) {
        try {
            fs::create_directories(m_memory);
            saveMap(m_statement.map, remembranceOf(preview()->layout));
        } catch (const std::exception &) {
            // Not remembered: the log is in all the same.
        }
    }
    emit cameIn(id);
}

void LogArrival::saveMap(const ChannelMap &map, const fs::path &file) {
    replaceFile(file, channelMapToJson(map));
}

ChannelMap LogArrival::loadMap(const fs::path &file) {
    return channelMapFromJson(readFile(file));
}

} // namespace wheelwright
