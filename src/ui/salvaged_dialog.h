// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>
#include <QStringList>

namespace wheelwright {

/// What could not be read of a damaged job, line by line, to be read through and copied.
class SalvagedDialog : public QDialog {
    Q_OBJECT
  public:
    SalvagedDialog(const QStringList &lost, const QString &file, QWidget *parent = nullptr);
};

} // namespace wheelwright
