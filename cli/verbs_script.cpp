// SPDX-License-Identifier: GPL-3.0-or-later
// Models from a text of commands, and back.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/verbs.h"
#include "core/files/atomic_file.h"
#include "core/files/project_file.h"
#include "core/script/script.h"
#include "core/script/script_export.h"

namespace ivrant::cli {
namespace {

class Build : public Verb {
public:
    Build() : Verb("build", "build a model from a text of commands") {}
    void addOptions(CLI::App& sub) override {
        sub.add_option("script", m_script, "text of commands, one a line")->required();
        sub.add_option("-o,--output", m_output, "model to write: OUT.ivrant")->required();
    }
    [[nodiscard]] int run() const override {
        const auto text = files::readFile(m_script, script::kMostBytes);
        if (!text) return complain(text.error());
        const auto project = script::runScript(*text);
        if (!project) return complain(project.error());
        if (const auto saved = files::saveProject(*project, m_output); !saved) return complain(saved.error());
        std::cout << m_output << ": " << project->partCount() << " parts in " << project->sections.size()
                  << (project->sections.size() == 1 ? " section\n" : " sections\n");
        return 0;
    }

private:
    std::string m_script, m_output;
};

class Script : public ProjectVerb {
public:
    Script() : ProjectVerb("script", "the model as a text of commands that build it") {}
    [[nodiscard]] int run() const override {
        const auto project = load();
        if (!project) return complain(project.error());
        std::cout << script::writeScript(*project);
        return 0;
    }
};

} // namespace

void addScriptVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Build>());
    verbs.push_back(std::make_unique<Script>());
}

} // namespace ivrant::cli
