// Balance and bonds: does it stand, what is weakest, what falls?
#include <chrono>
#include <csignal>
#include <iostream>
#include <sstream>
#include <sys/resource.h>

#include "cli/common.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/layer_pictures.h"
#include "core/files/mesh_import.h"
#include "core/files/project_file.h"
#include "core/files/results_desk.h"
#include "core/files/results_stand.h"
#include "core/make/steps.h"
#include "core/model/mass.h"
#include "core/parts/palette.h"
#include "core/study/asked_tip.h"
#include "core/study/case_words.h"

namespace ivrant::cli {
namespace {

/// The cases that the request names; those of the pose when it names none.
base::Result<std::vector<stand::StandCase>> listCases(const Request& request, const verdict::Report& report, const study::PoseFacts& pose) {
    if (request.step > 0) return std::vector{study::makeHalfBuilt(report, request.step)};
    if (!request.hands.empty()) {
        std::vector<geometry::Vec3> places;
        for (const std::string& name : request.hands) {
            const int section = findSection(*report.project, name);
            if (section < 0) return unknown("section", name);
            places.push_back(model::calcMass(pose.placed, {section}).centre);
        }
        return std::vector{stand::makeCarried(std::move(places))};
    }
    auto cases = study::listStandCases(report, pose);
    if (request.standCase.empty()) return cases;
    std::erase_if(cases, [&](const stand::StandCase& c) { return c.key != request.standCase && c.name != request.standCase; });
    for (const model::OwnCase& own : report.project->cases)
        if (cases.empty() && (own.id.text == request.standCase || own.name == request.standCase)) return study::makeOwnCase(report, pose, own).error();
    if (cases.empty()) return unknown("case", request.standCase);
    return cases;
}

/// "2x4,2x2" as sizes of bricks.
base::Result<std::vector<std::array<int, 2>>> parseSizes(const std::string& text) {
    if (text.empty()) return stand::getUsualSizes();
    std::vector<std::array<int, 2>> sizes;
    std::istringstream stream(text);
    for (std::string size; std::getline(stream, size, ',');) {
        const auto cross = size.find('x');
        const auto a = base::parseNumber(size.substr(0, cross)), b = base::parseNumber(cross == std::string::npos ? "" : size.substr(cross + 1));
        if (!a || !b || *a < 1 || *b < *a || *b > 16 || *a != static_cast<int>(*a) || *b != static_cast<int>(*b))
            return base::Error{"layers.sizes", "'" + size + "' is no size of brick such as 2x4, the smaller number first", ""};
        sizes.push_back({static_cast<int>(*a), static_cast<int>(*b)});
    }
    return sizes;
}

int save(const std::string& path, const model::Project& project) {
    const auto saved = files::writeFileAtomically(path, files::writeProject(project));
    return saved ? 0 : complain(saved.error());
}

} // namespace

int runLayers(const Request& request) {
    const auto sizes = parseSizes(request.stock);
    if (!sizes) return complain(sizes.error());
    const int colour = request.kind.empty() ? 0 : parts::findColour(request.kind);
    if (colour < 0) return complain(unknown("colour", request.kind));
    verdict::DeskWish wish;
    wish.layers.shell = request.shell;
    wish.layers.sizes = *sizes;
    wish.layers.plates = request.plates;
    wish.layers.slopes = request.slopes;
    wish.pricePerPart = request.price;
    wish.partsPerHour = request.rate;
    if (!request.colours.empty()) {
        auto map = files::loadColourMap(request.colours);
        if (!map) return complain(map.error());
        wish.layers.colours = std::make_shared<const stand::ColourMap>(std::move(map).value());
    }
    std::vector<verdict::DeskRow> rows;
    const auto take = [&](base::Result<verdict::DeskRow> row) -> base::Status {
        if (!row) return row.error();
        rows.push_back(std::move(row).value());
        return {};
    };
    if (!request.pictures.empty()) {
        const auto paths = files::listLayerPictures(request.pictures);
        if (!paths) return complain(paths.error());
        const auto grid = files::loadLayerPictures(*paths);
        if (!grid) return complain(grid.error());
        if (auto st = take(verdict::calcDeskRow(*grid, wish)); !st) return complain(st.error());
    } else {
        if (request.mesh.empty() || request.pairs.empty()) return complain({"layers.source", "a mesh and heights are expected, or a folder of pictures", ""});
        auto import = files::getUsualImport(request.mesh);
        if (request.unitMm) import.mmPerUnit = *request.unitMm;
        import.yUp = import.yUp || request.yUp;
        const auto body = files::loadMesh(request.mesh, import);
        if (!body) return complain(body.error());
        for (const std::string& text : request.pairs) {
            const auto height = base::parseLengthMm(text, 1);
            if (!height) return complain(height.error());
            wish.layers.heightMm = *height;
            if (auto st = take(verdict::calcDeskRow(*body, wish)); !st) return complain(st.error());
        }
    }
    print(request, files::makeDeskJson(rows, wish));
    if (request.output.empty()) return 0;
    const auto statue = stand::makeStatue(request.name.empty() ? "Statue" : request.name, rows.front().size.layers, colour);
    return statue ? save(request.output, *statue) : complain(statue.error());
}

int runSupport(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive | study::kBonds), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        const auto design = study::calcSupports(report, *pose, request.tilt);
        if (!design) return complain(design.error());
        print(request, files::makeSupportJson(report, *pose, *design));
        if (design->spots.empty()) return 1;
        if (request.output.empty()) return 0;
        if (!design->spots.front().holds) return complain({"support.bonds", "no place for a post is one at which the bonds hold", ""});
        const auto kept = model::putSupport(*report.project, study::makeSupport(design->spots.front().spot.at));
        return kept ? save(request.output, *kept) : complain(kept.error());
    });
}

int runFirm(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        const auto firm = stand::proposeFirm(pose->placed, study::calcBondLimits(report), {});
        if (!firm) return complain(firm.error());
        print(request, files::makeFirmJson(*firm));
        if (firm->parts.empty()) return firm->holds ? 0 : 1;
        if (request.output.empty()) return 0;
        const auto firmer = model::addParts(*report.project, report.project->sections[static_cast<std::size_t>(firm->section)]->id, firm->parts);
        return firmer ? save(request.output, *firmer) : complain(firmer.error());
    });
}

int runHollow(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        const auto core = study::calcCore(report, *pose);
        if (!core) return complain(core.error());
        print(request, files::makeCoreJson(report, *core));
        if (core->leaveOut.empty()) return 1;
        if (request.output.empty()) return 0;
        const auto hollow = study::leaveOutCore(*report.project, core->leaveOut);
        return hollow ? save(request.output, *hollow) : complain(hollow.error());
    });
}

int runHidden(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive), [&](const verdict::Report& report) {
        const auto hidden = study::calcHidden(report);
        if (!hidden) return complain(hidden.error());
        print(request, files::makeHiddenJson(report, *hidden));
        return 0;
    });
}

namespace {

/// Builds the model up step by step; exit 1 at the first one after which something falls.
int runEveryStep(const Request& request, const verdict::Report& report, const study::PoseFacts& pose) {
    stand::EquilibriumRequest quick;
    quick.lambda = quick.use = false;
    auto json = files::makeHead("steps-stand");
    const auto steps = make::listSteps(*report.project, report.tree);
    json["steps"] = steps.size();
    json["first_falling"] = nullptr;
    json["falling"] = model::Json::array();
    for (std::size_t step = 1; step <= steps.size() && json["first_falling"].is_null(); ++step) {
        const auto solved = study::calcStandCase(report, pose, study::makeHalfBuilt(report, static_cast<int>(step)), quick);
        if (!solved || solved->equilibrium.stands) continue; // nothing with weight yet, or it stands
        json["first_falling"] = step;
        for (const int body : solved->equilibrium.falling)
            json["falling"].push_back(getPart(*report.project, solved->net.bodies[static_cast<std::size_t>(body)].spot).id.text);
    }
    print(request, json);
    return json["first_falling"].is_null() ? 0 : 1;
}

} // namespace

int runBallast(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive), [&](const verdict::Report& report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        const double wish = request.tilt > 0 ? request.tilt : study::getAskedTipDeg(*report.project);
        auto json = files::makeHead("ballast");
        json["pose"] = pose->name;
        json["wish_deg"] = files::rounded(wish);
        json["tips_deg"] = pose->tipping ? model::Json(files::rounded(pose->tipping->angleDeg)) : model::Json();
        json["sections"] = model::Json::array();
        std::vector<stand::Standing> standings;
        if (pose->tipping) standings.push_back({pose->placed, *pose->tipping});
        for (const stand::BallastProposal& ballast : study::listBallast(report, standings, wish)) {
            const auto& section = *report.project->sections[static_cast<std::size_t>(ballast.section)];
            json["sections"].push_back({{"section", section.id.text},
                                        {"name", section.name},
                                        {"mass_g", files::rounded(ballast.massG)},
                                        {"at_mm", files::pointJson(pose->placed.X_WS[static_cast<std::size_t>(ballast.section)] * ballast.at)}});
        }
        json["needed"] = !pose->tipping || pose->tipping->angleDeg < wish;
        print(request, json);
        return json["sections"].empty() ? 1 : 0;
    });
}

namespace {

base::Progress g_stop; ///< told by the signal that ends the verb: what is solved by then is kept

/// While it lives an interrupt stops the solving instead of the program.
class StopOnInterrupt {
public:
    StopOnInterrupt() : m_before(std::signal(SIGINT, [](int) { g_stop.stop(); })) {}
    StopOnInterrupt(const StopOnInterrupt&) = delete;
    StopOnInterrupt& operator=(const StopOnInterrupt&) = delete;
    ~StopOnInterrupt() { std::signal(SIGINT, m_before); }

private:
    void (*m_before)(int);
};

double memoryMb() {
    rusage usage{};
    ::getrusage(RUSAGE_SELF, &usage);
    return static_cast<double>(usage.ru_maxrss) / 1024;
}

} // namespace

int runStand(const Request& request) {
    return withReport(request, inRequestedPose(request, study::kDrive | study::kMoves), [&](verdict::Report report) {
        const auto* pose = findPose(report, request.pose);
        if (!pose) return complain(unknown("pose", *request.pose));
        if (request.everyStep) return runEveryStep(request, report, *pose);
        const StopOnInterrupt listening;
        const auto started = std::chrono::steady_clock::now();
        const auto seconds = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - started).count(); };
        std::vector<files::SolvedCase> solved;
        bool all = true, going = true;
        std::optional<base::Error> trouble;
        const auto solve = [&](const std::vector<stand::StandCase>& cases) {
            stand::EquilibriumRequest how;
            how.progress = &g_stop;
            auto results = study::calcStandCases(report, *pose, cases, how, [&](std::size_t, const base::Result<stand::CaseResult>& result) {
                if (!result && result.error().code != "stopped") trouble = result.error();
                if (!result) return going = false;
                all &= result->equilibrium.stands;
                if (!request.json) // told as soon as it is known
                    std::cout << result->name << ": " << study::describeOutcome(*result) << " (after " << base::formatNumber(seconds(), 1) << " s)"
                              << std::endl;
                return true;
            });
            for (std::size_t c = 0; c < cases.size(); ++c)
                if (results[c] && *results[c]) solved.push_back({cases[c], std::move(*results[c]).value()});
        };
        // At rest first, unless something else is asked for: the other usual cases need to know what is slender.
        const bool usual = request.standCase.empty() && request.hands.empty() && request.step == 0;
        if (usual && pose->tipping) solve({study::makeAtRest(report, *pose)});
        if (going && !report.structure) report.structure = study::calcStructure(report);
        auto cases = listCases(request, report, *pose);
        if (!cases) return complain(cases.error());
        if (usual) std::erase_if(cases.value(), [](const stand::StandCase& c) { return c.kind == stand::CaseKind::Standing; }); // known
        if (going) solve(*cases);
        if (trouble) return complain(*trouble);
        auto json = files::makeStandJson(report, *pose, solved);
        json["seconds"] = files::rounded(seconds());
        json["memory_mb"] = files::rounded(memoryMb());
        json["stopped"] = !going;
        print(request, json);
        return all && going ? 0 : 1;
    });
}

} // namespace ivrant::cli
