// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/bundle_folder.h"

#include "core/base/error.h"
#include "store/file_bytes.h"

#include <algorithm>
#include <array>
#include <system_error>

#include <unistd.h>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

std::vector<fs::path> entriesOf(const fs::path &folder) {
    std::error_code error;
    std::vector<fs::path> out;
    for (const fs::directory_entry &e : fs::directory_iterator(folder, error))
        if (!e.is_symlink()) out.push_back(e.path());
    if (error)
        throw InputError(folder.string(), MARKED("expected.folder_read", "a folder that can be read"),
                         diskTrouble(error.value()));
    std::ranges::sort(out);
    return out;
}

bool isLogByName(const fs::path &file) {
    std::string end = file.extension().string();
    std::ranges::transform(end, end.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    constexpr std::array<std::string_view, 5> ends{".csv", ".txt", ".log", ".tsv", ".asc"};
    return std::ranges::find(ends, end) != ends.end();
}

void addBack(const fs::path &folder, std::vector<BundleFile> &out) {
    for (const fs::path &file : entriesOf(folder)) {
        if (fs::is_directory(file))
            addBack(file, out); // tables, as they were sent
        else if (file.filename() != bundleHeadName)
            out.push_back({file.filename().string(), readFile(file)});
    }
}

} // namespace

NewFolder::NewFolder(const fs::path &place, const std::vector<BundleFile> &files) : m_place(place) {
    std::error_code error;
    if (fs::exists(place, error) && !(fs::is_directory(place, error) && fs::is_empty(place, error)))
        throw InputError(place.string(), MARKED("expected.new_folder", "a new or an empty folder"),
                         MARKED("found.folder_taken", "something is there already"));
    m_part = place;
    m_part += ".part" + std::to_string(::getpid());
    try {
        for (const BundleFile &f : files) {
            const fs::path at = m_part / f.name;
            fs::create_directories(at.parent_path(), error);
            if (error)
                throw InputError(place.string(),
                                 MARKED("expected.folder_write", "a folder that can be written to"),
                                 diskTrouble(error.value()));
            replaceFile(at, f.bytes);
        }
    } catch (...) {
        fs::remove_all(m_part, error);
        throw;
    }
}

NewFolder::~NewFolder() {
    std::error_code error;
    if (!m_part.empty()) fs::remove_all(m_part, error);
}

void NewFolder::keep() {
    std::error_code error;
    fs::rename(m_part, m_place, error); // an empty folder gives way
    if (error)
        throw InputError(m_place.string(), MARKED("expected.new_folder", "a new or an empty folder"),
                         diskTrouble(error.value()));
    m_part.clear();
}

ReturnedFolder readReturnedFolder(const fs::path &folder) {
    constexpr std::array ours{bundleSettingsName, bundleReadMeName, bundleMessageName,
                              std::string_view("calibration.json")};
    ReturnedFolder out;
    for (const fs::path &entry : entriesOf(folder)) {
        const std::string name = entry.filename().string();
        if (fs::is_directory(entry)) {
            if (name == bundleBackFolder)
                addBack(entry, out.back);
            else if (name != bundleTablesFolder)
                out.leftAlone.push_back(name);
        } else if (name == bundleHeadName) {
            out.head = readFile(entry);
        } else if (std::ranges::find(ours, name) == ours.end()) {
            if (isLogByName(entry))
                out.logs.push_back(entry);
            else
                out.leftAlone.push_back(name);
        }
    }
    return out;
}

} // namespace wheelwright
