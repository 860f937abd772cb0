// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/pose/check_lines.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"
#include "core/study/strand_words.h"
#include "core/verdict/pose/check_pose.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using model::LineEnd;
using model::LineKind;
using study::StrandPlace;
using study::StrandPose;
using study::StrandStudy;

constexpr double kSameMm = 0.5; ///< a string gives by so much

class LineCheck {
public:
    LineCheck(const study::Facts& facts, const StrandStudy& study, VerdictList& list)
        : m_facts(facts), m_project(*facts.project), m_study(study), m_line(at(facts.project->lines, study.index)),
          m_list(list) {}

    void run() {
        if (!m_study.problem.empty()) return judgeProblem();
        switch (m_line.kind) {
        case LineKind::String: return judgeString();
        case LineKind::Band: return judgeBand();
        case LineKind::Spring: return judgeSpring();
        }
    }

private:
    Verdict& add(const char* check, const std::string& key = "") {
        Verdict& v = m_list.add(check, m_line.id.text + key, Station::Pose);
        v.place.things = {m_line.id.text};
        if (m_study.joint >= 0) v.place.joint = at(m_project.joints, m_study.joint).id;
        if (m_line.kind != LineKind::String || m_study.joint >= 0) v.basis = Basis::Starting;
        return v;
    }
    void placePose(Verdict& v, int pose) const {
        if (pose >= 0 && at(m_facts.poses, pose).id) v.place.pose = at(m_facts.poses, pose).id;
    }
    [[nodiscard]] std::string poseName(int pose) const {
        return pose < 0 ? "the present pose" : at(m_facts.poses, pose).name;
    }
    [[nodiscard]] std::string jointName() const { return at(m_project.joints, m_study.joint).name; }
    [[nodiscard]] std::string unit() const { return study::getWorkedUnit(m_project, m_study); }

    void judgeProblem() {
        Verdict& v = add("line");
        v.basis = Basis::Geometry;
        placePose(v, m_study.problemPose);
        if (m_study.code == "line.joint" || m_study.code == "line.waits") {
            v.state = State::Note;
            v.text = m_line.name + " waits";
        } else {
            v.state = State::Fail;
            v.weight = 1;
            v.text = m_line.name + (m_study.joint >= 0 && m_study.places.empty() && m_study.code != "line.askew" &&
                                            m_study.code != "line.inside" && m_study.code != "line.part"
                                        ? " cannot work " + jointName()
                                        : std::string(" has no way"));
        }
        v.detail = m_study.problem;
        for (const model::Guide& guide : m_line.guides) v.place.parts.push_back(guide.part);
    }

    /// It pulls the wrong way, or its joint does not get there: nothing further is said of it.
    bool judgeWork() {
        if (m_study.wrongWay >= 0) {
            const StrandPlace& place = at(m_study.places, m_study.wrongWay);
            Verdict& v = add("line");
            v.state = State::Fail;
            v.weight = 1;
            placePose(v, place.pose);
            const std::string where = study::describePlace(m_facts, m_study, place);
            const bool slack = m_line.kind == LineKind::Band && place.leverMm > 0;
            v.text = slack ? m_line.name + " hangs loose at " + where
                           : m_line.name + " pulls " + jointName() + " the wrong way at " + where;
            v.detail = "needs " + formatNumber(place.needNmm, 1) + " N·mm there, " +
                       (slack ? "and is not stretched"
                              : "its way runs past the centre: however hard it pulls, or how "
                                "many there are, it does not help");
            return false;
        }
        if (m_study.missed.empty()) return true;
        Verdict& v = add("line-reach");
        v.basis = Basis::Geometry;
        v.state = State::Thin;
        v.weight = 0.5;
        placePose(v, m_study.missed.front());
        v.text = jointName() + " does not get all the way in " + poseName(m_study.missed.front());
        v.detail = m_line.name + " " + study::describeWork(m_project, m_study) +
                   (m_study.missed.size() > 1 ? "; so in " + std::to_string(m_study.missed.size()) + " poses" : "");
        return true;
    }

    void judgeString() {
        if (m_study.joint < 0) return judgeStay();
        if (!judgeWork()) return;
        const bool needsPull = m_study.hardest >= 0 && at(m_study.places, m_study.hardest).pullN > 0;
        Verdict& v = add("line");
        v.value = needsPull ? at(m_study.places, m_study.hardest).pullN : 0;
        v.unit = "N";
        std::string how = formatNumber(m_study.mostTravelMm, 1) + " mm of pull";
        if (m_study.mostTravelMm - m_study.leastTravelMm > 0.1)
            how = formatNumber(m_study.leastTravelMm, 1) + " to " + how;
        if (needsPull) {
            const StrandPlace& place = at(m_study.places, m_study.hardest);
            placePose(v, place.pose);
            v.detail = how + "; at most " + formatNumber(place.pullN, 1) + " N, " + formatNumber(place.knotN, 1) +
                       " N at its knot, at " + study::describePlace(m_facts, m_study, place) +
                       (m_study.frictionMeasured ? " (friction of the string: starting value)"
                                                 : " (friction of string and joint: starting values)");
            if (m_line.end == LineEnd::Drum)
                v.detail +=
                    "; asks " + formatNumber(place.pullN * m_line.guides.back().radiusMm, 1) + " N·mm of its drum, " +
                    formatNumber(m_study.mostTravelMm / (2 * std::numbers::pi * m_line.guides.back().radiusMm), 2) +
                    " turns";
            if (m_line.end == LineEnd::Hand) {
                v.limit = study::kHandPullN;
                v.margin = study::kHandPullN / place.pullN;
                v.detail += "; thumb and finger pull " + formatNumber(study::kHandPullN, 0) + " N (usual value)";
                // Usual values warn; only what is computed fails.
                v.state = *v.margin < kGoodMargin ? State::Thin : State::Good;
            }
        } else {
            v.detail = how + "; no force is needed: " + jointName() + " goes by itself";
        }
        v.text =
            m_line.name + (v.state == State::Thin ? " is hard to pull" : " " + study::describeWork(m_project, m_study));
        judgePulledAlong();
        judgeSlack();
        judgeHeld();
    }

    void judgePulledAlong() {
        double most = m_study.spanPulledDeg.value_or(0);
        int pose = -1;
        for (const StrandPose& one : m_study.poses)
            if (one.pulledDeg && *one.pulledDeg > most - 1e-9) {
                most = *one.pulledDeg;
                pose = one.pose;
            }
        Verdict& v = add("line-along");
        v.basis = Basis::Geometry;
        v.value = most;
        v.limit = study::kSelfPullDeg;
        v.unit = unit();
        const double all = std::abs(m_line.works->to - m_line.works->from);
        const std::string where = pose >= 0 ? poseName(pose) : "the wanted ranges";
        placePose(v, pose);
        if (most <= study::kSelfPullDeg) {
            v.margin = std::min(100.0, study::kSelfPullDeg * kGoodMargin / std::max(most, 0.01));
            v.text = "Bending leaves " + jointName() + " where it is";
            v.detail = m_line.name + " pulls it by at most " + formatNumber(most, 1) + unit() + ", in " + where;
            return;
        }
        v.state = most > all / 2 ? State::Fail : State::Thin;
        v.margin = v.state == State::Fail ? std::min(0.999, all / 2 / most)
                                          : std::max(1.0, std::min(kGoodMargin - 0.001, all / 2 / most));
        v.text = "Bending pulls " + jointName() + " by " + formatNumber(most, 0) + unit() +
                 (pose >= 0 ? " in " : " within ") + where;
        v.detail = m_line.name + (m_line.lengthMm ? " at its length gets " : " set taut as the model stands gets ") +
                   formatNumber(std::max(longest(), m_study.span.mostMm) - m_study.tautMm, 1) +
                   " mm too short; eyes at the axes it crosses pull nothing";
    }
    [[nodiscard]] double longest() const {
        double mm = 0;
        for (const StrandPose& one : m_study.poses) mm = std::max(mm, one.longerMm);
        return mm;
    }

    void judgeSlack() {
        double most = m_study.spanSlackMm;
        int pose = -1;
        for (const StrandPose& one : m_study.poses)
            if (one.slackThereMm > most - 1e-9) {
                most = one.slackThereMm;
                pose = one.pose;
            }
        if (most <= study::kLooseMm) return;
        Verdict& v = add("line-slack");
        v.basis = Basis::Geometry;
        v.value = most;
        v.limit = study::kLooseMm;
        v.unit = "mm";
        placePose(v, pose);
        v.state = m_line.end == LineEnd::Hand ? State::Note : State::Thin; // a hand takes it up
        v.text = m_line.name + " hangs " + formatNumber(most, 1) + " mm loose " +
                 (pose >= 0 ? "in " + poseName(pose) : "within the wanted ranges");
        v.detail = std::string(m_line.lengthMm ? "at its length" : "set taut as the model stands") + "; more than " +
                   formatNumber(study::kLooseMm, 0) + " mm slips off a pin (usual value)";
    }

    void judgeHeld() {
        if (!m_study.joints.empty()) {
            const study::StrandJoint& worst = m_study.joints.front();
            const auto margin = pose::calcHoldMargin(worst.needNmm, worst.have.value);
            Verdict& v = add("line-joint");
            v.place.joint = at(m_project.joints, worst.joint).id;
            placePose(v, worst.pose);
            setNeed(v, worst.needNmm, worst.have, "N·mm", margin);
            const std::string name = at(m_project.joints, worst.joint).name;
            v.text = v.state == State::Good
                         ? "Joints hold while " + m_line.name + " is pulled"
                         : "Pulling " + m_line.name + " bends " + name + " in " + poseName(worst.pose);
            v.detail += (v.detail.empty() ? "" : "; ") + name + " needs " + formatNumber(worst.needNmm, 1) +
                        " N·mm while it is pulled, " + formatNumber(worst.withoutNmm, 1) + " at rest, has " +
                        formatNumber(worst.have.value, 1) + " (" + shortBasis(worst.have) + ")";
        }
        if (!m_study.pulled || m_study.pulledPose < 0) return;
        const auto& pose = at(m_facts.poses, m_study.pulledPose);
        const stand::Equilibrium& e = m_study.pulled->equilibrium;
        const bool stoodBefore = !pose.standing || pose.standing->equilibrium.stands;
        if (!stoodBefore) return; // that is told already
        const bool known = e.lambda && !std::isinf(*e.lambda);
        Verdict& v = add("line-bonds");
        placePose(v, m_study.pulledPose);
        if (known) {
            v.value = *e.lambda;
            v.margin = 1 / std::max(*e.lambda, 1e-3);
            v.state = getStateOfMargin(v.margin);
        }
        if (!e.stands) v.state = State::Fail;
        v.text = v.state == State::Good
                     ? "What holds " + m_line.name + " stays together"
                     : m_line.name +
                           (v.state == State::Fail ? " pulls something off in " : " all but pulls something off in ") +
                           pose.name;
        v.detail = study::describeOutcome(*m_study.pulled) + " while it is pulled with " +
                   formatNumber(at(m_study.places, m_study.hardest).pullN, 1) + " N";
        for (const int contact : study::listWeakest(*m_study.pulled, 1)) {
            v.detail += "; weakest: " + study::describeContact(m_project, *m_study.pulled, contact);
            v.place.parts = study::listParts(m_project, *m_study.pulled, contact);
        }
    }

    /// A string between two points that works nothing.
    void judgeStay() {
        double lack = m_study.spanLackMm, slack = m_study.spanSlackMm;
        int lacks = -1, slacks = -1;
        for (const StrandPose& one : m_study.poses) {
            if (one.lackMm > lack - 1e-9) lack = one.lackMm, lacks = one.pose;
            if (one.slackMm > slack - 1e-9) slack = one.slackMm, slacks = one.pose;
        }
        Verdict& v = add("line");
        v.basis = Basis::Geometry;
        v.unit = "mm";
        if (lack > kSameMm) {
            v.state = State::Fail;
            v.value = lack;
            v.margin = std::min(0.999, m_study.restMm / (m_study.restMm + lack));
            placePose(v, lacks);
            v.text = m_line.name + " is " + formatNumber(lack, 1) + " mm too short " +
                     (lacks >= 0 ? "in " + poseName(lacks) : "within the wanted ranges");
            v.detail = formatNumber(m_study.restMm, 1) + " mm long, its way is " +
                       formatNumber(m_study.restMm + lack, 1) + " mm there";
            return;
        }
        v.value = slack;
        placePose(v, slacks);
        v.text = m_line.name + " is long enough everywhere";
        v.detail = "at most " + formatNumber(slack, 1) + " mm loose" + (slacks >= 0 ? ", in " + poseName(slacks) : "");
    }

    void judgeBand() {
        if (m_study.joint >= 0 && !judgeWork()) return;
        if (m_study.joint >= 0) {
            Verdict& v = add("line");
            setBasis(v);
            if (m_study.hardest < 0) {
                v.text = jointName() + " goes back by itself";
                v.detail = m_line.name + " is not needed for that";
            } else {
                const StrandPlace& place = at(m_study.places, m_study.hardest);
                placePose(v, place.pose);
                v.value = place.helpNmm;
                v.limit = place.needNmm;
                v.unit = "N·mm";
                v.margin = place.helpNmm / place.needNmm;
                v.state = getStateOfMargin(v.margin);
                v.text = v.state == State::Good ? m_line.name + " brings " + jointName() + " back"
                         : v.state == State::Thin
                             ? m_line.name + " barely brings " + jointName() + " back"
                             : m_line.name + " does not bring " + jointName() + " back in " + poseName(place.pose);
                v.detail = "does " + formatNumber(place.helpNmm, 1) + " of " + formatNumber(place.needNmm, 1) +
                           " N·mm at " + study::describePlace(m_facts, m_study, place) + "; " +
                           study::describeLaw(m_line);
                if (m_study.needCount > m_line.count)
                    v.detail += "; " + std::to_string(m_study.needCount) + " side by side are enough";
            }
        }
        judgeLaw();
    }
    void setBasis(Verdict& v) const {
        v.basis = !m_line.law.empty() && m_study.frictionMeasured ? Basis::Measured : Basis::Starting;
    }
    void judgeLaw() {
        if (!m_study.beyondLaw) return;
        Verdict& v = add("line-law");
        v.state = State::Thin;
        v.value = m_study.mostStretchMm;
        v.limit = m_line.law.back().mm;
        v.unit = "mm";
        v.text = m_line.name + " goes further than it was measured";
        v.detail = formatNumber(m_study.mostStretchMm, 1) + " mm, measured up to " +
                   formatNumber(m_line.law.back().mm, 1) + " mm";
    }

    void judgeSpring() {
        Verdict& v = add("line");
        setBasis(v);
        const double travel = m_line.travelMm > 0 ? m_line.travelMm : m_study.restMm / 2;
        v.unit = "mm";
        v.limit = travel;
        v.value = m_study.mostStretchMm;
        v.detail = study::describeLaw(m_line) + "; travel " + formatNumber(travel, 1) + " mm" +
                   (m_line.travelMm > 0 ? "" : " (half its length, as none is given)");
        if (m_study.joint >= 0 && !m_study.sagAt) {
            v.state = State::Fail;
            v.weight = 1;
            v.text = m_line.name + " does not carry " + jointName();
            return;
        }
        if (m_study.flat) {
            v.state = State::Fail;
            v.margin = std::min(0.999, travel / m_study.mostStretchMm);
            v.text = m_line.name + " is pressed flat";
            return;
        }
        if (m_study.sagAt) {
            v.value = travel - m_study.sagLeftMm;
            v.text = m_line.name + " carries " + jointName() + " at " + formatNumber(*m_study.sagAt, 1) + unit();
            v.detail += "; " + formatNumber(m_study.sagLeftMm, 1) + " mm left for bumps";
            v.margin = v.value > 1e-6 ? std::optional(travel / v.value) : std::nullopt;
            v.state = getStateOfMargin(v.margin);
            if (v.state == State::Thin) v.text += ", nearly flat";
        } else {
            v.text = m_line.name + " stays within its travel";
        }
        judgeLaw();
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    const StrandStudy& m_study;
    const model::Line& m_line;
    VerdictList& m_list;
};

model::EditResult changeLine(const model::Project& project, const model::LineId& id,
                             const std::function<void(model::Line&)>& change) {
    for (model::Line line : project.lines) {
        if (line.id != id) continue;
        change(line);
        return model::putLine(project, std::move(line));
    }
    return base::Error{"edit.missing", "the line is gone", id.text};
}

/// How much a line with one guide changed is pulled along by other joints, over all poses and wanted ranges; none: it
/// has no way or does not do its work.
std::optional<double> tryGuide(const Report& report, const StrandStudy& known, std::size_t guide,
                               const model::Guide& other) {
    const auto changed = changeLine(*report.project, at(report.project->lines, known.index).id,
                                    [&](model::Line& line) { line.guides[guide] = other; });
    if (!changed) return std::nullopt;
    study::Facts facts = report;
    facts.project = std::make_shared<const model::Project>(*changed);
    facts.known &= ~study::kAtRest;
    for (auto& pose : facts.poses) {
        pose.placed.project = facts.project.get();
        pose.tipping.reset(); // bonds are looked at when it is tried
    }
    facts.present.placed.project = facts.project.get();
    const auto all = study::calcStrands(facts);
    const StrandStudy& result = *at(all, known.index);
    if (!result.problem.empty() || result.wrongWay >= 0 || result.missed.size() > known.missed.size())
        return std::nullopt;
    double most = result.spanPulledDeg.value_or(0);
    for (const StrandPose& one : result.poses) most = std::max(most, one.pulledDeg.value_or(0));
    return most;
}

constexpr std::size_t kMostTries = 150, kMostGuideMends = 4;

void addGuides(const Report& report, const StrandStudy& known, std::vector<Mend>& mends) {
    const model::Project& project = *report.project;
    const model::Line& line = at(project.lines, known.index);
    const model::PartIndex index(project);
    struct Choice {
        double most;
        std::string text;
        std::size_t guide;
        model::Guide other;
    };
    std::vector<Choice> choices;
    std::size_t tries = 0;
    const auto tryOne = [&](std::size_t g, const model::Guide& other, const std::string& text) {
        if (++tries > kMostTries) return;
        if (const auto most = tryGuide(report, known, g, other)) choices.push_back({*most, text, g, other});
    };
    for (std::size_t g = 0; g < line.guides.size(); ++g) {
        const model::Guide& guide = line.guides[g];
        const model::PartSpot spot = index.find(guide.part);
        if (spot.section < 0) continue;
        const model::Part& part = model::getPart(project, spot);
        model::Guide other = guide;
        if (guide.radiusMm > 0) {
            other.side = -guide.side;
            tryOne(g, other, "lead " + line.name + " round the other side of " + study::describeGuide(project, guide));
            continue;
        }
        for (const parts::Port& port : part.shape->ports) {
            if (port.name == guide.port || !pose::takesLine(port, g == 0)) continue;
            other.port = port.name;
            tryOne(g, other,
                   (g == 0 ? "tie " : "lead ") + line.name + (g == 0 ? " to " : " through ") +
                       study::describeGuide(project, other));
        }
    }
    std::stable_sort(choices.begin(), choices.end(), [](const Choice& l, const Choice& r) { return l.most < r.most; });
    if (choices.size() > kMostGuideMends) choices.resize(kMostGuideMends);
    for (const Choice& choice : choices)
        mends.push_back({choice.text, [id = line.id, g = choice.guide, other = choice.other](const model::Project& p) {
                             return changeLine(p, id, [&](model::Line& l) {
                                 if (g < l.guides.size()) l.guides[g] = other;
                             });
                         }});
}

} // namespace

void judgeLines(const study::Facts& facts, VerdictList& list) {
    for (const auto& study : facts.lines)
        if (study && study->index >= 0) LineCheck(facts, *study, list).run();
}

void proposeLineMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.place.things.empty()) return;
    for (const auto& known : report.lines) {
        const model::Line& line = at(report.project->lines, known->index);
        if (line.id.text != verdict.place.things.front()) continue;
        const model::LineId id = line.id;
        const auto addCount = [&](int count) {
            if (count <= line.count || count > model::kMostLinesAbreast) return;
            mends.push_back(
                {"put " + std::to_string(count) + " of them side by side", [id, count](const model::Project& p) {
                     return changeLine(p, id, [&](model::Line& l) { l.count = count; });
                 }});
        };
        if (verdict.check == "line" && line.kind == LineKind::Band && known->needCount > 0) {
            addCount(known->needCount);
            addCount(static_cast<int>(std::ceil(known->needCount * kGoodMargin)));
        }
        if (verdict.check == "line" && line.kind == LineKind::String && line.end == LineEnd::Tied && known->joint < 0 &&
            known->problem.empty()) {
            double way = known->spanLackMm;
            for (const StrandPose& one : known->poses) way = std::max(way, one.lackMm);
            const double mm = std::ceil(known->restMm + way);
            mends.push_back({"make it " + formatNumber(mm, 0) + " mm long", [id, mm](const model::Project& p) {
                                 return changeLine(p, id, [&](model::Line& l) { l.lengthMm = mm; });
                             }});
        }
        if (verdict.check == "line-along" && line.kind == LineKind::String && known->joint >= 0) {
            double longest = known->span.mostMm;
            for (const StrandPose& one : known->poses) longest = std::max(longest, one.longerMm);
            const pose::Lines lines(*report.project, report.tree);
            const auto present = lines.place(static_cast<std::size_t>(known->index), report.present.placed.X_WS);
            if (present.hasWay()) {
                const double mm = std::ceil(present.path.lengthMm + longest);
                mends.push_back({"let it out to " + formatNumber(mm, 0) + " mm: taut only where its way is longest",
                                 [id, mm](const model::Project& p) {
                                     return changeLine(p, id, [&](model::Line& l) { l.lengthMm = mm; });
                                 }});
            }
        }
        if (verdict.check == "line-bonds") // what tears off is left out of its way
            for (std::size_t g = 1; g + 1 < line.guides.size(); ++g) {
                const model::Guide& guide = line.guides[g];
                const auto& parts = verdict.place.parts;
                if (std::find(parts.begin(), parts.end(), guide.part) == parts.end()) continue;
                mends.push_back(
                    {"lead " + line.name + " past " + study::describeGuide(*report.project, guide) + ", not through it",
                     [id, g](const model::Project& p) {
                         return changeLine(p, id, [&](model::Line& l) {
                             if (g + 1 < l.guides.size())
                                 l.guides.erase(l.guides.begin() + static_cast<std::ptrdiff_t>(g));
                         });
                     }});
            }
        if (verdict.check == "line-joint") { // what it asks is asked of a joint: a stronger one
            Verdict hold = verdict;
            hold.check = "hold";
            proposePoseMends(report, hold, mends);
        }
        if (verdict.check == "line-along" || verdict.check == "line-joint" || verdict.check == "line-slack" ||
            (verdict.check == "line" && known->wrongWay >= 0))
            addGuides(report, *known, mends);
    }
}

} // namespace ivrant::verdict
