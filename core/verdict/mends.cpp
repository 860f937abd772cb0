// What would mend a verdict? Joint exchange, limiting the wanted range, ballast, taking a loose part away.
#include <cmath>
#include <map>

#include "core/base/units.h"
#include "core/verdict/check_drive.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

const PoseReport* findPose(const Report& report, const std::optional<model::PoseId>& id) {
    for (const PoseReport& pose : report.poses)
        if (pose.id == id) return &pose;
    return nullptr;
}

/// Could a joint of another kind reach the wanted end? It needs the same freedom, and an own limit beyond it; what other parts
/// stop, only trying shows.
bool couldReach(const parts::JointKind& offered, const parts::JointKind& present, const Verdict& verdict) {
    const bool ball = present.tilts();
    if (offered.tilts() != ball || verdict.place.freedom == "slide") return false;
    if (ball) return verdict.place.freedom != "t" && offered.coneDeg > present.coneDeg && offered.coneDeg >= std::abs(verdict.limit);
    return !offered.turnLimitDeg || (verdict.limit <= *offered.turnLimitDeg && verdict.limit >= offered.turnLowDeg);
}

void addExchanges(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::JointId joint = *verdict.place.joint;
    const auto& present = *report.project->joints[static_cast<std::size_t>(report.project->findJoint(joint))].kind;
    for (const std::string& kind : model::listExchanges(*report.project, joint)) {
        const auto& offered = *parts::findJointKind(kind);
        if ((verdict.check.starts_with("hold") || verdict.check == "bonds") && offered.holdingNmm <= present.holdingNmm) continue;
        if (verdict.check == "range" && !couldReach(offered, present, verdict)) continue;
        if (verdict.check == "pull" && offered.pullOutN.value_or(1e9) <= present.pullOutN.value_or(1e9)) continue;
        mends.push_back({"use " + kind + " here", [joint, kind](const model::Project& p) { return model::exchangeJointKind(p, joint, kind); }});
    }
}

/// The part of the wanted ranges that is free in every pose.
void addLimitWanted(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::JointId id = *verdict.place.joint;
    const int j = report.project->findJoint(id);
    const model::Joint& joint = report.project->joints[static_cast<std::size_t>(j)];
    std::vector<model::Range> limited = joint.wanted;
    for (const PoseReport& pose : report.poses)
        for (const auto& range : pose.ranges) {
            if (range.joint != j || range.endless) continue;
            auto& wanted = limited[static_cast<std::size_t>(range.freedom)];
            // Inwards to a tenth, so that what is written down is certainly free.
            wanted.low = std::max(wanted.low, std::ceil(range.free.low * 10) / 10);
            wanted.high = std::min(wanted.high, std::floor(range.free.high * 10) / 10);
        }
    for (const auto& wanted : limited)
        if (wanted.low > wanted.high) return;
    if (limited == joint.wanted) return;
    const auto& shown = limited[verdict.place.freedom == "s2" || verdict.place.freedom == "slide" ? 1 : verdict.place.freedom == "t" ? 2 : 0];
    mends.push_back({"want only " + formatNumber(shown.low, 1) + " to " + formatNumber(shown.high, 1) + (verdict.unit == "deg" ? "°" : " mm"),
                     [id, limited](const model::Project& p) { return model::setWanted(p, id, limited); }});
}

/// The nearest value that the joint can have, in the pose that has a wrong one.
void addLegalValue(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::JointId id = *verdict.place.joint;
    const int j = report.project->findJoint(id);
    const model::Joint& joint = report.project->joints[static_cast<std::size_t>(j)];
    const PoseReport* pose = findPose(report, verdict.place.pose);
    if (!pose) return;
    const std::vector<double> value = pose::calcNearestValue(*joint.kind, pose->values[static_cast<std::size_t>(j)]);
    mends.push_back({"turn it to " + formatNumber(value[0], 1) + "°", [id, value, poseId = verdict.place.pose](const model::Project& p) -> model::EditResult {
                         if (!poseId) return model::setJointValue(p, id, value);
                         const auto& named = p.poses[static_cast<std::size_t>(p.findPose(*poseId))];
                         auto values = named.values;
                         values[id] = value;
                         return model::setPose(p, *poseId, values, named.stands);
                     }});
}

/// The other joints of the ring follow until it closes.
void addClosing(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const PoseReport* pose = verdict.place.pose ? findPose(report, verdict.place.pose) : &report.present;
    if (!pose) return;
    const auto context = pose::makeRangeContext(*report.project, report.tree, report.bonds);
    const pose::PoseChecker checker(context, pose->values);
    const auto closed = pose::calcClosed(checker, pose->values);
    if (!closed.closed) return;
    std::map<model::JointId, std::vector<double>> values;
    for (std::size_t j = 0; j < closed.values.size(); ++j)
        if (report.tree.isInRing(static_cast<int>(j))) values[report.project->joints[j].id] = closed.values[j];
    mends.push_back({"close the ring", [values, poseId = verdict.place.pose](const model::Project& p) -> model::EditResult {
                         if (!poseId) return model::setJointValues(p, values);
                         const auto& named = p.poses[static_cast<std::size_t>(p.findPose(*poseId))];
                         auto all = named.values;
                         for (const auto& [id, value] : values) all[id] = value;
                         return model::setPose(p, *poseId, all, named.stands);
                     }});
}

void addRemoval(const Verdict& verdict, std::vector<Mend>& mends) {
    mends.push_back({verdict.place.parts.size() == 1 ? "take the loose part away" : "take the loose parts away",
                     [ids = verdict.place.parts](const model::Project& p) { return model::removeParts(p, ids); }});
}

} // namespace

std::vector<Mend> listMends(const Report& report, const Verdict& verdict) {
    std::vector<Mend> mends;
    if (verdict.state == State::Good && !verdict.check.starts_with("hold")) return mends;
    if (const auto asked = findAsked(report, verdict)) return listMends(report, *asked);
    if (verdict.check.starts_with("hold") || verdict.check == "pull") addExchanges(report, verdict, mends);
    if (verdict.check == "range") {
        addLimitWanted(report, verdict, mends);
        addExchanges(report, verdict, mends);
    }
    if (verdict.check == "value") addLegalValue(report, verdict, mends);
    if (verdict.check == "ring") addClosing(report, verdict, mends);
    if (verdict.check == "bonds" && verdict.place.joint) addExchanges(report, verdict, mends);
    if (verdict.check == "bonds" || verdict.check == "case") addStandMends(report, verdict, mends);
    if (verdict.station == Station::Stand) addStructureMends(report, verdict, mends);
    if (verdict.check == "tip" || verdict.check == "tip-move") addBallastMends(report, verdict, mends);
    if (verdict.check == "tip") addBasePlates(report, verdict, mends);
    addSupportMends(report, verdict, mends);
    addHiddenMends(report, verdict, mends);
    if (verdict.check == "ask" || verdict.check == "core") addCoreMends(report, verdict, mends);
    if (verdict.check == "loose") addRemoval(verdict, mends);
    if (verdict.station == Station::Drive) addDriveMends(report, verdict, mends);
    return mends;
}

base::Result<MendPreview> previewMend(const Report& report, const Mend& mend) {
    auto project = mend.apply(*report.project);
    if (!project) return project.error();
    MendPreview preview{*project, {}, {}, {}};
    const Report after = calcReport(std::make_shared<const model::Project>(*project));
    const auto old = collapsePoses(report.verdicts), now = collapsePoses(after.verdicts);
    preview.before = countStates(old);
    preview.after = countStates(now);
    const auto keyOf = [](const Verdict& v) { return v.place.joint && v.place.pose ? v.check + "/" + v.place.joint->text : v.id; };
    std::map<std::string, const Verdict*> byKey;
    for (const Verdict& v : old) byKey[keyOf(v)] = &v;
    const auto shown = [](const Verdict& v) { return v.margin ? base::formatMargin(*v.margin) : std::string(getStateName(v.state)); };
    for (const Verdict& v : now) {
        const auto was = byKey.find(keyOf(v));
        if (was == byKey.end()) {
            if (v.state != State::Good) preview.changes.push_back("new: " + v.text);
        } else if (shown(*was->second) != shown(v)) {
            preview.changes.push_back(v.text + ": " + shown(*was->second) + " → " + shown(v));
        }
        if (was != byKey.end()) byKey.erase(was);
    }
    for (const auto& [key, gone] : byKey)
        if (gone->state != State::Good) preview.changes.push_back("gone: " + gone->text);
    return preview;
}

} // namespace ivrant::verdict
