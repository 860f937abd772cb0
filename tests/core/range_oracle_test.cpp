// SPDX-License-Identifier: GPL-3.0-or-later
// The same limits by another library: FCL (with libccd, boolean collision) and plain bisection after a fine scan.
#include <fcl/narrowphase/collision.h>
#include <random>

#include "core/base/units.h"
#include "core/pose/sweep.h"
#include "tests/support/fcl_solids.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::Figure;
using test::toFcl;

namespace {

struct Oracle {
    const Figure& figure;
    model::SectionTree tree;
    std::vector<std::pair<std::shared_ptr<fcl::CollisionGeometryd>, geometry::Frame>> moving,
        fixed; ///< in their sections

    explicit Oracle(const Figure& f) : figure(f), tree(f.tree()) {
        const auto bonds = bonds::calcBonds(f.project);
        const auto bodies = pose::makeBodies(f.project, tree, bonds);
        for (std::size_t s = 0; s < 2; ++s)
            for (const auto& part : bodies.sections[s]->parts)
                for (const auto& solid : part.solids) {
                    const pose::SolidRef ref{{static_cast<int>(s), part.part}, solid.solid};
                    const auto isPort = [&](const auto& pair) { return pair.first == ref || pair.second == ref; };
                    // The cases have one joint; the mated ports' own solids are left out on both sides, which is fair
                    // as long as nothing else comes near them (the cases keep clear of the knuckles).
                    if (std::any_of(bodies.exempt.begin(), bodies.exempt.end(), isPort)) continue;
                    (s == 0 ? fixed : moving)
                        .emplace_back(toFcl(*solid.inSection.solid),
                                      geometry::makeFrame(solid.inSection.R, solid.inSection.centre));
                }
    }

    [[nodiscard]] bool collides(double degrees) const {
        const auto placed = pose::calcPlaced(figure.project, tree, {{degrees}});
        fcl::CollisionRequestd request;
        request.gjk_solver_type = fcl::GST_LIBCCD;
        for (const auto& [a, X_a] : fixed)
            for (const auto& [b, X_b] : moving) {
                fcl::CollisionResultd result;
                if (fcl::collide(a.get(), placed.X_WS[0] * X_a, b.get(), placed.X_WS[1] * X_b, request, result) > 0)
                    return true;
            }
        return false;
    }

    /// First collision from 0 in a direction, at most `limit`: scan at 0.02°, then bisect.
    [[nodiscard]] double limit(int direction, double most) const {
        double clear = 0;
        while (clear < most) {
            const double next = std::min(most, clear + 0.02);
            if (collides(direction * next)) {
                double low = clear, high = next;
                while (high - low > 1e-3)
                    ((collides(direction * 0.5 * (low + high)) ? high : low) = 0.5 * (low + high));
                return direction * low;
            }
            clear = next;
        }
        return direction * most;
    }
};

} // namespace

TEST(RangeOracle, TwentyRandomArmsAgreeWithFcl) {
    std::mt19937 random(2024);
    const auto pick = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    const char* const blocks[] = {"brick 1x1",       "brick 2x2", "plate 2x3",       "slope 2x2",
                                  "round brick 2x2", "tile 1x4",  "round brick 1x1", "inverted slope 1x2"};
    int contacts = 0, cases = 0;
    for (int tries = 0; cases < 20 && tries < 2000; ++tries) {
        Figure f;
        const auto fork = f.put(0, "stepped hinge large fork at 0 0 0"),
                   tongue = f.put(1, "stepped hinge large tongue at 0 0 0");
        // Blocks clear of the knuckles: beyond the second cell, at any height and turn.
        for (int i = 0; i < 4; ++i) {
            const auto place = [&](int y) {
                return " at " + std::to_string(pick(-2, 2)) + " " + std::to_string(y) + " " +
                       std::to_string(pick(1, 9)) + " turn " + std::to_string(pick(0, 3));
            };
            f.put(0, blocks[pick(0, 7)] + place(pick(-6, -3)));
            f.put(1, blocks[pick(0, 7)] + place(pick(3, 6)));
        }
        f.join("stepped hinge large", fork, "finger", tongue, "finger");
        const Oracle oracle(f);
        if (oracle.collides(0)) continue;
        ++cases;
        const auto range = f.range();
        const double high = oracle.limit(1, 112.5), low = oracle.limit(-1, 112.5);
        EXPECT_NEAR(range.free.high, high, test::kRangeDeg) << "case " << cases;
        EXPECT_NEAR(range.free.low, low, test::kRangeDeg) << "case " << cases;
        contacts += (range.high.by == pose::StopBy::Contact) + (range.low.by == pose::StopBy::Contact);
    }
    EXPECT_EQ(cases, 20);
    EXPECT_GE(contacts, 8) << "the cases should really stop somewhere";
}
