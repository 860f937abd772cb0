// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/reach.h"

#include <array>

#include "core/base/at.h"
#include "core/pose/chain.h"
#include "core/pose/rings.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {
constexpr std::array<int, 24> kPrimes{2,  3,  5,  7,  11, 13, 17, 19, 23, 29, 31, 37,
                                      41, 43, 47, 53, 59, 61, 67, 71, 73, 79, 83, 89};
constexpr int kReportEvery = 256;
constexpr double kEndlessDeg = 180;

/// Sections that can come near the ground: their corners and bounding spheres, in their own frames.
class GroundTest {
public:
    GroundTest(const model::Project& project, bool held) {
        const model::Placed own{&project,
                                std::vector<geometry::Frame>(project.sections.size(), geometry::Frame::Identity())};
        for (std::size_t s = 0; s < project.sections.size() && !held; ++s) {
            Body body{listCorners(own, static_cast<int>(s)), {}, 0};
            geometry::Bounds bounds;
            for (const auto& p : body.corners) bounds.include(p);
            if (!bounds.empty()) body.centre = bounds.centre();
            for (const auto& p : body.corners) body.radius = std::max(body.radius, (p - body.centre).norm());
            m_bodies.push_back(std::move(body));
        }
    }
    [[nodiscard]] bool isUnder(const std::vector<geometry::Frame>& X_WS) const {
        for (std::size_t s = 0; s < m_bodies.size(); ++s) {
            const Body& body = m_bodies[s];
            if ((X_WS[s] * body.centre).z() - body.radius > -model::kGroundContactMm) continue;
            for (const auto& p : body.corners)
                if ((X_WS[s] * p).z() < -model::kGroundContactMm) return true;
        }
        return false;
    }

private:
    struct Body {
        std::vector<geometry::Vec3> corners;
        geometry::Vec3 centre = geometry::Vec3::Zero();
        double radius = 0;
    };
    std::vector<Body> m_bodies;
};

} // namespace

double calcHalton(int index, int base) {
    double result = 0, share = 1;
    for (int i = index; i > 0; i /= base) {
        share /= base;
        result += share * (i % base);
    }
    return result;
}

ReachRequest makeReachRequest(const RangeContext& context, const JointValues& values, const model::Stance& stance,
                              int section) {
    ReachRequest request;
    request.section = section;
    request.stance = stance;
    addFreedomsTo(PoseChecker(context, values), section, -1, kMostReachJoints, request);
    if (request.freedoms.empty()) return request;
    if (const auto chain = makeChain(context, values, request.freedoms.back().joint, request.freedoms.front().joint))
        request.tip = chain->tip;
    return request;
}

Reach calcReach(const PoseChecker& checker, const JointValues& values, const ReachRequest& request,
                base::Progress* progress) {
    Reach reach;
    const auto& kinematics = checker.kinematics();
    std::vector<geometry::Frame> X_WS;
    kinematics.place(values, X_WS);
    const auto& project = kinematics.project();
    model::Placed standing{&project, X_WS};
    applyStance(standing, request.stance);
    int still = request.stance.kind == model::Stance::Kind::Settle ? -1 : project.findSection(request.stance.section);
    if (still < 0) still = kinematics.tree().order.front();
    const geometry::Frame X_WStill = ivrant::at(standing.X_WS, still);
    const auto stand = [&] {
        const geometry::Frame move = X_WStill * ivrant::at(X_WS, still).inverse(Eigen::Isometry);
        for (auto& X : X_WS) X = move * X;
    };
    stand();
    const GroundTest ground(project, request.stance.kind == model::Stance::Kind::Held);
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
            const model::Range range{std::max(request.limits[f].low, -kEndlessDeg),
                                     std::min(request.limits[f].high, kEndlessDeg)};
            ivrant::at(at, request.freedoms[f].joint)[static_cast<std::size_t>(request.freedoms[f].freedom)] =
                range.low + (range.high - range.low) * calcHalton(i, kPrimes[f % kPrimes.size()]);
        }
        ++reach.tried;
        if (!kinematics.tree().closing.empty()) {
            auto closed = calcClosed(checker, at);
            if (!closed.closed) continue;
            at = std::move(closed.values);
        }
        kinematics.place(at, X_WS);
        if (!checker.isFree(at, X_WS)) continue;
        stand();
        if (ground.isUnder(X_WS)) {
            ++reach.underGround;
            continue;
        }
        const geometry::Vec3 point = ivrant::at(X_WS, request.section) * request.tip;
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
