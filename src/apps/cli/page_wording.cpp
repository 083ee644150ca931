// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/page_wording.h"

#include "apps/cli/report.h"
#include "pages/language.h"

#include <string>
#include <vector>

namespace wheelwright {
namespace {

std::string &language() {
    static std::string code = allLanguages().front().code;
    return code;
}

} // namespace

void addLanguage(CLI::App *sub) {
    std::vector<std::string> codes;
    for (const Language &l : allLanguages())
        codes.emplace_back(l.code);
    sub->add_option("--language", language(), "Of the page; what scripts read stays English")
        ->check(CLI::IsMember(codes));
}

Wording pageWording() {
    return wordingIn(language(), written());
}

} // namespace wheelwright
