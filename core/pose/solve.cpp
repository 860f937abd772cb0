// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/solve.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Mat3;
using geometry::Vec3;

constexpr int kMostSolverRounds = 60;
constexpr double kStepDeg = 1e-4;       ///< for differences
constexpr double kStiffPerJoint = 0.35; ///< how much stiffer each joint is than the one before it
constexpr double kGoodEnough = 1e-10;   ///< mm²

Vec3 turnError(const Mat3& wanted, const Mat3& is) {
    const Eigen::AngleAxisd aa(Mat3(wanted * is.transpose()));
    return aa.angle() * aa.axis();
}

class Solver {
public:
    Solver(const Kinematics& kinematics, const SolveRequest& request) : m_kinematics(kinematics), m_request(request) {
        int last = -1, rank = -1;
        for (const FreedomRef f : request.freedoms) {
            if (f.joint != last) ++rank;
            last = f.joint;
            const auto& kind = *at(kinematics.project().joints, f.joint).kind;
            // degrees move a point a pitch away by 0.14 mm; slides are mm
            addRings(f.joint);
            m_stiffness.push_back((1 + kStiffPerJoint * rank) * (kind.freedomUnit(f.freedom) == "deg" ? 1.0 : 5.0));
        }
    }

    Solution run() {
        Solution best;
        best.values = clamped(m_request.values);
        std::vector<bool> open(m_request.freedoms.size(), true);
        best.rounds = descend(best.values, open);
        if (m_request.keepSteps && snap(best.values, open)) best.rounds += descend(best.values, open);
        report(best);
        return best;
    }

private:
    void addRings(int joint) {
        for (const int closing : m_kinematics.tree().closing) {
            const auto ring = m_kinematics.tree().ringOf(closing);
            const bool known = std::find(m_rings.begin(), m_rings.end(), closing) != m_rings.end();
            if (!known && std::find(ring.begin(), ring.end(), joint) != ring.end()) m_rings.push_back(closing);
        }
    }

    /// What keeps a closing joint from meeting: way and turn that its own freedoms cannot take up.
    void addRingResiduals(std::vector<double>& r) const {
        for (const int closing : m_rings) {
            const auto& kind = *at(m_kinematics.project().joints, closing).kind;
            const Frame is = m_kinematics.motionBetween(m_X_WS, closing);
            const Frame may = calcMotion(kind, calcNearestValue(kind, calcMotionValues(kind, is)));
            const Vec3 off = kRingWeight * (is.translation() - may.translation()),
                       turn = kRingWeight * kAttitudeArmMm * turnError(is.linear(), may.linear());
            r.insert(r.end(), off.data(), off.data() + 3);
            r.insert(r.end(), turn.data(), turn.data() + 3);
        }
    }

    [[nodiscard]] double& valueOf(JointValues& values, std::size_t i) const {
        const FreedomRef f = m_request.freedoms[i];
        return at(at(values, f.joint), f.freedom);
    }
    [[nodiscard]] const parts::JointKind& kindOf(std::size_t i) const {
        return *at(m_kinematics.project().joints, m_request.freedoms[i].joint).kind;
    }

    [[nodiscard]] JointValues clamped(JointValues values) const {
        for (std::size_t i = 0; i < m_request.freedoms.size(); ++i) {
            double& v = valueOf(values, i);
            v = std::clamp(v, m_request.limits[i].low, m_request.limits[i].high);
        }
        for (const FreedomRef f : m_request.freedoms) { // a tilt stays within its cone
            const auto& kind = *at(m_kinematics.project().joints, f.joint).kind;
            auto& v = at(values, f.joint);
            if (kind.tilts() && calcOwnExcess(kind, v) > 0) v = calcNearestValue(kind, v);
        }
        return values;
    }

    void place(const JointValues& values) {
        m_kinematics.place(values, m_X_WS);
        if (m_request.grounded < 0) return;
        const Frame move = m_request.X_WGround * at(m_X_WS, m_request.grounded).inverse(Eigen::Isometry);
        for (Frame& X : m_X_WS) X = move * X;
    }

    Eigen::VectorXd residuals(const JointValues& values) {
        place(values);
        std::vector<double> r;
        for (const Goal& goal : m_request.goals) {
            const Frame& X = at(m_X_WS, goal.section);
            const Vec3 off = goal.weight * (X * goal.point - goal.target);
            r.insert(r.end(), off.data(), off.data() + 3);
            if (!goal.attitude) continue;
            const Vec3 turn = goal.weight * kAttitudeArmMm * turnError(X.linear(), *goal.attitude);
            r.insert(r.end(), turn.data(), turn.data() + 3);
        }
        addRingResiduals(r);
        return Eigen::Map<Eigen::VectorXd>(r.data(), static_cast<Eigen::Index>(r.size()));
    }

    int descend(JointValues& values, const std::vector<bool>& open) {
        std::vector<std::size_t> columns;
        for (std::size_t i = 0; i < open.size(); ++i)
            if (open[i]) columns.push_back(i);
        if (columns.empty()) return 0;
        Eigen::VectorXd r = residuals(values);
        double damping = 1e-2;
        int round = 0;
        for (; round < kMostSolverRounds && r.squaredNorm() > kGoodEnough; ++round) {
            const auto n = static_cast<Eigen::Index>(columns.size());
            Eigen::MatrixXd J(r.size(), n);
            for (Eigen::Index c = 0; c < n; ++c) {
                JointValues moved = values;
                valueOf(moved, at(columns, c)) += kStepDeg;
                J.col(c) = (residuals(moved) - r) / kStepDeg;
            }
            Eigen::VectorXd weights(n);
            for (Eigen::Index c = 0; c < n; ++c) weights[c] = m_stiffness[at(columns, c)];
            bool better = false;
            for (int attempt = 0; attempt < 8 && !better; ++attempt) {
                Eigen::MatrixXd A = J.transpose() * J;
                A.diagonal() += damping * weights.cwiseProduct(weights);
                const Eigen::VectorXd step = A.ldlt().solve(-J.transpose() * r);
                JointValues next = values;
                for (Eigen::Index c = 0; c < n; ++c) valueOf(next, at(columns, c)) += step[c];
                next = clamped(next);
                const Eigen::VectorXd there = residuals(next);
                better = there.squaredNorm() < r.squaredNorm() * (1 - 1e-9);
                if (better) {
                    values = std::move(next);
                    r = there;
                    damping = std::max(damping * 0.2, 1e-9);
                } else {
                    damping *= 6;
                }
            }
            if (!better) break;
        }
        return round;
    }

    /// Puts stepped joints on their nearest step and takes them out of the search. True when there were any off a step.
    bool snap(JointValues& values, std::vector<bool>& open) const {
        bool changed = false;
        for (std::size_t i = 0; i < open.size(); ++i) {
            const double step = kindOf(i).stepDeg;
            if (step <= 0) continue;
            double& v = valueOf(values, i);
            double on = std::round(v / step) * step;
            if (on > m_request.limits[i].high + 1e-6) on -= step;
            if (on < m_request.limits[i].low - 1e-6) on += step;
            changed = changed || std::abs(on - v) > 1e-9;
            v = on;
            open[i] = false;
        }
        return changed;
    }

    void report(Solution& solution) {
        place(solution.values);
        for (const int closing : m_rings) {
            const auto& kind = *at(m_kinematics.project().joints, closing).kind;
            at(solution.values, closing) =
                calcNearestValue(kind, calcMotionValues(kind, m_kinematics.motionBetween(m_X_WS, closing)));
        }
        for (const Goal& goal : m_request.goals) {
            const Frame& X = at(m_X_WS, goal.section);
            solution.errorMm = std::max(solution.errorMm, (X * goal.point - goal.target).norm());
            if (goal.attitude)
                solution.errorDeg =
                    std::max(solution.errorDeg, base::radToDeg(turnError(X.linear(), *goal.attitude).norm()));
        }
    }

    const Kinematics& m_kinematics;
    const SolveRequest& m_request;
    std::vector<double> m_stiffness;
    std::vector<int> m_rings; ///< closing joints of rings that change
    std::vector<Frame> m_X_WS;
};

} // namespace

Solution calcSolution(const Kinematics& kinematics, const SolveRequest& request) {
    return Solver(kinematics, request).run();
}

void addFreedoms(const PoseChecker& checker, int joint, FreeJoints& free, const std::vector<FreedomRef>& kept) {
    const auto& kind = *at(checker.kinematics().project().joints, joint).kind;
    for (int f = 0; f < kind.freedomCount(); ++f) {
        const FreedomRef ref{joint, f};
        const auto isIn = [&](const std::vector<FreedomRef>& list) {
            return std::find(list.begin(), list.end(), ref) != list.end();
        };
        if (isIn(kept) || isIn(free.freedoms)) continue;
        free.freedoms.push_back(ref);
        free.limits.push_back(checker.freeRange(ref));
    }
}

void addFreedomsTo(const PoseChecker& checker, int section, int grounded, std::size_t most, FreeJoints& free) {
    const auto& tree = checker.kinematics().tree();
    const auto way = tree.wayBetween(section, grounded >= 0 ? grounded : tree.rootOf(section));
    for (std::size_t i = 0; i < std::min(most, way.size()); ++i) addFreedoms(checker, way[i], free);
}

JointValues calcBetween(const JointValues& from, const JointValues& to, double t) {
    JointValues values = from;
    for (std::size_t j = 0; j < values.size(); ++j)
        for (std::size_t k = 0; k < values[j].size(); ++k) values[j][k] += t * (to[j][k] - from[j][k]);
    return values;
}

double calcFreeShare(const PoseChecker& checker, const JointValues& from, const JointValues& to, double scanMm) {
    // How far anything moves: Σ over joints of the change × the size of the figure.
    std::vector<Frame> X;
    checker.kinematics().place(from, X);
    geometry::Bounds bounds;
    for (const Frame& x : X) bounds.include(Vec3(x.translation()));
    const double size = bounds.size().norm() + 5 * base::kPitchMm;
    double travel = 0;
    for (std::size_t j = 0; j < from.size(); ++j)
        for (std::size_t k = 0; k < from[j].size(); ++k) {
            const double change = std::abs(to[j][k] - from[j][k]);
            travel += checker.kinematics().project().joints[j].kind->freedomUnit(static_cast<int>(k)) == "deg"
                          ? base::degToRad(change) * size
                          : change;
        }
    const int steps = std::clamp(static_cast<int>(std::ceil(travel / scanMm)), 1, 20'000);
    double clear = 0;
    for (int i = 1; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        if (checker.isFree(calcBetween(from, to, t))) {
            clear = t;
            continue;
        }
        double hit = t;
        for (int halving = 0; halving < 8; ++halving) {
            const double middle = 0.5 * (clear + hit);
            (checker.isFree(calcBetween(from, to, middle)) ? clear : hit) = middle;
        }
        return clear;
    }
    return 1;
}

} // namespace ivrant::pose
