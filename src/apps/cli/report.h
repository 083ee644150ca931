#pragma once
#include "core/job/job.h"

#include <nlohmann/json_fwd.hpp>

#include <filesystem>
#include <string>

namespace wheelwright {

/// Prints the object: as JSON, or one "name value" line a member for people.
void print(const nlohmann::ordered_json &object, bool asJson);

/// A job from a job file, or from a JSON document when the name ends in .json. Never writes to it.
Job loadJob(const std::filesystem::path &path);

/// The whole file as text. Throws InputError when it cannot be read or is larger than `mostBytes`.
std::string readText(const std::filesystem::path &path);
/// Replaces the file in one step, or leaves it as it was and throws InputError.
void writeText(const std::filesystem::path &path, const std::string &text);

/// The time now, ISO 8601 in UTC.
std::string timestamp();

} // namespace wheelwright
