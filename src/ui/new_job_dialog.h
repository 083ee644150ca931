// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/job/job.h"

#include <QDialog>

#include <vector>

class QCheckBox;
class QComboBox;
class QLineEdit;

namespace wheelwright {

class ReportView;
class Session;

/// What is known of an engine, for a first estimate of its tables; or flat tables to begin from.
class NewJobDialog : public QDialog {
    Q_OBJECT
  public:
    explicit NewJobDialog(const Session &session, QWidget *parent = nullptr);
    const Job &job() const { return m_job; } ///< after accept()

  private:
    void accept() override;

    const Session &m_session;
    QLineEdit *m_name;
    struct Entry {
        QLineEdit *edit;
        Dimension dimension;
        double *target;
    };
    std::vector<Entry> m_entries;
    QComboBox *m_charging;
    QComboBox *m_alcohol;
    QCheckBox *m_estimate;
    ReportView *m_words;
    double m_displacementL = 2, m_cylinders = 4, m_revLimitRpm = 7000, m_torquePeakRpm = 0, m_boostKpa = 100,
           m_baseContent = 0.1, m_topContent = 0.85, m_injectorCcMin = 550, m_compressionRatio = 9.5;
    Job m_job;
};

} // namespace wheelwright
