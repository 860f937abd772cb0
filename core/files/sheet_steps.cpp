// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_steps.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/sheet_trials.h"
#include "core/make/same_sections.h"
#include "core/parts/family.h"
#include "core/study/assembly.h"
#include "core/study/fingers.h"
#include "core/study/hands.h"

namespace ivrant::files {
namespace {

using base::formatNumber;

std::string listNames(const std::vector<std::string>& names) {
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i)
        text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    return text;
}

/// What the hand does, by the ports that meet: of what is there, of what comes.
std::string describeJoining(parts::PortKind a, parts::PortKind b) {
    using enum parts::PortKind;
    const auto has = [&](parts::PortKind kind) { return a == kind || b == kind; };
    if (has(ForkSmall) || has(ForkLarge)) return "Push the fingers together until they click";
    if (has(BallSmall) || has(BallLarge)) return "Press the ball into its cup";
    if (has(Clip)) return "Press the clip onto the bar";
    if (b == Axle) return "Push its axle into the hole";
    if (a == Axle || has(CrossHole) || has(TurningHole)) return "Push it onto the axle";
    if (has(PinSmooth) || has(PinRibbed)) return "Push the pin in until it snaps";
    if (has(TurntableLower) || has(GearedLower)) return "Press the halves of the turntable together";
    if (has(HingePlateLower)) return "Snap the hinge together";
    if (has(UniversalFork)) return "Snap the fork onto the cross";
    return "Press it on";
}

/// Of what is long and known by one number, an axle or a beam, mm; 0: of nothing else.
double calcLength(const parts::Shape& shape) {
    constexpr double kLong = 2.5; // times as long as it is wide
    const std::string& name = shape.name;
    const auto blank = name.rfind(' ');
    if (blank == std::string::npos || name.find_first_not_of("0123456789", blank + 1) != std::string::npos) return 0;
    geometry::Vec3 size = shape.bounds.size();
    std::sort(size.data(), size.data() + 3);
    return size[2] >= kLong * size[1] ? size[2] : 0;
}

class SheetStepMaker {
public:
    explicit SheetStepMaker(const verdict::Report& report)
        : m_report(report), m_project(*report.project), m_like(make::findLikeSections(m_project)) {
        for (const auto& section : m_project.sections)
            for (const model::Part& part : section->parts)
                if (calcLength(*part.shape) > 0) m_lengths[part.shape->family].insert(part.shape->name);
    }

    std::vector<SheetStep> run() {
        for (make::Step& step : make::listSteps(m_project, m_report.tree)) {
            const int joint = step.joint, section = step.section, after = step.after;
            step.joint = -1;
            if (after >= 0 || section < 0 || at(m_like.same, section) == section) addBuild(std::move(step));
            if (joint >= 0) addJoin(section, joint);
            if (after >= 0) continue;
            const bool last = joint >= 0 || section < 0 || m_report.tree.parent(section) < 0;
            if (last && section >= 0 && std::find(m_before.begin(), m_before.end(), section) == m_before.end())
                m_before.push_back(section);
        }
        return std::move(m_steps);
    }

private:
    SheetStep& append(SheetStep step) {
        step.step.number = static_cast<int>(m_steps.size()) + 1;
        m_steps.push_back(std::move(step));
        return m_steps.back();
    }

    void addBuild(make::Step step) {
        SheetStep made;
        made.title = make::getStepName(m_project, step);
        const int s = step.section;
        addOwn(made, step);
        for (const auto& line : step.tray)
            if (const auto shape = parts::makeShape(line.shape); shape && m_lengths.count((*shape)->family) > 0)
                if (const double mm = calcLength(**shape); mm > 0 && m_lengths.at((*shape)->family).size() > 1)
                    made.lengths.push_back({line.shape, mm});
        made.step = std::move(step);
        if (made.step.after >= 0) {
            addWaiting(made);
            return;
        }
        if (s < 0) {
            append(std::move(made));
            return;
        }
        for (const int first : m_like.same)
            if (first == s) ++made.copies;
        --made.copies;
        const bool begins = m_steps.empty() || m_steps.back().joins || m_steps.back().step.section != s;
        if (begins && made.copies > 1) {
            std::vector<std::string> names;
            for (std::size_t k = 0; k < m_like.same.size(); ++k)
                if (m_like.same[k] == s) names.push_back(m_project.sections[k]->name);
            made.notes.push_back("Build " + std::to_string(made.copies) + " of these: " + listNames(names) + ".");
        }
        if (begins && at(m_like.mirror, s) >= 0)
            made.notes.push_back("The mirror image of " + at(m_project.sections, at(m_like.mirror, s))->name + ".");
        if (m_report.assembly && made.step.board < 0) addWays(made);
        append(std::move(made));
    }

    /// What the builder noted on parts of this step.
    void addOwn(SheetStep& made, const make::Step& step) const {
        if (step.section < 0) return;
        const auto& parts = at(m_project.sections, step.section)->parts;
        for (const model::StepNote& note : m_project.making.notes) {
            const auto isIt = [&](int p) { return at(parts, p).id == note.part; };
            if (std::none_of(step.added.begin(), step.added.end(), isIt)) continue;
            if (!note.text.empty()) made.notes.push_back(note.text);
            if (note.viewDeg) made.viewDeg = note.viewDeg;
        }
    }

    /// Parts that waited until a section was on.
    void addWaiting(SheetStep& made) {
        made.before = m_before;
        if (m_report.assembly) {
            for (const int p : made.step.added) {
                const auto way = m_report.assembly->waitingWays.find({made.step.section, p});
                made.ways.push_back(way == m_report.assembly->waitingWays.end() ? make::Way{} : way->second);
            }
            noteWays(made);
            for (const study::WaitingFault& fault : m_report.assembly->waiting)
                if (fault.after == made.step.after && fault.part.section == made.step.section)
                    made.notes.push_back("Mind the " + model::getPart(m_project, fault.part).shape->name +
                                         ": no straight way in was found.");
        }
        append(std::move(made));
    }

    /// "axle 6: from the right." for each way that is not from above.
    void noteWays(SheetStep& made) const {
        std::map<std::string, std::vector<std::string>> from;
        for (std::size_t i = 0; i < made.ways.size(); ++i) {
            const make::Way& way = made.ways[i];
            if (way.off.z() > make::kSameWay && way.lift == geometry::Vec3::Zero()) continue;
            const std::string& name =
                at(at(m_project.sections, made.step.section)->parts, made.step.added[i]).shape->name;
            auto& names = from[make::describeWayIn(way)];
            if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
        }
        for (const auto& [way, names] : from) made.notes.push_back(listNames(names) + ": " + way + ".");
    }

    /// "Hold plate 2x6 from below while pressing on brick 1x2 and tile 1x2."
    void noteHolds(SheetStep& made) {
        const int s = made.step.section;
        const auto [known, isNew] = m_holds.try_emplace(s);
        if (isNew) known->second = study::calcHolds(m_report, s);
        const auto& parts = at(m_project.sections, s)->parts;
        std::map<std::string, std::set<std::string>> pressed; // by what is held
        for (const study::HoldHint& hint : known->second) {
            if (std::find(made.step.added.begin(), made.step.added.end(), hint.part) == made.step.added.end()) continue;
            std::set<std::string> under;
            for (const int p : hint.under) under.insert(at(parts, p).shape->name);
            pressed[listNames({under.begin(), under.end()})].insert(at(parts, hint.part).shape->name);
            ++made.holds;
        }
        for (const auto& [under, names] : pressed)
            made.notes.push_back("Hold " + under + " from below while pressing on " +
                                 listNames({names.begin(), names.end()}) + ".");
    }

    /// "No room for fingers at plate 1x1: tweezers, or put it in earlier."
    void noteFingers(SheetStep& made) {
        const int s = made.step.section;
        const auto [known, isNew] = m_grips.try_emplace(s);
        if (isNew) known->second = study::calcGrips(m_report, s);
        std::set<std::string> tight, tips;
        for (const int p : made.step.added) {
            const study::Grip grip = at(known->second, p);
            const std::string& name = at(at(m_project.sections, s)->parts, p).shape->name;
            if (grip != study::Grip::Pinch) ++made.tight;
            if (grip == study::Grip::None) tight.insert(name);
            if (grip == study::Grip::FingerTip) tips.insert(name);
        }
        if (!tight.empty())
            made.notes.push_back("No room for fingers at " + listNames({tight.begin(), tight.end()}) +
                                 ": put it in with tweezers.");
        if (!tips.empty())
            made.notes.push_back("Let " + listNames({tips.begin(), tips.end()}) +
                                 " drop in and press with a finger tip: there is no room beside it.");
    }

    void addWays(SheetStep& made) {
        const model::Section& section = *at(m_project.sections, made.step.section);
        const auto& check = at(m_report.assembly->sections, made.step.section)->check;
        for (const int p : made.step.added) made.ways.push_back(at(check.ways, p));
        for (const auto& group : check.groups) {
            if (std::find(made.step.added.begin(), made.step.added.end(), group.bodies.front()) ==
                made.step.added.end())
                continue;
            made.groups.push_back({group.bodies, group.way});
            std::vector<std::string> names;
            for (const int p : group.bodies) names.push_back(at(section.parts, p).shape->name);
            made.notes.push_back("First put together " + listNames(names) + "; then in as one, " +
                                 make::describeWayIn(group.way) + ".");
        }
        noteWays(made);
        noteHolds(made);
        noteFingers(made);
        for (const auto& fault : check.faults)
            if (std::find(made.step.added.begin(), made.step.added.end(), fault.body) != made.step.added.end())
                made.notes.push_back("Mind the " + at(section.parts, fault.body).shape->name +
                                     (fault.kind == make::OrderFault::Kind::NothingToHold
                                          ? ": nothing holds it yet, hold it in its place."
                                          : ": no straight way in was found, tilt it in or bend what is in its way."));
    }

    void addJoin(int section, int j) {
        const model::Joint& joint = at(m_project.joints, j);
        const int onto = m_report.tree.parent(section);
        SheetStep made;
        made.joins = true;
        made.step.section = section;
        made.step.joint = j;
        made.before = m_before;
        made.title = at(m_project.sections, section)->name + " onto " + at(m_project.sections, onto)->name;
        const auto kindOf = [&](const model::PortRef& ref, model::PartSpot spot) {
            const auto& shape = *model::getPart(m_project, spot).shape;
            return at(shape.ports, shape.findPort(ref.port)).kind;
        };
        std::string how =
            describeJoining(kindOf(joint.from, at(m_report.tree.from, j)), kindOf(joint.to, at(m_report.tree.to, j)));
        const auto rank = make::rankSections(m_report.tree);
        for (const model::PartSpot spot : {at(m_report.tree.from, j), at(m_report.tree.to, j)}) {
            const model::Part& part = model::getPart(m_project, spot);
            const int after = make::findAfter(m_project, rank, spot.section, part);
            if (after >= 0 && at(rank, after) >= at(rank, section))
                how = "Hold it in its place, the " + part.shape->name + " follows";
        }
        bool goes = true;
        if (m_report.assembly)
            for (const study::SectionJoin& join : m_report.assembly->joins)
                if (join.section == section) {
                    made.way = join.way;
                    made.pose = join.pose;
                    goes = join.goes;
                }
        made.notes.push_back(how + ", " + make::describeWayIn(made.way) +
                             (made.pose.empty() ? "" : ", with the joints as in " + made.pose) + ".");
        if (!goes)
            made.notes.push_back("Something is in its way: take off what the picture shows there and put it on "
                                 "afterwards, or bend it in.");
        addTrial(made, joint, j);
        append(std::move(made));
    }

    /// Its zero, and what to try afterwards.
    void addTrial(SheetStep& made, const model::Joint& joint, int j) const {
        const auto unit = [&](int k) { return joint.kind->freedomUnit(k) == "deg" ? "°" : " mm"; };
        std::string set;
        for (int k = 0; k < joint.kind->freedomCount(); ++k)
            set += (set.empty() ? "" : ", ") +
                   (joint.kind->freedomCount() > 1 ? std::string(joint.kind->freedomName(k)) + " " : "") +
                   formatNumber(at(joint.value, k), 1) + unit(k);
        std::string tries;
        for (const auto& range : m_report.present.ranges) {
            if (range.joint != j) continue;
            const std::string name =
                joint.kind->freedomCount() > 1 ? std::string(joint.kind->freedomName(range.freedom)) + " " : "";
            tries += (tries.empty() ? "" : ", ") + name +
                     (range.endless ? "all round"
                                    : "from " + formatNumber(range.free.low, 1) + " to " +
                                          formatNumber(range.free.high, 1) + unit(range.freedom));
        }
        made.notes.push_back("Set " + joint.name + " to " + set + (tries.empty() ? "." : "; it goes " + tries + "."));
    }

    const verdict::Report& m_report;
    const model::Project& m_project;
    make::LikeSections m_like;
    std::vector<int> m_before;
    std::map<std::string, std::set<std::string>> m_lengths; ///< by family: shapes of several lengths
    std::map<int, std::vector<study::HoldHint>> m_holds;    ///< by section, once it is built
    std::map<int, std::vector<study::Grip>> m_grips;        ///< the same
    std::vector<SheetStep> m_steps;
};

} // namespace

std::vector<SheetStep> makeSheetSteps(const verdict::Report& report) {
    auto steps = SheetStepMaker(report).run();
    addTrials(report, steps);
    return steps;
}

} // namespace ivrant::files
