// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_photos.h"

#include <algorithm>

namespace wheelwright {

std::vector<std::string> photoPaths(std::string_view lines) {
    constexpr std::string_view space = " \t\r";
    std::vector<std::string> out;
    while (!lines.empty()) {
        const std::size_t end = std::min(lines.find('\n'), lines.size());
        const std::string_view line = lines.substr(0, end);
        const std::size_t from = line.find_first_not_of(space);
        if (from != std::string_view::npos)
            out.emplace_back(line.substr(from, line.find_last_not_of(space) + 1 - from));
        lines.remove_prefix(std::min(end + 1, lines.size()));
    }
    return out;
}

std::vector<JobPhoto> photosOf(const Job &job) {
    std::vector<JobPhoto> out;
    const std::vector<std::string> chosen = photoPaths(job.handover.photos);
    const auto add = [&](const std::string &path, Phrase of) {
        if (std::ranges::find(out, path, &JobPhoto::path) == out.end())
            out.push_back({path, std::move(of), std::ranges::find(chosen, path) != chosen.end()});
    };
    for (const Run &r : job.runs.values())
        for (const std::string &path : photoPaths(r.photos))
            add(path, r.day.empty() ? Phrase{MARKED("photo.run", "Run {a}"), {}, {r.id}}
                                    : Phrase{MARKED("photo.run.day", "Run {a}, {b}"), {}, {r.id, r.day}});
    constexpr std::size_t day = 10; // of an ISO date with its time
    for (const TubeRecord &t : job.tubes)
        for (const std::string &path : photoPaths(t.photo))
            add(path,
                t.of.empty()
                    ? Phrase{MARKED("photo.tube", "Tube of the tank, {a}"), {}, {t.at.substr(0, day)}}
                    : Phrase{MARKED("photo.tube.lot", "Tube of {a}, {b}"), {}, {t.of, t.at.substr(0, day)}});
    for (const std::string &path : chosen)
        add(path, verbatim(path.substr(path.find_last_of('/') + 1)));
    return out;
}

void choosePhoto(Job &job, std::string_view path, bool along) {
    std::vector<std::string> chosen = photoPaths(job.handover.photos);
    if ((std::ranges::find(chosen, path) != chosen.end()) == along) return;
    if (along)
        chosen.emplace_back(path);
    else
        std::erase(chosen, path);
    job.handover.photos = withPhotos({}, chosen);
}

std::string withPhotos(std::string_view lines, const std::vector<std::string> &more) {
    std::vector<std::string> all = photoPaths(lines);
    for (const std::string &path : more)
        if (std::ranges::find(all, path) == all.end()) all.push_back(path);
    std::string out;
    for (const std::string &path : all)
        out += (out.empty() ? "" : "\n") + path;
    return out;
}

} // namespace wheelwright
