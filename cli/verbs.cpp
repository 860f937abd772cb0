#include "cli/verbs.h"

#include <algorithm>

#include "cli/common.h"
#include "cli/parts_page.h"
#include "cli/tables.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/brief_file.h"
#include "core/files/mesh_files.h"
#include "core/files/mesh_import.h"
#include "core/files/own_json.h"
#include "core/files/parts_csv.h"
#include "core/files/project_file.h"
#include "core/files/results_json.h"
#include "core/files/results_pose.h"
#include "core/make/parts_list.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/verdict/asks/asks.h"
#include "print/guide.h"
#include "render/picture.h"

namespace ivrant::cli {
namespace {

constexpr int kFamilyWidth = 280, kFamilyHeight = 180; ///< pixels of a family's picture

int save(const std::string& path, const std::string& content) {
    if (auto saved = files::writeFileAtomically(path, content); !saved) return complain(saved.error());
    return 0;
}

std::string extensionOf(const std::string& path) {
    const auto dot = path.find_last_of("./");
    return dot == std::string::npos || path[dot] == '/' ? "" : path.substr(dot + 1);
}

} // namespace

namespace {

/// Verdicts on one file, with those of a shared brief among them.
int checkFile(const Request& request, const files::Brief& brief, bool named) {
    return withReport(request, [&](verdict::Report quick) {
        verdict::Report report = verdict::addBonds(std::move(quick));
        const auto results = verdict::measureAsks(report, brief.asks);
        for (auto& v : verdict::makeAskVerdicts(report, brief.asks, results, brief.name.empty() ? "brief" : brief.name))
            report.verdicts.push_back(std::move(v));
        verdict::sortWorstFirst(report.verdicts);
        if (request.json) {
            auto json = files::makeCheckJson(report);
            if (named) json["file"] = request.file;
            std::cout << json.dump(2, ' ', false, model::Json::error_handler_t::replace) << "\n";
        } else {
            std::cout << (named ? request.file + "\n" : "") << formatVerdicts(report, request.all);
        }
        return verdict::countStates(report.verdicts).fail > 0 ? 1 : 0;
    });
}

} // namespace

int runCheck(const Request& request) {
    files::Brief brief;
    if (!request.brief.empty()) {
        auto loaded = files::loadBrief(request.brief);
        if (!loaded) return complain(loaded.error());
        brief = std::move(loaded).value();
    }
    int worst = 0;
    for (const auto& file : request.files) {
        Request one = request;
        one.file = file;
        worst = std::max(worst, checkFile(one, brief, request.files.size() > 1));
    }
    return worst;
}

int runRange(const Request& request) {
    auto wanted = inRequestedPose(request, study::kRanges);
    if (request.joint) wanted.ofJoint = [name = *request.joint](const model::Joint& joint) { return joint.id.text == name || joint.name == name; };
    return withReport(request, wanted, [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        std::optional<model::JointId> only;
        if (request.joint) {
            for (const auto& joint : report.project->joints)
                if (joint.id.text == *request.joint || joint.name == *request.joint) only = joint.id;
            if (!only) return complain(unknown("joint", *request.joint));
        }
        if (request.json)
            print(request, files::makeRangeJson(report, *pose, only));
        else
            std::cout << formatRanges(report, *pose, only);
        return 0;
    });
}

int runHold(const Request& request) {
    study::Wanted worst;
    worst.facts = study::kWorst | study::kLoads;
    return withReport(request, request.worst ? worst : inRequestedPose(request, study::kLoads), [&](const verdict::Report& report) {
        if (request.worst) {
            if (request.json)
                print(request, files::makeWorstHoldJson(report));
            else
                std::cout << formatWorstLoads(report);
            return 0;
        }
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        if (request.json)
            print(request, files::makeHoldJson(report, *pose));
        else
            std::cout << formatLoads(report, *pose);
        return 0;
    });
}

int runParts(const Request& request) {
    auto project = loadRequested(request);
    if (!project) return complain(project.error());
    if (request.json) {
        print(request, files::makePartsJson(*project));
    } else if (request.csv) {
        std::cout << files::makePartsCsv(*project);
    } else {
        std::vector<std::vector<std::string>> rows{{"count", "shape", "colour", "each g"}};
        for (const auto& line : make::listParts(*project))
            rows.push_back({std::to_string(line.count), line.shape, parts::getColourName(line.colour), base::formatNumber(line.eachG, 2)});
        std::cout << formatTable(rows) << project->partCount() + model::countBoardParts(*project) << " parts\n";
    }
    return 0;
}

int runSteps(const Request& request) {
    auto project = loadRequested(request);
    if (!project) return complain(project.error());
    const auto tree = model::makeTree(*project).value();
    if (request.json) {
        print(request, files::makeStepsJson(*project, tree));
        return 0;
    }
    std::vector<std::vector<std::string>> rows{{"step", "section", "new parts"}};
    for (const auto& step : make::listSteps(*project, tree)) {
        std::string tray;
        for (const auto& line : step.tray)
            tray += (tray.empty() ? "" : ", ") + std::to_string(line.count) + "× " + line.shape + " " + parts::getColourName(line.colour);
        rows.push_back({std::to_string(step.number), project->sections[static_cast<std::size_t>(step.section)]->name, tray});
    }
    std::cout << formatTable(rows);
    return 0;
}

int runConvert(const Request& request) {
    return withReport(request, inRequestedPose(request, 0), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        const std::string kind = extensionOf(request.output);
        if (kind == "ivrant" || kind == "json") return save(request.output, files::writeProject(*report.project));
        if (kind == "stl") return save(request.output, files::makeStl(pose->placed));
        if (kind == "obj") return save(request.output, files::makeObj(pose->placed));
        if (kind == "csv") return save(request.output, files::makePartsCsv(*report.project));
        return complain({"output.kind", "cannot write '." + kind + "'; expected .ivrant, .stl, .obj or .csv", ""});
    });
}

int runGuide(const Request& request) {
    return withReport(request, [&](const verdict::Report& report) {
        const std::string kind = extensionOf(request.output);
        if (kind != "pdf" && kind != "html") return complain({"output.kind", "cannot write '." + kind + "'; expected .pdf or .html", ""});
        const auto done = kind == "pdf" ? print::writeGuidePdf(report, request.output) : print::writeGuideHtml(report, request.output);
        return done ? 0 : complain(done.error());
    });
}

int runRender(const Request& request) {
    return withReport(request, inRequestedPose(request, 0), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        render::PictureRequest picture;
        if (request.section) {
            for (std::size_t s = 0; s < report.project->sections.size(); ++s)
                if (report.project->sections[s]->id.text == *request.section || report.project->sections[s]->name == *request.section)
                    picture.onlySection = static_cast<int>(s);
            if (!picture.onlySection) return complain(unknown("section", *request.section));
        }
        const auto cross = request.size.find('x');
        const auto w = base::parseNumber(request.size.substr(0, cross)),
                   h = base::parseNumber(cross == std::string::npos ? "" : request.size.substr(cross + 1));
        if (!w || !h || *w < 16 || *w > 8192 || *h < 16 || *h > 8192) return complain({"render.size", "--size needs WIDTHxHEIGHT, each 16 to 8192", ""});
        picture.width = static_cast<int>(*w);
        picture.height = static_cast<int>(*h);
        const auto view = render::findView(request.view);
        if (!view) return complain({"render.view", "--view is corner, front, side, top or back", ""});
        picture.view = *view;
        if (extensionOf(request.output) != "png") return complain({"output.kind", "a picture is written as .png", ""});
        auto image = render::renderPicture(pose->placed, report.bonds, picture);
        if (!image) return complain(image.error());
        return save(request.output, render::encodePng(*image));
    });
}

int runOwn(const Request& request) {
    auto project = loadRequested(request);
    if (!project) return complain(project.error());
    auto import = files::getUsualImport(request.mesh);
    if (request.unitMm) import.mmPerUnit = *request.unitMm;
    import.yUp = import.yUp || request.yUp;
    auto shape = files::importOwnShape(request.mesh, import, request.name, request.massG);
    if (!shape) return complain(shape.error());
    if (!request.ports.empty()) {
        const auto text = files::readFile(request.ports, files::kMostMeshBytes);
        if (!text) return complain(text.error());
        auto ports = files::parseOwnPorts(*text);
        if (!ports) return complain(ports.error());
        shape = parts::changeOwnShape(**shape, request.massG, *ports);
        if (!shape) return complain(shape.error());
    }
    const auto next = model::putOwnShape(*project, *shape);
    if (!next) return complain(next.error());
    print(request, files::makeOwnShapeJson(**shape));
    return save(request.output, files::writeProject(*next));
}

int runFamilies(const Request& request) {
    if (!request.output.empty()) {
        auto renderer = render::Renderer::create();
        if (!renderer) return complain(renderer.error());
        for (const auto& family : parts::getFamilies()) {
            const auto image = render::drawPart(**renderer, parts::makeShape(family.name).value(), parts::findColour("fog"), kFamilyWidth, kFamilyHeight);
            if (const int code = save(request.output + "/" + pictureName(family), render::encodePng(image)); code != 0) return code;
        }
        return 0;
    }
    std::cout << formatPartsPage(request.markdown);
    return 0;
}

} // namespace ivrant::cli
