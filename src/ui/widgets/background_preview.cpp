// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/background_preview.h"

#include "ui/rich_text.h"

namespace wheelwright {

BackgroundPreview::BackgroundPreview(QObject *parent)
    : QObject(parent), m_work(WorkSignals::Length::lengthy) {
    connect(&m_work, &WorkSignals::finished, this, &BackgroundPreview::ready);
    connect(&m_work, &WorkSignals::stopped, this, &BackgroundPreview::ready);
}

void BackgroundPreview::forget() {
    const QSignalBlocker quiet(&m_work);
    m_work.forget();
}

void BackgroundPreview::cancel() {
    m_work.forget();
}

Preview BackgroundPreview::result() const {
    if (const Preview *preview = m_work.result()) return *preview;
    if (!m_work.error().isEmpty()) return {troubleHtml(m_work.error().toHtmlEscaped()), std::nullopt};
    return {tr("Not worked out."), std::nullopt};
}

void BackgroundPreview::start(std::uint64_t version, std::function<Preview()> work) {
    m_work.start(version, [work = std::move(work)](const WorkControl &) { return work(); });
}

} // namespace wheelwright
