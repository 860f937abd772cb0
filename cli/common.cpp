#include "cli/common.h"

#include "cli/tables.h"
#include "core/base/units.h"
#include "core/files/brief_file.h"
#include "core/files/project_file.h"
#include "core/model/variants.h"

namespace ivrant::cli {
namespace {

using model::Json;

std::string shortText(const Json& value) {
    if (value.is_null()) return "-";
    if (value.is_string()) return value.get<std::string>();
    if (value.is_boolean()) return value.get<bool>() ? "yes" : "no";
    if (value.is_number_float()) return base::formatNumber(value.get<double>(), 3);
    if (value.is_array() && value.size() == 2 && value[0].is_number()) return shortText(value[0]) + ".." + shortText(value[1]);
    if (value.is_array()) {
        std::string text;
        for (const auto& entry : value) text += (text.empty() ? "" : ", ") + shortText(entry);
        return text.empty() ? "-" : text;
    }
    if (value.is_object()) {
        std::string text;
        for (const auto& [key, inner] : value.items()) text += (text.empty() ? "" : ", ") + key + " " + shortText(inner);
        return text;
    }
    return value.dump();
}

} // namespace

int complain(const base::Error& error) {
    std::cerr << files::makeErrorJson(error).dump(-1, ' ', false, Json::error_handler_t::replace) << "\n";
    return kBadInput;
}

base::Error unknown(const std::string& what, const std::string& name) { return {"name.unknown", "there is no " + what + " '" + name + "' in this file", ""}; }

std::string formatJson(const Json& json) {
    std::string text;
    for (const auto& [key, value] : json.items()) {
        if (key == "ivrant" || key == "version") continue;
        const bool table = value.is_array() && !value.empty() && value[0].is_object();
        const bool block = value.is_array() && !value.empty() && value[0].is_string() && value[0].get_ref<const std::string&>().size() > 20;
        if (table) {
            std::vector<std::vector<std::string>> rows(1);
            for (const auto& [column, unused] : value[0].items()) rows[0].push_back(column);
            for (const auto& entry : value) {
                rows.emplace_back();
                for (const auto& column : rows[0]) rows.back().push_back(entry.contains(column) ? shortText(entry[column]) : "-");
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

void print(const Request& request, const Json& json) {
    if (request.json)
        std::cout << json.dump(2, ' ', false, Json::error_handler_t::replace) << "\n";
    else
        std::cout << formatJson(json);
}

base::Result<model::Project> loadRequested(const Request& request) {
    auto project = files::loadProject(request.file);
    if (!project) return project;
    if (request.variant) {
        int found = -1;
        for (std::size_t v = 0; v < project->variants.size(); ++v)
            if (project->variants[v].name == *request.variant || project->variants[v].id.text == *request.variant) found = static_cast<int>(v);
        if (found < 0) return unknown("variant", *request.variant);
        project.value() = model::takeVariant(*project, found);
    }
    if (!request.workshop.empty()) {
        auto measured = files::loadWorkshop(request.workshop);
        if (!measured) return measured.error();
        project.value().workshop = std::make_shared<const std::vector<model::Series>>(std::move(measured).value());
    }
    return project;
}

study::Wanted inRequestedPose(const Request& request, unsigned facts) {
    study::Wanted wanted;
    wanted.facts = facts;
    wanted.inPose = [name = request.pose](const model::NamedPose* named) {
        if (!name || *name == "present" || *name == "Present") return !named;
        return named && (named->id.text == *name || named->name == *name);
    };
    return wanted;
}

const study::PoseFacts* findPose(const verdict::Report& report, const std::optional<std::string>& name) {
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

} // namespace ivrant::cli
