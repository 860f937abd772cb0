// What would mend a verdict? Joint exchange, limiting the wanted range, ballast, taking a loose part away.
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/usual_sizes.h"
#include "core/verdict/check_drive.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/groups.h"
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
            // Inwards to a tenth, so that what is written down is certainly free; to a step where the joint has steps.
            const double grain = joint.kind->stepDeg > 0 ? joint.kind->stepDeg : 0.1;
            wanted.low = std::max(wanted.low, std::ceil(range.free.low / grain - 1e-9) * grain);
            wanted.high = std::min(wanted.high, std::floor(range.free.high / grain + 1e-9) * grain);
        }
    for (const auto& wanted : limited)
        if (wanted.low > wanted.high) return;
    if (limited == joint.wanted) return;
    const auto& shown = limited[verdict.place.freedom == "s2" || verdict.place.freedom == "slide" ? 1 : verdict.place.freedom == "t" ? 2 : 0];
    mends.push_back({"want only " + formatNumber(shown.low, 1) + " to " + formatNumber(shown.high, 1) + (verdict.unit == "deg" ? "°" : " mm"),
                     [id, limited](const model::Project& p) { return model::setWanted(p, id, limited); }});
}

/// Of every joint no more than the poses use: what nobody poses need not be held.
void addWantPoses(const Report& report, std::vector<Mend>& mends) {
    if (report.project->poses.empty()) return;
    std::map<model::JointId, std::vector<model::Range>> used;
    for (std::size_t j = 0; j < report.project->joints.size(); ++j) {
        const model::Joint& joint = report.project->joints[j];
        if (joint.wanted.empty()) continue;
        std::vector<model::Range> ranges;
        for (std::size_t f = 0; f < joint.wanted.size(); ++f) {
            model::Range range{1e9, -1e9};
            for (const PoseReport& pose : report.poses) {
                range.low = std::min(range.low, pose.values[j][f]);
                range.high = std::max(range.high, pose.values[j][f]);
            }
            ranges.push_back(range);
        }
        if (ranges != joint.wanted) used[joint.id] = std::move(ranges);
    }
    if (used.empty()) return;
    mends.push_back({"want of every joint only what the poses use", [used](const model::Project& p) -> model::EditResult {
                         model::EditResult next = p;
                         for (const auto& [id, ranges] : used)
                             if (next) next = model::setWanted(*next, id, ranges);
                         return next;
                     }});
}

/// No ranges at all: what the poses need is judged in each of them, and nothing is asked of what lies between.
void addPosesOnly(const Report& report, std::vector<Mend>& mends) {
    const auto& joints = report.project->joints;
    if (report.project->poses.empty() || std::all_of(joints.begin(), joints.end(), [](const auto& joint) { return joint.wanted.empty(); })) return;
    mends.push_back({"ask for the poses only, want no ranges",
                     [](const model::Project& p) -> model::EditResult {
                         model::EditResult next = p;
                         for (const auto& joint : p.joints)
                             if (next && !joint.wanted.empty()) next = model::setWanted(*next, joint.id, {});
                         return next;
                     },
                     "What lies between the poses is then asked of no joint."});
}

/// The base level: what was asked for a tilted one is not asked then.
void addLevelBase(const Report& report, std::vector<Mend>& mends) {
    if (report.project->tiltDeg <= 0) return;
    mends.push_back({"ask no tilt of the base", [](const model::Project& p) { return model::setTilt(p, 0); }, "On a floor that slopes it may sag then."});
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

/// Ways out of two parts being in each other: a smooth part for one with studs, one plate up or down, half a stud aside.
void addClearing(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::PartIndex index(*report.project);
    struct Way {
        const char* text;
        geometry::Vec3 by;
    };
    const double half = base::kPitchMm / 2, plate = base::kPlateMm;
    const std::array<Way, 6> ways{{{" one plate up", {0, 0, plate}},
                                   {" one plate down", {0, 0, -plate}},
                                   {" half a stud to +x", {half, 0, 0}},
                                   {" half a stud to -x", {-half, 0, 0}},
                                   {" half a stud to +y", {0, half, 0}},
                                   {" half a stud to -y", {0, -half, 0}}}};
    for (auto id = verdict.place.parts.rbegin(); id != verdict.place.parts.rend(); ++id) {
        const model::PartSpot spot = index.find(*id);
        if (spot.section < 0) continue;
        const model::Part& part = getPart(*report.project, spot);
        const std::string& name = part.shape->name;
        if (part.shape->family == "plate" || part.shape->family == "round plate") {
            const std::string smooth = (part.shape->family == "plate" ? "tile" : "round tile") + name.substr(name.rfind(' '));
            if (const auto tile = parts::makeShape(smooth))
                mends.push_back({std::string("put a ").append(smooth).append(" there instead of the ").append(name),
                                 [ids = std::vector{*id}, shape = *tile](const model::Project& p) { return model::exchangeShape(p, ids, shape); }});
        }
        for (const Way& way : ways)
            mends.push_back({"move the " + name + " of " + report.project->sections[static_cast<std::size_t>(spot.section)]->name + way.text,
                             [ids = std::vector{*id}, by = way.by](const model::Project& p) {
                                 return model::moveParts(p, ids, geometry::makePose(geometry::Mat3::Identity(), by));
                             }});
    }
}

/// An unusual size as two parts of usual ones, side by side.
void addUsualSizes(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.place.parts.size() != 1) return;
    const auto spot = model::PartIndex(*report.project).find(verdict.place.parts[0]);
    if (spot.section < 0) return;
    const model::Part& part = getPart(*report.project, spot);
    const auto pieces = parts::splitToUsual(*part.shape);
    if (pieces.empty()) return;
    std::map<std::string, int> counts;
    for (const auto& piece : pieces) ++counts[piece.shape->name];
    std::string text;
    for (const auto& [name, n] : counts) text += (text.empty() ? "" : ", ") + std::to_string(n) + " " + name;
    mends.push_back({"make it of " + text,
                     [id = part.id, section = report.project->sections[static_cast<std::size_t>(spot.section)]->id, pieces,
                      part](const model::Project& p) -> model::EditResult {
                         const std::vector ids{id};
                         auto without = model::removeParts(p, ids);
                         if (!without) return without;
                         std::vector<model::NewPart> added;
                         for (const auto& piece : pieces) {
                             model::NewPart one;
                             one.shape = piece.shape;
                             one.colour = part.colour;
                             one.step = part.step;
                             one.place = part.place;
                             const geometry::Vec3 at = part.place.pose() * piece.at;
                             for (int k = 0; k < 3; ++k) one.place.atUm[static_cast<std::size_t>(k)] = base::mmToUm(at[k]);
                             added.push_back(std::move(one));
                         }
                         return model::addParts(*without, section, added);
                     }});
}

void addRemoval(const Verdict& verdict, std::vector<Mend>& mends) {
    mends.push_back({verdict.place.parts.size() == 1 ? "take the loose part away" : "take the loose parts away",
                     [ids = verdict.place.parts](const model::Project& p) { return model::removeParts(p, ids); }});
}

/// All that may help, tried or not.
std::vector<Mend> proposeMends(const Report& report, const Verdict& verdict) {
    std::vector<Mend> mends;
    if (verdict.state == State::Good && !verdict.check.starts_with("hold")) return mends;
    if (const auto asked = findAsked(report, verdict)) return proposeMends(report, *asked);
    if (verdict.check.starts_with("hold") || verdict.check == "pull") addExchanges(report, verdict, mends);
    if (verdict.check == "hold-worst") {
        addWantPoses(report, mends);
        addLevelBase(report, mends);
        addPosesOnly(report, mends);
    }
    if (verdict.check == "range") {
        addLimitWanted(report, verdict, mends);
        addExchanges(report, verdict, mends);
    }
    if (verdict.check == "value") addLegalValue(report, verdict, mends);
    if (verdict.check == "ring") addClosing(report, verdict, mends);
    if (verdict.check == "bonds" && verdict.place.joint) addExchanges(report, verdict, mends);
    const std::size_t untried = mends.size(); // what follows is tried where it is found
    if (verdict.check == "bonds" || verdict.check == "case") addStandMends(report, verdict, mends);
    if (verdict.station == Station::Stand) addStructureMends(report, verdict, mends);
    if (verdict.check == "tip" || verdict.check == "tip-move") addBallastMends(report, verdict, mends);
    if (verdict.check == "tip") addBasePlates(report, verdict, mends);
    addSupportMends(report, verdict, mends);
    addHiddenMends(report, verdict, mends);
    if (verdict.check == "ask" || verdict.check == "core") addCoreMends(report, verdict, mends);
    if (verdict.station == Station::Drive) addDriveMends(report, verdict, mends);
    for (std::size_t i = untried; i < mends.size(); ++i) mends[i].tried = true;
    if (verdict.check == "loose") addRemoval(verdict, mends);
    if (verdict.check == "overlap" || verdict.check == "collide") addClearing(report, verdict, mends);
    if (verdict.check == "unusual") addUsualSizes(report, verdict, mends);
    return mends;
}

} // namespace

/// Of each tried mend the state and margin of every verdict it leaves, by id.
class MendTrials {
public:
    struct Left {
        State state;
        std::optional<double> margin;
    };
    using Outcome = std::map<std::string, Left>;
    std::map<std::string, std::optional<Outcome>> known; ///< none: the edit is refused
};

std::shared_ptr<MendTrials> makeMendTrials() { return std::make_shared<MendTrials>(); }

namespace {

constexpr std::size_t kMostClearing = 3; ///< ways out of an overlap that are listed

std::optional<MendTrials::Outcome> tryMend(const Report& report, const Mend& mend, base::Progress* progress) {
    const auto project = mend.apply(*report.project);
    if (!project) return std::nullopt;
    const Report after = calcReport(std::make_shared<const model::Project>(*project), progress);
    if (!after.complete) return std::nullopt;
    MendTrials::Outcome outcome;
    for (const Verdict& v : after.verdicts) outcome[v.id] = {v.state, v.margin};
    return outcome;
}

/// It mends when its verdict is gone, passes, or is no failure any more and better than it was, and when nothing fails that did not.
bool mends(const Report& report, const Verdict& verdict, const MendTrials::Outcome& outcome) {
    if (const auto left = outcome.find(verdict.id); left != outcome.end()) {
        const auto& [state, margin] = left->second;
        if (state == State::Fail) return false;
        const bool better = static_cast<int>(state) > static_cast<int>(verdict.state) || (margin && verdict.margin && *margin > *verdict.margin * 1.001) ||
                            (!margin && verdict.margin);
        if (!better) return false;
    }
    std::set<std::string> failing;
    for (const Verdict& v : report.verdicts)
        if (v.state == State::Fail) failing.insert(v.id);
    return std::all_of(outcome.begin(), outcome.end(), [&](const auto& entry) { return entry.second.state != State::Fail || failing.count(entry.first) > 0; });
}

std::string keyOf(const Verdict& verdict, const Mend& mend) {
    std::string key = mend.text + "/" + (verdict.place.joint ? verdict.place.joint->text : "");
    if (verdict.check == "value" || verdict.check == "ring") key += "/" + (verdict.place.pose ? verdict.place.pose->text : "");
    if (verdict.check != "range" && !verdict.check.starts_with("hold"))
        for (const auto& part : verdict.place.parts) key += "/" + part.text;
    return key;
}

} // namespace

std::vector<Mend> listMends(const Report& report, const Verdict& verdict, base::Progress* progress, MendTrials* trials) {
    MendTrials own;
    if (!trials) trials = &own;
    std::vector<Mend> kept;
    std::vector<Mend> proposed = proposeMends(report, verdict);
    const bool clearing = verdict.check == "overlap" || verdict.check == "collide";
    // Bonds of large models are not looked at in a trial: a mend of theirs cannot be judged by one.
    const bool judged = verdict.check != "bonds" || report.project->partCount() <= kMostPartsLive;
    for (std::size_t i = 0; i < proposed.size(); ++i) {
        if (progress && progress->stopped()) break;
        if (progress) progress->report(static_cast<double>(i) / static_cast<double>(proposed.size()));
        if (clearing && kept.size() >= kMostClearing) break;
        Mend& mend = proposed[i];
        if (!mend.tried && judged) {
            const std::string key = keyOf(verdict, mend);
            auto known = trials->known.find(key);
            if (known == trials->known.end()) known = trials->known.emplace(key, tryMend(report, mend, progress)).first;
            if (!known->second || !mends(report, verdict, *known->second)) continue;
            mend.tried = true;
        }
        kept.push_back(std::move(mend));
    }
    return kept;
}

base::Result<MendPreview> previewMend(const Report& report, const Mend& mend) {
    auto project = mend.apply(*report.project);
    if (!project) return project.error();
    MendPreview preview{*project, {}, {}, {}};
    const Report after = calcReport(std::make_shared<const model::Project>(*project));
    const auto old = collapsePoses(report.verdicts), now = collapsePoses(after.verdicts);
    const auto count = [](const Report& r) { // lines, as the slip counts them
        const GroupSummary lines = countGroups(groupVerdicts(r.verdicts, *r.project));
        return Summary{lines.fail, lines.thin, lines.good, lines.note};
    };
    preview.before = count(report);
    preview.after = count(after);
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
