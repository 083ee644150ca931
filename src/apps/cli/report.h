// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/revision.h"
#include "formats/csv_reader.h"

#include <nlohmann/json_fwd.hpp>

#include <filesystem>
#include <string>

namespace wheelwright {

/// How sentences are written: in English and SI, since scripts read them; contents with the letter of the
/// alcohol of the job that was read last.
const UnitChoice &written();
void writeFor(const Job &job);

void to_json(nlohmann::ordered_json &to, const PhraseText &text);
void to_json(nlohmann::ordered_json &to, const Phrase &phrase);

/// What differs in a job: as it is written, in words, and of a table how many cells and where.
nlohmann::ordered_json toJson(const Job &job, const Difference &difference);

/// Prints the object: as JSON, or one "name value" line a member for people.
void print(const nlohmann::ordered_json &object, bool asJson);

/// A job from a JSON document; errors name the document and the place in it.
Job jobFromDocument(const std::string &name);

/// A job from a job file, or from a JSON document when the name ends in .json. Never writes to it.
Job loadJob(const std::filesystem::path &path);

/// A whole file as text, or all of standard input for "-". Throws InputError naming it when it cannot be
/// read, is no regular file, or is larger than 256 MiB.
std::string readText(const std::string &name);
/// The rows of a delimited text, from a file or from standard input, without holding more than them.
CsvText readRows(const std::string &name);
/// Text to a file, or to standard output for "-". See replaceFile().
void writeText(const std::string &name, const std::string &text);

/// The time now, ISO 8601 in UTC.
std::string timestamp();

} // namespace wheelwright
