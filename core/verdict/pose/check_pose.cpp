// SPDX-License-Identifier: GPL-3.0-or-later
// What each pose asks of its joints, and what runs into what. Part of check_pose.h.
#include "core/verdict/pose/check_pose.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/gap.h"
#include "core/pose/kinematics.h"
#include "core/study/case_words.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using model::Part;

constexpr double kValueSlack = 0.01; ///< degrees or mm; below what anybody sets by hand

class PoseCheck {
public:
    PoseCheck(const study::Facts& facts, VerdictList& list) : m_facts(facts), m_project(*facts.project), m_list(list) {}

    void run(const study::PoseFacts& pose) {
        const std::string key = pose.id ? pose.id->text : "present";
        for (const auto& range : pose.ranges) addRange(pose, key, range);
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            addValue(pose, key, j);
            addCone(pose, key, j);
        }
        for (const auto& ring : pose.rings) addRing(pose, key, ring);
        for (const auto& load : pose.loads) {
            if (m_facts.tree.isClosing(load.joint)) continue; // what it takes off the others is not counted
            addHold(pose, key, load);
            addPull(pose, key, load);
        }
        for (const auto& collision : pose.collisions) addCollision(pose, key, collision);
    }

private:
    void addCollision(const study::PoseFacts& pose, const std::string& key, const pose::Collision& collision) {
        const Part &a = getPart(m_project, collision.a), &b = getPart(m_project, collision.b);
        Verdict& v = m_list.add("collide", key + "/" + a.id.text + "/" + b.id.text, Station::Pose);
        v.place.pose = pose.id;
        v.place.parts = {a.id, b.id};
        v.value = collision.depthMm;
        v.limit = geometry::kContactToleranceMm;
        v.unit = "mm";
        v.state = State::Fail;
        v.text = "Parts run into each other in " + pose.name;
        v.detail = study::describePart(m_project, collision.a) + " and " + study::describePart(m_project, collision.b) +
                   ", " + formatNumber(collision.depthMm, 2) + " mm deep";
    }

    void addRing(const study::PoseFacts& pose, const std::string& key, const pose::RingGap& ring) {
        const model::Joint& joint = at(m_project.joints, ring.joint);
        Verdict& v = m_list.addAt("ring", joint, pose, key);
        v.value = ring.gapMm;
        v.limit = pose::kRingGapMm;
        v.unit = "mm";
        v.state = ring.isClosed() ? State::Good : State::Fail;
        v.text = (ring.isClosed() ? "The ring closes at " : "The ring is open at ") + joint.name + " in " + pose.name;
        v.detail = "its ports are " + formatNumber(ring.gapMm, 2) + " mm apart and " + formatNumber(ring.turnDeg, 1) +
                   "° turned beyond what a " + joint.kind->name + " allows";
    }

    /// A value the joint cannot have: beyond its own limit, or between its steps.
    void addValue(const study::PoseFacts& pose, const std::string& key, std::size_t j) {
        const model::Joint& joint = m_project.joints[j];
        if (m_facts.tree.isClosing(static_cast<int>(j))) return; // the others set it
        const auto excess = pose::calcOwnExcess(*joint.kind, pose.values[j]);
        const double off = pose::calcStepOffset(*joint.kind, pose.values[j]);
        if (excess <= kValueSlack && off <= kValueSlack) return;
        Verdict& v = m_list.addAt("value", joint, pose, key);
        v.value = pose.values[j][0];
        v.unit = "deg";
        v.state = State::Fail;
        if (excess > kValueSlack) {
            v.text = joint.name + " is beyond its own limit in " + pose.name;
            v.detail = "a " + joint.kind->name + " ends " + formatNumber(excess, 1) +
                       (joint.kind->motion == parts::JointMotion::TurnSlide ? " mm" : "°") + " earlier";
        } else {
            v.limit = std::round(v.value / joint.kind->stepDeg) * joint.kind->stepDeg;
            v.text = joint.name + " stands between its steps in " + pose.name;
            v.detail = formatNumber(v.value, 2) + "° is no multiple of " + formatNumber(joint.kind->stepDeg, 1) +
                       "°; the nearest is " + formatNumber(v.limit, 1) + "°";
        }
    }

    void addRange(const study::PoseFacts& pose, const std::string& key, const pose::FreedomRange& range) {
        if (!range.wanted || m_facts.tree.isClosing(range.joint)) return;
        const model::Joint& joint = at(m_project.joints, range.joint);
        const std::string freedom(joint.kind->freedomName(range.freedom));
        if (joint.kind->freedomCount() > 1 && !range.margin && range.wanted->low == range.wanted->high)
            return; // nothing asked of it
        Verdict& v = m_list.addAt("range", joint, pose, key + (joint.kind->freedomCount() > 1 ? "/" + freedom : ""));
        // A ball's tilts and its twist are told apart by name.
        const std::string who = joint.name + (!joint.kind->tilts() ? ""
                                              : freedom == "t"     ? ", twist,"
                                              : freedom == "s1"    ? ", tilt across,"
                                                                   : ", tilt along,");
        v.place.freedom = freedom;
        v.unit = std::string(joint.kind->freedomUnit(range.freedom));
        v.margin = range.margin;
        const std::string unit = v.unit == "deg" ? "°" : " mm";
        const double shortHigh = range.wanted->high - range.free.high, shortLow = range.free.low - range.wanted->low;
        const bool low = shortLow > shortHigh;
        v.value = low ? range.free.low : range.free.high;
        v.limit = low ? range.wanted->low : range.wanted->high;
        const bool fails = !range.endless && std::max(shortHigh, shortLow) > 0.05;
        v.state = range.collides || fails ? State::Fail : State::Good;
        if (!fails && !range.collides && v.margin) v.margin = std::max(*v.margin, 1.0);
        const pose::RangeStop& stop = low ? range.low : range.high;
        if (v.state == State::Fail) {
            v.text = who + " stops at " + formatNumber(v.value, 1) + unit + " in " + pose.name;
            v.detail = "wanted " + formatNumber(v.limit, 1) + unit;
            if (stop.by == pose::StopBy::Contact || stop.by == pose::StopBy::Seat)
                v.detail += "; " + study::describePart(m_project, stop.moving.spot) +
                            (stop.by == pose::StopBy::Seat ? " sits on " : " meets ") +
                            study::describePart(m_project, stop.fixed.spot);
            else
                v.detail += stop.by == pose::StopBy::Ring ? "; " + pose::describeRingEnd(m_project, stop)
                                                          : "; the joint's own limit";
            for (const auto* s : {&stop.moving.spot, &stop.fixed.spot})
                if (stop.by == pose::StopBy::Contact || stop.by == pose::StopBy::Seat)
                    v.place.parts.push_back(getPart(m_project, *s).id);
        } else {
            v.text = who +
                     (joint.kind->freedomCount() > 1 && !joint.kind->tilts() && freedom == "slide"
                          ? " slides over its wanted range in "
                          : " reaches its wanted range in ") +
                     pose.name;
            v.detail =
                "wanted " + formatNumber(range.wanted->low, 1) + " to " + formatNumber(range.wanted->high, 1) + unit +
                ", free " +
                (range.endless ? "all round"
                               : formatNumber(range.free.low, 1) + " to " + formatNumber(range.free.high, 1) + unit);
            for (const auto& [end, name] : {std::pair(&range.low, "low"), std::pair(&range.high, "high")})
                if (end->by == pose::StopBy::Seat)
                    v.detail +=
                        std::string("; sits on ") + study::describePart(m_project, end->fixed.spot) + " at its " +
                        name + " end" +
                        (end->openNmm > 0 ? ", opens at " + formatNumber(end->openNmm, 0) + " N·mm (starting value)"
                                          : "");
        }
    }

    /// The wanted tilts of a ball are a rectangle, what it can reach is a cone: each may be free alone and their corner
    /// not.
    void addCone(const study::PoseFacts& pose, const std::string& key, std::size_t j) {
        const model::Joint& joint = m_project.joints[j];
        if (!joint.kind->tilts() || joint.wanted.size() < 2 || m_facts.tree.isClosing(static_cast<int>(j))) return;
        double worst = 0;
        std::array<double, 2> corner{};
        for (const double s1 : {joint.wanted[0].low, joint.wanted[0].high})
            for (const double s2 : {joint.wanted[1].low, joint.wanted[1].high}) {
                const double tilt = pose::calcTilt(*joint.kind, {s1, s2, 0});
                if (tilt > worst) worst = tilt, corner = {s1, s2};
            }
        // Ends that are not reached alone have verdicts of their own.
        if (worst <= joint.kind->coneDeg + 0.05 || std::abs(corner[0]) > joint.kind->coneDeg + 0.05 ||
            std::abs(corner[1]) > joint.kind->coneDeg + 0.05)
            return;
        Verdict& v = m_list.addAt("range", joint, pose, key + "/corner");
        v.value = joint.kind->coneDeg;
        v.limit = worst;
        v.unit = "deg";
        v.margin = joint.kind->coneDeg / worst;
        v.state = State::Fail;
        v.place.freedom = "s1";
        v.text = joint.name + " does not reach both wanted tilts at once in " + pose.name;
        v.detail = formatNumber(corner[0], 1) + "° and " + formatNumber(corner[1], 1) + "° together tilt it by " +
                   formatNumber(worst, 1) + "°; a " + joint.kind->name + " ends at " +
                   formatNumber(joint.kind->coneDeg, 1) + "°";
    }

    void addHold(const study::PoseFacts& pose, const std::string& key, const pose::JointLoad& load) {
        if (load.ring >= 0 && load.ring != load.joint) return; // told once, of the ring's first joint
        const model::Joint& joint = at(m_project.joints, load.joint);
        Verdict& v = m_list.addAt("hold", joint, pose, key);
        setNeed(v, load.needNmm, load.have, "N·mm", load.margin);
        v.text = (load.ring >= 0 ? "The ring of " : "") + joint.name +
                 (v.state == State::Fail ? " sags in " : " holds in ") + pose.name;
        if (load.restsOn) {
            v.text = joint.name + " rests in " + pose.name;
            v.detail = study::describePart(m_project, load.restsOn->first) + " lies on " +
                       study::describePart(m_project, load.restsOn->second) + ", which takes the weight of " +
                       formatNumber(load.needNmm, 1) + " N·mm";
            v.state = State::Good;
            v.margin.reset();
            return;
        }
        v.detail = "needs " + formatNumber(load.needNmm, 1) + " N·mm, has " + formatNumber(load.have.value, 1) + " (" +
                   shortBasis(load.have) + ")";
        leaveToDrive(m_facts, v, joint);
        if (load.standsBelow) v.detail += "; it stands on this side and carries the rest";
        if (load.ring >= 0)
            v.detail += "; friction of all its joints together";
        else if (m_facts.tree.isInRing(load.joint))
            v.detail += "; as if the joint that closes the ring took nothing";
    }

    void addPull(const study::PoseFacts& pose, const std::string& key, const pose::JointLoad& load) {
        if (!load.pullLimit || load.pullN < 0.01) return;
        const model::Joint& joint = at(m_project.joints, load.joint);
        Verdict& v = m_list.addAt("pull", joint, pose, key);
        setNeed(v, load.pullN, *load.pullLimit, "N", load.pullLimit->value / load.pullN);
        v.text = joint.name + (v.state == State::Fail ? " comes off in " : " stays on in ") + pose.name;
        v.detail = "pulled with " + formatNumber(load.pullN, 2) + " N, lets go at " +
                   formatNumber(load.pullLimit->value, 1) + " N (" + shortBasis(*load.pullLimit) + ")";
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    VerdictList& m_list;
};

} // namespace

void judgePoses(const study::Facts& facts, VerdictList& list) {
    PoseCheck check(facts, list);
    for (const study::PoseFacts& pose : facts.poses) check.run(pose);
}

} // namespace ivrant::verdict
