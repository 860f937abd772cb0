// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of beams and ribbed pins in one plane, layers along y keeping the beams apart. A beam lies at 90° − value
// from its carrier, from x towards z.
#pragma once

#include "core/pose/rings.h"
#include "tests/support/figures.h"

namespace ivrant::test {

struct Linkage : Figure {
    /// Puts a pin into hole `hole` of the beam of a section and joins the other beam to it.
    model::JointId tie(std::size_t section, int hole, const model::PartId& to, const std::string& toPort, double deg) {
        const auto pin = put(section, "pin ribbed at " + std::to_string(hole) + " 0.5 0 turn 1");
        return join("ribbed pin", pin, "end+", to, toPort, {deg});
    }
};

/// Base 56 mm, crank 16, coupler 48, rocker 40 between centres. Joints: 0 crank on base, 1 coupler on crank, 2 rocker
/// on base, 3 coupler on rocker, which closes the ring.
struct FourBar : Linkage {
    FourBar() {
        put(0, "beam 8 at 0 0 0");
        const auto crank = put(1, "beam 3 at 0 0 0"), coupler = put(2, "beam 7 at 0 0 0"),
                   rocker = put(3, "beam 6 at 0 0 0");
        tie(0, 0, crank, "hole 0 back", 0);
        tie(1, 2, coupler, "hole 0 back", 90);
        tie(0, 7, rocker, "hole 0 back", 0);
        tie(3, 5, coupler, "hole 6 back", 0);
    }
};

/// Base 48 mm, two cranks of 24, a link of 48: its links lie in line twice a turn. Joints as FourBar.
struct Parallelogram : Linkage {
    Parallelogram() {
        put(0, "beam 7 at 0 0 0");
        const auto crank = put(1, "beam 4 at 0 0 0"), link = put(2, "beam 7 at 0 0 0"),
                   other = put(3, "beam 4 at 0 0 0");
        tie(0, 0, crank, "hole 0 back", 30);
        tie(1, 3, link, "hole 0 back", 60);
        tie(0, 6, other, "hole 0 back", 30);
        tie(3, 3, link, "hole 6 back", 60);
    }
};

/// A base of 56 mm whose links, 8, 16 and 16 mm, cannot close it.
struct OpenLinks : Linkage {
    OpenLinks() {
        put(0, "beam 8 at 0 0 0");
        const auto crank = put(1, "beam 2 at 0 0 0"), link = put(2, "beam 3 at 0 0 0"),
                   rocker = put(3, "beam 3 at 0 0 0");
        tie(0, 0, crank, "hole 0 back", 90);
        tie(1, 1, link, "hole 0 back", 0);
        tie(0, 7, rocker, "hole 0 back", -90);
        tie(3, 2, link, "hole 2 back", 0);
    }
};

/// A body of 64 mm on two legs of twice 32 mm with bent knees, feet flat: sections 0 body, 1–3 left thigh, shin, foot,
/// 4–6 right.
struct Walker : Linkage {
    static constexpr double kBend = 30; ///< thigh and shin stand that far off upright
    Walker() {
        put(0, "beam 9 at 0 0 0");
        for (const auto& [first, hole] : {std::pair<std::size_t, int>{1, 0}, {4, 8}}) {
            const auto thigh = put(first, "beam 5 at 0 0 0"), shin = put(first + 1, "beam 5 at 0 0 0"),
                       foot = put(first + 2, "beam 5 at 0 0 0");
            tie(0, hole, thigh, "hole 0 back", 180 - kBend);
            tie(first, 4, shin, "hole 0 back", 90 + 2 * kBend);
            tie(first + 1, 4, foot, "hole 2 back", -kBend);
        }
        project =
            must(model::addPose(project, "Standing", {}, {model::Stance::Kind::Flat, project.sections[3]->id, {}}));
    }
};

/// A body on two cranks that carry two level feet half a turn apart: each goes round in a circle of 24 mm.
/// Sections: 0 body, 1 and 2 cranks, 3 and 4 feet.
struct Treader : Linkage {
    static constexpr double kCrankMm = 24;
    explicit Treader(const std::string& sole = "plate 24x24 at -8 -12 -4", double value = 30) {
        put(0, "beam 7 at 0 0 0");
        const auto first = put(1, "beam 7 at 0 0 0"), second = put(2, "beam 7 at 0 0 0"),
                   left = put(3, "beam 7 at 0 0 0"), right = put(4, "beam 7 at 0 0 0");
        put(3, sole);
        put(4, sole);
        tie(0, 0, first, "hole 3 back", value);
        tie(0, 6, second, "hole 3 back", value);
        tie(1, 6, left, "hole 0 back", 0);
        tie(1, 0, right, "hole 0 back", 0);
        tie(2, 6, left, "hole 6 back", 0);
        tie(2, 0, right, "hole 6 back", 0);
        level(2, 3);
        level(3, 4);
        project = must(model::addBallast(project, project.sections[0]->id, {2000, {24'000, 0, 0}}));
        pose::Closed closed;
        project = must(pose::closeRings(project, {project.joints[0].id}, closed));
    }
    /// The value of a joint with which its section lies as the body does.
    void level(int joint, std::size_t section) {
        double best = 1e9, chosen = 0;
        for (int deg = -180; deg < 180; deg += 1) {
            auto trial = values();
            at(trial, joint)[0] = deg;
            const auto placed = pose::calcPlaced(project, tree(), trial);
            const double off = (placed.X_WS[section].linear() - placed.X_WS[0].linear()).norm();
            if (off >= best) continue;
            best = off;
            chosen = deg;
        }
        project = must(model::setJointValues(project, {{at(project.joints, joint).id, {chosen}}}));
    }
};

} // namespace ivrant::test
