// What would mend a verdict on the gear boards? Wheels moved to where they mesh, other tooth counts.
#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/verdict/check_drive.h"

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
    const auto found = std::find_if(board.shafts.begin(), board.shafts.end(), [&](const model::Shaft& s) { return s.id == id; });
    return found == board.shafts.end() ? nullptr : &*found;
}

std::string inPitches(std::int64_t um) { return formatNumber(static_cast<double>(um) / static_cast<double>(base::kPitchUm), 2); }

/// The second wheel's shaft moved to the nearest grid places where the pair meshes.
void addMoves(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::Board *boardA = nullptr, *boardB = nullptr;
    const model::Gear* a = findGear(*report.project, verdict.place.things[0], &boardA);
    const model::Gear* b = findGear(*report.project, verdict.place.things[1], &boardB);
    if (!a || !b || boardA != boardB || a->kind == model::GearKind::Rack || b->kind == model::GearKind::Rack) return;
    const model::Shaft *shaftA = findShaft(*boardA, a->shaft), *shaftB = findShaft(*boardB, b->shaft);
    if (!shaftA || !shaftB || shaftA->axis != model::BoardAxis::Out || shaftB->axis != model::BoardAxis::Out) return;
    const bool inside = a->kind == model::GearKind::Ring || b->kind == model::GearKind::Ring;
    const double right = inside ? std::abs(drive::calcInsideMm(a->teeth, b->teeth)) : drive::calcOutsideMm(a->teeth, b->teeth);
    const std::int64_t dx = shaftB->atUm[0] - shaftA->atUm[0], dy = shaftB->atUm[1] - shaftA->atUm[1];
    for (const auto& fit : drive::listNearestFits(right, dx, dy, 3)) {
        const std::array<std::int64_t, 3> by{fit.dxUm - dx, fit.dyUm - dy, 0};
        const std::string error = std::abs(fit.errorMm) < 0.005 ? "fits exactly" : "off by " + formatNumber(fit.errorMm, 2) + " mm";
        mends.push_back({"move the " + std::to_string(b->teeth) + " to (" + inPitches(shaftA->atUm[0] + fit.dxUm) + ", " +
                             inPitches(shaftA->atUm[1] + fit.dyUm) + "): " + error + ", in " + drive::getGridStepName(fit.step),
                         [board = boardB->id, shaft = shaftB->id.text, by](const model::Project& p) { return model::moveOnBoard(p, board, {shaft}, by); }});
    }
}

/// Two holes for a shaft: walls at its ends where it stands in a hole, else bearings of its own.
void addHoles(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    for (const auto& board : report.project->boards)
        for (const model::Shaft& shaft : board->shafts) {
            if (shaft.id.text != verdict.place.things[0]) continue;
            const bool inHole = shaft.axis == model::BoardAxis::Out && drive::findGridStep(std::abs(shaft.atUm[0]), std::abs(shaft.atUm[1]));
            if (inHole) {
                std::vector<std::int64_t> walls = board->wallsUm;
                for (const std::int64_t end : {shaft.atUm[2], shaft.atUm[2] + shaft.lengthUm})
                    if (std::find(walls.begin(), walls.end(), end) == walls.end()) walls.push_back(end);
                mends.push_back(
                    {"add walls with holes at its ends", [id = board->id, walls](const model::Project& p) { return model::setWalls(p, id, walls); }});
            }
            model::Shaft carried = shaft;
            carried.bearingsUm = {0, shaft.lengthUm};
            mends.push_back({"carry it at both ends", [id = board->id, carried](const model::Project& p) { return model::putShaft(p, id, carried); }});
        }
}

/// Other tooth counts that mesh where the two shafts are.
void addCounts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto& net = report.drive->net;
    const int a = net.findGear(verdict.place.things[0]), b = net.findGear(verdict.place.things[1]);
    if (a < 0 || b < 0) return;
    const auto &ga = net.gears[static_cast<std::size_t>(a)], &gb = net.gears[static_cast<std::size_t>(b)];
    if (ga.gear->kind != model::GearKind::Spur || gb.gear->kind != model::GearKind::Spur || std::abs(ga.axis.dot(gb.axis)) < 0.9999) return;
    const geometry::Vec3 offset = gb.centre - ga.centre;
    const double distance = (offset - offset.dot(ga.axis) * ga.axis).norm();
    int offered = 0;
    for (int teeth : drive::getSpurTeeth()) {
        const double error = distance - drive::calcOutsideMm(ga.gear->teeth, teeth);
        if (teeth == gb.gear->teeth || drive::judgeFit(error) != drive::Fit::Meshes || ++offered > 2) continue;
        model::Gear changed = *gb.gear;
        changed.teeth = teeth;
        mends.push_back({"use " + std::to_string(teeth) + " instead of " + std::to_string(gb.gear->teeth),
                         [board = report.project->boards[static_cast<std::size_t>(gb.board)]->id, changed](const model::Project& p) {
                             return model::putGear(p, board, changed);
                         }});
    }
}

/// Pairs with the same sum of teeth keep their distance: those that slow the output down (or speed it up) step by step.
void addPairs(const Report& report, const Verdict& verdict, bool slower, std::vector<Mend>& mends) {
    const auto& net = report.drive->net;
    const int function = net.findThing(verdict.place.things[1]);
    if (function < 0) return;
    const auto& motion = report.drive->motion;
    struct Offer {
        double change;
        Mend mend;
    };
    std::vector<Offer> offers;
    for (std::size_t r = 0; r < net.relations.size(); ++r) {
        const auto& relation = net.relations[r];
        if (relation.kind != drive::RelationKind::Mesh || drive::judgeFit(relation.errorMm) != drive::Fit::Meshes) continue;
        const auto &ga = net.gears[static_cast<std::size_t>(net.findGear(relation.ids[0]))],
                   &gb = net.gears[static_cast<std::size_t>(net.findGear(relation.ids[1]))];
        if (ga.gear->kind != model::GearKind::Spur || gb.gear->kind != model::GearKind::Spur) continue;
        // The driving side is the one that turns more of the motor's turns per turn of the function: on the way there.
        if (motion.isLocked(ga.thing) || motion.isLocked(function)) continue;
        drive::Motion still{{function, 1}};
        for (const auto& [thing, factor] : motion.motions[static_cast<std::size_t>(function)]) still[thing] -= factor;
        std::erase_if(still, [](const auto& entry) { return sgn(entry.second) == 0; });
        const auto proof = drive::proveZero(net.train, still);
        const auto share = std::find_if(proof.begin(), proof.end(), [&](const drive::Share& s) { return s.relation == static_cast<int>(r); });
        if (share == proof.end()) continue;
        for (int za : drive::getSpurTeeth()) {
            const int zb = ga.gear->teeth + gb.gear->teeth - za;
            if (za == ga.gear->teeth || std::find(drive::getSpurTeeth().begin(), drive::getSpurTeeth().end(), zb) == drive::getSpurTeeth().end()) continue;
            model::Gear a = *ga.gear, b = *gb.gear;
            a.teeth = za;
            b.teeth = zb;
            const auto apply = [boardA = report.project->boards[static_cast<std::size_t>(ga.board)]->id,
                                boardB = report.project->boards[static_cast<std::size_t>(gb.board)]->id, a, b](const model::Project& p) -> model::EditResult {
                auto next = model::putGear(p, boardA, a);
                return next ? model::putGear(*next, boardB, b) : next;
            };
            const double change = (static_cast<double>(za) / zb) / (static_cast<double>(ga.gear->teeth) / gb.gear->teeth);
            offers.push_back({change,
                              {std::to_string(za) + " and " + std::to_string(zb) + " instead of " + std::to_string(ga.gear->teeth) + " and " +
                                   std::to_string(gb.gear->teeth),
                               apply}});
        }
    }
    // Which way round a pair drives is tried: the ratio after the edit tells.
    std::vector<Offer> good;
    const double now = std::abs(motion.ratio(function, report.drive->drivers.front()).get_d());
    for (Offer& offer : offers) {
        const auto project = offer.mend.apply(*report.project);
        if (!project) continue;
        const auto tried = drive::makeBoardNet(*project, drive::calcBoardPoses(*project, report.present.placed.X_WS));
        const double ratio = std::abs(drive::solveTrain(tried.train, report.drive->drivers).ratio(function, report.drive->drivers.front()).get_d());
        if (ratio <= 0 || (ratio < now) != slower || !tried.faults.empty() != !net.faults.empty()) continue;
        offer.change = ratio / now;
        good.push_back(std::move(offer));
    }
    std::stable_sort(good.begin(), good.end(), [&](const Offer& l, const Offer& r) { return slower ? l.change > r.change : l.change < r.change; });
    for (std::size_t i = 0; i < good.size() && i < 3; ++i) mends.push_back(std::move(good[i].mend));
}

} // namespace

void addDriveMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (!report.drive || verdict.place.things.empty()) return;
    if (verdict.check == "shaft-carried") addHoles(report, verdict, mends);
    if (verdict.place.things.size() < 2) return;
    if (verdict.check == "mesh") {
        addMoves(report, verdict, mends);
        addCounts(report, verdict, mends);
    }
    if (verdict.check == "motor-pull" || verdict.check == "axle-twist" || verdict.check == "tooth-force") addPairs(report, verdict, true, mends);
    if (verdict.check == "travel-time" || verdict.check == "speed") addPairs(report, verdict, false, mends);
}

} // namespace ivrant::verdict
