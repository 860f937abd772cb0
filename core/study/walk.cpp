// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/walk.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/pose/loop_loads.h"
#include "core/pose/stance.h"

namespace ivrant::study {
namespace {

using geometry::Frame;
using geometry::Vec3;
using Vec2 = Eigen::Vector2d;

constexpr int kWalkSteps = 360, kShownEvery = 5;
constexpr int kMostHalvings = 5;       ///< of a step in which it tilts much
constexpr double kFinerAboveDeg = 0.5; ///< tilts by more than this are looked at finer
constexpr double kStraightDeg = 0.05;

/// Rotates a and b's plane axes along when the up of a body changes: no turn about it.
Vec3 carry(const Vec3& axis, const Vec3& from, const Vec3& to) {
    return Eigen::Quaterniond::FromTwoVectors(from, to) * axis;
}

class Walk {
public:
    Walk(const MotionInputs& in, const model::Motion& motion, const std::vector<int>& feet,
         const base::Progress* progress)
        : m_in(in), m_project(*in.project), m_motion(motion), m_feet(feet), m_progress(progress),
          m_kinematics(*in.project, *in.tree) {}

    WalkStudy run() {
        if (m_feet.empty()) return fail("walk.feet", "no section is said to be a foot", 0);
        const int driver = m_project.findJoint(m_motion.joint);
        if (driver < 0) return fail("walk.motion", "the joint that is driven is not in the model", 0);
        const auto& kind = *at(m_project.joints, driver).kind;
        if (kind.tilts() || kind.stepDeg > 0 || kind.freedomUnit(0) != "deg")
            return fail("walk.motion", "a crank turns all round: this joint does not", 0);
        const auto values = pose::getValues(m_project, nullptr);
        m_follower.emplace(m_kinematics, pose::planLoops(m_kinematics, values, {driver, 0}));
        pose::LoopPlace loop = m_follower->start(values);
        if (!loop.isClosed()) return fail("walk.motion", "its loops do not close", 0);
        collectPoints();
        m_start = at(at(loop.values, driver), 0);
        m_driver = driver;
        State state;
        if (!settle(loop, m_in.placed->X_WS[static_cast<std::size_t>(m_in.ground)].linear().row(2).transpose(), state))
            return fail("walk.falls", "it does not stand on its feet at the beginning", 0);
        // As it stands now, seen from above.
        const Frame& body = m_in.placed->X_WS[static_cast<std::size_t>(m_in.ground)];
        const Vec3 ahead = body.linear().row(0).transpose();
        const Vec3 level = ahead - ahead.dot(state.support.up) * state.support.up;
        state.x = level.norm() > 1e-6 ? level.normalized() : state.support.up.unitOrthogonal();
        state.shift = body.translation().head<2>();
        m_first = state;
        keep(state, 0);
        for (int k = 1; k <= kWalkSteps; ++k) {
            if (m_progress && m_progress->stopped()) return std::move(m_study);
            if (!advance(loop, state, k)) return std::move(m_study);
            if (k % kShownEvery == 0) keep(state, k);
        }
        finish(state);
        return std::move(m_study);
    }

private:
    struct State {
        Support support;
        Vec3 x = Vec3::UnitX(); ///< of the plane, in the body
        double theta = 0;       ///< heading, rad
        Vec2 shift = Vec2::Zero();
        Vec3 centre = Vec3::Zero();
        std::vector<Frame> X_BS; ///< of all sections in the body
        std::vector<FootPoint> points;
        double slip = 0, height = 0, friction = 0; ///< slip since the beginning; friction N·mm
        double weightNmm = 0, slipNmm = 0;         ///< of the step that led here
        [[nodiscard]] Vec2 flat(const Vec3& p) const { return {p.dot(x), p.dot(support.up.cross(x))}; }
        [[nodiscard]] Vec2 onGround(const Vec3& p) const { return turnBy(theta, flat(p)) + shift; }
    };

    void note(const std::string& code, const std::string& problem, double at) {
        m_study.code = code;
        m_study.problem = problem;
        m_study.problemAt = at;
    }
    WalkStudy fail(const std::string& code, const std::string& problem, double at) {
        note(code, problem, at);
        return std::move(m_study);
    }

    void collectPoints() {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            const auto foot = std::find(m_feet.begin(), m_feet.end(), static_cast<int>(s));
            const int index = foot == m_feet.end() ? -1 : static_cast<int>(foot - m_feet.begin());
            m_points.push_back(listFootPoints(*m_project.sections[s], index));
            const model::Placed own{&m_project, std::vector<Frame>(m_project.sections.size(), Frame::Identity())};
            m_masses.push_back(model::calcMass(own, {static_cast<int>(s)}));
            m_massG += m_masses.back().massG;
        }
        for (const int s : m_feet) m_study.feet.push_back({s, 0, 0});
        m_study.clearMm = 1e300;
    }

    bool settle(const pose::LoopPlace& loop, const Vec3& lastUp, State& state) {
        std::vector<Frame> X_WS;
        m_kinematics.place(loop.values, X_WS);
        const Frame back = at(X_WS, m_in.ground).inverse(Eigen::Isometry);
        state.X_BS.resize(X_WS.size());
        state.points.clear();
        state.centre = Vec3::Zero();
        for (std::size_t s = 0; s < X_WS.size(); ++s) {
            state.X_BS[s] = back * X_WS[s];
            state.centre += m_masses[s].massG * (state.X_BS[s] * m_masses[s].centre);
            for (FootPoint p : m_points[s]) {
                if (p.foot < 0) break;
                p.at = state.X_BS[s] * p.at;
                p.axis = state.X_BS[s].linear() * p.axis;
                state.points.push_back(p);
            }
        }
        if (m_massG > 0) state.centre /= m_massG;
        const auto support = calcSupport(state.points, state.centre, lastUp);
        if (!support) return false;
        state.support = *support;
        state.height = state.centre.dot(support->up) - support->offset;
        state.friction = 0;
        for (const int j : m_follower->plan().moved) {
            const auto& kind = *at(m_project.joints, j).kind;
            const model::Capacity& holding = at(*m_in.strengths, j).holding;
            state.friction +=
                pose::calcTurnSpeed(kind, at(loop.rates, j)) * (holding.measured ? holding.value : kind.holdingNmm);
        }
        return true;
    }

    /// One degree on, finer where it tilts.
    bool advance(pose::LoopPlace& loop, State& state, int k) {
        const double target = m_start + k;
        double from = target - 1;
        int halvings = 0;
        const double heightBefore = state.height, slipBefore = state.slip;
        while (from < target - 1e-12) {
            const double to = std::min(target, from + std::ldexp(1.0, -halvings));
            pose::LoopPlace next = loop;
            if (m_follower->advance(next, to) != pose::LoopEnd::Reached) {
                note("walk.motion",
                     "it does not turn all round: it sticks at " + base::formatNumber(from - m_start, 0) + "°",
                     from - m_start);
                return false;
            }
            State there = state;
            if (!settle(next, state.support.up, there)) {
                note("walk.falls",
                     "it falls over at " + base::formatNumber(to - m_start, 0) +
                         "°: its weight stands beside all of its feet",
                     to - m_start);
                return false;
            }
            const double tilt = base::radToDeg(
                std::atan2(state.support.up.cross(there.support.up).norm(), state.support.up.dot(there.support.up)));
            if (tilt > kFinerAboveDeg && halvings < kMostHalvings) {
                ++halvings;
                continue;
            }
            if (tilt > m_study.rockDeg) {
                m_study.rockDeg = tilt;
                m_study.rockAt = to - m_start;
            }
            move(state, there);
            watch(there, to - m_start);
            state = std::move(there);
            loop = std::move(next);
            from = to;
        }
        state.weightNmm = base::weightN(m_massG) * (state.height - heightBefore) / base::degToRad(1);
        state.slipNmm = kFootFriction * base::weightN(m_massG) * (state.slip - slipBefore) / base::degToRad(1);
        const double torque = state.weightNmm + state.slipNmm + state.friction;
        m_study.jointWorkNmm += state.friction * base::degToRad(1);
        if (torque > m_study.mostTorqueNmm) {
            m_study.mostTorqueNmm = torque;
            m_study.mostTorqueAt = k;
        }
        return true;
    }

    /// The body goes as the points that stand before let it.
    void move(const State& before, State& now) const {
        now.x = carry(before.x, before.support.up, now.support.up);
        now.x = (now.x - now.x.dot(now.support.up) * now.support.up).normalized();
        std::vector<Vec2> was, is;
        for (std::size_t i = 0; i < before.support.contacts.size(); ++i) {
            const int foot = at(before.points, before.support.touching[i]).foot;
            const auto s = static_cast<std::size_t>(at(m_feet, foot));
            const Vec3 inFoot = before.X_BS[s].inverse(Eigen::Isometry) * before.support.contacts[i];
            was.push_back(before.flat(before.support.contacts[i]));
            is.push_back(now.flat(now.X_BS[s] * inFoot));
        }
        const PlaneMove moved = calcPlaneMove(was, is, before.support.shares);
        now.theta = before.theta + moved.turn;
        now.shift = before.shift + turnBy(before.theta, moved.shift);
        now.slip = before.slip + moved.slip;
    }

    void watch(const State& state, double at) {
        if (state.support.tipDeg < m_leastTip) {
            m_leastTip = state.support.tipDeg;
            m_study.leastTipDeg = m_leastTip;
            m_study.leastTipAt = at;
        }
        std::vector<double> low(m_feet.size(), 1e300);
        for (const FootPoint& p : state.points)
            low[static_cast<std::size_t>(p.foot)] =
                std::min(low[static_cast<std::size_t>(p.foot)],
                         p.findLowest(state.support.up).dot(state.support.up) - state.support.offset);
        for (std::size_t f = 0; f < low.size(); ++f) m_study.feet[f].liftMm = std::max(m_study.feet[f].liftMm, low[f]);
        for (std::size_t s = 0; s < m_points.size(); ++s) {
            if (m_points[s].empty() || m_points[s].front().foot >= 0) continue;
            const Vec3 up = state.X_BS[s].linear().transpose() * state.support.up;
            double least = 1e300;
            for (const FootPoint& p : m_points[s]) least = std::min(least, p.findLowest(up).dot(up));
            const double clear = least + state.X_BS[s].translation().dot(state.support.up) - state.support.offset;
            if (clear >= m_study.clearMm) continue;
            m_study.clearMm = clear;
            m_study.clearAt = at;
            m_study.clearSection = static_cast<int>(s);
        }
    }

    void keep(const State& state, int k) {
        if (k == 0) watch(state, 0);
        WalkPlace place;
        place.at = k;
        place.support = state.support;
        place.way = state.onGround(state.centre) - m_first.onGround(m_first.centre);
        place.headingDeg = base::radToDeg(state.theta);
        place.heightMm = state.height;
        place.stands.assign(m_feet.size(), 0);
        for (const int p : state.support.touching) place.stands[static_cast<std::size_t>(at(state.points, p).foot)] = 1;
        place.weightNmm = state.weightNmm;
        place.slipNmm = state.slipNmm;
        place.frictionNmm = state.friction;
        if (state.support.contacts.size() < 3) ++m_study.fewPoints;
        // Onto the ground: up becomes z, the plane's x the x it walks by.
        geometry::Mat3 axes;
        axes.row(0) = state.x;
        axes.row(1) = state.support.up.cross(state.x);
        axes.row(2) = state.support.up;
        Frame X_WB = Frame::Identity();
        X_WB.linear() = geometry::Mat3(Eigen::AngleAxisd(state.theta, Vec3::UnitZ())) * axes;
        X_WB.translation() = Vec3(state.shift.x(), state.shift.y(), -state.support.offset);
        place.placed.project = &m_project;
        for (const Frame& X : state.X_BS) place.placed.X_WS.push_back(X_WB * X);
        m_study.places.push_back(std::move(place));
    }

    void finish(const State& last) {
        const Vec2 way = m_study.places.back().way;
        m_study.strideMm = way.norm();
        m_study.turnDeg = base::radToDeg(last.theta);
        if (std::abs(m_study.turnDeg) > kStraightDeg)
            m_study.radiusMm = m_study.strideMm / (2 * std::abs(std::sin(last.theta / 2)));
        m_study.slipMm = last.slip;
        m_study.slipWorkNmm = kFootFriction * base::weightN(m_massG) * last.slip;
        double low = 1e300, high = -1e300;
        Vec3 mean = Vec3::Zero();
        for (std::size_t k = 0; k + 1 < m_study.places.size(); ++k) {
            const WalkPlace& place = m_study.places[k];
            low = std::min(low, place.heightMm);
            high = std::max(high, place.heightMm);
            mean += place.support.up;
            for (std::size_t f = 0; f < m_study.feet.size(); ++f)
                m_study.feet[f].share += place.stands[f] ? 1.0 / static_cast<double>(m_study.places.size() - 1) : 0;
        }
        m_study.riseMm = high - low;
        mean.normalize();
        for (WalkPlace& place : m_study.places) {
            place.tiltDeg = base::radToDeg(std::atan2(mean.cross(place.support.up).norm(), mean.dot(place.support.up)));
            m_study.mostTiltDeg = std::max(m_study.mostTiltDeg, place.tiltDeg);
        }
        const auto& moved = m_follower->plan().moved;
        m_study.frictionMeasured =
            std::all_of(moved.begin(), moved.end(), [&](int j) { return at(*m_in.strengths, j).holding.measured; });
        if (m_study.clearMm >= 0) return;
        note("walk.drags",
             at(m_project.sections, m_study.clearSection)->name + " drags on the ground at " +
                 base::formatNumber(m_study.clearAt, 0) + "°: it comes " + base::formatNumber(-m_study.clearMm, 1) +
                 " mm lower than the feet",
             m_study.clearAt);
    }

    const MotionInputs& m_in;
    const model::Project& m_project;
    const model::Motion& m_motion;
    const std::vector<int>& m_feet;
    const base::Progress* m_progress;
    pose::Kinematics m_kinematics;
    std::optional<pose::LoopFollower> m_follower;
    std::vector<std::vector<FootPoint>> m_points;
    std::vector<model::MassPoint> m_masses;
    double m_massG = 0, m_start = 0, m_leastTip = 1e300;
    int m_driver = -1;
    State m_first;
    WalkStudy m_study;
};

} // namespace

WalkStudy calcWalk(const MotionInputs& inputs, const model::Motion& motion, const std::vector<int>& feet,
                   const base::Progress* progress) {
    return Walk(inputs, motion, feet, progress).run();
}

} // namespace ivrant::study
