// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/verify/injector_change.h"

#include <QDialog>

class QLineEdit;
class QPushButton;

namespace wheelwright {

class BackgroundPreview;
class ReportView;

class Session;

/// Other injectors: says what becomes of duty, the shortest pulse and the tables while it is typed, and does
/// it as one step of undo.
class InjectorChangeDialog : public QDialog {
    Q_OBJECT
  public:
    explicit InjectorChangeDialog(Session &session, QWidget *parent = nullptr);
    QString words() const;

  private:
    struct Entry {
        QLineEdit *edit;
        Dimension dimension;
        double NewInjectors::*member;
    };
    void addEntry(const QString &title, const char *name, Dimension dimension, double NewInjectors::*member,
                  double start);
    NewInjectors typed() const; ///< throws InputError
    void preview();
    void change();

    Session &m_session;
    std::vector<Entry> m_entries;
    ReportView *m_words;
    QPushButton *m_apply;
    BackgroundPreview *m_preview;
};

} // namespace wheelwright
