#include "ui/widgets/background_preview.h"

#include "core/base/error.h"
#include "ui/rich_text.h"

#include <QtConcurrentRun>

namespace wheelwright {

BackgroundPreview::BackgroundPreview(QObject *parent) : QObject(parent) {
    connect(&m_watcher, &QFutureWatcher<Preview>::finished, this, [this] {
        m_result = m_watcher.result();
        emit ready();
    });
}

void BackgroundPreview::forget() {
    m_result = {};
    m_watcher.setFuture(QFuture<Preview>());
}

// A watcher forgets the future that it had.
void BackgroundPreview::start(std::function<Preview()> work) {
    m_result = {};
    m_watcher.setFuture(QtConcurrent::run([work = std::move(work)] {
        try {
            return work();
        } catch (const InputError &e) {
            return Preview{troubleHtml(QString::fromUtf8(e.what()).toHtmlEscaped()), std::nullopt};
        }
    }));
}

} // namespace wheelwright
