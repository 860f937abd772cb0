// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/pose/check_motions.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/asked_tip.h"
#include "core/study/motion_words.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using study::MotionPlace;
using study::MotionStudy;

constexpr std::size_t kMostMeetingsNamed = 3;
constexpr int kFarthestHole = 3;
constexpr std::size_t kMostHoleMends = 3;

class MotionCheck {
public:
    MotionCheck(const study::Facts& facts, const MotionStudy& study, VerdictList& list)
        : m_facts(facts), m_project(*facts.project), m_study(study), m_motion(at(facts.project->motions, study.index)),
          m_list(list) {}

    void run() {
        if (m_study.code == "motion.joint") {
            Verdict& v = add("motion", "");
            v.state = State::Note;
            v.text = m_motion.name + " waits";
            v.detail = m_study.problem;
            return;
        }
        if (!m_study.problem.empty()) {
            Verdict& v = add("motion", "");
            v.state = State::Fail;
            v.text = m_motion.name + findFailure();
            v.detail = m_study.problem;
            if (m_study.code != "motion.open") return;
            v.value = m_study.gapMm;
            v.limit = pose::kLoopGapMm;
            v.unit = "mm";
            return;
        }
        if (m_study.places.empty()) return;
        judgeTravel();
        judgeTransmission();
        judgeChanges();
        judgeIdle();
        judgeMeetings();
        judgeTip();
    }

private:
    Verdict& add(const char* check, const std::string& key) {
        Verdict& v = m_list.add(check, m_motion.id.text + key, Station::Pose);
        v.place.things = {m_motion.id.text};
        v.place.joint = m_motion.joint;
        return v;
    }
    [[nodiscard]] const char* findFailure() const {
        if (m_study.code == "motion.open") return " does not close";
        if (m_study.code == "motion.kind") return " cannot be driven";
        return " does not get to its beginning";
    }
    [[nodiscard]] std::string atText(double at) const {
        return formatNumber(study::getShownAt(m_study, at), 1) + study::getDriverUnit(m_project, m_study);
    }
    [[nodiscard]] std::string torqueText() const {
        const auto up = static_cast<std::size_t>(m_study.hardestUp),
                   down = static_cast<std::size_t>(m_study.hardestDown);
        const bool growing = m_study.torqueAt(up, true) >= m_study.torqueAt(down, false);
        const std::size_t place = growing ? up : down;
        const bool slides = std::string(study::getDriverUnit(m_project, m_study)) == " mm";
        return "asks at most " + formatNumber(std::max(0.0, m_study.torqueAt(place, growing)), 1) +
               (slides ? " N at " : " N·mm at ") + atText(m_study.places[place].at) +
               (m_study.frictionMeasured ? "" : " (friction: starting values)");
    }

    void judgeTravel() {
        Verdict& v = add("motion", "");
        const std::string joint = at(m_project.joints, m_study.plan.driver.joint).name;
        v.basis = m_study.frictionMeasured ? Basis::Measured : Basis::Starting;
        v.detail = torqueText();
        const bool asked = m_motion.over.has_value();
        if (asked && m_study.high.by != pose::LoopEnd::Reached) {
            v.state = State::Fail;
            v.value = std::abs(m_study.places.back().at - m_motion.over->from);
            v.limit = std::abs(m_motion.over->to - m_motion.over->from);
            v.unit = study::getDriverUnit(m_project, m_study);
            v.margin = std::min(0.999, v.value / v.limit);
            v.text = m_motion.name + " sticks at " + atText(m_study.places.back().at);
            v.detail = joint + " " + study::describeTravel(m_project, m_study) + "; asked to " +
                       formatNumber(m_motion.over->to, 1) + study::getDriverUnit(m_project, m_study);
            return;
        }
        if (!m_study.returns) {
            v.state = State::Fail;
            v.text = m_motion.name + " comes back otherwise";
            v.detail = "after a whole turn of " + joint + " not everything stands as before";
            return;
        }
        v.text = m_motion.name + " " + study::describeTravel(m_project, m_study);
        for (const auto& f : m_study.plan.stiff)
            v.detail += "; " + at(m_project.joints, f.joint).name + " keeps its step";
    }

    void judgeTransmission() {
        if (m_study.leastSine < 0) return;
        // At a dead point it is nothing by itself, and that is told.
        const bool ends = m_study.low.by == pose::LoopEnd::Dead || m_study.high.by == pose::LoopEnd::Dead;
        if (ends) return;
        const MotionPlace& place = at(m_study.places, m_study.leastSine);
        Verdict& v = add("transmission", "");
        v.value = study::getTransmissionDeg(place);
        v.limit = study::kStuckTransmissionDeg;
        v.unit = "°";
        v.margin = calcTransmissionMargin(v.value);
        v.state = getStateOfMargin(v.margin);
        v.place.joint = at(m_project.joints, place.sineJoint).id;
        const std::string where =
            study::describeBetween(m_project, m_facts.tree, place.sineJoint) + " at " + atText(place.at);
        if (v.state == State::Good)
            v.text = m_motion.name + " passes motion on well";
        else
            v.text = m_motion.name + (v.state == State::Fail ? " all but sticks at " : " passes motion on badly at ") +
                     atText(place.at);
        v.detail = place.sineIsAngle
                       ? "transmission angle " + formatNumber(v.value, 0) + "° " + where
                       : "its loops pass on " + formatNumber(100 * place.sine, 0) + " % of their best " + where;
        v.detail += "; usual is " + formatNumber(study::kThinTransmissionDeg, 0) + "° and more, below " +
                    formatNumber(study::kStuckTransmissionDeg, 0) + "° it sticks; play grows " +
                    formatNumber(1 / std::max(place.sine, 1e-3), 1) + "-fold";
    }

    void judgeChanges() {
        if (m_study.changePoints.empty()) return;
        Verdict& v = add("change-point", "");
        v.state = State::Thin;
        v.value = static_cast<double>(m_study.changePoints.size());
        std::string where;
        std::set<std::string> told;
        for (const double at : m_study.changePoints)
            if (told.insert(atText(at)).second) where += (where.empty() ? "" : ", ") + atText(at);
        v.text = m_motion.name + " may go on either way at " + where;
        v.detail =
            "all its links lie in line there: what was parallel may come out crossed; a flywheel, a second set of "
            "links a quarter turn off, or other lengths keep it on its way";
    }

    void judgeIdle() {
        std::set<int> joints;
        for (const auto& f : m_study.plan.idle) joints.insert(f.joint);
        if (joints.empty()) return;
        Verdict& v = add("idle", "");
        v.state = State::Thin;
        std::string names;
        for (const int j : joints) names += (names.empty() ? "" : ", ") + at(m_project.joints, j).name;
        v.text = m_motion.name + " leaves something free";
        v.detail = names + " can move though the driver is held: nothing says where to";
    }

    void judgeMeetings() {
        std::map<std::pair<int, int>, std::vector<const study::MotionMeeting*>> bySections;
        for (const auto& one : m_study.meetings)
            if (!one.atStart) bySections[{one.a.spot.section, one.b.spot.section}].push_back(&one);
        for (const auto& [sections, list] : bySections) {
            Verdict& v = add("motion-meets", "/" + at(m_project.sections, sections.first)->id.text + "/" +
                                                 at(m_project.sections, sections.second)->id.text);
            v.state = State::Fail;
            const auto first = *std::min_element(list.begin(), list.end(),
                                                 [](const auto* l, const auto* r) { return l->from < r->from; });
            double low = first->from, high = first->to;
            for (const auto* one : list) {
                low = std::min({low, one->from, one->to});
                high = std::max({high, one->from, one->to});
            }
            v.text = at(m_project.sections, sections.first)->name + " meets " +
                     at(m_project.sections, sections.second)->name + " at " + atText(first->from);
            v.detail = m_motion.name + ": " + study::describeParts(m_project, *first) +
                       (list.size() > 1 ? " and " + std::to_string(list.size() - 1) + " more" : "") + ", between " +
                       atText(low) + " and " + atText(high);
            v.weight = std::min(1.0, static_cast<double>(list.size()) / 10);
            for (std::size_t k = 0; k < list.size() && k < kMostMeetingsNamed; ++k)
                for (const auto& ref : {list[k]->a, list[k]->b})
                    v.place.parts.push_back(model::getPart(m_project, ref.spot).id);
        }
    }

    void judgeTip() {
        if (m_study.walk || !m_study.leastTip || !m_facts.present.tipping) return; // a walk tells how it stands itself
        const MotionPlace& place = at(m_study.places, *m_study.leastTip);
        const double asked = study::getAskedTipDeg(m_project);
        // What tips as it stands is told already; here only what the motion brings.
        if (m_facts.present.tipping->angleDeg < asked || *place.tipDeg >= asked * kGoodMargin) return;
        Verdict& v = add("motion-tip", "");
        v.value = *place.tipDeg;
        v.limit = asked;
        v.unit = "°";
        v.margin = *place.tipDeg / asked;
        v.state = getStateOfMargin(v.margin);
        v.text = std::string(v.state == State::Fail ? "Tips" : "Barely stands") + " while " + m_motion.name +
                 " is at " + atText(place.at);
        v.detail = formatNumber(*place.tipDeg, 1) + "°, " + formatNumber(asked, 1) + "° is " +
                   study::describeAskedTip(m_project);
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    const MotionStudy& m_study;
    const model::Motion& m_motion;
    VerdictList& m_list;
};

/// "hole 3 back" → "hole 4 back".
std::optional<std::string> findOtherHole(const parts::Shape& shape, const std::string& port, int by) {
    if (!port.starts_with("hole ")) return std::nullopt;
    const std::size_t end = port.find_first_not_of("0123456789", 5);
    const std::string digits = port.substr(5, end == std::string::npos ? end : end - 5);
    if (digits.empty() || digits.size() > 3) return std::nullopt;
    const int number = std::stoi(digits) + by;
    if (number < 0) return std::nullopt;
    std::string other = "hole " + std::to_string(number) + (end == std::string::npos ? "" : port.substr(end));
    if (shape.findPort(other) < 0) return std::nullopt;
    return other;
}

/// The project with a link at another hole, its loops closed from where they are; none when they do not close.
std::optional<model::Project> moveHole(const model::Project& project, int joint, const std::string& port,
                                       const model::JointId& driver) {
    const model::Joint& old = at(project.joints, joint);
    auto moved = model::moveJoint(project, old.id, old.from, {old.to.part, port});
    if (!moved) return std::nullopt;
    const auto tree = model::makeTree(*moved);
    if (!tree) return std::nullopt;
    const pose::Kinematics kinematics(*moved, *tree);
    const auto values = pose::getValues(*moved, nullptr);
    const pose::LoopFollower follower(kinematics, pose::planLoops(kinematics, values, {moved->findJoint(driver), 0}));
    const pose::LoopPlace place = follower.start(values);
    if (!place.isClosed()) return std::nullopt;
    std::map<model::JointId, std::vector<double>> all;
    for (const int j : follower.plan().moved) all[at(moved->joints, j).id] = at(place.values, j);
    auto closed = model::setJointValues(*moved, all);
    if (!closed) return std::nullopt;
    return std::move(closed).value();
}

/// Every hole within reach that one link could be pinned at instead, those that pass motion on best first.
void addHoles(const Report& report, const model::Motion& motion, std::vector<Mend>& mends) {
    const model::Project& project = *report.project;
    struct Choice {
        double margin;
        std::string text;
        model::JointId joint;
        std::string port;
    };
    std::vector<Choice> choices;
    const auto known = std::find_if(report.motions.begin(), report.motions.end(),
                                    [&](const auto& s) { return at(project.motions, s->index).id == motion.id; });
    if (known == report.motions.end()) return;
    for (const int j : (*known)->plan.moved) {
        const model::Joint& joint = at(project.joints, j);
        const model::Part& part = model::getPart(project, at(report.tree.to, j));
        for (int by = -kFarthestHole; by <= kFarthestHole; ++by) {
            const auto port = by == 0 ? std::nullopt : findOtherHole(*part.shape, joint.to.port, by);
            if (!port) continue;
            const auto moved = moveHole(project, j, *port, motion.joint);
            if (!moved) continue;
            const auto tree = model::makeTree(*moved).value();
            model::Placed placed = pose::calcPlaced(*moved, tree, pose::getValues(*moved, nullptr));
            study::MotionInputs inputs;
            inputs.project = &*moved;
            inputs.tree = &tree;
            inputs.placed = &placed;
            inputs.strengths = &report.strengths;
            inputs.ground = (*known)->ground;
            const auto result = study::calcMotion(inputs, motion);
            const bool asWell = result.problem.empty() && result.returns && result.changePoints.empty() &&
                                (!(*known)->allRound || result.allRound) &&
                                (!motion.over || result.high.by == pose::LoopEnd::Reached);
            if (!asWell || result.leastSine < 0) continue;
            const double deg = study::getTransmissionDeg(at(result.places, result.leastSine));
            choices.push_back({calcTransmissionMargin(deg),
                               "pin " + joint.name + " " + std::to_string(std::abs(by)) +
                                   (std::abs(by) == 1 ? " hole " : " holes ") + (by > 0 ? "on" : "back") + " (" +
                                   *port + ")",
                               joint.id, *port});
        }
    }
    std::stable_sort(choices.begin(), choices.end(),
                     [](const Choice& l, const Choice& r) { return l.margin > r.margin; });
    if (choices.size() > kMostHoleMends) choices.resize(kMostHoleMends);
    for (const Choice& choice : choices)
        mends.push_back({choice.text,
                         [joint = choice.joint, port = choice.port,
                          driver = motion.joint](const model::Project& p) -> model::EditResult {
                             const int j = p.findJoint(joint);
                             auto moved = j < 0 ? std::nullopt : moveHole(p, j, port, driver);
                             if (!moved) return base::Error{"motion.open", "the loop does not close there", ""};
                             return *moved;
                         }});
}

} // namespace

double calcTransmissionMargin(double deg) {
    const double stuck = study::kStuckTransmissionDeg, thin = study::kThinTransmissionDeg;
    if (deg < stuck) return deg / stuck;
    if (deg < thin) return 1 + (kGoodMargin - 1) * (deg - stuck) / (thin - stuck);
    return kGoodMargin * deg / thin;
}

void judgeMotions(const study::Facts& facts, VerdictList& list) {
    for (const auto& study : facts.motions)
        if (study && study->index >= 0) {
            MotionCheck(facts, *study, list).run();
            judgeWalk(facts, *study, list);
        }
}

void proposeMotionMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.place.things.empty()) return;
    const auto motion = std::find_if(report.project->motions.begin(), report.project->motions.end(),
                                     [&](const model::Motion& m) { return m.id.text == verdict.place.things.front(); });
    if (motion == report.project->motions.end()) return;
    if (verdict.check == "transmission" || verdict.check == "motion" || verdict.check == "change-point")
        addHoles(report, *motion, mends);
    if (verdict.check != "motion-meets" && verdict.check != "motion") return;
    for (const auto& study : report.motions) {
        if (at(report.project->motions, study->index).id != motion->id) continue;
        std::optional<model::Travel> stretch;
        if (verdict.check == "motion-meets") stretch = study::findFreeStretch(*report.project, *study);
        if (verdict.check == "motion" && motion->over && study->places.size() > 1)
            stretch = model::Travel{motion->over->from, std::trunc(study->places.back().at)};
        if (!stretch || stretch->from == stretch->to) continue;
        const std::string unit = study::getDriverUnit(*report.project, *study);
        mends.push_back({"let it go from " + formatNumber(stretch->from, 0) + unit + " to " +
                             formatNumber(stretch->to, 0) + unit + " only",
                         [id = motion->id, over = *stretch](const model::Project& p) -> model::EditResult {
                             for (model::Motion one : p.motions) {
                                 if (one.id != id) continue;
                                 one.over = over;
                                 return model::putMotion(p, std::move(one));
                             }
                             return base::Error{"edit.missing", "the motion is gone", id.text};
                         }});
    }
}

} // namespace ivrant::verdict
