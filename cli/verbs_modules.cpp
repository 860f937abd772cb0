// SPDX-License-Identifier: GPL-3.0-or-later
// What lifts off, what is within reach, and how it all travels.
#include <CLI/CLI.hpp>
#include <iostream>

#include "cli/verbs.h"
#include "core/base/at.h"
#include "core/files/results_modules.h"
#include "core/model/edits.h"
#include "core/verdict/make/check_modules.h"
#include "core/verdict/report.h"

namespace ivrant::cli {
namespace {

std::vector<std::string> splitAt(const std::string& text, char sign) {
    std::vector<std::string> pieces(1);
    for (const char c : text)
        if (c == sign)
            pieces.emplace_back();
        else
            pieces.back() += c;
    return pieces;
}

/// What a module or reach is named and what it is of.
base::Result<std::pair<std::string, std::string>> splitName(const std::string& text, const char* form) {
    const auto equals = text.find('=');
    if (equals == std::string::npos || equals == 0 || equals + 1 == text.size())
        return base::Error{"module.form", std::string(form) + " is expected, found '" + text + "'", ""};
    return std::pair(text.substr(0, equals), text.substr(equals + 1));
}

class Modules : public ProjectVerb {
public:
    Modules()
        : ProjectVerb("modules",
                      "what lifts off by hand, with which force, and what is within reach; exit 1 when one is not") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--add", m_add,
                       "NAME=THINGS: a new module of parts (ids), sections or options (ids or names), "
                       "commas between; several")
            ->allow_extra_args(false);
        sub.add_option("--reach", m_reach,
                       "NAME=PART.SIDE: a finger must get there; sides are top, bottom, left, "
                       "right, front, back; several")
            ->allow_extra_args(false);
        sub.add_option("--plug", m_plug, "the same for a plug; several")->allow_extra_args(false);
        sub.add_option("--remove", m_remove, "a module or reach, by name or id; several")->allow_extra_args(false);
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
        study::Wanted wanted;
        wanted.facts = study::kModules | study::kAtRest | study::kDrive;
        auto report = verdict::calcReport(std::make_shared<const model::Project>(*project), nullptr, wanted);
        if (!report.modules) report.modules = study::calcModules(report); // of large models they come late
        print(files::makeModulesJson(report));
        verdict::VerdictList list;
        verdict::judgeModules(report, list);
        return std::any_of(list.all().begin(), list.all().end(),
                           [](const verdict::Verdict& v) { return v.state == verdict::State::Fail; });
    }

private:
    [[nodiscard]] model::EditResult change(model::Project project) const {
        const auto take = [&](model::EditResult next) -> base::Status {
            if (!next) return next.error();
            project = std::move(next).value();
            return {};
        };
        for (const std::string& name : m_remove)
            if (auto st = take(removeOne(project, name)); !st) return st.error();
        for (const std::string& text : m_add)
            if (auto st = take(addModule(project, text)); !st) return st.error();
        for (const std::string& text : m_reach)
            if (auto st = take(addReach(project, text, false)); !st) return st.error();
        for (const std::string& text : m_plug)
            if (auto st = take(addReach(project, text, true)); !st) return st.error();
        return project;
    }
    [[nodiscard]] static model::EditResult removeOne(const model::Project& project, const std::string& name) {
        for (const model::Module& one : project.modules.list)
            if (one.name == name || one.id.text == name) return model::removeModule(project, one.id);
        for (const model::Reach& one : project.modules.reaches)
            if (one.name == name || one.id.text == name) return model::removeReach(project, one.id);
        return unknown("module or reach", name);
    }
    [[nodiscard]] static model::EditResult addModule(const model::Project& project, const std::string& text) {
        const auto split = splitName(text, "NAME=THINGS");
        if (!split) return split.error();
        model::Module one;
        one.name = split->first;
        const model::PartIndex index(project);
        for (const std::string& thing : splitAt(split->second, ',')) {
            const auto named = [&](const auto& each) { return each.name == thing || each.id.text == thing; };
            const auto section = std::find_if(project.sections.begin(), project.sections.end(),
                                              [&](const auto& each) { return named(*each); });
            const auto option = std::find_if(project.options.list.begin(), project.options.list.end(), named);
            if (index.find({thing}).section >= 0)
                one.parts.push_back({thing});
            else if (section != project.sections.end())
                one.sections.push_back((*section)->id);
            else if (option != project.options.list.end())
                one.option = option->id;
            else
                return unknown("part, section or option", thing);
        }
        return model::putModule(project, std::move(one));
    }
    [[nodiscard]] static model::EditResult addReach(const model::Project& project, const std::string& text, bool plug) {
        const auto split = splitName(text, "NAME=PART.SIDE");
        if (!split) return split.error();
        model::Reach one;
        one.name = split->first;
        one.plug = plug;
        const auto dot = split->second.find('.');
        one.part.text = split->second.substr(0, dot);
        if (model::PartIndex(project).find(one.part).section < 0) return unknown("part", one.part.text);
        const std::string word = dot == std::string::npos ? "top" : split->second.substr(dot + 1);
        const auto side = model::findSide(word);
        if (!side) return base::Error{"module.side", "there is no side called '" + word + "'", split->second};
        one.side = *side;
        return model::putReach(project, std::move(one));
    }

    std::vector<std::string> m_add, m_reach, m_plug, m_remove;
    std::string m_output;
};

class Pack : public ProjectVerb {
public:
    Pack() : ProjectVerb("pack", "pieces, boxes, putting up and what to bring; exit 1 when a piece fits no box") {}
    void addOptions(CLI::App& sub) override {
        ProjectVerb::addOptions(sub);
        sub.add_option("--box", m_box, "inside of the largest box, mm: along, across, high")->expected(3);
        sub.add_option("--kg", m_kg, "that a box may weigh");
        sub.add_option("--foam", m_foam, "mm of foam round each piece");
        sub.add_option("--hours", m_hours, "that it is shown");
        sub.add_option("--running", m_running, "share of them that its motors run, 0 to 1");
        sub.add_flag("--csv", m_csv, "print CSV");
        sub.add_option("-o,--output", m_output, "OUT.ivrant with these wishes");
    }
    [[nodiscard]] int run() const override {
        auto project = load();
        if (!project) return complain(project.error());
        model::Packing packing = project->making.packing;
        if (m_box.size() == 3) std::copy(m_box.begin(), m_box.end(), packing.boxMm.begin());
        packing.mostKg = m_kg.value_or(packing.mostKg);
        packing.foamMm = m_foam.value_or(packing.foamMm);
        packing.showHours = m_hours.value_or(packing.showHours);
        packing.running = m_running.value_or(packing.running);
        auto set = model::setPacking(*project, packing);
        if (!set) return complain(set.error());
        if (!m_output.empty()) return save(m_output, *set);
        study::Wanted wanted;
        wanted.facts = study::kModules | study::kDrive;
        auto facts = study::calcFacts(std::make_shared<const model::Project>(std::move(set).value()), wanted);
        if (!facts.modules) facts.modules = study::calcModules(facts); // of large models they come late
        const auto plan = study::planPacking(facts);
        if (m_csv)
            std::cout << files::makePackingCsv(facts, plan);
        else
            print(files::makePackingJson(facts, plan));
        return plan.fits() ? 0 : 1;
    }

private:
    std::vector<double> m_box;
    std::optional<double> m_kg, m_foam, m_hours, m_running;
    bool m_csv = false;
    std::string m_output;
};

} // namespace

void addModulesVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Modules>());
    verbs.push_back(std::make_unique<Pack>());
}

} // namespace ivrant::cli
