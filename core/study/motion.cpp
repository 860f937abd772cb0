// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/motion.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/pose/lines.h"
#include "core/pose/loop_loads.h"
#include "core/pose/stance.h"
#include "core/study/walk.h"

namespace ivrant::study {
namespace {

using geometry::Frame;
using geometry::Vec3;
using pose::LoopEnd;
using pose::LoopFollower;
using pose::LoopPlace;
using pose::Screw;

constexpr int kMostMeetSteps = 24; ///< between two places
constexpr double kSpeedsUp = 1.2;  ///< on the way to the next place
constexpr double kSameDeg = 0.05, kSameMm = 0.05;
constexpr double kRoundDeg = 359;

/// Sections that never move against each other have one number.
std::vector<int> findGroups(const model::Project& project, const model::SectionTree& tree, const pose::LoopPlan& plan) {
    std::vector<int> group(project.sections.size());
    std::iota(group.begin(), group.end(), 0);
    const auto rootOf = [&](int s) {
        while (at(group, s) != s) s = at(group, s);
        return s;
    };
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        if (std::find(plan.moved.begin(), plan.moved.end(), static_cast<int>(j)) != plan.moved.end()) continue;
        at(group, rootOf(tree.from[j].section)) = rootOf(tree.to[j].section);
    }
    for (std::size_t s = 0; s < group.size(); ++s) group[s] = rootOf(static_cast<int>(s));
    return group;
}

/// As the model stands: the ground and what no joint ties to it where they are.
model::Placed putOnGround(const pose::Kinematics& kinematics, const MotionInputs& in, int ground,
                          const pose::JointValues& values) {
    model::Placed placed;
    placed.project = in.project;
    kinematics.place(values, placed.X_WS);
    const int root = in.tree->rootOf(ground);
    const Frame move = at(in.placed->X_WS, ground) * at(placed.X_WS, ground).inverse(Eigen::Isometry);
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        placed.X_WS[s] =
            in.tree->rootOf(static_cast<int>(s)) == root ? Frame(move * placed.X_WS[s]) : at(in.placed->X_WS, s);
    placed.boardTurns = in.placed->boardTurns;
    return placed;
}

class Study {
public:
    Study(const MotionInputs& in, const model::Motion& motion, const base::Progress* progress)
        : m_in(in), m_project(*in.project), m_motion(motion), m_progress(progress), m_kinematics(*in.project, *in.tree),
          m_lines(*in.project, *in.tree) {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            const model::Placed own{&m_project, std::vector<Frame>(m_project.sections.size(), Frame::Identity())};
            m_masses.push_back(model::calcMass(own, {static_cast<int>(s)}));
        }
    }

    MotionStudy run(int driver) {
        m_study.ground = m_in.ground;
        const pose::FreedomRef freedom{driver, 0};
        const auto values = pose::getValues(m_project, nullptr);
        LoopFollower follower(m_kinematics, pose::planLoops(m_kinematics, values, freedom));
        m_follower = &follower;
        m_study.plan = follower.plan();
        for (const pose::LoopBlock& block : m_study.plan.blocks) m_study.loops += static_cast<int>(block.cycles.size());
        m_group = findGroups(m_project, *m_in.tree, m_study.plan);
        if (m_in.bodies) m_finder.emplace(*m_in.bodies, m_group);
        LoopPlace start = follower.start(values);
        m_study.gapMm = start.gapMm;
        m_study.gapDeg = start.turnDeg;
        m_study.gapJoint = start.gapJoint;
        if (!start.isClosed()) {
            m_study.code = "motion.open";
            m_study.problem = "the loop at '" + nameOf(start.gapJoint) +
                              "' does not close: " + base::formatNumber(start.gapMm, 2) + " mm and " +
                              base::formatNumber(start.turnDeg, 1) + "° are left open";
            return std::move(m_study);
        }
        m_slides = at(m_project.joints, driver).kind->freedomUnit(0) == "mm";
        m_unit = m_slides ? 1 : base::degToRad(1);
        chooseTraces();
        if (m_finder)
            for (const auto& met : m_finder->find(place(start.values)))
                m_atStart.emplace_back(met.first.spot, met.second.spot);
        follow(start);
        finish();
        m_follower = nullptr;
        return std::move(m_study);
    }

private:
    [[nodiscard]] std::string nameOf(int joint) const { return joint < 0 ? "?" : at(m_project.joints, joint).name; }
    [[nodiscard]] double driverOf(const LoopPlace& p) const {
        return at(at(p.values, m_study.plan.driver.joint), m_study.plan.driver.freedom);
    }
    [[nodiscard]] bool isStopped() const { return m_progress && m_progress->stopped(); }
    [[nodiscard]] model::Placed place(const pose::JointValues& values) const {
        return putOnGround(m_kinematics, m_in, m_in.ground, values);
    }

    /// What was asked for, or whichever port of what moves is farthest from the joints that hold it.
    void chooseTraces() {
        const model::PartIndex index(m_project);
        for (const model::Traced& traced : m_motion.traced) {
            const model::PartSpot spot = index.find(traced.part);
            if (spot.section < 0) continue;
            const model::Part& part = model::getPart(m_project, spot);
            MotionTrace trace;
            trace.section = spot.section;
            const int port = traced.port.empty() ? -1 : part.shape->findPort(traced.port);
            trace.inSection = port < 0 ? middleOf(part)
                                       : Vec3((part.place.frame() * at(part.shape->ports, port).X_PF()).translation());
            trace.name = (part.name.empty() ? part.shape->name : part.name) + (port < 0 ? "" : " " + traced.port) +
                         " of " + at(m_project.sections, spot.section)->name;
            m_study.traces.push_back(std::move(trace));
        }
        if (m_study.traces.empty()) traceTip();
    }
    [[nodiscard]] static Vec3 middleOf(const model::Part& part) {
        geometry::Bounds bounds;
        for (const auto& solid : part.shape->solids)
            bounds.include(geometry::calcBounds(solid.solid, part.place.frame()));
        return bounds.empty() ? Vec3(part.place.frame().translation()) : bounds.centre();
    }
    void traceTip() {
        MotionTrace best;
        double farthest = 0;
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            if (m_group[s] == at(m_group, m_in.ground) || m_project.sections[s]->parts.empty()) continue;
            std::vector<Vec3> joints;
            for (const int j : m_study.plan.moved) {
                if (at(m_in.tree->from, j).section == static_cast<int>(s))
                    joints.push_back(pose::calcFromFrame(m_project, *m_in.tree, j).translation());
                if (at(m_in.tree->to, j).section == static_cast<int>(s))
                    joints.push_back(pose::calcToFrame(m_project, *m_in.tree, j).translation());
            }
            if (joints.empty()) continue;
            for (const model::Part& part : m_project.sections[s]->parts)
                for (const parts::Port& port : part.shape->ports) {
                    const Vec3 p = (part.place.frame() * port.X_PF()).translation();
                    double nearest = 1e300;
                    for (const Vec3& joint : joints) nearest = std::min(nearest, (p - joint).norm());
                    if (nearest < farthest + 1e-6) continue;
                    farthest = nearest;
                    best.section = static_cast<int>(s);
                    best.inSection = p;
                    best.name = "tip of " + m_project.sections[s]->name;
                }
        }
        if (farthest > 0) m_study.traces.push_back(std::move(best));
    }

    /// Full friction, not the part that is counted on for holding: the motor has to overcome it.
    [[nodiscard]] double rubbing(int joint, const std::vector<double>& rates) const {
        const auto& kind = *at(m_project.joints, joint).kind;
        const model::Capacity& holding = at(*m_in.strengths, joint).holding;
        return pose::calcTurnSpeed(kind, rates) * (holding.measured ? holding.value : kind.holdingNmm);
    }

    void take(const LoopPlace& p) {
        const model::Placed placed = place(p.values);
        MotionPlace one;
        one.at = driverOf(p);
        one.values = p.values;
        const auto speeds = pose::calcSpeeds(m_kinematics, placed, p, m_in.ground);
        for (std::size_t s = 0; s < speeds.size(); ++s) {
            if (m_masses[s].massG == 0 || speeds[s].isZero()) continue;
            const Vec3 centre = placed.X_WS[s] * m_masses[s].centre;
            const Vec3 v = Vec3(speeds[s].tail<3>()) + Vec3(speeds[s].head<3>()).cross(centre);
            one.gravityNmm += base::weightN(m_masses[s].massG) * v.z();
        }
        for (std::size_t i = 0; i < m_lines.size(); ++i) {
            const pose::LineState line = m_lines.place(i, placed.X_WS);
            if (!line.hasWay() || line.pullN == 0) continue;
            for (const double rate : m_lines.calcRates(i, line, speeds))
                one.gravityNmm += line.pullN * m_lines.line(i).count * rate;
        }
        for (const int j : m_study.plan.moved) {
            one.frictionNmm += rubbing(j, at(p.rates, j));
            one.rates.push_back(at(p.rates, j)[0] *
                                (at(m_project.joints, j).kind->freedomUnit(0) == "mm" ? m_unit : 1));
        }
        std::vector<LoopFollower::BlockTransmission> transmissions = m_follower->calcTransmissions(p);
        for (const auto& t : transmissions) {
            if (!t.angle) continue;
            if (one.sineJoint >= 0 && t.sine >= one.sine) continue;
            one.sine = t.sine;
            one.sineJoint = t.joint;
        }
        m_transmissions.push_back(std::move(transmissions));
        if (m_in.tips && placed.project)
            if (const auto tipping = stand::calcTipping(placed, pose::listGroundCorners(placed, kGroundMm)))
                one.tipDeg = tipping->angleDeg;
        for (MotionTrace& trace : m_study.traces) {
            const Vec3 at = ivrant::at(placed.X_WS, trace.section) * trace.inSection;
            const Screw& speed = ivrant::at(speeds, trace.section);
            trace.path.push_back(at);
            trace.speed.push_back((Vec3(speed.tail<3>()) + Vec3(speed.head<3>()).cross(at)).norm());
        }
        m_study.places.push_back(std::move(one));
    }

    /// Goes on to a value of the driver, looking for meetings on the way. False: it ends before, in `end`.
    bool goTo(LoopPlace& p, double target, MotionEnd& end) {
        const double from = driverOf(p);
        int steps = 1;
        if (m_finder) {
            const model::Placed placed = place(p.values);
            const double speed =
                m_finder->boundSpeed(placed.X_WS, pose::calcSpeeds(m_kinematics, placed, p, m_in.ground));
            const double way = kSpeedsUp * speed * std::abs(target - from) * m_unit;
            steps = std::clamp(static_cast<int>(std::ceil(way / kMeetStepMm)), 1, kMostMeetSteps);
        }
        for (int k = 1; k <= steps && !isStopped(); ++k) {
            end.by = m_follower->advance(p, from + (target - from) * k / steps, &m_study.changePoints, &end.joint);
            end.at = driverOf(p);
            if (m_finder) meet(p);
            if (end.by != LoopEnd::Reached) return false;
        }
        return !isStopped();
    }
    void meet(const LoopPlace& p) { m_met[driverOf(p)] = m_finder->find(place(p.values)); }

    void follow(LoopPlace start) {
        const double v0 = driverOf(start);
        const parts::JointKind& kind = *at(m_project.joints, m_study.plan.driver.joint).kind;
        const double whole = m_slides ? 2 * kind.slideMm : 360;
        MotionEnd end;
        if (m_motion.over) {
            if (!goTo(start, m_motion.over->from, end)) {
                m_study.low = end;
                m_study.code = end.by == LoopEnd::Limit ? "motion.limit" : "motion.dead";
                m_study.problem = "it does not get to where the motion begins: it ends at " +
                                  base::formatNumber(end.at, 1) + (m_slides ? " mm" : "°");
                return;
            }
            m_met.clear(); // what was met on the way there is no part of it
            m_study.changePoints.clear();
            m_study.low = {LoopEnd::Reached, m_motion.over->from, -1};
            if (m_finder) meet(start);
            take(start);
            const double from = m_motion.over->from, to = m_motion.over->to;
            m_study.high = {LoopEnd::Reached, to, -1};
            for (int k = 1; k <= m_motion.places && !isStopped(); ++k) {
                const bool on = goTo(start, from + (to - from) * k / m_motion.places, end);
                take(start);
                if (on) continue;
                m_study.high = end;
                break;
            }
            m_study.allRound =
                !m_slides && std::abs(std::abs(to - from) - 360) < 1e-9 && m_study.high.by == LoopEnd::Reached;
            return;
        }
        const double step = whole / m_motion.places;
        LoopPlace up = start;
        if (m_finder) meet(start);
        take(start);
        m_study.high = {LoopEnd::Reached, v0 + whole, -1};
        m_study.low = {LoopEnd::Reached, v0, -1};
        for (int k = 1; k <= m_motion.places && !isStopped(); ++k) {
            const bool on = goTo(up, v0 + step * k, end);
            if (on || end.at > m_study.places.back().at + 1e-9) take(up);
            if (on) continue;
            m_study.high = end;
            break;
        }
        if (m_study.high.by == LoopEnd::Reached) {
            m_study.allRound = !m_slides;
            return;
        }
        const std::size_t middle = m_study.places.size();
        LoopPlace down = start;
        m_study.low = {LoopEnd::Reached, v0 - whole, -1};
        for (int k = 1; k <= m_motion.places && !isStopped(); ++k) {
            const bool on = goTo(down, v0 - step * k, end);
            if (on || end.at < m_study.places.back().at - 1e-9 || m_study.places.size() == middle) take(down);
            if (on) continue;
            m_study.low = end;
            break;
        }
        // From the lowest value up.
        const auto turn = [&](auto& list) {
            std::reverse(list.begin() + static_cast<std::ptrdiff_t>(middle), list.end());
            std::rotate(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(middle), list.end());
        };
        turn(m_study.places);
        turn(m_transmissions);
        for (MotionTrace& trace : m_study.traces) {
            turn(trace.path);
            turn(trace.speed);
        }
    }

    void finish() {
        if (m_study.places.empty()) return;
        compareWithBest();
        for (std::size_t k = 0; k < m_study.places.size(); ++k) {
            const MotionPlace& p = m_study.places[k];
            const auto index = static_cast<int>(k);
            if (p.sineJoint >= 0 && (m_study.leastSine < 0 || p.sine < at(m_study.places, m_study.leastSine).sine))
                m_study.leastSine = index;
            // At a dead point any friction is too much, and that is told; what is asked is asked on the way there.
            if (m_study.places.size() > 2 && isDeadEnd(k)) continue;
            if (m_study.hardestUp < 0 ||
                m_study.torqueAt(k, true) > m_study.torqueAt(static_cast<std::size_t>(m_study.hardestUp), true))
                m_study.hardestUp = index;
            if (m_study.hardestDown < 0 ||
                m_study.torqueAt(k, false) > m_study.torqueAt(static_cast<std::size_t>(m_study.hardestDown), false))
                m_study.hardestDown = index;
        }
        for (std::size_t k = 0; k < m_study.places.size(); ++k) {
            const auto& tip = m_study.places[k].tipDeg;
            if (tip && (!m_study.leastTip || *tip < *at(m_study.places, *m_study.leastTip).tipDeg))
                m_study.leastTip = static_cast<int>(k);
        }
        for (std::size_t i = 0; i < m_study.plan.moved.size(); ++i) m_study.joints.push_back(describeJoint(i));
        checkReturn();
        for (MotionTrace& trace : m_study.traces) {
            geometry::Bounds bounds;
            for (std::size_t k = 0; k < trace.path.size(); ++k) {
                bounds.include(trace.path[k]);
                if (k > 0) trace.lengthMm += (trace.path[k] - trace.path[k - 1]).norm();
            }
            trace.size = bounds.high - bounds.low;
        }
        m_study.frictionMeasured = std::all_of(m_study.plan.moved.begin(), m_study.plan.moved.end(),
                                               [&](int j) { return at(*m_in.strengths, j).holding.measured; });
        std::sort(m_study.changePoints.begin(), m_study.changePoints.end());
        collectMeetings();
    }
    [[nodiscard]] bool isDeadEnd(std::size_t place) const {
        return (place == 0 && m_study.low.by == LoopEnd::Dead) ||
               (place + 1 == m_study.places.size() && m_study.high.by == LoopEnd::Dead);
    }
    /// Larger blocks have no angle: they are compared with their own best place.
    void compareWithBest() {
        std::map<int, double> best;
        for (const auto& list : m_transmissions)
            for (const auto& t : list) {
                const auto [entry, fresh] = best.emplace(t.block, t.gainRadPerMm);
                if (!fresh) entry->second = std::min(entry->second, t.gainRadPerMm);
            }
        for (std::size_t k = 0; k < m_transmissions.size(); ++k)
            for (const auto& t : m_transmissions[k]) {
                MotionPlace& p = m_study.places[k];
                const double sine = best[t.block] / t.gainRadPerMm;
                if (t.angle || (p.sineJoint >= 0 && sine >= p.sine)) continue;
                p.sine = sine;
                p.sineIsAngle = false;
                p.sineJoint = t.joint;
            }
    }
    [[nodiscard]] MotionJoint describeJoint(std::size_t i) const {
        MotionJoint one;
        one.joint = m_study.plan.moved[i];
        bool first = true;
        for (const MotionPlace& p : m_study.places) {
            const double v = at(p.values, one.joint)[0];
            if (first || v < one.low) {
                one.low = v;
                one.atLow = p.at;
            }
            if (first || v > one.high) {
                one.high = v;
                one.atHigh = p.at;
            }
            one.mostRate = std::max(one.mostRate, std::abs(p.rates[i]));
            first = false;
        }
        const bool turns = at(m_project.joints, one.joint).kind->freedomUnit(0) == "deg";
        one.round = turns && m_study.allRound && one.high - one.low > kRoundDeg;
        if (!m_study.allRound || one.round || one.high - one.low < kSameDeg) return one;
        double up = std::fmod(one.atHigh - one.atLow + 720, 360);
        if (up > 0 && up < 360) one.timeRatio = std::max(up, 360 - up) / std::min(up, 360 - up);
        return one;
    }
    void checkReturn() {
        if (!m_study.allRound) return;
        const MotionPlace &first = m_study.places.front(), &last = m_study.places.back();
        for (const int j : m_study.plan.moved) {
            const auto& kind = *at(m_project.joints, j).kind;
            const Frame a = pose::calcMotion(kind, at(first.values, j)), b = pose::calcMotion(kind, at(last.values, j));
            const double turn = base::radToDeg(
                std::abs(Eigen::AngleAxisd(geometry::Mat3(a.linear() * b.linear().transpose())).angle()));
            if (turn > kSameDeg || (a.translation() - b.translation()).norm() > kSameMm) m_study.returns = false;
        }
    }
    void collectMeetings() {
        std::map<std::pair<model::PartSpot, model::PartSpot>, std::size_t> known, open;
        for (const auto& [driver, met] : m_met) {
            std::map<std::pair<model::PartSpot, model::PartSpot>, std::size_t> still;
            for (const auto& [a, b] : met) {
                const auto key = std::pair(a.spot, b.spot);
                const auto [entry, fresh] = known.emplace(key, m_study.meetings.size());
                if (fresh) {
                    m_study.meetings.push_back({a, b, driver, driver, 1, false});
                    m_study.meetings.back().atStart =
                        std::find(m_atStart.begin(), m_atStart.end(), key) != m_atStart.end();
                }
                MotionMeeting& one = m_study.meetings[entry->second];
                if (!fresh && open.count(key) == 0) ++one.times;
                if (one.times == 1) one.to = driver;
                still.emplace(key, entry->second);
            }
            open = std::move(still);
        }
    }

    const MotionInputs& m_in;
    const model::Project& m_project;
    const model::Motion& m_motion;
    const base::Progress* m_progress;
    pose::Kinematics m_kinematics;
    pose::Lines m_lines;
    const LoopFollower* m_follower = nullptr;
    std::vector<model::MassPoint> m_masses; ///< by section, in its own frame
    std::vector<int> m_group;
    std::optional<pose::MeetingFinder> m_finder;
    std::vector<std::pair<model::PartSpot, model::PartSpot>> m_atStart;
    std::map<double, std::vector<pose::MeetingFinder::Meeting>> m_met; ///< by driver value
    std::vector<std::vector<LoopFollower::BlockTransmission>> m_transmissions;
    MotionStudy m_study;
    bool m_slides = false;
    double m_unit = 1;
};

} // namespace

model::Placed placeMotion(const MotionInputs& inputs, const MotionStudy& study, const pose::JointValues& values) {
    return putOnGround(pose::Kinematics(*inputs.project, *inputs.tree), inputs, study.ground, values);
}

MotionStudy calcMotion(const MotionInputs& inputs, const model::Motion& motion, const base::Progress* progress) {
    const int driver = inputs.project->findJoint(motion.joint);
    if (driver < 0) {
        MotionStudy study;
        study.code = "motion.joint";
        study.problem = "the joint that it drives is not in the model";
        return study;
    }
    const parts::JointKind& kind = *at(inputs.project->joints, driver).kind;
    if (kind.tilts() || kind.stepDeg > 0) {
        MotionStudy study;
        study.code = "motion.kind";
        study.problem = "a " + kind.name + (kind.tilts() ? " tilts as it likes" : " moves in steps") +
                        ": what is driven turns or slides";
        return study;
    }
    return Study(inputs, motion, progress).run(driver);
}

std::vector<std::shared_ptr<const MotionStudy>> calcMotions(const Facts& facts, const base::Progress* progress) {
    std::vector<std::shared_ptr<const MotionStudy>> studies;
    const model::Project& project = *facts.project;
    MotionInputs inputs;
    inputs.project = &project;
    inputs.tree = &facts.tree;
    inputs.placed = &facts.present.placed;
    inputs.bodies = facts.bodies.get();
    inputs.strengths = &facts.strengths;
    inputs.tips = facts.present.stance.kind != model::Stance::Kind::Held;
    for (std::size_t m = 0; m < project.motions.size(); ++m) {
        const model::Motion& motion = project.motions[m];
        const int joint = project.findJoint(motion.joint);
        if (joint >= 0) inputs.ground = pose::findGround(project, facts.tree, facts.present.stance, joint);
        MotionStudy study = calcMotion(inputs, motion, progress);
        study.index = static_cast<int>(m);
        if (!motion.feet.empty()) {
            std::vector<int> feet;
            for (const auto& foot : motion.feet)
                if (const int s = project.findSection(foot); s >= 0) feet.push_back(s);
            // What the feet walk under is the body, whatever it stands on now.
            const int body = at(facts.tree.from, std::max(joint, 0)).section;
            MotionInputs walking = inputs;
            walking.ground = body;
            study.walk = std::make_shared<const WalkStudy>(calcWalk(walking, motion, feet, progress));
        }
        studies.push_back(std::make_shared<const MotionStudy>(std::move(study)));
    }
    return studies;
}

} // namespace ivrant::study
