// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "pages/report_pages.h"
#include "session/work.h"
#include "ui/views/view.h"

#include <QBasicTimer>

#include <memory>
#include <vector>

class QComboBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace wheelwright {

class FieldForm;
class PageSheet;
class PhotoReader;
class PhotoStrip;
class Session;

/// What the owner and the next tuner take along, as it will be printed, and what there is to be said on it.
class HandoverView : public View {
    Q_OBJECT
  public:
    explicit HandoverView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;

    WorkSignals &work() { return m_work; }
    WorkSignals &saving() { return m_saving; }
    const std::vector<PageSheet *> &sheets() const { return m_pages; }
    PhotoStrip &photos() { return *m_photos; }
    const Report &report() const; ///< of what is shown; empty while it is worked out
    int pages() const { return static_cast<int>(m_pages.size()); }
    Paper paper() const;
    /// As what the name ends in, .pdf or .html, so that it can be checked later. Written beside the window's
    /// thread; what goes wrong is reported to the session.
    void saveTo(const QString &path);
    void stopSaving() { m_saving.cancel(); } ///< what has not been written yet will not be

  public slots:
    void save();
    void print();
    void copyCard() const; ///< the pour tables as plain text

  protected:
    void showEvent(QShowEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void timerEvent(QTimerEvent *event) override;
    int pageWidth() const; ///< what there is room for

  private:
    struct Made {
        WorkedReport report;
        Report card;
        std::string calibration;
        std::vector<PagePicture> pages;
    };
    struct Written {
        QString path; ///< empty: it went to a printer
        std::string bytes;
    };
    QWidget *makeSide();
    void refresh();
    void show();
    void showPhotos();
    void follow(const QString &link);
    void keepWritten();

    Session &m_session;
    FieldForm *m_form;
    PhotoStrip *m_photos;
    QLabel *m_noPhotos;
    QComboBox *m_paper;
    QPushButton *m_save, *m_print, *m_card;
    QLabel *m_words;
    QScrollArea *m_scroll;
    QVBoxLayout *m_column;
    std::vector<PageSheet *> m_pages;
    std::shared_ptr<PhotoReader> m_read; ///< of photos that go along
    QBasicTimer m_settled;               ///< of the window's size
    int m_drawnWidth = 0;                ///< of the pages that are shown or under way
    Work<Made> m_work;
    Work<Written> m_saving;
};

} // namespace wheelwright
