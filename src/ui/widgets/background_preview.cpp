// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/background_preview.h"

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
    Preview none;
    none.words.blocks.push_back(m_work.error().isEmpty()
                                    ? Sentence{MARKED("preview.none", "Not worked out.")}
                                    : Sentence{verbatim(m_work.error().toStdString()), Tone::trouble});
    return none;
}

void BackgroundPreview::start(std::uint64_t version, std::function<Preview()> work) {
    m_work.start(version, [work = std::move(work)](const WorkControl &) { return work(); });
}

} // namespace wheelwright
