#include "core/pose/reach.h"

#include <array>

namespace ivrant::pose {
namespace {
constexpr std::array<int, 24> kPrimes{2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53, 59, 61, 67, 71, 73, 79, 83, 89};
constexpr int kReportEvery = 256;
constexpr double kEndlessDeg = 180;
} // namespace

double calcHalton(int index, int base) {
    double result = 0, share = 1;
    for (int i = index; i > 0; i /= base) {
        share /= base;
        result += share * (i % base);
    }
    return result;
}

Reach calcReach(const PoseChecker& checker, const JointValues& values, const ReachRequest& request, base::Progress* progress) {
    Reach reach;
    const auto& kinematics = checker.kinematics();
    std::vector<geometry::Pose> X_WS;
    kinematics.place(values, X_WS);
    geometry::Vec3 root = geometry::Vec3::Zero();
    if (!request.freedoms.empty()) root = kinematics.jointFrame(X_WS, request.freedoms.back().joint).translation();
    double highest = -1e30, lowest = 1e30, farthest = -1;
    for (int i = 1; i <= request.samples; ++i) {
        if (progress && i % kReportEvery == 0) {
            if (progress->stopped()) return reach;
            progress->report(static_cast<double>(i) / request.samples);
        }
        JointValues at = values;
        for (std::size_t f = 0; f < request.freedoms.size(); ++f) {
            const model::Range range{std::max(request.limits[f].low, -kEndlessDeg), std::min(request.limits[f].high, kEndlessDeg)};
            at[static_cast<std::size_t>(request.freedoms[f].joint)][static_cast<std::size_t>(request.freedoms[f].freedom)] =
                range.low + (range.high - range.low) * calcHalton(i, kPrimes[f % kPrimes.size()]);
        }
        ++reach.tried;
        kinematics.place(at, X_WS);
        if (!checker.isFree(at, X_WS)) continue;
        const geometry::Vec3 point = X_WS[static_cast<std::size_t>(request.section)] * request.tip;
        const int index = static_cast<int>(reach.points.size());
        if (point.z() > highest) {
            highest = point.z();
            reach.highest = index;
        }
        if (point.z() < lowest) {
            lowest = point.z();
            reach.lowest = index;
        }
        if ((point - root).norm() > farthest) {
            farthest = (point - root).norm();
            reach.farthest = index;
        }
        reach.bounds.include(point);
        reach.points.push_back(point);
        reach.poses.push_back(std::move(at));
    }
    return reach;
}

} // namespace ivrant::pose
