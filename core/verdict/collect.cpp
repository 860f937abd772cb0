#include "core/verdict/collect.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/bench/strengths.h"
#include "core/pose/stance.h"
#include "core/verdict/asks.h"
#include "core/verdict/check_drive.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using model::Part;

std::string describeIn(const model::Section& section, int index) { return describePart(section.parts[static_cast<std::size_t>(index)]); }

std::string shortBasis(const model::Capacity& capacity) { return capacity.measured ? capacity.basis : "starting value"; }

constexpr double kValueSlack = 0.01; ///< degrees or mm; below what anybody sets by hand

class Collector {
public:
    explicit Collector(Report& report) : m_report(report), m_project(*report.project) {}

    void run() {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) addSection(s);
        addUnjoined();
        for (const PoseReport& pose : m_report.poses) addPose(pose);
        for (const auto& worst : m_report.worst) addWorst(worst);
        addDriveVerdicts(m_report, m_report.verdicts);
        addMoveVerdicts(m_report, m_report.verdicts);
        addStructureVerdicts(m_report, m_report.verdicts);
        addHiddenVerdict(m_report, m_report.verdicts);
        addSupportVerdicts(m_report, m_report.verdicts);
        addOwnCaseVerdicts(m_report, m_report.verdicts);
        addDiary();
        addAsks();
        sortWorstFirst(m_report.verdicts);
    }

private:
    Verdict& add(const std::string& check, const std::string& idRest, Station station) {
        Verdict v;
        v.check = check;
        v.id = check + "/" + idRest;
        v.station = station;
        m_report.verdicts.push_back(std::move(v));
        return m_report.verdicts.back();
    }

    /// Of a joint in a pose; `key`: the pose's id, and what tells several of that joint apart.
    Verdict& addAt(const std::string& check, const model::Joint& joint, const PoseReport& pose, const std::string& key) {
        Verdict& v = add(check, joint.id.text + "/" + key, Station::Pose);
        v.place.joint = joint.id;
        v.place.pose = pose.id;
        return v;
    }
    /// What is needed against what there is, with its basis.
    static void compare(Verdict& v, double need, const model::Capacity& have, const std::string& unit, const std::optional<double>& margin) {
        v.value = need;
        v.limit = have.value;
        v.unit = unit;
        v.margin = margin;
        v.basis = have.measured ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(margin);
    }

    void addSection(std::size_t s) {
        const model::Section& section = *m_project.sections[s];
        const bonds::SectionBonds& bonds = *m_report.bonds[s];
        for (const auto& overlap : bonds.overlaps) {
            const Part &a = section.parts[static_cast<std::size_t>(overlap.partA)], &b = section.parts[static_cast<std::size_t>(overlap.partB)];
            Verdict& v = add("overlap", a.id.text + "/" + b.id.text, Station::Shape);
            v.place.section = section.id;
            v.place.parts = {a.id, b.id};
            v.value = overlap.depthMm;
            v.limit = geometry::kContactToleranceMm;
            v.unit = "mm";
            v.state = State::Fail;
            v.text = overlap.studInBody ? "Stud has no cell above it in " + section.name : "Two parts overlap in " + section.name;
            v.detail = describeIn(section, overlap.partA) + " and " + describeIn(section, overlap.partB) + ", " + formatNumber(overlap.depthMm, 2) + " mm deep";
        }
        if (!bonds.loose.empty()) {
            Verdict& v = add("loose", section.id.text, Station::Shape);
            v.place.section = section.id;
            for (int p : bonds.loose) v.place.parts.push_back(section.parts[static_cast<std::size_t>(p)].id);
            v.value = static_cast<double>(bonds.loose.size());
            v.unit = "parts";
            v.state = State::Fail;
            v.text = bonds.loose.size() == 1 ? "A part is loose in " + section.name : formatNumber(v.value, 0) + " parts are loose in " + section.name;
            v.detail = describeIn(section, bonds.loose.front()) + (bonds.loose.size() > 1 ? " and others" : "") + ": held by nothing";
        } else if (section.parts.size() > 1) {
            Verdict& v = add("loose", section.id.text, Station::Shape);
            v.place.section = section.id;
            v.unit = "parts";
            v.text = "All parts of " + section.name + " are held";
            v.detail = formatNumber(static_cast<double>(section.parts.size()), 0) + " parts, none loose";
        }
        for (const auto& single : bonds.singles) addSingle(section, bonds, single);
    }

    void addSingle(const model::Section& section, const bonds::SectionBonds& bonds, const bonds::SingleBond& single) {
        const auto& mate = bonds.mates[static_cast<std::size_t>(single.mate)];
        const Part &a = section.parts[static_cast<std::size_t>(mate.partA)], &b = section.parts[static_cast<std::size_t>(mate.partB)];
        const bool stud = mate.kind == parts::BondKind::Stud;
        Verdict& v = add("one-bond", a.id.text + "/" + b.id.text, Station::Shape);
        v.place.section = section.id;
        for (int p : single.held) v.place.parts.push_back(section.parts[static_cast<std::size_t>(p)].id);
        v.value = base::weightN(single.heldG);
        v.unit = "N";
        v.basis = Basis::Starting;
        const std::string what = single.held.size() == 1 ? section.parts[static_cast<std::size_t>(single.held[0])].shape->name
                                                         : formatNumber(static_cast<double>(single.held.size()), 0) + " parts";
        const bool friction = mate.kind == parts::BondKind::Friction;
        v.text = section.name + ": " + what + (stud ? " held by one stud" : friction ? " held by friction only" : " held by one bond");
        if (stud) {
            const model::Capacity studPull = bench::calcStudPull(m_project);
            v.limit = studPull.value;
            if (studPull.measured) v.basis = Basis::Measured;
            // One stud is the finding; how much it could carry is a margin only where it comes near.
            if (v.value > 1e-9 && v.limit / v.value < 1.5) v.margin = v.limit / v.value;
            v.detail =
                "hangs " + formatNumber(v.value, 2) + " N on a stud good for " + formatNumber(v.limit, 1) + " N (" + shortBasis(studPull) + "); it can turn";
        } else {
            v.detail = describeIn(section, mate.partA) + " on " + describeIn(section, mate.partB) + ": it can turn or slide";
        }
        // A single bond is never good, unless the part is so small that it cannot have two.
        const auto& first = *section.parts[static_cast<std::size_t>(single.held[0])].shape;
        const auto cells = std::count_if(first.ports.begin(), first.ports.end(), [](const parts::Port& p) { return p.kind == parts::PortKind::Cell; });
        const bool byNature = single.held.size() == 1 && cells <= 1;
        const bool clean = friction ? m_project.rules == model::BuildRules::Display : byNature;
        v.state = v.margin ? getStateOfMargin(v.margin) : clean ? State::Good : State::Thin;
    }

    /// Sections that no joint ties to the first one: they would fall off the table's model.
    void addUnjoined() {
        int first = -1;
        for (int s : m_report.tree.order) {
            const model::Section& section = *m_project.sections[static_cast<std::size_t>(s)];
            if (section.parts.empty() || m_report.tree.carrier[static_cast<std::size_t>(s)] >= 0) continue;
            if (first < 0) {
                first = s;
                continue;
            }
            Verdict& v = add("unjoined", section.id.text, Station::Shape);
            v.place.section = section.id;
            v.state = State::Thin;
            v.text = section.name + " is joined to nothing";
            v.detail = "bring two movable ports together and join them, or move its parts to another section";
        }
    }

    void addPose(const PoseReport& pose) {
        const std::string key = pose.id ? pose.id->text : "present";
        for (const auto& range : pose.ranges) addRange(pose, key, range);
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) addValue(pose, key, j);
        for (const auto& ring : pose.rings) addRing(pose, key, ring);
        for (const auto& load : pose.loads) {
            if (m_report.tree.isClosing(load.joint)) continue; // what it takes off the others is not counted
            addHold(pose, key, load);
            addPull(pose, key, load);
        }
        for (const auto& collision : pose.collisions) {
            const Part &a = getPart(m_project, collision.a), &b = getPart(m_project, collision.b);
            Verdict& v = add("collide", key + "/" + a.id.text + "/" + b.id.text, Station::Pose);
            v.place.pose = pose.id;
            v.place.parts = {a.id, b.id};
            v.value = collision.depthMm;
            v.limit = geometry::kContactToleranceMm;
            v.unit = "mm";
            v.state = State::Fail;
            v.text = "Parts run into each other in " + pose.name;
            v.detail =
                describePart(m_project, collision.a) + " and " + describePart(m_project, collision.b) + ", " + formatNumber(collision.depthMm, 2) + " mm deep";
        }
        addStandVerdicts(m_report, pose, m_report.verdicts);
    }

    void addRing(const PoseReport& pose, const std::string& key, const pose::RingGap& ring) {
        const model::Joint& joint = m_project.joints[static_cast<std::size_t>(ring.joint)];
        Verdict& v = addAt("ring", joint, pose, key);
        v.value = ring.gapMm;
        v.limit = pose::kRingGapMm;
        v.unit = "mm";
        v.state = ring.isClosed() ? State::Good : State::Fail;
        v.text = (ring.isClosed() ? "The ring closes at " : "The ring is open at ") + joint.name + " in " + pose.name;
        v.detail = "its ports are " + formatNumber(ring.gapMm, 2) + " mm apart and " + formatNumber(ring.turnDeg, 1) + "° turned beyond what a " +
                   joint.kind->name + " allows";
    }

    /// A value the joint cannot have: beyond its own limit, or between its steps.
    void addValue(const PoseReport& pose, const std::string& key, std::size_t j) {
        const model::Joint& joint = m_project.joints[j];
        if (m_report.tree.isClosing(static_cast<int>(j))) return; // the others set it
        const auto excess = pose::calcOwnExcess(*joint.kind, pose.values[j]);
        const double off = pose::calcStepOffset(*joint.kind, pose.values[j]);
        if (excess <= kValueSlack && off <= kValueSlack) return;
        Verdict& v = addAt("value", joint, pose, key);
        v.value = pose.values[j][0];
        v.unit = "deg";
        v.state = State::Fail;
        if (excess > kValueSlack) {
            v.text = joint.name + " is beyond its own limit in " + pose.name;
            v.detail =
                "a " + joint.kind->name + " ends " + formatNumber(excess, 1) + (joint.kind->motion == parts::JointMotion::TurnSlide ? " mm" : "°") + " earlier";
        } else {
            v.limit = std::round(v.value / joint.kind->stepDeg) * joint.kind->stepDeg;
            v.text = joint.name + " stands between its steps in " + pose.name;
            v.detail = formatNumber(v.value, 2) + "° is no multiple of " + formatNumber(joint.kind->stepDeg, 1) + "°; the nearest is " +
                       formatNumber(v.limit, 1) + "°";
        }
    }

    void addRange(const PoseReport& pose, const std::string& key, const pose::FreedomRange& range) {
        if (!range.wanted || m_report.tree.isClosing(range.joint)) return;
        const model::Joint& joint = m_project.joints[static_cast<std::size_t>(range.joint)];
        const std::string freedom(joint.kind->freedomName(range.freedom));
        if (joint.kind->freedomCount() > 1 && !range.margin && range.wanted->low == range.wanted->high) return; // nothing asked of it
        Verdict& v = addAt("range", joint, pose, key + (joint.kind->freedomCount() > 1 ? "/" + freedom : ""));
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
            v.text = joint.name + " stops at " + formatNumber(v.value, 1) + unit + " in " + pose.name;
            v.detail = "wanted " + formatNumber(v.limit, 1) + unit;
            if (stop.by == pose::StopBy::Contact)
                v.detail += "; " + describePart(m_project, stop.moving.spot) + " meets " + describePart(m_project, stop.fixed.spot);
            else
                v.detail += stop.by == pose::StopBy::Ring ? "; the ring cannot close further" : "; the joint's own limit";
            for (const auto* s : {&stop.moving.spot, &stop.fixed.spot})
                if (stop.by == pose::StopBy::Contact) v.place.parts.push_back(getPart(m_project, *s).id);
        } else {
            v.text = joint.name + " reaches its wanted range in " + pose.name;
            v.detail = "wanted " + formatNumber(range.wanted->low, 1) + " to " + formatNumber(range.wanted->high, 1) + unit + ", free " +
                       (range.endless ? "all round" : formatNumber(range.free.low, 1) + " to " + formatNumber(range.free.high, 1) + unit);
        }
    }

    void addHold(const PoseReport& pose, const std::string& key, const pose::JointLoad& load) {
        const model::Joint& joint = m_project.joints[static_cast<std::size_t>(load.joint)];
        Verdict& v = addAt("hold", joint, pose, key);
        compare(v, load.needNmm, load.have, "N·mm", load.margin);
        v.text = joint.name + (v.state == State::Fail ? " sags in " : " holds in ") + pose.name;
        v.detail = "needs " + formatNumber(load.needNmm, 1) + " N·mm, has " + formatNumber(load.have.value, 1) + " (" + shortBasis(load.have) + ")";
        leaveToDrive(v, joint);
        if (load.standsBelow) v.detail += "; it stands on this side and carries the rest";
        if (m_report.tree.isInRing(load.joint)) v.detail += "; as if the joint that closes the ring took nothing";
    }

    /// A joint that a worm turns is held by it, as long as no position of a selector lets go: what its own friction lacks is no failure then.
    void leaveToDrive(Verdict& v, const model::Joint& joint) const {
        if (v.state == State::Good || !m_report.drive) return;
        const auto& positions = m_report.drive->positions;
        for (std::size_t f = 0; f < positions.front().functions.size(); ++f) {
            const auto& function = *positions.front().functions[f].function;
            if (function.joint != joint.id) continue;
            const auto loose = std::find_if(positions.begin(), positions.end(), [&](const auto& position) { return !position.functions[f].holds; });
            if (loose != positions.end()) {
                v.detail += "; " + function.name + " does not hold it" + (loose->name.empty() ? "" : " with " + loose->selector + " at " + loose->name);
                continue;
            }
            v.state = State::Good;
            v.margin.reset();
            v.text = joint.name + " is held by its drive, " + function.name;
            v.detail += "; " + function.name + " cannot be driven from behind (starting value of its friction)";
            return;
        }
    }

    void addPull(const PoseReport& pose, const std::string& key, const pose::JointLoad& load) {
        if (!load.pullLimit || load.pullN < 0.01) return;
        const model::Joint& joint = m_project.joints[static_cast<std::size_t>(load.joint)];
        Verdict& v = addAt("pull", joint, pose, key);
        compare(v, load.pullN, *load.pullLimit, "N", load.pullLimit->value / load.pullN);
        v.text = joint.name + (v.state == State::Fail ? " comes off in " : " stays on in ") + pose.name;
        v.detail = "pulled with " + formatNumber(load.pullN, 2) + " N, lets go at " + formatNumber(load.pullLimit->value, 1) + " N (" +
                   shortBasis(*load.pullLimit) + ")";
    }

    /// Only where wanted ranges or a tilt of the base make it worse than every pose.
    void addWorst(const pose::WorstLoad& worst) {
        const auto j = static_cast<std::size_t>(worst.joint);
        const model::Joint& joint = m_project.joints[j];
        const double inPoses = findWorstPose(m_report, j).loads[j].needNmm;
        if (worst.needNmm <= inPoses * (1 + 1e-6) + 1e-6) return;
        Verdict& v = add("hold-worst", joint.id.text, Station::Pose);
        v.place.joint = joint.id;
        compare(v, worst.needNmm, worst.have, "N·mm", worst.margin);
        v.text = joint.name + (v.state == State::Fail ? " sags at its worst" : " holds at its worst");
        // A pose in which the whole figure falls over first is no failure of the joint: tipping is a verdict of its own.
        const bool falls = v.state == State::Fail && fallsOver(worst);
        if (falls) {
            v.state = State::Good;
            v.margin.reset();
            v.text = joint.name + ": at its worst the figure falls over before it sags";
        }
        v.detail = "over the wanted ranges" + (m_project.tiltDeg > 0 ? " and " + formatNumber(m_project.tiltDeg, 1) + "° of tilt" : std::string()) +
                   ": needs " + formatNumber(worst.needNmm, 1) + " N·mm, has " + formatNumber(worst.have.value, 1) + " (" + shortBasis(worst.have) + ")";
        leaveToDrive(v, joint);
    }

    [[nodiscard]] bool fallsOver(const pose::WorstLoad& worst) const {
        if (worst.stance.kind == model::Stance::Kind::Held) return false;
        model::Placed placed = pose::calcPlaced(m_project, m_report.tree, worst.values);
        pose::applyStance(placed, worst.stance);
        const auto tipping = stand::calcTipping(placed, pose::listGroundCorners(placed, kGroundMm));
        return tipping && tipping->angleDeg < worst.tiltDeg;
    }

    void addDiary() {
        for (const auto& entry : m_project.diary) {
            if (entry.kind != model::DiaryKind::Failure || !entry.answer.empty()) continue;
            Verdict& v = add("failure", entry.id.text, Station::Diary);
            v.place.joint = entry.joint;
            v.state = State::Fail;
            v.basis = Basis::Measured;
            v.text = "Open failure: " + entry.text;
            v.detail = (entry.date.empty() ? std::string() : entry.date + "; ") + "stays open until a change answers it in the diary";
        }
    }

    void addAsks() {
        const auto results = measureAsks(m_report, m_project.asks);
        for (auto& v : makeAskVerdicts(m_report, m_project.asks, results)) m_report.verdicts.push_back(std::move(v));
        if (m_project.asks.empty()) return;
        Verdict& v = add("shown", "model", Station::Brief);
        v.state = m_project.shownOn.empty() ? State::Thin : State::Good;
        v.text = m_project.shownOn.empty() ? "Not yet shown to the person who asked" : "Shown to the person who asked";
        v.detail = m_project.shownOn.empty() ? "show a sketch or a part before building it all" : "on " + m_project.shownOn;
    }

    Report& m_report;
    const model::Project& m_project;
};

} // namespace

std::string describePart(const Part& part) { return part.shape->name + " (" + part.id.text + ")"; }
std::string describePart(const model::Project& project, model::PartSpot spot) { return describePart(getPart(project, spot)); }

void collectVerdicts(Report& report) { Collector(report).run(); }

} // namespace ivrant::verdict
