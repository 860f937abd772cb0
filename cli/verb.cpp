// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/verb.h"

#include <CLI/CLI.hpp>
#include <filesystem>
#include <iostream>

#include "cli/tables.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/brief_file.h"
#include "core/files/project_file.h"
#include "core/files/supplies_csv.h"
#include "core/model/variants.h"

namespace ivrant::cli {
namespace {

using model::Json;

std::string shortText(const Json& value) {
    if (value.is_null()) return "-";
    if (value.is_string()) return value.get<std::string>();
    if (value.is_boolean()) return value.get<bool>() ? "yes" : "no";
    if (value.is_number_float()) return base::formatNumber(value.get<double>(), 3);
    if (value.is_array() && value.size() == 2 && value[0].is_number())
        return shortText(value[0]) + ".." + shortText(value[1]);
    if (value.is_array()) {
        std::string text;
        for (const auto& entry : value) text += (text.empty() ? "" : ", ") + shortText(entry);
        return text.empty() ? "-" : text;
    }
    if (value.is_object()) {
        std::string text;
        for (const auto& [key, inner] : value.items())
            text += (text.empty() ? "" : ", ") + key + " " + shortText(inner);
        return text;
    }
    return value.dump();
}

} // namespace

int complain(const base::Error& error) {
    std::cerr << files::makeErrorJson(error).dump(-1, ' ', false, Json::error_handler_t::replace) << "\n";
    return kBadInput;
}

base::Error unknown(const std::string& what, const std::string& name) {
    return {"name.unknown", "there is no " + what + " '" + name + "' in this file", ""};
}

std::string formatJson(const Json& json) {
    std::string text;
    for (const auto& [key, value] : json.items()) {
        if (key == "ivrant" || key == "version") continue;
        const bool table = value.is_array() && !value.empty() && value[0].is_object();
        const bool block = value.is_array() && !value.empty() && value[0].is_string() &&
                           value[0].get_ref<const std::string&>().size() > 20;
        if (table) {
            std::vector<std::vector<std::string>> rows(1);
            for (const auto& [column, unused] : value[0].items()) rows[0].push_back(column);
            for (const auto& entry : value) {
                rows.emplace_back();
                for (const auto& column : rows[0])
                    rows.back().push_back(entry.contains(column) ? shortText(entry[column]) : "-");
            }
            text += key + "\n" + formatTable(rows);
        } else if (block) {
            text += key + "\n";
            for (const auto& entry : value) text += shortText(entry) + "\n";
        } else {
            text += key + ": " + shortText(value) + "\n";
        }
    }
    return text;
}

void Verb::addOptions(CLI::App& sub) { sub.add_flag("--json", m_json, "print JSON"); }

void Verb::print(const Json& json) const {
    if (m_json)
        std::cout << json.dump(2, ' ', false, Json::error_handler_t::replace) << "\n";
    else
        std::cout << formatJson(json);
}

void ProjectVerb::addOptions(CLI::App& sub) {
    addFile(sub);
    sub.add_option("--variant", m_variant, "id or name of a variant to take instead of the one shown");
    sub.add_option("--workshop", m_workshop, "the workshop's library of measured kinds");
    Verb::addOptions(sub);
}

void ProjectVerb::addFile(CLI::App& sub) { sub.add_option("FILE", m_file, "project file (*.ivrant)")->required(); }

base::Result<model::Project> ProjectVerb::load(const std::string& file) const {
    auto project = files::loadProject(file);
    if (!project) return project;
    if (m_variant) {
        int found = -1;
        for (std::size_t v = 0; v < project->variants.size(); ++v)
            if (project->variants[v].name == *m_variant || project->variants[v].id.text == *m_variant)
                found = static_cast<int>(v);
        if (found < 0) return unknown("variant", *m_variant);
        project.value() = model::takeVariant(*project, found);
    }
    if (!project->making.stockFiles.empty() || !project->making.priceFiles.empty())
        project.value().supplies =
            files::loadSupplies(project->making, std::filesystem::path(file).parent_path().string());
    if (!m_workshop.empty()) {
        auto measured = files::loadWorkshop(m_workshop);
        if (!measured) return measured.error();
        project.value().workshop = std::make_shared<const std::vector<model::Series>>(std::move(measured).value());
    }
    return project;
}

std::string ProjectVerb::folder() const { return std::filesystem::path(m_file).parent_path().string(); }

void PoseVerb::addOptions(CLI::App& sub) {
    ProjectVerb::addOptions(sub);
    sub.add_option("--pose", m_pose, "id or name of a pose");
}

study::Wanted PoseVerb::inPose(unsigned facts) const {
    study::Wanted wanted;
    wanted.facts = facts;
    wanted.inPose = [name = m_pose](const model::NamedPose* named) {
        if (!name || *name == "present" || *name == "Present") return !named;
        return named && (named->id.text == *name || named->name == *name);
    };
    return wanted;
}

const study::PoseFacts* PoseVerb::findPose(const verdict::Report& report, const std::optional<std::string>& name) {
    if (!name || *name == "present" || *name == "Present") return &report.present;
    for (const auto& pose : report.poses)
        if (pose.name == *name || (pose.id && pose.id->text == *name)) return &pose;
    return nullptr;
}

int findJoint(const model::Project& project, const std::string& name) {
    for (std::size_t j = 0; j < project.joints.size(); ++j)
        if (project.joints[j].id.text == name || project.joints[j].name == name) return static_cast<int>(j);
    return -1;
}

int findSection(const model::Project& project, const std::string& name) {
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        if (project.sections[s]->id.text == name || project.sections[s]->name == name) return static_cast<int>(s);
    return -1;
}

int save(const std::string& path, std::string_view content) {
    const auto saved = files::writeFileAtomically(path, content);
    return saved ? 0 : complain(saved.error());
}

int save(const std::string& path, const model::Project& project) {
    if (!project.supplies) return save(path, files::writeProject(project));
    model::Project moved = project; // its tables stay where they are
    const auto folder = std::filesystem::absolute(path).parent_path().string();
    moved.making = files::moveTables(std::move(moved.making), project.supplies->folder, folder);
    return save(path, files::writeProject(moved));
}

std::string extensionOf(const std::string& path) {
    const auto dot = path.find_last_of("./");
    return dot == std::string::npos || path[dot] == '/' ? "" : path.substr(dot + 1);
}

} // namespace ivrant::cli
