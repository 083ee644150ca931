// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"

#include <QString>

class QPagedPaintDevice;
class QTextDocument;

namespace wheelwright {

/// Writes a report as rich text, in the theme's colours; links are anchors. What stood there is gone. The
/// title is left out: where it is shown, the window says what it is.
void writeReport(QTextDocument &document, const Report &report, const UnitChoice &units);

/// The same on the pages of a printer or a file.
void printReport(QPagedPaintDevice &pages, const Report &report, const UnitChoice &units);

/// Saves it as what the name ends in: .pdf (A4), .html, else plain text. Never over a job.
/// Throws InputError when it cannot be written.
void saveReport(const QString &path, const Report &report, const UnitChoice &units);

} // namespace wheelwright
