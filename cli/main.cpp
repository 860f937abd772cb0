// SPDX-License-Identifier: GPL-3.0-or-later
#include <CLI/CLI.hpp>
#include <cerrno>
#include <cstring>
#include <iostream>

#include "cli/safe_output.h"
#include "cli/verbs.h"
#include "core/files/results_json.h"
#include "core/files/usual_sizes_file.h"

using namespace ivrant;

int main(int argc, char** argv) {
    CLI::App app{"Ivrant on the command line: the same numbers as in the window.", "ivrant-cli"};
    app.set_version_flag("--version", "ivrant-cli " IVRANT_VERSION);
    app.require_subcommand(1);
    cli::Verbs verbs;
    for (const auto add :
         {cli::addCheckVerbs, cli::addPoseVerbs, cli::addMakeVerbs, cli::addAssemblyVerb, cli::addSupplyVerbs,
          cli::addOptionsVerb, cli::addModulesVerbs, cli::addMotionVerb, cli::addStrandsVerb, cli::addBriefVerbs,
          cli::addDriveVerbs, cli::addStandVerb, cli::addBalanceVerbs, cli::addScriptVerbs, cli::addShapeVerbs})
        add(verbs);
    const cli::Verb* chosen = nullptr;
    for (const auto& verb : verbs) {
        CLI::App* sub = app.add_subcommand(verb->name(), verb->about());
        verb->addOptions(*sub);
        sub->callback([&chosen, &verb] { chosen = verb.get(); });
    }

    const cli::SafeOutput out(std::cout, 1);
    const cli::SafeOutput errors(std::cerr, 2);
    int code = 2;
    try {
        app.parse(argc, argv);
        if (const auto sizes = files::loadOwnUsualSizes(); !sizes)
            std::cerr << files::makeErrorJson(sizes.error()).dump() << "\n"; // the built-in list counts
        code = chosen->run();
    } catch (const CLI::ParseError& e) {
        code = app.exit(e) == 0 ? 0 : 2;
    } catch (const std::exception& e) { // a broken precondition: say so instead of dying without a word
        std::cerr << files::makeErrorJson({"internal", e.what(), ""}).dump() << "\n";
    }
    if (!std::cout.flush()) {
        std::cerr << files::makeErrorJson(
                         {"output.write", std::string("the result could not be written: ") + std::strerror(errno), ""})
                         .dump()
                  << "\n";
        code = 2;
    }
    std::cerr.flush();
    return code;
}
