// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/work.h"

#include <QScrollArea>

#include <string>
#include <vector>

class QLabel;
class QPushButton;

namespace wheelwright {

class PhotoStrip;
class RecordForm;
class ReportView;
class Session;

/// All that is known of the runs that are selected, to be looked at and put right: fuel and hardware, how and
/// in what air they were made, what was seen on plugs and oil, photos; and what each standard would make of
/// them, with its working.
class RunDetailsPage : public QScrollArea {
    Q_OBJECT
  public:
    explicit RunDetailsPage(Session &session, QWidget *parent = nullptr);
    void show(std::vector<std::string> ids);       ///< of runs
    QWidget *editor(const std::string &key) const; ///< nullptr without
    QString words() const;                         ///< of the corrections
    QString heading() const;
    PhotoStrip &photos() { return *m_photos; }
    void addPhotos(const QStringList &paths); ///< to every selected run

  private:
    void refresh();

    Session &m_session;
    std::vector<std::string> m_ids;
    QLabel *m_head;
    std::vector<RecordForm *> m_forms;
    ReportView *m_corrections;
    PhotoStrip *m_photos;
    QPushButton *m_add;
};

} // namespace wheelwright
