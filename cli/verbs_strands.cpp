// SPDX-License-Identifier: GPL-3.0-or-later
// Strings, bands and springs.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/results_lines.h"
#include "core/model/edits.h"
#include "core/script/line_command.h"
#include "core/verdict/pose/check_lines.h"
#include "core/verdict/report.h"

namespace ivrant::cli {
namespace {

class Strands : public ProjectVerb {
public:
    Strands()
        : ProjectVerb("strands", "strings, bands and springs: way, pull, what they do to their joint in every pose; "
                                 "exit 1 when one fails") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--add", m_add,
                       "a line as it is typed: 'string NAME from PART PORT through PART PORT to PART PORT …'; several")
            ->allow_extra_args(false);
        sub.add_option("--remove", m_remove, "a line, by name or id; several")->allow_extra_args(false);
        sub.add_option("--only", m_only, "this line alone, by name or id");
        sub.add_flag("--each", m_each, "print every place of the joints that they work, too");
        sub.add_flag("--csv", m_csv, "print the places of one line as CSV");
        sub.add_option("-o,--output", m_output, "OUT.ivrant with what was added or removed");
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        if (auto changed = change(*project); !changed)
            return complain(changed.error());
        else
            project.value() = std::move(changed).value();
        if (!m_output.empty()) return save(m_output, *project);
        if (project->lines.empty())
            return complain({"line.none", "the model has no string, band or spring: --add makes one", ""});
        study::Wanted wanted;
        wanted.facts = study::kLines | study::kLoads | study::kRanges | study::kAtRest;
        auto report = verdict::calcReport(std::make_shared<const model::Project>(*project), nullptr, wanted);
        if (report.lines.empty()) report.lines = study::calcStrands(report);
        if (m_only) {
            std::erase_if(report.lines, [&](const auto& study) {
                const model::Line& line = at(report.project->lines, study->index);
                return line.name != *m_only && line.id.text != *m_only;
            });
            if (report.lines.empty()) return complain(unknown("line", *m_only));
        }
        if (m_csv) {
            if (report.lines.size() != 1)
                return complain({"line.several", "that is of one line: --only NAME names it", ""});
            std::cout << files::makeLineCsv(report, *report.lines.front());
        } else {
            print(files::makeLinesJson(report, m_each));
        }
        verdict::VerdictList list;
        verdict::judgeLines(report, list);
        return std::any_of(list.all().begin(), list.all().end(),
                           [](const verdict::Verdict& v) { return v.state == verdict::State::Fail; });
    }

private:
    [[nodiscard]] model::EditResult change(model::Project project) const {
        for (const std::string& name : m_remove) {
            const auto found = std::find_if(project.lines.begin(), project.lines.end(), [&](const model::Line& line) {
                return line.name == name || line.id.text == name;
            });
            if (found == project.lines.end()) return unknown("line", name);
            auto next = model::removeLine(project, found->id);
            if (!next) return next;
            project = std::move(next).value();
        }
        for (const std::string& text : m_add) {
            auto line = script::parseLine(project, text);
            if (!line) return line.error();
            auto next = model::putLine(project, std::move(line).value());
            if (!next) return next;
            project = std::move(next).value();
        }
        return project;
    }

    std::vector<std::string> m_add, m_remove;
    std::optional<std::string> m_only;
    bool m_each = false, m_csv = false;
    std::string m_output;
};

} // namespace

void addStrandsVerb(Verbs& verbs) { verbs.push_back(std::make_unique<Strands>()); }

} // namespace ivrant::cli
