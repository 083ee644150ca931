// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <string_view>

namespace wheelwright {

struct Job;
struct JobChange;

/// A field or curve that somebody has stated: typed, imported, confirmed; or that a template has made up.
/// What has no statement is a default. No verdict rests on defaults and estimates.
struct Statement {
    std::string path;       ///< of the field or curve
    bool estimated = false; ///< made up by a template

    bool operator==(const Statement &) const = default;
};

/// How far a field or curve is known: said by somebody, made up by a template, or nothing but a default.
enum class Knowledge { stated, estimated, unknown };
Knowledge knowledgeOf(const Job &job, std::string_view path);
bool isStated(const Job &job, std::string_view path);
void state(Job &job, std::string_view path);
void estimate(Job &job, std::string_view path);
/// Of what has no statement, what is no default was said by somebody; where cells are a template's estimates,
/// the fields that it makes up are estimates too. Tables as believeTables().
void stateWhatDiffers(Job &job);
/// Flat tables as a new job has them become assumed, whoever wrote them down. One that is assumed as a whole
/// and is not flat is somebody's, who has written other numbers into the document of a new job.
void believeTables(Job &job);
/// What a change touches is stated by it, but for what the change itself has made an estimate.
void stateChanged(const Job &before, Job &after, const JobChange &change);

} // namespace wheelwright
