// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/ground.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/hull.h"
#include "core/model/mass.h"
#include "core/pose/lines.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {

using geometry::Vec3;

/// Weight of the listed sections as a wrench about the world origin.
Wrench calcWeight(const model::Placed& placed, const std::vector<int>& sections) {
    const model::MassPoint mass = model::calcMass(placed, sections);
    Wrench w;
    w.force = Vec3(0, 0, -base::weightN(mass.massG));
    w.moment = mass.centre.cross(w.force);
    return w;
}

struct Contact {
    int section;
    Eigen::Vector2d at;
    double force = 0;
};

/// Outer contact points of each section with the ground.
std::vector<Contact> listContacts(const model::Placed& placed, const std::vector<int>& sections) {
    std::vector<Contact> contacts;
    for (int s : sections) {
        std::vector<Eigen::Vector2d> touching;
        for (const Vec3& p : listCorners(placed, s))
            if (p.z() <= model::kGroundContactMm) touching.push_back(p.head<2>());
        for (const auto& p : geometry::calcHull2(std::move(touching))) contacts.push_back({s, p});
    }
    return contacts;
}

/// Linear pressure over the contacts; those that would have to pull are left out and the rest is solved again. False
/// when the contacts cannot balance the weight.
bool sharePressure(std::vector<Contact>& contacts, double weight, const Eigen::Vector2d& centre) {
    std::vector<bool> active(contacts.size(), true);
    for (std::size_t round = 0; round <= contacts.size(); ++round) {
        Eigen::Matrix3d g = Eigen::Matrix3d::Zero();
        const auto row = [&](const Contact& c) { return Vec3(1, c.at.x() - centre.x(), c.at.y() - centre.y()); };
        for (std::size_t i = 0; i < contacts.size(); ++i)
            if (active[i]) g += row(contacts[i]) * row(contacts[i]).transpose();
        const Vec3 wanted(weight, 0, 0);
        const Vec3 plane = g.completeOrthogonalDecomposition().solve(wanted);
        if ((g * plane - wanted).norm() > 1e-6 * std::max(1.0, weight) * std::max(1.0, g.norm())) return false;
        bool pulls = false;
        for (std::size_t i = 0; i < contacts.size(); ++i) {
            contacts[i].force = active[i] ? row(contacts[i]).dot(plane) : 0;
            if (contacts[i].force < -1e-9 * weight) {
                active[i] = false;
                pulls = true;
            }
        }
        if (!pulls) return true;
    }
    return false;
}

} // namespace

GroundForces calcGroundForces(const model::Placed& placed, const model::SectionTree& tree,
                              const model::Stance& stance) {
    const auto count = static_cast<int>(placed.X_WS.size());
    GroundForces ground;
    ground.onSection.resize(placed.X_WS.size());
    ground.pulled = calcLinePulls(placed, tree);
    const int named = stance.section.empty() ? -1 : placed.project->findSection(stance.section);
    for (int root = 0; root < count; ++root) {
        if (tree.parent(root) >= 0) continue;
        std::vector<int> group;
        for (int s = 0; s < count; ++s)
            if (tree.rootOf(s) == root) group.push_back(s);
        const Wrench weight = calcWeight(placed, group);
        if (stance.kind == model::Stance::Kind::Settle) {
            auto contacts = listContacts(placed, group);
            const double newton = -weight.force.z();
            const Eigen::Vector2d centre =
                newton > 0 ? Eigen::Vector2d(weight.moment.y() / newton, -weight.moment.x() / newton)
                           : Eigen::Vector2d::Zero();
            if (newton > 0 && !contacts.empty() && sharePressure(contacts, newton, centre)) {
                for (const Contact& c : contacts) {
                    if (c.force <= 0) continue;
                    const Vec3 force(0, 0, c.force);
                    ivrant::at(ground.onSection, c.section).force += force;
                    ivrant::at(ground.onSection, c.section).moment += Vec3(c.at.x(), c.at.y(), 0).cross(force);
                    ground.grounded.push_back(c.section);
                }
                continue;
            }
        }
        const int holder = named >= 0 && tree.rootOf(named) == root ? named : root;
        ivrant::at(ground.onSection, holder) = {-weight.force, -weight.moment};
        ground.grounded.push_back(holder);
    }
    std::sort(ground.grounded.begin(), ground.grounded.end());
    ground.grounded.erase(std::unique(ground.grounded.begin(), ground.grounded.end()), ground.grounded.end());
    return ground;
}

} // namespace ivrant::pose
