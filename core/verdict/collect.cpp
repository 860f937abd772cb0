#include "core/verdict/collect.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/units.h"
#include "core/bench/strengths.h"
#include "core/geometry/corners.h"
#include "core/geometry/gap.h"
#include "core/parts/usual_sizes.h"
#include "core/pose/stance.h"
#include "core/verdict/asks.h"
#include "core/verdict/check_drive.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using model::Part;

/// Within a section that is named anyway.
std::string describeIn(const model::Section& section, int index) { return section.parts[static_cast<std::size_t>(index)].shape->name; }

std::string shortBasis(const model::Capacity& capacity) { return capacity.measured ? capacity.basis : "starting value"; }

constexpr double kIdleShare = 0.02;              ///< of what a stud holds: less hanging on it is no load
constexpr double kNoLeverMm = 8.1;               ///< held parts that reach no further from their stud give a hand nothing to turn them by
constexpr double kUprightCos = 0.5, kSlipMm = 1; ///< steeper than 60° to the plumb line it stays; how far it is let slip in thought
constexpr double kUnusualWeight = 0.2;           ///< among thin findings without a margin
constexpr double kOneBondWeight = 0.1;           ///< among thin findings without a margin
constexpr double kValueSlack = 0.01;             ///< degrees or mm; below what anybody sets by hand

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
        addImpossible();
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
        for (const Part& part : section.parts) addUnusual(section, part);
        for (std::size_t p = 0; p < section.parts.size(); ++p)
            if (section.parts[p].shape->family == "axle") addLooseAxle(s, static_cast<int>(p));
    }

    /// Round holes let an axle slide: one that stands upright in them alone falls out, unless something is under its end.
    void addLooseAxle(std::size_t s, int index) {
        const model::Section& section = *m_project.sections[s];
        const Part& axle = section.parts[static_cast<std::size_t>(index)];
        bool runs = false;
        for (const auto& mate : m_report.bonds[s]->mates) {
            if (mate.partA != index && mate.partB != index) continue;
            if (mate.kind != parts::BondKind::Pin) return; // a cross hole holds it
            runs = true;
        }
        for (const model::Joint& joint : m_project.joints)
            if (joint.from.part == axle.id || joint.to.part == axle.id) return; // the joint says how it is held
        if (!runs) return;                                                      // loose anyway
        const model::PartSpot spot{static_cast<int>(s), index};
        const geometry::Pose X = m_report.present.placed.X_WP(spot);
        const geometry::Vec3 along = X.linear().col(0);
        if (std::abs(along.z()) < kUprightCos) return; // it lies
        geometry::Pose lower = X;
        lower.translation().z() -= kSlipMm;
        const auto bottom = geometry::calcBounds(axle.shape->solids.front().solid, lower).low.z();
        if (bottom < 0) return; // stands on the ground
        const auto place = [](const parts::ShapeSolid& solid, const geometry::Pose& at) {
            const geometry::Pose x = at * solid.solid.X_PS;
            return geometry::PlacedSolid{&solid.solid, &solid.eroded, x.linear(), x.translation()};
        };
        for (std::size_t o = 0; o < section.parts.size(); ++o) {
            if (static_cast<int>(o) == index) continue;
            const bool mated = std::any_of(m_report.bonds[s]->mates.begin(), m_report.bonds[s]->mates.end(), [&](const bonds::Mate& mate) {
                return std::minmax(mate.partA, mate.partB) == std::minmax(index, static_cast<int>(o));
            });
            if (mated) continue;
            const geometry::Pose at = m_report.present.placed.X_WP({static_cast<int>(s), static_cast<int>(o)});
            for (const auto& solid : section.parts[o].shape->solids)
                if (geometry::calcToleratedGap(place(axle.shape->solids.front(), lower), place(solid, at)).distance <= 0) return; // it stands on that
        }
        Verdict& v = add("slides-out", axle.id.text, Station::Shape);
        v.place.section = section.id;
        v.place.parts = {axle.id};
        v.state = State::Fail;
        v.text = "An upright " + axle.shape->name + " of " + section.name + " slides out";
        v.detail = "it runs in round holes alone and nothing is under its end: a bush, a wheel or a part below holds it";
    }

    /// A size that is hard to come by.
    void addUnusual(const model::Section& section, const Part& part) {
        if (parts::isUsualSize(*part.shape)) return;
        Verdict& v = add("unusual", part.id.text, Station::Shape);
        v.place.section = section.id;
        v.place.parts = {part.id};
        v.state = State::Thin;
        v.basis = Basis::Starting;
        v.weight = kUnusualWeight;
        v.text = part.shape->name + " of " + section.name + " is no usual size";
        v.detail = "not in the list of usual sizes (a starting list, yours to edit)";
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
            v.detail = "hangs " + (v.value < 0.005 ? std::string("next to nothing") : formatNumber(v.value, 2) + " N") + " on a stud good for " +
                       formatNumber(v.limit, 1) + " N (" + shortBasis(studPull) + "); it can turn";
        } else {
            v.detail = describeIn(section, mate.partA) + " on " + describeIn(section, mate.partB) + ": it can turn or slide";
        }
        // A single bond is never good, unless the part is so small that it cannot have two.
        const auto& first = *section.parts[static_cast<std::size_t>(single.held[0])].shape;
        const auto cells = std::count_if(first.ports.begin(), first.ports.end(), [](const parts::Port& p) { return p.kind == parts::PortKind::Cell; });
        const bool byNature = single.held.size() == 1 && cells <= 1;
        const bool clean = friction ? m_project.rules == model::BuildRules::Display : byNature;
        // Without load and lever it has no consequence; nor where parts so small are meant to sit on one stud.
        const bool idle = stud && v.value <= kIdleShare * v.limit && calcReach(section, mate, single.held) <= kNoLeverMm;
        v.state = v.margin ? getStateOfMargin(v.margin) : friction && clean ? State::Good : clean || idle ? State::Note : State::Thin;
        v.weight = kOneBondWeight;
    }

    /// How far, across the bond's axis, the held parts reach from it: what a hand could turn them by.
    static double calcReach(const model::Section& section, const bonds::Mate& mate, const std::vector<int>& held) {
        const Part& part = section.parts[static_cast<std::size_t>(mate.partA)];
        const auto& port = part.shape->ports[static_cast<std::size_t>(mate.portA)];
        const geometry::Pose X = part.place.pose();
        const geometry::Vec3 at = X * port.origin, axis = X.linear() * port.axis;
        double reach = 0;
        for (const int p : held) {
            const Part& other = section.parts[static_cast<std::size_t>(p)];
            std::vector<geometry::Vec3> corners;
            for (const auto& solid : other.shape->solids) geometry::appendCorners(corners, solid.solid, other.place.pose());
            for (const auto& c : corners) reach = std::max(reach, ((c - at) - axis * axis.dot(c - at)).norm());
        }
        return reach;
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
            v.weight = 0.9;
            v.text = section.name + " is joined to nothing";
            v.detail = "bring two movable ports together and join them, or move its parts to another section";
        }
    }

    void addPose(const PoseReport& pose) {
        const std::string key = pose.id ? pose.id->text : "present";
        for (const auto& range : pose.ranges) addRange(pose, key, range);
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            addValue(pose, key, j);
            addCone(pose, key, j);
        }
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
        // A ball's tilts and its twist are told apart by name.
        const std::string who = joint.name + (!joint.kind->tilts() ? "" : freedom == "t" ? ", twist," : freedom == "s1" ? ", tilt across," : ", tilt along,");
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
                v.detail += "; " + describePart(m_project, stop.moving.spot) + (stop.by == pose::StopBy::Seat ? " sits on " : " meets ") +
                            describePart(m_project, stop.fixed.spot);
            else
                v.detail += stop.by == pose::StopBy::Ring ? "; the ring cannot close further" : "; the joint's own limit";
            for (const auto* s : {&stop.moving.spot, &stop.fixed.spot})
                if (stop.by == pose::StopBy::Contact || stop.by == pose::StopBy::Seat) v.place.parts.push_back(getPart(m_project, *s).id);
        } else {
            v.text = who +
                     (joint.kind->freedomCount() > 1 && !joint.kind->tilts() && freedom == "slide" ? " slides over its wanted range in "
                                                                                                   : " reaches its wanted range in ") +
                     pose.name;
            v.detail = "wanted " + formatNumber(range.wanted->low, 1) + " to " + formatNumber(range.wanted->high, 1) + unit + ", free " +
                       (range.endless ? "all round" : formatNumber(range.free.low, 1) + " to " + formatNumber(range.free.high, 1) + unit);
            for (const auto& [end, name] : {std::pair(&range.low, "low"), std::pair(&range.high, "high")})
                if (end->by == pose::StopBy::Seat)
                    v.detail += std::string("; sits on ") + describePart(m_project, end->fixed.spot) + " at its " + name + " end" +
                                (end->openNmm > 0 ? ", opens at " + formatNumber(end->openNmm, 0) + " N·mm (starting value)" : "");
        }
    }

    /// The wanted tilts of a ball are a rectangle, what it can reach is a cone: each may be free alone and their corner not.
    void addCone(const PoseReport& pose, const std::string& key, std::size_t j) {
        const model::Joint& joint = m_project.joints[j];
        if (!joint.kind->tilts() || joint.wanted.size() < 2 || m_report.tree.isClosing(static_cast<int>(j))) return;
        double worst = 0;
        std::array<double, 2> corner{};
        for (const double s1 : {joint.wanted[0].low, joint.wanted[0].high})
            for (const double s2 : {joint.wanted[1].low, joint.wanted[1].high}) {
                const double tilt = pose::calcTilt(*joint.kind, {s1, s2, 0});
                if (tilt > worst) worst = tilt, corner = {s1, s2};
            }
        // Ends that are not reached alone have verdicts of their own.
        if (worst <= joint.kind->coneDeg + 0.05 || std::abs(corner[0]) > joint.kind->coneDeg + 0.05 || std::abs(corner[1]) > joint.kind->coneDeg + 0.05) return;
        Verdict& v = addAt("range", joint, pose, key + "/corner");
        v.value = joint.kind->coneDeg;
        v.limit = worst;
        v.unit = "deg";
        v.margin = joint.kind->coneDeg / worst;
        v.state = State::Fail;
        v.place.freedom = "s1";
        v.text = joint.name + " does not reach both wanted tilts at once in " + pose.name;
        v.detail = formatNumber(corner[0], 1) + "° and " + formatNumber(corner[1], 1) + "° together tilt it by " + formatNumber(worst, 1) + "°; a " +
                   joint.kind->name + " ends at " + formatNumber(joint.kind->coneDeg, 1) + "°";
    }

    void addHold(const PoseReport& pose, const std::string& key, const pose::JointLoad& load) {
        const model::Joint& joint = m_project.joints[static_cast<std::size_t>(load.joint)];
        Verdict& v = addAt("hold", joint, pose, key);
        compare(v, load.needNmm, load.have, "N·mm", load.margin);
        v.text = joint.name + (v.state == State::Fail ? " sags in " : " holds in ") + pose.name;
        if (load.restsOn) {
            v.text = joint.name + " rests in " + pose.name;
            v.detail = describePart(m_project, load.restsOn->first) + " lies on " + describePart(m_project, load.restsOn->second) +
                       ", which takes the weight of " + formatNumber(load.needNmm, 1) + " N·mm";
            v.state = State::Good;
            v.margin.reset();
            return;
        }
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
        if (worst.amongStanding && worst.needNmm <= 0) {
            v.state = State::Good;
            v.margin.reset();
            v.text = joint.name + ": at its worst the figure falls over before it sags";
        }
        v.detail = "over the wanted ranges" + (m_project.tiltDeg > 0 ? " and " + formatNumber(m_project.tiltDeg, 1) + "° of tilt" : std::string()) +
                   (worst.amongStanding ? ", as long as the figure stands" : "") + ": needs " + formatNumber(worst.needNmm, 1) + " N·mm, has " +
                   formatNumber(worst.have.value, 1) + " (" + shortBasis(worst.have) + ")";
        leaveToDrive(v, joint);
    }

    /// What a file says that cannot be.
    void addImpossible() {
        if (m_project.tiltDeg < 0 || m_project.tiltDeg > kMostTiltDeg) {
            Verdict& v = add("tilt-asked", "model", Station::Brief);
            v.value = m_project.tiltDeg;
            v.limit = kMostTiltDeg;
            v.unit = "deg";
            v.state = State::Fail;
            v.text = "A tilt of " + formatNumber(m_project.tiltDeg, 1) + "° is asked of the base";
            v.detail = "0 to " + formatNumber(kMostTiltDeg, 0) + "° can be looked at; everything else is as if it were " +
                       formatNumber(std::clamp(m_project.tiltDeg, 0.0, kMostTiltDeg), 0) + "°";
        }
        const auto nothing = [&](const std::string& key, const std::string& what, const model::Capacity& capacity, const std::optional<model::JointId>& joint) {
            if (capacity.value > 0) return;
            Verdict& v = add("holds-nothing", key, Station::Diary);
            v.place.joint = joint;
            v.state = State::Fail;
            v.basis = Basis::Measured;
            v.text = what + " counts as holding nothing";
            v.detail = capacity.basis + ": the readings scatter so much, or are so small, that nothing can be counted on";
        };
        nothing("stud-pull", "A stud pulled", bench::calcStudPull(m_project), std::nullopt);
        nothing("stud-shear", "A stud pushed aside", bench::calcStudShear(m_project), std::nullopt);
        for (const model::Joint& joint : m_project.joints) {
            if (joint.kind->holdingNmm <= 0) continue; // it is not meant to
            nothing(joint.id.text, joint.name, bench::calcStrength(m_project, *joint.kind, &joint.id).holding, joint.id);
        }
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
        v.weight = 0.05;
        v.text = m_project.shownOn.empty() ? "Not yet shown to the person who asked" : "Shown to the person who asked";
        v.detail = m_project.shownOn.empty() ? "show a sketch or a part before building it all" : "on " + m_project.shownOn;
    }

    Report& m_report;
    const model::Project& m_project;
};

} // namespace

std::string describePart(const model::Project& project, model::PartSpot spot) {
    return getPart(project, spot).shape->name + " of " + project.sections[static_cast<std::size_t>(spot.section)]->name;
}

void collectVerdicts(Report& report) { Collector(report).run(); }

} // namespace ivrant::verdict
