// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/completion.h"

#include "core/base/version.h"

#include <algorithm>
#include <iostream>
#include <string_view>

namespace wheelwright {
namespace {

// A flag takes no word.
bool takesWord(const CLI::Option &option) {
    return option.get_items_expected_max() > 0;
}

// "TEXT:{a4,letter}" of an option that takes one of some words: "a4 letter".
std::string wordsOf(const CLI::Option &option) {
    const std::string type = option.get_type_name();
    const std::size_t from = type.find('{'), to = type.find('}');
    if (from == std::string::npos || to == std::string::npos || to < from) return {};
    std::string words = type.substr(from + 1, to - from - 1);
    std::ranges::replace(words, ',', ' ');
    return words;
}

// Single quotes, since some words hold what a shell would take for its own.
std::string inQuotes(std::string_view text) {
    std::string out = "'";
    for (const char c : text)
        out += c == '\'' ? std::string(R"('\'')") : std::string(1, c);
    return out + "'";
}

// Lines of the script's cases, by the path of a subcommand.
struct Cases {
    std::string paths;       ///< a word that goes on with the path
    std::string takes;       ///< an option that the next word belongs to
    std::string subcommands; ///< what may follow a path
    std::string options;     ///< … where it begins with a dash
    std::string values;      ///< the words of an option
};

std::string caseOf(const std::string &path, const std::string &what) {
    return "    " + inQuotes(path) + ") " + what + " ;;\n";
}

// path: of the subcommand, a space before each of its words.
void add(const CLI::App &app, const std::string &path, Cases &out) {
    std::string subcommands, options;
    for (const CLI::App *sub : app.get_subcommands({})) {
        const std::string longer = path + " " + sub->get_name();
        subcommands += sub->get_name() + " ";
        out.paths += caseOf(longer, "path=" + inQuotes(longer));
        add(*sub, longer, out);
    }
    for (const CLI::Option *option : app.get_options())
        for (const std::string &name : option->get_lnames()) {
            options += "--" + name + " ";
            if (!takesWord(*option)) continue;
            out.takes += caseOf(path + " --" + name, "skip=1");
            if (const std::string words = wordsOf(*option); !words.empty())
                out.values += caseOf(path + " --" + name, "words=" + inQuotes(words));
        }
    if (!subcommands.empty()) out.subcommands += caseOf(path, "words=" + inQuotes(subcommands));
    out.options += caseOf(path, "words=" + inQuotes(options));
}

} // namespace

std::string bashCompletion(const CLI::App &app) {
    Cases cases;
    add(app, "", cases);
    std::string function = "_" + app.get_name();
    std::ranges::replace(function, '-', '_');
    return "# bash completion of " + app.get_name() + ", made by " + app.get_name() + " --bash-completion\n" +
           function + R"(() {
  local cur=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD-1]} path= words= skip= i word
  for ((i = 1; i < COMP_CWORD; i++)); do
    word=${COMP_WORDS[i]}
    if [[ $skip ]]; then skip=; continue; fi
    case "$path $word" in
)" + cases.paths +
           cases.takes + R"(    esac
  done
  if [[ $skip ]]; then
    case "$path $before" in
)" + cases.values +
           R"(    esac
  elif [[ $cur == -* ]]; then
    case "$path" in
)" + cases.options +
           R"(    esac
  else
    case "$path" in
)" + cases.subcommands +
           R"(    esac
  fi
  COMPREPLY=()
  [[ -z $words ]] || mapfile -t COMPREPLY < <(compgen -W "$words" -- "$cur")
}
complete -o default -F )" +
           function + " " + app.get_name() + "\n";
}

void addGeneralOptions(CLI::App &app) {
    app.set_version_flag("--version", app.get_name() + " " + std::string(version));
    app.set_help_all_flag("--help-all", "Print the help of every subcommand and quit");
    app.add_flag_callback(
           "--bash-completion",
           [&app] {
               std::cout << bashCompletion(app);
               throw CLI::Success();
           },
           "Print what bash needs to complete the words of this program and quit")
        ->trigger_on_parse();
}

} // namespace wheelwright
