// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/strands.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/pose/loop_loads.h"
#include "core/pose/loops.h"
#include "core/pose/stance.h"
#include "core/study/stand_cases.h"
#include "core/study/strand_span.h"

namespace ivrant::study {
namespace {

using geometry::Vec3;
using model::LineEnd;
using model::LineKind;
using pose::LineState;
using pose::Wrench;

constexpr double kKnotMm = 50;  ///< for each knot
constexpr double kGripMm = 100; ///< to hold on to
constexpr double kNeedsNothing = 1e-6;
constexpr std::size_t kMostJoints = 6;

double calcVirtualPower(const std::vector<Wrench>& wrenches, const std::vector<pose::Screw>& speeds) {
    double power = 0;
    for (std::size_t s = 0; s < wrenches.size(); ++s)
        power += wrenches[s].force.dot(speeds[s].tail<3>()) + wrenches[s].moment.dot(speeds[s].head<3>());
    return power;
}

std::vector<Wrench> calcWeights(const model::Placed& placed) {
    std::vector<Wrench> weights(placed.X_WS.size());
    for (std::size_t s = 0; s < weights.size(); ++s) {
        const model::MassPoint mass = model::calcMass(placed, {static_cast<int>(s)});
        weights[s].force = Vec3(0, 0, -base::weightN(mass.massG));
        weights[s].moment = mass.centre.cross(weights[s].force);
    }
    return weights;
}

bool hasPart(const std::vector<model::Part>& parts, const model::PartId& id) {
    return std::any_of(parts.begin(), parts.end(), [&](const model::Part& part) { return part.id == id; });
}

class StrandWork {
public:
    StrandWork(const Facts& facts, const pose::Lines& lines, const pose::Kinematics& kinematics, std::size_t index,
               const base::Progress* progress)
        : m_facts(facts), m_project(*facts.project), m_lines(lines), m_kinematics(kinematics), m_index(index),
          m_line(lines.line(index)), m_progress(progress) {
        m_study.index = static_cast<int>(index);
        m_study.restMm = lines.restLength(index);
        m_study.cutMm = m_study.restMm;
    }

    StrandStudy run() {
        m_present = m_lines.place(m_index, m_facts.present.placed.X_WS);
        if (m_line.works) m_study.joint = m_project.findJoint(m_line.works->joint);
        findPoses();
        if (!m_study.code.empty()) return std::move(m_study);
        if (m_line.works) findWork();
        if (!m_study.code.empty()) return std::move(m_study);
        findSpan();
        if (m_line.kind == LineKind::String) finishString();
        if (m_line.kind == LineKind::Band) finishBand();
        if (m_line.kind == LineKind::Spring) finishSpring();
        return std::move(m_study);
    }

private:
    [[nodiscard]] bool isStopped() const { return m_progress && m_progress->stopped(); }
    void fail(const LineState& state, int pose) {
        m_study.code = state.code;
        m_study.problemPose = pose;
        const auto& guide = at(m_line.guides, std::max(0, state.guide));
        const std::string where = "guide " + std::to_string(state.guide + 1) + " (" + nameOf(state.guide) + ")";
        if (state.code == "line.part" && isWaiting(guide.part)) {
            m_study.code = "line.waits";
            m_study.problem = "guide " + std::to_string(state.guide + 1) + " waits with what was not chosen";
        } else if (state.code == "line.part")
            m_study.problem = where + " is gone from the model";
        else if (state.code == "line.port")
            m_study.problem = where + " has no port '" + guide.port + "'";
        else if (state.code == "line.askew")
            m_study.problem = where + " is not parallel to the round before it: an eye between them is needed";
        else
            m_study.problem = where + " overlaps the guide beside it: the line cannot pass between them";
    }
    [[nodiscard]] bool isWaiting(const model::PartId& id) const {
        for (const model::Option& option : m_project.options.list)
            for (const model::Alternative& alternative : option.alternatives) {
                if (!alternative.body) continue;
                for (const auto& waiting : alternative.body->parts)
                    if (hasPart(waiting.parts, id)) return true;
                for (const auto& section : alternative.body->sections)
                    if (hasPart(section->parts, id)) return true;
            }
        return false;
    }
    [[nodiscard]] std::string nameOf(int guide) const {
        const model::PartSpot spot = at(m_lines.spots(m_index), std::max(0, guide));
        if (spot.section < 0) return at(m_line.guides, std::max(0, guide)).part.text;
        const model::Part& part = model::getPart(m_project, spot);
        return (part.name.empty() ? part.shape->name : part.name) + " of " + at(m_project.sections, spot.section)->name;
    }

    void findPoses() {
        if (!m_present.hasWay()) return fail(m_present, -1);
        for (std::size_t q = 0; q < m_facts.poses.size(); ++q) {
            StrandPose one;
            one.pose = static_cast<int>(q);
            one.state = m_lines.place(m_index, m_facts.poses[q].placed.X_WS);
            if (!one.state.hasWay()) return fail(one.state, one.pose);
            one.longerMm = m_lines.calcLonger(m_index, m_present, one.state);
            note(one.state);
            if (m_line.kind == LineKind::String && m_line.end == LineEnd::Tied) {
                one.lackMm = std::max(0.0, one.state.stretchMm);
                one.slackMm = std::max(0.0, -one.state.stretchMm);
            }
            m_study.poses.push_back(std::move(one));
        }
    }
    void note(const LineState& state) {
        m_study.mostStretchMm = std::max(m_study.mostStretchMm, state.stretchMm);
        m_study.beyondLaw = m_study.beyondLaw || state.beyondLaw;
        m_study.cutMm = std::max(m_study.cutMm, state.path.lengthMm);
    }

    void findWork() {
        if (m_study.joint < 0) {
            m_study.code = "line.joint";
            m_study.problem = "the joint that it works is not there: it waits with what was not chosen";
            return;
        }
        const parts::JointKind& kind = *at(m_project.joints, m_study.joint).kind;
        if (kind.motion != parts::JointMotion::Turn && kind.motion != parts::JointMotion::TurnSlide) {
            m_study.code = "line.kind";
            m_study.problem = "'" + at(m_project.joints, m_study.joint).name +
                              "' does not turn about one axis: it takes a hinge, pin or clip to be worked by a line";
            return;
        }
        m_study.frictionMeasured = at(m_facts.strengths, m_study.joint).holding.measured;
        m_way = m_line.works->to >= m_line.works->from ? 1 : -1;
        for (StrandPose& one : m_study.poses) {
            if (isStopped()) return;
            work(one);
        }
        if (m_study.places.empty() && m_study.code.empty()) {
            m_study.code = "line.works";
            m_study.problem = "'" + at(m_project.joints, m_study.joint).name + "' gets to its beginning in no pose";
        }
    }

    /// The joint from its beginning to its end with all others as in the pose.
    void work(StrandPose& one) {
        const PoseFacts& pose = at(m_facts.poses, one.pose);
        const pose::LoopFollower follower(m_kinematics, pose::planLoops(m_kinematics, pose.values, {m_study.joint, 0}));
        pose::LoopPlace place = follower.start(pose.values);
        const double from = m_line.works->from, to = m_line.works->to;
        if (!place.isClosed() || follower.advance(place, from) != pose::LoopEnd::Reached) {
            m_study.missed.push_back(one.pose);
            return;
        }
        const int ground = pose::findGround(m_project, m_facts.tree, pose.stance, m_study.joint);
        std::vector<LineState> states;
        std::vector<double> at;
        const int steps = from == to ? 0 : kWorkPlaces;
        for (int k = 0; k <= steps; ++k) {
            const double target = steps == 0 ? from : from + (to - from) * k / steps;
            if (follower.advance(place, target) != pose::LoopEnd::Reached) {
                m_study.missed.push_back(one.pose);
                break;
            }
            model::Placed placed;
            placed.project = &m_project;
            m_kinematics.place(place.values, placed.X_WS);
            pose::applyStance(placed, pose.stance);
            LineState state = m_lines.place(m_index, placed.X_WS);
            if (!state.hasWay()) return fail(state, one.pose);
            note(state);
            addPlace(one, target, placed, state, pose::calcSpeeds(m_kinematics, placed, place, ground), follower,
                     place);
            states.push_back(std::move(state));
            at.push_back(target);
        }
        if (m_line.kind != LineKind::String || states.empty()) return;
        one.longerMm = m_lines.calcLonger(m_index, m_present, states.front());
        std::vector<double> longer;
        longer.reserve(states.size());
        for (const LineState& state : states) longer.push_back(m_lines.calcLonger(m_index, m_present, state));
        findPulledAlong(one, at, longer);
        if (at.back() == to) one.travelMm = std::max(0.0, *m_taut - longer.back());
    }

    /// The end stays where the line is as long as it is said to be, else taut in the present pose with its joint at the
    /// beginning.
    void findPulledAlong(StrandPose& one, const std::vector<double>& at, const std::vector<double>& longer) {
        if (!m_taut) m_taut = calcTaut();
        m_study.tautMm = *m_taut;
        one.slackThereMm = std::max(0.0, *m_taut - longer.front());
        one.pulledDeg = calcPulled(at, longer, *m_taut);
    }
    /// How far the joint goes until the line is no longer than that; to the end when that is not enough.
    [[nodiscard]] static double calcPulled(const std::vector<double>& at, const std::vector<double>& longer,
                                           double taut) {
        for (std::size_t k = 0; k < at.size(); ++k) {
            if (longer[k] > taut + kNeedsNothing) continue;
            if (k == 0) return 0;
            const double share = (longer[k - 1] - taut) / (longer[k - 1] - longer[k]);
            return std::abs(at[k - 1] + share * (at[k] - at[k - 1]) - at.front());
        }
        return std::abs(at.back() - at.front());
    }
    /// How much longer than as it is the line is in the present pose with its joint at the beginning.
    [[nodiscard]] double calcTaut() const {
        if (m_line.lengthMm) return m_study.restMm - m_present.path.lengthMm;
        const pose::JointValues& values = m_facts.present.values;
        const pose::LoopFollower follower(m_kinematics, pose::planLoops(m_kinematics, values, {m_study.joint, 0}));
        pose::LoopPlace place = follower.start(values);
        if (!place.isClosed() || follower.advance(place, m_line.works->from) != pose::LoopEnd::Reached) return 0;
        std::vector<geometry::Frame> X_WS;
        m_kinematics.place(place.values, X_WS);
        const LineState state = m_lines.place(m_index, X_WS);
        return state.hasWay() ? m_lines.calcLonger(m_index, m_present, state) : 0;
    }

    void addPlace(const StrandPose& one, double target, const model::Placed& placed, const LineState& state,
                  const std::vector<pose::Screw>& speeds, const pose::LoopFollower& follower,
                  const pose::LoopPlace& loop) {
        // Weights, and all other lines as they are at rest.
        std::vector<Wrench> acting = calcWeights(placed);
        for (std::size_t i = 0; i < m_lines.size(); ++i)
            if (i != m_index && m_lines.line(i).kind != LineKind::String)
                m_lines.addRest(i, m_lines.place(i, placed.X_WS), acting);
        StrandPlace at;
        at.pose = one.pose;
        at.at = target;
        at.needNmm = -m_way * calcVirtualPower(acting, speeds);
        for (const int j : follower.plan().moved) {
            const auto& kind = *ivrant::at(m_project.joints, j).kind;
            const model::Capacity& holding = ivrant::at(m_facts.strengths, j).holding;
            at.needNmm += pose::calcTurnSpeed(kind, ivrant::at(loop.rates, j)) *
                          (holding.measured ? holding.value : kind.holdingNmm);
        }
        const std::vector<double> rates = m_lines.calcRates(m_index, state, speeds);
        if (m_line.kind == LineKind::String) {
            std::vector<double> growth = pose::Lines::calcGrowth(state);
            for (std::size_t k = 0; k < rates.size(); ++k) at.leverMm -= m_way * growth[k] * rates[k];
            if (at.needNmm > kNeedsNothing && at.leverMm > kNeedsNothing) {
                at.knotN = at.needNmm / at.leverMm;
                at.pullN = at.knotN * growth.back();
            }
        } else {
            for (const double rate : rates) at.leverMm -= m_way * rate;
            at.helpNmm = at.leverMm * state.pullN * m_line.count;
            if (m_line.kind == LineKind::Spring) at.leverMm = -at.leverMm;
        }
        m_study.places.push_back(at);
    }

    void findSpan() {
        SpanSearch search(m_facts, m_lines, m_kinematics, m_index, m_study.joint,
                          m_line.works ? m_line.works->from : 0);
        m_study.span = search.run(m_present, m_progress);
        if (m_line.kind != LineKind::String) return;
        if (m_line.end == LineEnd::Tied && !m_line.works) {
            const double now = m_present.stretchMm;
            m_study.spanLackMm = std::max(0.0, now + m_study.span.mostMm);
            m_study.spanSlackMm = std::max(0.0, -(now + m_study.span.leastMm));
            return;
        }
        if (m_study.joint < 0 || m_facts.tree.isInRing(m_study.joint)) return;
        const double taut = m_taut.value_or(0);
        m_study.spanSlackMm = std::max(0.0, taut - m_study.span.leastMm);
        std::vector<double> at, longer;
        pose::JointValues values = m_study.span.atMost;
        for (int k = 0; k <= kWorkPlaces; ++k) {
            at.push_back(m_line.works->from + (m_line.works->to - m_line.works->from) * k / kWorkPlaces);
            ivrant::at(values, m_study.joint)[0] = at.back();
            std::vector<geometry::Frame> X_WS;
            m_kinematics.place(values, X_WS);
            const LineState state = m_lines.place(m_index, X_WS);
            if (!state.hasWay()) return;
            longer.push_back(m_lines.calcLonger(m_index, m_present, state));
        }
        m_study.spanPulledDeg = calcPulled(at, longer, taut);
    }

    void finishString() {
        m_study.cutMm += 2 * kKnotMm + (m_line.end == LineEnd::Hand ? kGripMm : 0);
        bool first = true;
        for (const StrandPose& one : m_study.poses) {
            if (!one.travelMm) continue;
            m_study.mostTravelMm = first ? *one.travelMm : std::max(m_study.mostTravelMm, *one.travelMm);
            m_study.leastTravelMm = first ? *one.travelMm : std::min(m_study.leastTravelMm, *one.travelMm);
            first = false;
        }
        for (std::size_t k = 0; k < m_study.places.size(); ++k) {
            const StrandPlace& place = m_study.places[k];
            if (place.needNmm > kNeedsNothing && place.leverMm <= kNeedsNothing && m_study.wrongWay < 0)
                m_study.wrongWay = static_cast<int>(k);
            if (m_study.hardest < 0 || place.pullN > at(m_study.places, m_study.hardest).pullN)
                m_study.hardest = static_cast<int>(k);
        }
        if (m_study.hardest >= 0 && at(m_study.places, m_study.hardest).pullN > 0 && m_study.wrongWay < 0) {
            findJoints();
            findPulledBonds();
        }
    }

    [[nodiscard]] bool helps(const StrandPlace& place) const { return place.leverMm > kNeedsNothing; }
    void finishBand() {
        double least = 1e300;
        int count = 1;
        for (std::size_t k = 0; k < m_study.places.size(); ++k) {
            const StrandPlace& place = m_study.places[k];
            if (place.needNmm <= kNeedsNothing) continue;
            if (place.helpNmm <= kNeedsNothing) {
                m_study.wrongWay = static_cast<int>(k);
                least = 0;
                m_study.hardest = m_study.wrongWay;
                continue;
            }
            const double margin = place.helpNmm / place.needNmm;
            count = std::max(count, static_cast<int>(std::ceil(m_line.count / margin - 1e-9)));
            if (margin >= least) continue;
            least = margin;
            m_study.hardest = static_cast<int>(k);
        }
        if (m_study.wrongWay < 0 && m_study.hardest >= 0) m_study.needCount = count;
    }

    /// Where weights, other lines and the spring itself are balanced, coming from the first value; friction aside.
    void finishSpring() {
        const double travel = m_line.travelMm > 0 ? m_line.travelMm : m_study.restMm / 2;
        m_study.flat = m_study.mostStretchMm > travel + 1e-6;
        if (m_study.joint < 0 || m_study.places.empty()) return;
        const PoseFacts& pose = m_facts.poses.front();
        if (std::find(m_study.missed.begin(), m_study.missed.end(), 0) != m_study.missed.end()) return;
        const pose::LoopFollower follower(m_kinematics, pose::planLoops(m_kinematics, pose.values, {m_study.joint, 0}));
        const int ground = pose::findGround(m_project, m_facts.tree, pose.stance, m_study.joint);
        pose::LoopPlace loop = follower.start(pose.values);
        double pressed = 0;
        /// What turns it on towards `to`; the spring against it.
        const auto turns = [&](double value) {
            if (follower.advance(loop, value) != pose::LoopEnd::Reached) return 0.0;
            model::Placed placed;
            placed.project = &m_project;
            m_kinematics.place(loop.values, placed.X_WS);
            pose::applyStance(placed, pose.stance);
            std::vector<Wrench> acting = calcWeights(placed);
            for (std::size_t i = 0; i < m_lines.size(); ++i)
                if (m_lines.line(i).kind != LineKind::String) m_lines.addRest(i, m_lines.place(i, placed.X_WS), acting);
            pressed = m_lines.place(m_index, placed.X_WS).stretchMm;
            return m_way * calcVirtualPower(acting, pose::calcSpeeds(m_kinematics, placed, loop, ground));
        };
        double low = m_line.works->from, high = m_line.works->to;
        if (turns(low) <= 0) {
            m_study.sagAt = low;
        } else if (turns(high) < 0) {
            for (int k = 0; k < 40; ++k) (turns((low + high) / 2) > 0 ? low : high) = (low + high) / 2;
            m_study.sagAt = high;
            (void)turns(high);
        }
        m_study.sagLeftMm = travel - std::max(0.0, pressed);
    }

    /// While it is pulled hardest: what each joint on its way has to hold.
    void findJoints() {
        for (std::size_t q = 0; q < m_facts.poses.size(); ++q) {
            const StrandPlace* most = nullptr;
            for (const StrandPlace& place : m_study.places)
                if (place.pose == static_cast<int>(q) && (!most || place.pullN > most->pullN)) most = &place;
            if (!most || most->pullN <= 0) continue;
            const PoseFacts& pose = m_facts.poses[q];
            const auto known = std::find_if(m_study.poses.begin(), m_study.poses.end(),
                                            [&](const StrandPose& p) { return p.pose == static_cast<int>(q); });
            if (pose.loads.size() != m_project.joints.size() || known == m_study.poses.end()) continue;
            pose::GroundForces ground = pose::calcGroundForces(pose.placed, m_facts.tree, pose.stance);
            if (ground.pulled.empty()) ground.pulled.resize(pose.placed.X_WS.size());
            std::vector<double> pulls = pose::Lines::calcGrowth(known->state);
            for (double& pull : pulls) pull *= most->knotN;
            m_lines.addPulls(m_index, known->state, pulls, ground.pulled);
            addHandPull(pose.placed, known->state, most->pullN, ground.pulled);
            auto loads = pose::calcLoads(pose.placed, m_facts.tree, m_facts.strengths, ground);
            pose::applyLoops(loads, pose.placed, m_facts.tree, pose.values, pose.stance, m_facts.strengths, ground);
            if (!pose.ranges.empty()) pose::applyRests(loads, pose.ranges, pose.placed, m_facts.tree);
            for (const pose::JointLoad& load : loads)
                compare(load, pose.loads[static_cast<std::size_t>(load.joint)], q);
        }
        std::sort(m_study.joints.begin(), m_study.joints.end(), [](const StrandJoint& l, const StrandJoint& r) {
            return l.have.value * r.needNmm < r.have.value * l.needNmm;
        });
        if (m_study.joints.size() > kMostJoints) m_study.joints.resize(kMostJoints);
    }
    void compare(const pose::JointLoad& load, const pose::JointLoad& atRest, std::size_t q) {
        if (load.joint == m_study.joint || !load.margin || load.needNmm <= atRest.needNmm + 0.01) return;
        StrandJoint one{load.joint, static_cast<int>(q), load.needNmm, atRest.needNmm, load.have};
        const auto known = std::find_if(m_study.joints.begin(), m_study.joints.end(),
                                        [&](const StrandJoint& j) { return j.joint == load.joint; });
        if (known == m_study.joints.end())
            m_study.joints.push_back(std::move(one));
        else if (one.have.value * known->needNmm < known->have.value * one.needNmm)
            *known = std::move(one);
    }
    /// A hand draws on along the axis of the last guide: its eye takes the line's bend.
    void addHandPull(const model::Placed& placed, const LineState& state, double newton,
                     std::vector<Wrench>& onSection) const {
        if (m_line.end != LineEnd::Hand || state.path.pieces.empty()) return;
        const auto [place, way] = findHand(placed, state);
        Wrench& w = at(onSection, m_lines.sections(m_index).back());
        w.force += newton * way;
        w.moment += place.cross(Vec3(newton * way));
    }
    [[nodiscard]] std::pair<Vec3, Vec3> findHand(const model::Placed& placed, const LineState& state) const {
        const model::Part& part = model::getPart(m_project, m_lines.spots(m_index).back());
        const int port = part.shape->findPort(m_line.guides.back().port);
        const geometry::Frame X = placed.X_WP(m_lines.spots(m_index).back()) * at(part.shape->ports, port).X_PF();
        const Vec3 &in = state.path.pieces.back().unit, axis = X.linear().col(2);
        // Out of the eye on the side that it did not come in.
        return {state.path.pieces.back().b, in.dot(axis) >= 0 ? Vec3(axis) : Vec3(-axis)};
    }

    void findPulledBonds() {
        const StrandPlace& place = at(m_study.places, m_study.hardest);
        const PoseFacts& pose = at(m_facts.poses, place.pose);
        if (!pose.tipping || m_project.partCount() > kMostPartsLive) return;
        stand::StandCase standCase = makeAtRest(m_facts, pose);
        standCase.strapped = standCase.ground; // whether it tips is another question: somebody holds it while pulling
        standCase.name = "while " + m_line.name + " is pulled";
        const auto known = std::find_if(m_study.poses.begin(), m_study.poses.end(),
                                        [&](const StrandPose& p) { return p.pose == place.pose; });
        if (known == m_study.poses.end()) return;
        std::vector<double> pulls = pose::Lines::calcGrowth(known->state);
        for (double& pull : pulls) pull *= place.knotN;
        for (std::size_t k = 0; k < known->state.path.pieces.size(); ++k) {
            const pose::StrandPiece& piece = known->state.path.pieces[k];
            standCase.pulls.push_back({at(m_lines.spots(m_index), piece.from), piece.a, pulls[k] * piece.unit});
            standCase.pulls.push_back({at(m_lines.spots(m_index), piece.to), piece.b, -pulls[k] * piece.unit});
        }
        if (m_line.end == LineEnd::Hand) {
            const auto [where, way] = findHand(pose.placed, known->state);
            standCase.pulls.push_back({m_lines.spots(m_index).back(), where, place.pullN * way});
        }
        for (auto& pull : listRestPulls(m_facts, pose)) standCase.pulls.push_back(std::move(pull));
        stand::BondLimits limits = calcBondLimits(m_facts);
        // What joints hold is told of each; here it is the bonds of parts.
        for (model::JointStrength& joint : limits.joints)
            joint.holding.value = std::max(joint.holding.value, kHeldWhilePulledNmm);
        stand::EquilibriumRequest request;
        request.progress = m_progress;
        request.gap = 1e-3;
        auto result = stand::calcCase(pose.placed, m_facts.bonds, limits, standCase, request);
        if (!result) return;
        m_study.pulled = std::make_shared<const stand::CaseResult>(std::move(result).value());
        m_study.pulledPose = place.pose;
    }
    static constexpr double kHeldWhilePulledNmm = 1e5;

    const Facts& m_facts;
    const model::Project& m_project;
    const pose::Lines& m_lines;
    const pose::Kinematics& m_kinematics;
    std::size_t m_index;
    const model::Line& m_line;
    const base::Progress* m_progress;
    StrandStudy m_study;
    LineState m_present;
    std::optional<double> m_taut;
    double m_way = 1;
};

} // namespace

std::vector<std::shared_ptr<const StrandStudy>> calcStrands(const Facts& facts, const base::Progress* progress) {
    std::vector<std::shared_ptr<const StrandStudy>> studies;
    if (facts.project->lines.empty()) return studies;
    const pose::Lines lines(*facts.project, facts.tree);
    const pose::Kinematics kinematics(*facts.project, facts.tree);
    for (std::size_t i = 0; i < lines.size(); ++i)
        studies.push_back(std::make_shared<const StrandStudy>(StrandWork(facts, lines, kinematics, i, progress).run()));
    return studies;
}

std::vector<stand::PartPull> listRestPulls(const Facts& facts, const PoseFacts& pose) {
    std::vector<stand::PartPull> pulls;
    if (facts.project->lines.empty()) return pulls;
    const pose::Lines lines(*facts.project, facts.tree);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (lines.line(i).kind == LineKind::String) continue;
        const LineState state = lines.place(i, pose.placed.X_WS);
        if (!state.hasWay() || state.pullN == 0) continue;
        const double newton = state.pullN * lines.line(i).count;
        for (const pose::StrandPiece& piece : state.path.pieces) {
            pulls.push_back({at(lines.spots(i), piece.from), piece.a, newton * piece.unit});
            pulls.push_back({at(lines.spots(i), piece.to), piece.b, -newton * piece.unit});
        }
    }
    return pulls;
}

bool isPulledAcross(const model::Project& project, const model::SectionTree& tree, int joint) {
    if (project.lines.empty()) return false;
    const auto carried = tree.carriedBy(joint);
    const pose::Lines lines(project, tree);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (lines.line(i).kind == LineKind::String) continue;
        const auto& sections = lines.sections(i);
        const auto inside = std::count_if(sections.begin(), sections.end(), [&](int s) {
            return std::find(carried.begin(), carried.end(), s) != carried.end();
        });
        if (inside > 0 && inside < static_cast<std::ptrdiff_t>(sections.size())) return true;
    }
    return false;
}

} // namespace ivrant::study
