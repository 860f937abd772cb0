// SPDX-License-Identifier: GPL-3.0-or-later
// What would mend a verdict on the gear boards? Wheels moved to where they mesh, other tooth counts, another motor, a
// worm.
#include <algorithm>
#include <cmath>
#include <memory>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_view.h"
#include "core/drive/plane_parts.h"
#include "core/drive/ratio_search.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/study/drive_inputs.h"
#include "core/verdict/drive/check_drive.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

const model::Gear* findGear(const model::Project& project, const std::string& id, const model::Board** onBoard) {
    for (const auto& board : project.boards)
        for (const model::Gear& gear : board->gears)
            if (gear.id.text == id) {
                *onBoard = board.get();
                return &gear;
            }
    return nullptr;
}
const model::Shaft* findShaft(const model::Board& board, const model::ShaftId& id) {
    const auto found =
        std::find_if(board.shafts.begin(), board.shafts.end(), [&](const model::Shaft& s) { return s.id == id; });
    return found == board.shafts.end() ? nullptr : &*found;
}

/// Another tooth count for a wheel, on a board or a part.
model::EditResult setTeeth(const model::Project& project, const std::string& id, int teeth) {
    const model::Board* board = nullptr;
    if (const model::Gear* gear = findGear(project, id, &board)) {
        model::Gear changed = *gear;
        changed.teeth = teeth;
        return model::putGear(project, board->id, changed);
    }
    const model::PartId part{id};
    const model::PartSpot spot = model::PartIndex(project).find(part);
    if (spot.section < 0) return base::Error{"edit.missing", "there is no such wheel", id};
    const parts::Shape& old = *model::getPart(project, spot).shape;
    model::Gear wheel;
    wheel.kind = old.rings.front().kind;
    wheel.teeth = teeth;
    wheel.loose = old.findPort("hole+") >= 0;
    const auto shape = parts::makeShape(model::getWheelShape(wheel));
    if (!shape) return shape.error();
    return model::exchangeShape(project, {&part, 1}, *shape);
}

/// Another motor, its output where that of the one before was.
model::EditResult setMotor(const model::Project& project, const std::string& id, const std::string& line) {
    const model::PartId part{id};
    const model::PartSpot spot = model::PartIndex(project).find(part);
    const auto shape = parts::makeShape(line);
    if (spot.section < 0 || !shape) return base::Error{"edit.missing", "there is no such motor", id};
    const model::Part& old = model::getPart(project, spot);
    const int from = old.shape->findPort("drive"), to = (*shape)->findPort("drive");
    if (from < 0 || to < 0) return base::Error{"edit.missing", "it has no output", id};
    const geometry::Vec3 by =
        old.place.frame().linear() * (at(old.shape->ports, from).origin - at((*shape)->ports, to).origin);
    const auto moved = model::moveParts(project, {&part, 1}, geometry::makeFrame(geometry::Mat3::Identity(), by));
    return moved ? model::exchangeShape(*moved, {&part, 1}, *shape) : moved;
}

std::string inPitches(std::int64_t um) {
    return formatNumber(static_cast<double>(um) / static_cast<double>(base::kPitchUm), 2);
}

/// Two wheels in the plane of one board: things of it, or parts of its section.
struct SeenPair {
    const model::Board* board = nullptr;
    drive::PlaneParts parts;
    const model::Gear *a = nullptr, *b = nullptr;
    const model::Shaft *shaftA = nullptr, *shaftB = nullptr;
};
std::unique_ptr<SeenPair> findPair(const model::Project& project, const std::string& a, const std::string& b) {
    auto pair = std::make_unique<SeenPair>();
    const model::Board *boardA = nullptr, *boardB = nullptr;
    pair->a = findGear(project, a, &boardA);
    pair->b = findGear(project, b, &boardB);
    if (pair->a && pair->b) {
        if (boardA != boardB) return nullptr;
        pair->board = boardA;
        pair->shaftA = findShaft(*boardA, pair->a->shaft);
        pair->shaftB = findShaft(*boardB, pair->b->shaft);
        return pair;
    }
    for (const auto& board : project.boards) {
        pair->parts = drive::listPlaneParts(project, *board);
        pair->a = pair->parts.findGear(a);
        pair->b = pair->parts.findGear(b);
        if (!pair->a || !pair->b) continue;
        pair->board = board.get();
        pair->shaftA = pair->parts.findShaft(pair->a->shaft.text);
        pair->shaftB = pair->parts.findShaft(pair->b->shaft.text);
        return pair;
    }
    return nullptr;
}

/// The second wheel's shaft moved to the nearest grid places where the pair meshes.
void addMoves(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto pair = findPair(*report.project, verdict.place.things[0], verdict.place.things[1]);
    if (!pair || pair->a->kind == model::GearKind::Rack || pair->b->kind == model::GearKind::Rack) return;
    const model::Gear *a = pair->a, *b = pair->b;
    const model::Shaft *shaftA = pair->shaftA, *shaftB = pair->shaftB;
    if (!shaftA || !shaftB || shaftA->axis != model::BoardAxis::Out || shaftB->axis != model::BoardAxis::Out) return;
    const bool inside = a->kind == model::GearKind::Ring || b->kind == model::GearKind::Ring;
    const double right =
        inside ? std::abs(drive::calcInsideMm(a->teeth, b->teeth)) : drive::calcOutsideMm(a->teeth, b->teeth);
    const std::int64_t dx = shaftB->atUm[0] - shaftA->atUm[0], dy = shaftB->atUm[1] - shaftA->atUm[1];
    for (const auto& fit : drive::listNearestFits(right, dx, dy, 3)) {
        const std::array<std::int64_t, 3> by{fit.dxUm - dx, fit.dyUm - dy, 0};
        const std::string error =
            std::abs(fit.errorMm) < 0.005 ? "fits exactly" : "off by " + formatNumber(fit.errorMm, 2) + " mm";
        mends.push_back({"move the " + std::to_string(b->teeth) + " to (" + inPitches(shaftA->atUm[0] + fit.dxUm) +
                             ", " + inPitches(shaftA->atUm[1] + fit.dyUm) + "): " + error + ", in " +
                             drive::getGridStepName(fit.step),
                         [board = pair->board->id, ids = drive::listWithParts(report.drive->net, {shaftB->id.text}),
                          by](const model::Project& p) { return model::moveSeen(p, board, ids, by); }});
    }
}

/// Two holes for a shaft: walls at its ends where it stands in a hole, else bearings of its own.
void addHoles(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    for (const auto& board : report.project->boards)
        for (const model::Shaft& shaft : board->shafts) {
            if (shaft.id.text != verdict.place.things[0]) continue;
            const bool inHole = shaft.axis == model::BoardAxis::Out &&
                                drive::findGridStep(std::abs(shaft.atUm[0]), std::abs(shaft.atUm[1]));
            if (inHole) {
                std::vector<std::int64_t> walls = board->wallsUm;
                for (const std::int64_t end : {shaft.atUm[2], shaft.atUm[2] + shaft.lengthUm})
                    if (std::find(walls.begin(), walls.end(), end) == walls.end()) walls.push_back(end);
                mends.push_back({"add walls with holes at its ends", [id = board->id, walls](const model::Project& p) {
                                     return model::setWalls(p, id, walls);
                                 }});
            }
            model::Shaft carried = shaft;
            carried.bearingsUm = {0, shaft.lengthUm};
            mends.push_back({"carry it at both ends", [id = board->id, carried](const model::Project& p) {
                                 return model::putShaft(p, id, carried);
                             }});
        }
}

/// Other tooth counts that mesh where the two shafts are.
void addCounts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto& net = report.drive->net;
    const int a = net.findRing(verdict.place.things[0]), b = net.findRing(verdict.place.things[1]);
    if (a < 0 || b < 0) return;
    const auto &ga = at(net.rings, a), &gb = at(net.rings, b);
    if (ga.kind != model::GearKind::Spur || gb.kind != model::GearKind::Spur || std::abs(ga.axis.dot(gb.axis)) < 0.9999)
        return;
    const geometry::Vec3 offset = gb.centre - ga.centre;
    const double distance = (offset - offset.dot(ga.axis) * ga.axis).norm();
    int offered = 0;
    for (int teeth : drive::getSpurTeeth()) {
        const double error = distance - drive::calcOutsideMm(ga.teeth, teeth);
        if (teeth == gb.teeth || drive::judgeFit(error) != drive::Fit::Meshes || ++offered > 2) continue;
        mends.push_back({"use " + std::to_string(teeth) + " instead of " + std::to_string(gb.teeth),
                         [id = gb.id, teeth](const model::Project& p) { return setTeeth(p, id, teeth); }});
    }
}

/// How well a function does what a verdict is about, in the worst of all settings of the selectors in which a motor
/// moves it: more is better; 0 when none does or it stalls.
double calcQuality(const drive::DriveReport& drive, const Verdict& verdict) {
    double least = 1e300;
    for (const drive::PositionState* position : drive.listStates())
        for (const auto& state : position->functions) {
            if (state.function->id.text != verdict.place.things[0] || state.motors.empty() || state.loose) continue;
            double quality = state.travelS ? 1 / *state.travelS : 0;
            if (verdict.check == "self-hold") quality = state.holds && state.speed > 0 ? 1 : 0;
            if (verdict.check == "motor-pull") quality = state.margin.value_or(0);
            if (verdict.check == "speed") quality = state.speed;
            least = std::min(least, quality);
        }
    return least < 1e300 ? least : 0;
}

/// What functions are asked for and do not do, over all settings: driven, pulled, in time, fast enough, held.
int countUnmet(const drive::DriveReport& drive) {
    int unmet = 0;
    std::vector<char> driven(drive.positions.front().functions.size(), 0);
    for (const drive::PositionState* position : drive.listStates())
        for (std::size_t f = 0; f < position->functions.size(); ++f) {
            const auto& state = position->functions[f];
            const model::DriveFunction& asked = *state.function;
            unmet += asked.mustHold && !state.holds ? 1 : 0;
            if (state.motors.empty() || state.loose) continue;
            driven[f] = 1;
            unmet += state.margin && *state.margin < 1 ? 1 : 0;
            unmet += asked.withinS && !(state.travelS && *state.travelS <= *asked.withinS) ? 1 : 0;
            unmet += asked.wantedRpm && state.speed < *asked.wantedRpm ? 1 : 0;
        }
    return unmet + static_cast<int>(std::count(driven.begin(), driven.end(), 0));
}

/// Pairs of other teeth with the same sum, which keep their distance.
void addPairs(const Report& report, std::vector<Mend>& offers) {
    const auto& net = report.drive->net;
    const auto& teeth = drive::getSpurTeeth();
    for (const auto& relation : net.relations) {
        if (relation.kind != drive::RelationKind::Mesh || drive::judgeFit(relation.errorMm) != drive::Fit::Meshes)
            continue;
        const auto &ga = at(net.rings, net.findRing(relation.ids[0])),
                   &gb = at(net.rings, net.findRing(relation.ids[1]));
        if (ga.kind != model::GearKind::Spur || gb.kind != model::GearKind::Spur) continue;
        for (const int za : teeth) {
            const int zb = ga.teeth + gb.teeth - za;
            if (za == ga.teeth || std::find(teeth.begin(), teeth.end(), zb) == teeth.end()) continue;
            offers.push_back({std::to_string(za) + " and " + std::to_string(zb) + " instead of " +
                                  std::to_string(ga.teeth) + " and " + std::to_string(gb.teeth),
                              [a = ga.id, b = gb.id, za, zb](const model::Project& p) -> model::EditResult {
                                  auto next = setTeeth(p, a, za);
                                  return next ? setTeeth(*next, b, zb) : next;
                              }});
        }
    }
}

/// Another motor in the place of each.
void addMotors(const Report& report, std::vector<Mend>& offers) {
    for (const auto& board : report.project->boards)
        for (const model::DriveMotor& motor : board->motors)
            for (const drive::MotorLine& line : drive::getStartingMotors()) {
                if (line.name == motor.line || line.byHand) continue;
                model::DriveMotor changed = motor;
                changed.line = line.name;
                offers.push_back(
                    {"use " + line.name + " for " + motor.name,
                     [id = board->id, changed](const model::Project& p) { return model::putMotor(p, id, changed); }});
            }
    for (const drive::PartMotor& motor : report.drive->net.motors)
        for (const drive::MotorLine& line : drive::getStartingMotors())
            if (line.name != motor.line && !line.byHand)
                offers.push_back(
                    {"use " + line.name + " for " + motor.name,
                     [id = motor.id, name = line.name](const model::Project& p) { return setMotor(p, id, name); }});
}

/// A motor's shaft turned across, with a worm in the place of its only wheel: on each side of the wheel that it drives.
void addWorms(const Report& report, std::vector<Mend>& offers) {
    const auto& net = report.drive->net;
    for (const auto& relation : net.relations) {
        if (relation.kind != drive::RelationKind::Mesh || relation.ids.size() < 2) continue;
        for (const auto& [drivingId, drivenId] :
             {std::pair(relation.ids[0], relation.ids[1]), std::pair(relation.ids[1], relation.ids[0])}) {
            const model::Board *board = nullptr, *other = nullptr;
            const model::Gear *driving = findGear(*report.project, drivingId, &board),
                              *driven = findGear(*report.project, drivenId, &other);
            if (!driving || !driven || board != other || driving->kind != model::GearKind::Spur ||
                driven->kind != model::GearKind::Spur)
                continue;
            const model::Shaft *from = findShaft(*board, driving->shaft), *to = findShaft(*board, driven->shaft);
            if (!from || !to || from->axis != model::BoardAxis::Out || to->axis != model::BoardAxis::Out ||
                driving->loose)
                continue;
            const bool hasMotor = std::any_of(board->motors.begin(), board->motors.end(),
                                              [&](const auto& m) { return m.shaft == from->id; });
            const auto wheels = std::count_if(board->gears.begin(), board->gears.end(),
                                              [&](const auto& g) { return g.shaft == from->id; });
            if (!hasMotor || wheels != 1) continue;
            for (const auto axis : {model::BoardAxis::Right, model::BoardAxis::Up})
                for (const int side : {-1, 1}) {
                    constexpr std::int64_t kLength = 4 * base::kPitchUm;
                    model::Shaft across = *from;
                    across.axis = axis;
                    across.lengthUm = kLength;
                    across.bearingsUm = {base::kPitchUm / 2, kLength};
                    const std::size_t along = axis == model::BoardAxis::Right ? 0 : 1, aside = 1 - along;
                    across.atUm = to->atUm;
                    across.atUm[along] -= kLength * 5 / 8; // the motor's end is the longer one
                    across.atUm[aside] += side * base::mmToUm((drive::kWormDiameterMm + driven->teeth) / 2);
                    across.atUm[2] += driven->alongUm;
                    model::Gear worm = *driving;
                    worm.kind = model::GearKind::Worm;
                    worm.teeth = 1;
                    worm.alongUm = kLength * 5 / 8;
                    const char* place = axis == model::BoardAxis::Right ? (side < 0 ? "below" : "above")
                                        : side < 0                      ? "left of"
                                                                        : "right of";
                    offers.push_back({std::string("swap to a worm ") + place + " the " + std::to_string(driven->teeth) +
                                          ", its shaft across",
                                      [id = board->id, across, worm](const model::Project& p) -> model::EditResult {
                                          auto next = model::putShaft(p, id, across);
                                          return next ? model::putGear(*next, id, worm) : next;
                                      }});
                }
        }
    }
}

/// Of all such changes those that do the function good, the best first: every one is tried, as a quicker pair on a
/// loaded motor may be slower.
void addTried(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    std::vector<Mend> offers;
    if (verdict.check == "self-hold") {
        addWorms(report, offers);
    } else {
        addPairs(report, offers);
        addMotors(report, offers);
    }
    const double now = calcQuality(*report.drive, verdict);
    const int unmetNow = countUnmet(*report.drive);
    const auto& net = report.drive->net;
    struct Good {
        int unmet;
        double quality;
        Mend mend;
    };
    std::vector<Good> good;
    for (Mend& offer : offers) {
        const auto project = offer.apply(*report.project);
        if (!project) continue;
        const auto tried = study::calcDrive({&*project, report.present.placed.X_WS}, report.tree);
        const double quality = calcQuality(tried, verdict);
        const int unmet = countUnmet(tried); // what helps one function and stalls another is no mend
        if (quality <= now * (1 + 1e-9) || unmet > unmetNow || tried.net.faults.size() > net.faults.size() ||
            tried.net.clashes.size() > net.clashes.size())
            continue;
        good.push_back({unmet, quality, std::move(offer)});
    }
    std::stable_sort(good.begin(), good.end(), [](const Good& l, const Good& r) {
        return l.unmet != r.unmet ? l.unmet < r.unmet : l.quality > r.quality;
    });
    for (std::size_t i = 0; i < good.size() && i < 4; ++i) mends.push_back(std::move(good[i].mend));
}

/// As much slack as the whole travel draws, in whole mm.
void addSlack(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    for (const auto& board : report.project->boards)
        for (const model::Strand& strand : board->strands) {
            if (strand.id.text != verdict.place.things.front() || strand.offUm == 0 || !(verdict.value > 0) ||
                verdict.value > 180)
                continue;
            const double off = base::umToMm(strand.offUm), gap = base::umToMm(strand.gapUm);
            const double chord = 2 * off * std::sin(base::degToRad(verdict.value) / 2);
            const double slack = std::ceil(std::sqrt(gap * gap + chord * chord) - gap + 1e-9);
            model::Strand longer = strand;
            longer.slackUm = base::mmToUm(slack);
            mends.push_back(
                {"leave " + base::formatNumber(slack, 0) + " mm of slack in " + strand.name,
                 [id = board->id, longer](const model::Project& p) { return model::putStrand(p, id, longer); }});
        }
}
/// The belt that fits, or as many links as are needed.
void addLoopLength(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    for (const auto& board : report.project->boards)
        for (const model::Loop& loop : board->loops) {
            if (loop.id.text != verdict.place.things.front() || loop.links == 0) continue;
            model::Loop fitting = loop;
            fitting.links = 0;
            mends.push_back(
                {loop.belt ? "take the belt that fits" : "as many links as are needed",
                 [id = board->id, fitting](const model::Project& p) { return model::putLoop(p, id, fitting); }});
        }
}

void proposeOnBoards(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "shaft-carried") addHoles(report, verdict, mends);
    if (verdict.place.things.size() < 2) return;
    if (verdict.check == "strand") addSlack(report, verdict, mends);
    if (verdict.check == "loop") addLoopLength(report, verdict, mends);
    if (verdict.check == "mesh") {
        addMoves(report, verdict, mends);
        addCounts(report, verdict, mends);
    }
    if (verdict.check == "motor-pull" || verdict.check == "travel-time" || verdict.check == "speed" ||
        verdict.check == "self-hold")
        addTried(report, verdict, mends);
}

} // namespace

void proposeDriveMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (!report.drive || verdict.place.things.empty()) return;
    proposeOnBoards(report, verdict, mends);
    markTried(mends);
    proposeDriveParts(report, verdict, mends);
}

} // namespace ivrant::verdict
