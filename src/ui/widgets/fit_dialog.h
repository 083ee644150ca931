// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QSize>

class QDialog;

namespace wheelwright {

/// Where the room is smaller than the dialog needs, its content gets scroll bars and the dialog the room.
/// Does nothing where it fits, or was fitted before.
void fitDialog(QDialog &dialog, QSize room);

} // namespace wheelwright
