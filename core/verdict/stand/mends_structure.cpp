// SPDX-License-Identifier: GPL-3.0-or-later
// What would make a weak pattern firmer? Longer parts across a seam; parts across a neck, a piece that comes off, a
// base that bends. Part of check_stand.h.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/body_box.h"
#include "core/parts/family.h"
#include "core/study/stand_cases.h"
#include "core/verdict/stand/bridges.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using stand::BondNet;

constexpr std::size_t kMostJoined = 3;

/// Corner of a part's cells nearest to the section's origin, and its size in pitches, without studs.
struct Footprint {
    geometry::Bounds box;
    explicit Footprint(const model::Part& part) : box(parts::calcBodyBox(*part.shape, part.place.frame())) {}
    [[nodiscard]] int cells(int axis) const { return static_cast<int>(std::lround(box.size()[axis] / base::kPitchMm)); }
};

/// Both parts away, one as long as both in their place.
std::optional<Mend> joinAcross(const model::Project& project, const stand::Seam& seam, model::PartSpot a,
                               model::PartSpot b) {
    const model::Part &one = getPart(project, a), &two = getPart(project, b);
    if (one.shape->family != "brick" && one.shape->family != "plate" && one.shape->family != "tile")
        return std::nullopt; // others look one way
    const Footprint first(one), second(two);
    const int across = first.cells(1 - seam.axis), along = first.cells(seam.axis) + second.cells(seam.axis);
    const auto shape = parts::makeShape(one.shape->family + " " + std::to_string(std::min(across, along)) + "x" +
                                        std::to_string(std::max(across, along)));
    if (!shape) return std::nullopt;
    geometry::Bounds both = first.box;
    both.include(second.box.low);
    both.include(second.box.high);
    model::NewPart part;
    part.shape = *shape;
    part.colour = one.colour;
    part.step = std::max(one.step, two.step);
    // Of the turns about z the one that fills the same box.
    for (const int turn : {0, 1}) {
        part.place = {};
        part.place.attitude = turn;
        const geometry::Bounds own = parts::calcBodyBox(*part.shape, part.place.frame());
        if ((own.size() - both.size()).cwiseAbs().maxCoeff() > 1) continue;
        for (int k = 0; k < 3; ++k)
            at(part.place.atUm, k) = base::mmToUm(std::round((both.low[k] - own.low[k]) * 1000) / 1000);
        const auto section = at(project.sections, seam.section)->id;
        const auto apply = [ids = std::vector{one.id, two.id}, part,
                            section](const model::Project& p) -> model::EditResult {
            auto without = model::removeParts(p, ids);
            if (!without) return without;
            return model::addParts(*without, section, {&part, 1}, nullptr);
        };
        const auto changed = apply(project);
        if (!changed) return std::nullopt;
        const auto bonds = bonds::calcBonds(*changed);
        if (!at(bonds, seam.section)->loose.empty()) return std::nullopt;
        return Mend{part.shape->name + " across the seam, " + formatNumber(both.low.z() / base::kPlateMm, 0) +
                        " plates up, in place of " + one.shape->name + " (" + one.id.text + ") and " + two.shape->name +
                        " (" + two.id.text + ")",
                    apply};
    }
    return std::nullopt;
}

void addSeamMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    for (const stand::Seam& seam : report.structure->seams) {
        if (at(report.project->sections, seam.section)->id != verdict.place.section) continue;
        // The middle of a seam is where a tie helps most: it halves what is left.
        auto pairs = seam.alike;
        const double middle = (seam.bottomMm + seam.topMm) / 2;
        const auto off = [&](const auto& pair) {
            return std::abs(Footprint(getPart(*report.project, pair.first)).box.centre().z() - middle);
        };
        std::stable_sort(pairs.begin(), pairs.end(), [&](const auto& l, const auto& r) { return off(l) < off(r); });
        for (const auto& [a, b] : pairs) {
            if (mends.size() >= kMostJoined) return;
            if (auto mend = joinAcross(*report.project, seam, a, b)) mends.push_back(std::move(*mend));
        }
        return;
    }
}

/// Bridges judged by a measure of the bond net.
template <typename Measure>
void addNetBridges(const Report& report, int a, int b, double now, const Measure& measure,
                   const std::function<std::string(double)>& describe, std::vector<Mend>& mends) {
    const study::PoseFacts& pose = report.poses.front();
    const BondNet& net = report.structure->net;
    if (a < 0 || b < 0) return;
    BridgeTrial trial;
    trial.now = now;
    trial.describe = describe;
    const bool ground = pose.stance.kind != model::Stance::Kind::Held;
    trial.measure = [&report, ground,
                     measure](const model::Placed& placed,
                              const std::vector<bonds::SectionBondsPtr>& bonds) -> std::optional<double> {
        stand::NetRequest request;
        request.ground = ground;
        return measure(placed, stand::makeBondNet(placed, bonds, study::calcBondLimits(report), request));
    };
    addBridges(report, pose, at(net.bodies, a).spot, at(net.bodies, b).spot, trial, mends);
}

void addStructureMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (!report.structure) return;
    const study::Structure& structure = *report.structure;
    const auto shake = [](double inverse) { return formatNumber(1 / inverse, 2) + " g"; };
    const auto force = [](double inverse) { return formatNumber(1 / inverse, 1) + " N"; };
    const auto contactAt = [&](int k) -> const stand::Contact& { return at(structure.net.contacts, k); };
    if (verdict.check == "seam") addSeamMends(report, verdict, mends);
    if (const auto* neck = study::findNeck(structure, report.poses.front()); neck && verdict.check == "neck") {
        const double least = neck->massG * 0.999; // what is above it now must not open sooner
        const auto measure = [least](const model::Placed&, const BondNet& net) -> std::optional<double> {
            for (const stand::Neck& other : stand::findNecks(net))
                if (other.massG >= least) return 1 / std::max(1e-6, other.shakeG);
            return std::nullopt;
        };
        const auto& contact = contactAt(neck->contacts.front());
        addNetBridges(report, contact.a, contact.b, 1 / std::max(1e-6, neck->shakeG), measure, shake, mends);
    }
    if (verdict.check == "tug" && !structure.pieces.empty() && !structure.pieces.front().contacts.empty()) {
        const stand::Piece& piece = structure.pieces.front();
        const auto measure = [](const model::Placed&, const BondNet& net) -> std::optional<double> {
            const auto pieces = stand::findPieces(net);
            return 1 / std::max(1e-6, pieces.empty() ? stand::kTugN : pieces.front().forceN);
        };
        const auto& contact = contactAt(piece.contacts.front());
        addNetBridges(report, contact.a, contact.b, 1 / std::max(1e-6, piece.forceN), measure, force, mends);
    }
    if (verdict.check == "friction" && report.project->rules == model::BuildRules::Strict &&
        getStateOfMargin(verdict.margin) == State::Good)
        mends.push_back({"let the build rules be those for display: friction may hold",
                         [](const model::Project& p) { return model::setRules(p, model::BuildRules::Display); },
                         "What friction holds works loose with time: try it in the hand, and again after some days."});
    if (verdict.check == "base-flex" && !structure.bases.empty()) {
        const stand::FlexibleBase& flexible = structure.bases.front();
        const auto measure = [](const model::Placed& placed, const BondNet& net) -> std::optional<double> {
            const auto bases = stand::findFlexibleBases(placed, net);
            return bases.empty() ? 0 : bases.front().sagMm;
        };
        for (const stand::Contact& contact : structure.net.contacts)
            if (contact.a == flexible.body && contact.normal.z() > 0.99) {
                addNetBridges(
                    report, contact.a, contact.b, flexible.sagMm, measure,
                    [](double sag) { return "sags " + formatNumber(sag, 2) + " mm"; }, mends);
                return;
            }
    }
}

} // namespace

void proposeStructureMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    addStructureMends(report, verdict, mends);
    markTried(mends);
}

} // namespace ivrant::verdict
