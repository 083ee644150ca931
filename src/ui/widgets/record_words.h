// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job_schema.h"

#include <QString>

namespace wheelwright {

/// What a field of a record holds, as it is shown and edited: numbers in the shown unit, a choice by its
/// title, nothing where 0 says that nothing is stated. Not of flags.
QString shownContent(const RecordField &field, const FieldContent &content, const UnitChoice &units);

/// What somebody typed, as the content of a field; a choice by its title or the first letters of it. Not of
/// flags. Throws InputError naming the field.
FieldContent typedContent(const RecordList &list, const RecordField &field, const QString &typed,
                          const UnitChoice &units);

} // namespace wheelwright
