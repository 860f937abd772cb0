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
    cli::Request request;
    int (*chosen)(const cli::Request&) = nullptr;

    const auto verb = [&](const char* name, const char* about, int (*run)(const cli::Request&)) {
        CLI::App* sub = app.add_subcommand(name, about);
        if (run == cli::runCheck)
            sub->add_option("FILE", request.files, "project files (*.ivrant)")->required();
        else
            sub->add_option("FILE", request.file, "project file (*.ivrant)")->required();
        sub->add_option("--variant", request.variant, "id or name of a variant to take instead of the one shown");
        sub->add_option("--workshop", request.workshop, "the workshop's library of measured kinds");
        sub->add_flag("--json", request.json, "print JSON");
        sub->callback([&chosen, run] { chosen = run; });
        return sub;
    };
    const auto output = [&](CLI::App* sub, const char* about) { sub->add_option("-o,--output", request.output, about)->required(); };
    const auto pose = [&](CLI::App* sub) { sub->add_option("--pose", request.pose, "id or name of a pose"); };

    const auto joint = [&](CLI::App* sub) { sub->add_option("--joint", request.joint, "id or name of a joint"); };
    const auto other = [&](CLI::App* sub, const char* name, const char* about) { sub->add_option(name, request.other, about); };

    CLI::App* check = verb("check", "all verdicts, grouped; exit 1 when some fail", cli::runCheck);
    check->add_option("--brief", request.brief, "a brief shared by several models");
    check->add_flag("--all", request.all, "every single verdict below its group");
    CLI::App* range = verb("range", "free range of every joint, what stops it, clearance", cli::runRange);
    range->add_option("--joint", request.joint, "id or name of a joint");
    pose(range);
    CLI::App* hold = verb("hold", "what each joint must hold and can hold; how firmly the figure stands", cli::runHold);
    pose(hold);
    hold->add_flag("--worst", request.worst, "per joint the pose that asks most");
    CLI::App* map = verb("map", "which combinations of two joints are free", cli::runMap);
    joint(map);
    other(map, "--with", "id or name of the second joint");
    map->add_option("--steps", request.steps, "cells a side, 2 to 1000");
    pose(map);
    CLI::App* chain = verb("chain", "a run of joints: total bend, radius, play, how it sags, what to make firm first", cli::runChain);
    joint(chain);
    other(chain, "--to", "id or name of the joint at the other end");
    pose(chain);
    CLI::App* choose = verb("choose", "every kind of joint tried at one place", cli::runChoose);
    joint(choose);
    choose->add_option("--firm", request.firm, "preference: 0 smooth posing to 1 firm holding")->check(CLI::Range(0.0, 1.0));
    CLI::App* clearance = verb("clearance", "smallest gap over a full turn, and how far it may be off", cli::runClearance);
    joint(clearance);
    other(clearance, "--off", "id or name of a joint that may stand off its value");
    pose(clearance);
    CLI::App* reach = verb("reach", "where the tip of a section can get to", cli::runReach);
    reach->add_option("--section", request.section, "id or name of the section");
    reach->add_option("--samples", request.samples, "poses to try")->check(CLI::Range(1, 10'000'000));
    pose(reach);
    CLI::App* path = verb("path", "from one pose to another without collisions; a detour when the straight way is blocked", cli::runPath);
    pose(path);
    other(path, "--to", "id or name of the pose at the end");
    CLI::App* gaps = verb("gaps", "how much of a joint's mechanism shows, over its range", cli::runGaps);
    joint(gaps);
    pose(gaps);
    CLI::App* covers = verb("covers", "how much range the parts of a section cost", cli::runCovers);
    covers->add_option("--section", request.section, "id or name of the section");
    pose(covers);
    other(verb("compare", "what differs between two variants", cli::runCompare), "--with", "name of the other variant");
    verb("parts", "parts list", cli::runParts)->add_flag("--csv", request.csv, "print CSV");
    verb("steps", "steps in order of building", cli::runSteps);
    output(verb("guide", "the printed sheets as .pdf or .html", cli::runGuide), "OUT.pdf or OUT.html");
    CLI::App* render = verb("render", "a picture as .png", cli::runRender);
    output(render, "OUT.png");
    pose(render);
    render->add_option("--section", request.section, "id or name of the one section to draw");
    render->add_option("--size", request.size, "WIDTHxHEIGHT in pixels");
    render->add_option("--view", request.view, "corner, front, side, top or back");
    CLI::App* convert = verb("convert", "to .ivrant (tidied), .stl, .obj, or .csv (parts list)", cli::runConvert);
    output(convert, "OUT.ivrant, OUT.stl, OUT.obj or OUT.csv");
    pose(convert);
    CLI::App* measure = verb("measure", "take a series of readings in: statistics, and the project with it", cli::runMeasure);
    measure->add_option("--readings", request.readings, "CSV, one reading a line, moves in a second column")->required();
    measure->add_option("--quantity", request.quantity, "holding, pull-out, stud pull or stud shear");
    measure->add_option("--kind", request.kind, "joint kind tested: counts for all of its joints");
    joint(measure);
    measure->add_option("--note", request.note, "which parts, how old, how cold");
    output(measure, "OUT.ivrant");
    CLI::App* own = verb("own", "take a closed mesh in as an own shape of the project", cli::runOwn);
    own->add_option("--mesh", request.mesh, "mesh as .stl, .obj, .gltf, .glb or .ply")->required();
    own->add_option("--name", request.name, "name of the shape")->required();
    own->add_option("--mass", request.massG, "its mass in g")->required();
    own->add_option("--unit", request.unitMm, "mm for each unit of the file");
    own->add_flag("--y-up", request.yUp, "y points up in the file");
    own->add_option("--ports", request.ports, "JSON list of its ports");
    output(own, "OUT.ivrant");
    CLI::App* drive = verb("drive", "gear boards: freedom, ratios, senses, working points, selector table", cli::runDrive);
    drive->add_option("--board", request.board, "id or name of the one board to tell of");
    drive->add_option("-o,--output", request.output, "write a drawing of the board in true size here: OUT.svg");
    CLI::App* stand = verb("stand", "mass, centre, tip angles, λ, weakest bonds; exit 1 when a case does not hold", cli::runStand);
    pose(stand);
    stand->add_option("--case", request.standCase, "standing, slope, bump, knock, carry, or id or name of an own one; all without it");
    stand->add_option("--hand", request.hands, "carried by these sections, one hand each");
    stand->add_option("--step", request.step, "half-built at this step");
    stand->add_flag("--every-step", request.everyStep, "built up step by step, to the first at which something falls");
    CLI::App* hollow = verb("hollow", "what can be left out of the core; exit 1 when nothing can", cli::runHollow);
    pose(hollow);
    hollow->add_option("-o,--output", request.output, "write the project with the hollow variant here: OUT.ivrant");
    CLI::App* support = verb("support", "where a support on the base must touch and what it carries; exit 1 when nowhere", cli::runSupport);
    pose(support);
    support->add_option("--tilt", request.tilt, "tip angle asked with it, in degrees; the usual one without it")->check(CLI::Range(0.0, 45.0));
    support->add_option("-o,--output", request.output, "write the project with a post at the first of them here: OUT.ivrant");
    CLI::App* ballast = verb("ballast", "least weight in each section that brings the tip angle to what is asked; exit 1 when none does", cli::runBallast);
    pose(ballast);
    ballast->add_option("--tilt", request.tilt, "tip angle asked, in degrees; the usual one without it")->check(CLI::Range(0.0, 45.0));
    CLI::App* firm = verb("firm", "where parts inside a hollow model help its bonds most; exit 1 when nothing does", cli::runFirm);
    pose(firm);
    firm->add_option("-o,--output", request.output, "write the project with them here: OUT.ivrant");
    verb("hidden", "parts never seen from outside in any pose: any colour will do", cli::runHidden);
    CLI::App* layers = app.add_subcommand("layers", "bricks for a closed mesh or pictures of layers, at one or several heights");
    layers->add_option("HEIGHTS", request.pairs, "such as 480mm or 60s; several make a table of sizes");
    layers->add_option("--mesh", request.mesh, "closed mesh as .stl, .obj, .gltf, .glb or .ply");
    layers->add_option("--pictures", request.pictures, "instead: a folder with one PNG for each layer, from below");
    layers->add_option("--colours", request.colours, "a PNG laid over the mesh from the front: each cell takes the nearest colour");
    layers->add_flag("--plates", request.plates, "plates where a whole brick does not fit, for a finer surface");
    layers->add_flag("--slopes", request.slopes, "slopes where the top steps in");
    layers->add_option("--price", request.price, "of a part, in your own money")->check(CLI::NonNegativeNumber);
    layers->add_option("--rate", request.rate, "parts laid in an hour")->check(CLI::PositiveNumber);
    layers->add_option("--unit", request.unitMm, "mm for each unit of the file");
    layers->add_flag("--y-up", request.yUp, "y points up in the file");
    layers->add_option("--shell", request.shell, "cells left of its walls; solid without it")->check(CLI::Range(0, 100));
    layers->add_option("--sizes", request.stock, "bricks to use, such as 2x4,2x2; all usual ones without it");
    layers->add_option("--colour", request.kind, "of all bricks");
    layers->add_option("--name", request.name, "of the project");
    layers->add_option("-o,--output", request.output, "write the first height here: OUT.ivrant");
    layers->add_flag("--json", request.json, "print JSON");
    layers->callback([&chosen] { chosen = cli::runLayers; });
    CLI::App* families = app.add_subcommand("families", "every part family with its sizes and ports");
    families->add_flag("--markdown", request.markdown, "print as docs/parts.md has it");
    families->add_option("--pictures", request.output, "write a picture of each family into this folder instead");
    families->callback([&chosen] { chosen = cli::runFamilies; });

    CLI::App* scale = app.add_subcommand("scale", "scale of a model from pairs of lengths");
    scale->add_option("PAIRS", request.pairs, "REAL=MODEL each, such as 90=346mm")->required();
    scale->add_option("--real", request.real, "a real length to bring to the model");
    scale->add_flag("--json", request.json, "print JSON");
    scale->callback([&chosen] { chosen = cli::runScale; });
    CLI::App* ratio = app.add_subcommand("ratio", "trains for a wanted ratio; exit 1 when none comes near enough");
    ratio->add_option("RATIO", request.length, "turns out for turns in, such as 1:105 or 0.2; with a minus: reversed")->required();
    ratio->add_option("--tolerance", request.tolerance, "percent off, 2 when not given")->check(CLI::Range(0.0, 100.0));
    ratio->add_option("--stages", request.stages, "at most so many, 1 to 4");
    ratio->add_flag("--worm", request.worm, "must hold without power");
    ratio->add_flag("--no-worm", request.noWorm, "without a worm");
    ratio->add_flag("--holes", request.holesOnly, "whole holes only, no half pitches or plates");
    ratio->add_option("--stock", request.stock, "wheels at hand, such as 8:4,24:2,worm:1");
    ratio->add_flag("--json", request.json, "print JSON");
    ratio->callback([&chosen] { chosen = cli::runRatio; });
    CLI::App* meshes = app.add_subcommand("meshes", "where two wheels mesh; with --at, which wheels mesh at an offset");
    meshes->add_option("TWO", request.pairs, "two tooth counts, or two lengths such as 3s 1p")->required();
    meshes->add_flag("--at", request.atOffset, "the two are an offset");
    meshes->add_flag("--json", request.json, "print JSON");
    meshes->callback([&chosen] { chosen = cli::runMeshes; });
    CLI::App* offset = app.add_subcommand("offset", "ways to make an offset of half pitches, sideways plates and leaves");
    offset->add_option("LENGTH", request.length, "such as 5.6mm, 0.5s, 1p")->required();
    offset->add_flag("--json", request.json, "print JSON");
    offset->callback([&chosen] { chosen = cli::runOffset; });

    const cli::SafeOutput out(std::cout, 1);
    const cli::SafeOutput errors(std::cerr, 2);
    int code = 2;
    try {
        app.parse(argc, argv);
        if (const auto sizes = files::loadOwnUsualSizes(); !sizes) std::cerr << files::makeErrorJson(sizes.error()).dump() << "\n"; // the built-in list counts
        code = chosen(request);
    } catch (const CLI::ParseError& e) {
        code = app.exit(e) == 0 ? 0 : 2;
    } catch (const std::exception& e) { // a broken precondition: say so instead of dying without a word
        std::cerr << files::makeErrorJson({"internal", e.what(), ""}).dump() << "\n";
    }
    if (!std::cout.flush()) {
        std::cerr << files::makeErrorJson({"output.write", std::string("the result could not be written: ") + std::strerror(errno), ""}).dump() << "\n";
        code = 2;
    }
    std::cerr.flush();
    return code;
}
