#include "apps/cli/report.h"

#include "core/error.h"
#include "formats/job_json.h"
#include "store/job_store.h"

#include <nlohmann/json.hpp>

#include <chrono>
#include <ctime>
#include <fstream>
#include <iostream>

#include <unistd.h>

namespace wheelwright {
namespace fs = std::filesystem;

void print(const nlohmann::ordered_json &object, bool asJson) {
    if (asJson) {
        std::cout << object.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace) << '\n';
        return;
    }
    for (const auto &[key, value] : object.items())
        std::cout << key << "  " << (value.is_string() ? value.get<std::string>() : value.dump()) << '\n';
}

std::string readText(const fs::path &path) {
    constexpr std::uintmax_t mostBytes = 256u << 20; // a job or a table is far smaller
    std::error_code problem;
    if (!fs::exists(path, problem)) throw InputError(path.string(), "a file", "no file of that name");
    if (!fs::is_regular_file(path, problem) && !fs::is_fifo(path, problem) &&
        !fs::is_character_file(path, problem))
        throw InputError(path.string(), "a file", "a folder");
    if (fs::is_regular_file(path, problem) && fs::file_size(path, problem) > mostBytes)
        throw InputError(path.string(), "at most 256 MiB",
                         std::to_string(fs::file_size(path, problem) >> 20) + " MiB");
    std::ifstream in(path, std::ios::binary);
    std::string text((std::istreambuf_iterator<char>(in)), {});
    if (!in && !in.eof()) throw InputError(path.string(), "a file that can be read", "one that cannot");
    return text;
}

void writeText(const fs::path &path, const std::string &text) {
    std::error_code problem;
    // A device or a pipe is written to, never replaced by a file.
    const bool special = fs::exists(path, problem) && !fs::is_regular_file(path, problem);
    const fs::path part = special ? path : fs::path(path.string() + ".part");
    std::ofstream out(part, std::ios::binary);
    out << text;
    out.close();
    if (!out) {
        if (!special) fs::remove(part, problem);
        throw InputError(path.string(), "a file that can be written", "one that cannot, or a full disk");
    }
    if (!special) fs::rename(part, path, problem);
    if (problem) throw InputError(path.string(), "a file that can be replaced", problem.message());
}

Job loadJob(const fs::path &path) {
    if (path.extension() == ".json") return jobFromJson(readText(path));
    JobStore::Options options;
    options.readOnly = true;
    return JobStore::open(path, options).read();
}

std::string timestamp() {
    const std::time_t now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    std::tm utc{};
    gmtime_r(&now, &utc);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &utc);
    return text;
}

} // namespace wheelwright
