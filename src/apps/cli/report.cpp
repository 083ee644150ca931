// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/report.h"

#include "apps/cli/layout.h"
#include "core/base/error.h"
#include "formats/job_json.h"
#include "store/file_bytes.h"
#include "store/job_store.h"

#include <nlohmann/json.hpp>

#include <array>
#include <chrono>
#include <cstdlib>
#include <ctime>
#include <fstream>
#include <iostream>

namespace wheelwright {
namespace fs = std::filesystem;

namespace {

UnitChoice &choice() {
    static UnitChoice units;
    return units;
}

} // namespace

const UnitChoice &written() {
    return choice();
}

void writeFor(const Job &job) {
    choice().methanol = job.alcohol == Alcohol::methanol;
}

void to_json(nlohmann::ordered_json &to, const PhraseText &text) {
    to = text.text;
}
void to_json(nlohmann::ordered_json &to, const Phrase &phrase) {
    to = format(phrase, written());
}

void print(const nlohmann::ordered_json &object, bool asJson) {
    if (asJson) {
        std::cout << object.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace) << '\n';
        return;
    }
    std::cout << laidOut(object);
}

std::string readText(const std::string &name) {
    if (name != "-") return readFile(name);
    std::string text;
    std::array<char, 65536> part;
    while (std::cin.read(part.data(), part.size()) || std::cin.gcount() > 0) {
        text.append(part.data(), static_cast<std::size_t>(std::cin.gcount()));
        if (text.size() > mostFileBytes)
            throw InputError("standard input", verbatim("at most 256 MiB"), "more");
    }
    return text;
}

CsvText readRows(const std::string &name) {
    try {
        if (name == "-") return readCsv(std::cin);
        requireReadable(name);
        std::ifstream file(name, std::ios::binary);
        return readCsv(file);
    } catch (const InputError &e) {
        if (e.where() == name) throw;
        throw InputError(name + " " + e.where(), e.expected(), e.found());
    }
}

void writeText(const std::string &name, const std::string &text) {
    if (name == "-")
        std::cout << text;
    else
        replaceFile(name, text);
}

Job jobFromDocument(const std::string &name) {
    const std::string text = readText(name);
    try {
        return jobFromJson(text);
    } catch (const InputError &e) {
        throw InputError(name + ", " + e.where(), e.expected(), e.found());
    }
}

Job loadJob(const fs::path &path) {
    JobStore::Options options;
    options.readOnly = true;
    Job job =
        path.extension() == ".json" ? jobFromDocument(path.string()) : JobStore::open(path, options).read();
    writeFor(job);
    return job;
}

std::string timestamp() {
    constexpr const char *format = "%Y-%m-%dT%H:%M:%SZ";
    const auto written = [&](const std::tm &moment) {
        char text[32];
        std::strftime(text, sizeof text, format, &moment);
        return std::string(text);
    };
    if (const char *stated = std::getenv("WHEELWRIGHT_NOW")) {
        std::tm parts{};
        // Written as it is read: moments are put in order by their text.
        const bool read = strptime(stated, format, &parts);
        timegm(&parts); // puts the 31st of February where it belongs
        if (!read || written(parts) != stated)
            throw InputError("WHEELWRIGHT_NOW",
                             MARKED("expected.a_time_such_as", "a time such as 2026-05-16T12:00:00Z"),
                             "'" + echoed(stated, 40) + "'");
        return stated;
    }
    const std::time_t now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    std::tm utc{};
    gmtime_r(&now, &utc);
    return written(utc);
}

} // namespace wheelwright
