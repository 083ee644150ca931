// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "store/job_store.h"

namespace SQLite {
class Database;
}

namespace wheelwright {

/// Takes the schema of an open job forward to options.version, all steps in one transaction. What is read and
/// found good gets its digests. Throws InputError naming the file where it is not what it was written as, or
/// no steps lead there; then nothing has changed.
void migrate(SQLite::Database &db, const std::filesystem::path &path, const JobStoreOptions &options);

} // namespace wheelwright
