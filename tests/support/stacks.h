// SPDX-License-Identifier: GPL-3.0-or-later
// Stacks of bricks for tests of balance, with limits that the test says.
#pragma once

#include "core/base/units.h"
#include "core/stand/equilibrium.h"
#include "tests/support/figures.h"

namespace ivrant::test {

struct Stack : Figure {
    double pull = 1.5, shear = 3;        ///< N a stud
    static constexpr double kHeavy = 40; ///< everything weighs that much more, so that λ lies about 1

    [[nodiscard]] stand::BondLimits limits() const {
        return {{pull, false, ""}, {shear, false, ""}, trials::calcStrengths(project), {}};
    }
    [[nodiscard]] stand::BondNet net(const stand::NetRequest& request = {}) const {
        const auto at = placed();
        return stand::makeBondNet(at, bonds::calcBonds(project), limits(), request);
    }
    [[nodiscard]] stand::Equilibrium solve(const geometry::Vec3& g = {0, 0, -1},
                                           const stand::NetRequest& request = {}) const {
        const auto made = net(request);
        return must(stand::calcEquilibrium(made, stand::calcLoads(made, kHeavy * g)));
    }
    /// Weight of a part (N), that much heavier.
    [[nodiscard]] double weight(const std::string& shape) const {
        return kHeavy * base::weightN(must(parts::makeShape(shape))->massG);
    }
};

/// An arm of one brick 1x4 on a post: held by one stud at its end.
struct Overhang : Stack {
    Overhang() {
        put(0, "plate 8x8 at 0 0 0");
        put(0, "brick 1x1 at 0 0 1");
        put(0, "brick 1x4 at 0 0 4");
    }
};

/// `courses` bricks 1x2, each a cell further out than the one below, on a plate.
struct Corbels : Stack {
    explicit Corbels(int courses, bool mirrored = false) {
        put(0, "plate 8x8 at 0 0 0");
        for (int i = 0; i < courses; ++i)
            put(0, "brick 1x2 at 0 " + std::to_string(mirrored ? 6 - i : i) + " " + std::to_string(1 + 3 * i));
    }
};

} // namespace ivrant::test
