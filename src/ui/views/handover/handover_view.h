// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"
#include "pages/report_pages.h"
#include "session/work.h"
#include "ui/views/view.h"

#include <QImage>

#include <vector>

class QComboBox;
class QLabel;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace wheelwright {

class FieldForm;
class Session;

/// What the owner and the next tuner take along, as it will be printed, and what there is to be said on it.
class HandoverView : public View {
    Q_OBJECT
  public:
    explicit HandoverView(Session &session, QWidget *parent = nullptr);
    bool showInput(const QString &link) override;

    WorkSignals &work() { return m_work; }
    const Report &report() const; ///< of what is shown; empty while it is worked out
    int pages() const { return static_cast<int>(m_pages.size()); }
    Paper paper() const;
    /// As what the name ends in, .pdf or .html, so that it can be checked later. Throws InputError.
    void saveTo(const QString &path) const;

  public slots:
    void save();
    void print();
    void copyCard() const; ///< the pour tables as plain text

  protected:
    void showEvent(QShowEvent *event) override;

  private:
    struct Made {
        Report report, card;
        std::string calibration;
        std::vector<QImage> pages;
    };
    QWidget *makeSide();
    void refresh();
    void show();

    Session &m_session;
    FieldForm *m_form;
    QComboBox *m_paper;
    QPushButton *m_save, *m_print, *m_card;
    QLabel *m_words;
    QScrollArea *m_scroll;
    QVBoxLayout *m_column;
    std::vector<QLabel *> m_pages;
    Work<Made> m_work;
};

} // namespace wheelwright
