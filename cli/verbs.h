// What does each verb of ivrant-cli do? Every function prints its result and returns the exit code:
// 0 fine, 1 some musts fail (check), 2 bad input or the output could not be written.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/verdict/stand/size_desk.h"

namespace ivrant::cli {

struct Request {
    std::string file;
    std::vector<std::string> files; ///< check takes several
    std::string output, brief, workshop;
    std::optional<std::string> joint, other, pose, section, variant;
    std::string mesh, name, ports, readings, quantity = "holding", kind, note, length;
    std::vector<std::string> pairs;
    std::string board, stock, standCase;
    std::vector<std::string> hands; ///< sections
    int step = 0, shell = 0;
    std::string pictures; ///< folder of layers
    std::string colours;  ///< picture laid over a mesh from the front
    bool plates = false, slopes = false, everyStep = false;
    double price = verdict::kUsualPrice, rate = verdict::kUsualPartsPerHour, tilt = 0;
    double tolerance = 2; ///< percent
    int stages = 4;
    bool worm = false, noWorm = false, holesOnly = false, atOffset = false;
    std::optional<double> real;
    double massG = 0;
    std::optional<double> unitMm;
    bool yUp = false;
    double firm = 0.5;
    int steps = 72, samples = 20'000;
    std::string view = "corner";
    std::string size = "1280x800";
    bool json = false, all = false, csv = false, worst = false, markdown = false;
};

int runCheck(const Request& request);
int runMap(const Request& request);
int runChain(const Request& request);
int runChoose(const Request& request);
int runClearance(const Request& request);
int runReach(const Request& request);
int runPath(const Request& request);
int runGaps(const Request& request);
int runCovers(const Request& request);
int runCompare(const Request& request);
int runMeasure(const Request& request);
int runScale(const Request& request);
int runOffset(const Request& request);
int runDrive(const Request& request);
int runStand(const Request& request);
int runLayers(const Request& request);
int runSupport(const Request& request);
int runFirm(const Request& request);
int runBallast(const Request& request);
int runHollow(const Request& request);
int runHidden(const Request& request);
int runRatio(const Request& request);
int runMeshes(const Request& request);
int runRange(const Request& request);
int runHold(const Request& request);
int runParts(const Request& request);
int runSteps(const Request& request);
int runConvert(const Request& request);
int runGuide(const Request& request);
int runRender(const Request& request);
int runOwn(const Request& request);
int runFamilies(const Request& request);

} // namespace ivrant::cli
