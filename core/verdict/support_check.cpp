#include "core/verdict/support_check.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/units.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {

base::Result<SupportDesign> calcSupports(const Report& report, const PoseReport& pose, double wishDeg, base::Progress* progress) {
    SupportDesign design;
    design.wishDeg = wishDeg > 0 ? wishDeg : std::max(kUsualTipDeg, report.project->tiltDeg);
    if (!pose.tipping || pose.stance.kind == model::Stance::Kind::Held) {
        design.why = "this pose is held, not standing: there is no ground for a support";
        return design;
    }
    const bool falls = pose.standing && !pose.standing->equilibrium.stands;
    design.needed = pose.tipping->angleDeg < design.wishDeg || falls;
    const auto spots = stand::listSupports(pose.placed, *pose.tipping, design.wishDeg);
    if (spots.empty()) design.why = "no underside that a post reaches from the ground brings the tip angle to " + base::formatNumber(design.wishDeg, 0) + "°";
    for (std::size_t i = 0; i < spots.size(); ++i) {
        if (progress) {
            if (progress->stopped()) return base::Error{"stopped", "stopped", ""};
            progress->report(static_cast<double>(i) / static_cast<double>(spots.size()));
        }
        // Bonds with the base tilted the way the figure tips first without it.
        stand::StandCase tilted;
        const double toward = base::degToRad(pose.tipping->towardDeg), tilt = base::degToRad(design.wishDeg);
        tilted.accelerationG = std::sin(tilt) * geometry::Vec3(std::cos(toward), std::sin(toward), 0) - std::cos(tilt) * geometry::Vec3::UnitZ();
        tilted.props = {{spots[i].part, spots[i].at}};
        stand::EquilibriumRequest request;
        request.use = false;
        request.progress = progress;
        const auto solved = calcStandCase(report, pose, tilted, request);
        if (!solved) return solved.error();
        design.spots.push_back({spots[i], solved->equilibrium.stands, solved->equilibrium.lambda});
    }
    const auto worth = [](const CheckedSupport& s) { return std::pair(!s.holds, s.lambda.value_or(std::numeric_limits<double>::infinity())); };
    std::stable_sort(design.spots.begin(), design.spots.end(), [&](const CheckedSupport& l, const CheckedSupport& r) { return worth(l) < worth(r); });
    return design;
}

} // namespace ivrant::verdict
