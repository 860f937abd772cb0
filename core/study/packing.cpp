// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/packing.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/corners.h"

namespace ivrant::study {

using geometry::Vec3;
using model::PartSpot;

bool PackPlan::fits() const {
    return std::all_of(pieces.begin(), pieces.end(), [](const PackedPiece& piece) { return piece.fits; });
}
double PackPlan::putUpMinutes() const {
    double sum = 0;
    for (const PutUpStep& step : putUp) sum += step.minutes;
    return sum;
}

namespace {

class Packing {
public:
    explicit Packing(const Facts& facts)
        : m_facts(facts), m_project(*facts.project), m_wish(facts.project->making.packing),
          m_box(m_wish.boxMm[0], m_wish.boxMm[1], m_wish.boxMm[2]) {}

    PackPlan run() {
        PackPlan best = makePlan({});
        if (m_facts.modules) {
            m_order = listLiftOrder(*m_facts.modules);
            std::set<int> taken;
            while (!best.fits()) { // one more, with what must be off before it: the one that helps most
                std::optional<std::pair<PackPlan, std::set<int>>> better;
                for (const int next : m_order) {
                    if (taken.count(next) > 0) continue;
                    std::set<int> more = taken;
                    takeWith(more, next);
                    PackPlan plan = makePlan(more);
                    if (excess(plan) < excess(better ? better->first : best) - 1e-9) better = {std::move(plan), more};
                }
                if (!better) break;
                best = std::move(better->first);
                taken = std::move(better->second);
            }
        }
        fillBoxes(best);
        listPutUp(best);
        listBring(best);
        return best;
    }

private:
    void takeWith(std::set<int>& taken, int one) const {
        if (!taken.insert(one).second) return;
        for (const int before : at(m_facts.modules->modules, one).after) takeWith(taken, before);
    }

    /// In the pose that suits these pieces best.
    [[nodiscard]] PackPlan makePlan(const std::set<int>& taken) const {
        PackPlan best;
        std::pair<double, double> least{std::numeric_limits<double>::infinity(), 0};
        for (std::size_t q = 0; q < m_facts.poses.size(); ++q) {
            PackPlan plan;
            plan.pose = static_cast<int>(q);
            for (const int one : m_order)
                if (taken.count(one) > 0) plan.taken.push_back(one);
            addPieces(plan, m_facts.poses[q].placed);
            double volume = 0;
            for (const PackedPiece& piece : plan.pieces) volume += piece.size.mm.prod();
            const std::pair<double, double> rank{std::max(1.0, excess(plan)), volume};
            if (q > 0 && !(rank < least)) continue;
            least = rank;
            best = std::move(plan);
        }
        return best;
    }

    void addPieces(PackPlan& plan, const model::Placed& placed) const {
        std::map<PartSpot, int> moduleOf; // the smallest that it belongs to
        for (const int one : plan.taken)
            for (const PartSpot spot : at(m_facts.modules->modules, one).parts) {
                const auto [known, fresh] = moduleOf.try_emplace(spot, one);
                if (!fresh && at(m_facts.modules->modules, one).parts.size() <
                                  at(m_facts.modules->modules, known->second).parts.size())
                    known->second = one;
            }
        std::map<int, PackedPiece> pieces;
        std::map<int, std::vector<Vec3>> corners;
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            for (std::size_t p = 0; p < m_project.sections[s]->parts.size(); ++p) {
                const PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                const auto of = moduleOf.find(spot);
                const int one = of == moduleOf.end() ? -1 : of->second;
                PackedPiece& piece = pieces[one];
                piece.module = one;
                piece.parts.push_back(spot);
                const model::Part& part = model::getPart(m_project, spot);
                piece.massG += part.massG();
                for (const auto& solid : part.shape->solids)
                    geometry::appendCorners(corners[one], solid.solid, placed.X_WP(spot));
            }
            addBallast(static_cast<int>(s), moduleOf, pieces);
        }
        for (auto& [one, piece] : pieces) {
            piece.name =
                one >= 0 ? at(m_project.modules.list, one).name : (pieces.size() > 1 ? "the rest" : m_project.name);
            piece.size = calcUprightSize(corners[one]);
            piece.fits = excessOf(piece) <= 1 + 1e-9;
            plan.pieces.push_back(std::move(piece));
        }
    }
    /// What is fixed in a section travels with its first part.
    void addBallast(int s, const std::map<PartSpot, int>& moduleOf, std::map<int, PackedPiece>& pieces) const {
        const model::Section& section = *at(m_project.sections, s);
        if (section.parts.empty()) return;
        const auto of = moduleOf.find({s, 0});
        for (const model::Ballast& ballast : section.ballast)
            pieces[of == moduleOf.end() ? -1 : of->second].massG += ballast.massG;
    }

    [[nodiscard]] Vec3 withFoam(const PackedPiece& piece) const {
        return piece.size.mm + Vec3::Constant(2 * m_wish.foamMm);
    }
    /// How many times too large or heavy for the largest box; up to 1 it fits.
    [[nodiscard]] double excessOf(const PackedPiece& piece) const {
        const Vec3 size = withFoam(piece);
        return std::max({size.x() / std::max(m_box.x(), m_box.y()), size.y() / std::min(m_box.x(), m_box.y()),
                         size.z() / m_box.z(), piece.massG / (1000 * m_wish.mostKg)});
    }
    [[nodiscard]] double excess(const PackPlan& plan) const {
        double most = 0;
        for (const PackedPiece& piece : plan.pieces) most = std::max(most, excessOf(piece));
        return most;
    }

    void fillBoxes(PackPlan& plan) const {
        std::vector<Vec3> sizes;
        std::vector<double> masses;
        for (const PackedPiece& piece : plan.pieces) {
            sizes.push_back(withFoam(piece));
            masses.push_back(piece.massG);
        }
        const auto places = placeInBoxes(sizes, masses, m_box, 1000 * m_wish.mostKg);
        for (std::size_t i = 0; i < places.size(); ++i) {
            if (static_cast<std::size_t>(places[i].box) >= plan.boxes.size())
                plan.boxes.resize(static_cast<std::size_t>(places[i].box) + 1);
            PackedBox& box = at(plan.boxes, places[i].box);
            box.pieces.push_back(static_cast<int>(i));
            box.places.push_back(places[i]);
            const double along = places[i].across ? sizes[i].y() : sizes[i].x();
            const double across = places[i].across ? sizes[i].x() : sizes[i].y();
            box.insideMm =
                box.insideMm.cwiseMax(Vec3(places[i].atMm[0] + along, places[i].atMm[1] + across, sizes[i].z()));
            box.massG += masses[i];
        }
        for (PackedBox& box : plan.boxes) {
            double pieces = 0; // mm³
            for (const int piece : box.pieces) pieces += at(plan.pieces, piece).size.mm.prod();
            const Vec3& in = box.insideMm;
            box.foamL = std::max(0.0, in.prod() - pieces) / 1e6;
            const double areaM2 = 2 * (in.x() * in.y() + in.y() * in.z() + in.z() * in.x()) / 1e6;
            box.massG += 1000 * box.foamL * kFoamGPerCm3 + areaM2 * kCardGPerM2;
        }
    }

    void listPutUp(PackPlan& plan) const {
        const auto add = [&](const std::string& text, double minutes) { plan.putUp.push_back({text, minutes}); };
        add(plan.boxes.size() == 1 ? "unpack the box" : "unpack " + std::to_string(plan.boxes.size()) + " boxes",
            kUnpackMin * static_cast<double>(plan.boxes.size()));
        if (!m_project.posts.empty()) add("set up the base with its posts", kSetUpMin);
        add(std::string("stand ") + (plan.pieces.empty() ? m_project.name : plan.pieces.front().name) + " in its place",
            kSetUpMin);
        int folded = plan.pose;
        const auto fold = [&](int pose) {
            if (pose == folded) return;
            folded = pose;
            add("pose it as " + at(m_facts.poses, pose).name, kFoldMin);
        };
        for (auto it = plan.taken.rbegin(); it != plan.taken.rend(); ++it) {
            const LiftModule& one = at(m_facts.modules->modules, *it);
            if (one.mustFold) fold(one.pose);
            add("put on " + at(m_project.modules.list, *it).name + ", coming " + make::describeWayIn(one.way),
                kPutOnMin);
        }
        fold(0);
        if (m_facts.drive && !m_facts.drive->motors.empty()) add("connect and try every function once", kTryMin);
    }

    void listBring(PackPlan& plan) const {
        listBatteries(plan);
        double most = 0;
        std::map<std::string, std::set<std::string>> spares; // shape and where
        for (const int one : plan.taken) {
            const LiftModule& lift = at(m_facts.modules->modules, one);
            most = std::max(most, lift.forceN());
            const std::set<PartSpot> inside(lift.parts.begin(), lift.parts.end());
            for (const auto& [ends, mates] : listWorldMates(m_facts, at(m_facts.poses, lift.pose).placed)) {
                if (inside.count(ends.first) == inside.count(ends.second)) continue;
                const PartSpot own = inside.count(ends.first) > 0 ? ends.first : ends.second;
                spares[model::getPart(m_project, own).shape->name].insert(at(m_project.modules.list, one).name +
                                                                          " parts there");
            }
        }
        std::map<std::string, std::pair<std::set<std::string>, std::size_t>> kinds; // two shapes of a kind of joint
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            auto& [shapes, count] = kinds[m_project.joints[j].kind->name];
            ++count;
            for (const PartSpot spot : {m_facts.tree.from[j], m_facts.tree.to[j]})
                if (model::getPart(m_project, spot).massG() < kSpareG)
                    shapes.insert(model::getPart(m_project, spot).shape->name);
        }
        for (const auto& [kind, of] : kinds)
            for (const std::string& shape : of.first)
                spares[shape].insert(of.second == 1 ? "joint of the kind " + kind
                                                    : std::to_string(of.second) + " joints of the kind " + kind);
        for (const auto& [shape, reasons] : spares) {
            std::string why;
            for (const std::string& reason : reasons) why += (why.empty() ? "" : "; ") + reason;
            plan.bring.push_back({1, "spare " + shape, why});
        }
        if (most > kLeverN)
            plan.bring.push_back(
                {1, "thin lever", "up to " + base::formatNumber(most, 0) + " N part it (starting value)"});
    }
    /// All of its functions one after the other, each where it is hardest, as long as the show lasts.
    void listBatteries(PackPlan& plan) const {
        if (!m_facts.drive || m_wish.showHours <= 0 || m_wish.running <= 0) return;
        double most = 0; // A
        for (const auto& position : m_facts.drive->positions)
            for (const auto& function : position.functions) {
                double sum = 0;
                for (const auto& share : function.motors)
                    if (share.known) sum += share.point.currentA;
                most = std::max(most, sum);
            }
        const double capacityAh = m_facts.drive->battery.capacityMah / 1000;
        if (!(most > 0) || !(capacityAh > 0)) return;
        const double hours = capacityAh / most;
        const int sets = static_cast<int>(std::ceil(m_wish.showHours * m_wish.running / hours - 1e-9));
        plan.bring.push_back({sets, m_facts.drive->battery.name + " with charged cells",
                              "each lasts " + base::formatNumber(hours, 1) + " h at " + base::formatNumber(most, 2) +
                                  " A, the show " + base::formatNumber(m_wish.showHours * m_wish.running, 1) +
                                  " h of running (starting values)"});
    }

    static constexpr double kSpareG = 5; ///< heavier parts are not lost

    const Facts& m_facts;
    const model::Project& m_project;
    const model::Packing m_wish;
    const Vec3 m_box;
    std::vector<int> m_order; ///< in which modules come off
};

} // namespace

PackPlan planPacking(const Facts& facts) { return Packing(facts).run(); }

} // namespace ivrant::study
