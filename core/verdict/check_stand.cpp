#include "core/verdict/check_stand.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {

bool isWeighed(const model::Project& project) {
    return std::all_of(project.sections.begin(), project.sections.end(), [](const auto& section) {
        return std::all_of(section->parts.begin(), section->parts.end(), [](const model::Part& part) { return part.weighedG.has_value(); });
    });
}

namespace {

using base::formatNumber;

class StandCollector {
public:
    StandCollector(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts)
        : m_report(report), m_pose(pose), m_key(pose.id ? pose.id->text : "present"), m_verdicts(verdicts) {}

    void runBonds() {
        if (m_pose.standing)
            addBonds();
        else if (m_pose.provenUse)
            addProof();
    }
    void run() {
        if (m_pose.tipping && m_pose.stance.kind != model::Stance::Kind::Held) addTip();
        if (m_pose.standing) addBonds();
    }

private:
    Verdict& add(const std::string& check) {
        Verdict v;
        v.check = check;
        v.id = check + "/" + m_key;
        v.station = Station::Stand;
        v.place.pose = m_pose.id;
        m_verdicts.push_back(std::move(v));
        return m_verdicts.back();
    }

    void addTip() {
        const stand::Tipping& tip = *m_pose.tipping;
        Verdict& v = add("tip");
        v.value = tip.angleDeg;
        const double asked = getAskedTipDeg(*m_report.project);
        v.limit = asked;
        v.unit = "deg";
        v.margin = tip.angleDeg / asked;
        const bool weighed = isWeighed(*m_report.project);
        v.basis = weighed ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        v.text = tip.angleDeg < 0 ? "Falls over in " + m_pose.name : (v.state == State::Fail ? "Tips too easily in " : "Stands in ") + m_pose.name;
        v.detail = "tips at " + formatNumber(tip.angleDeg, 1) + "° towards " + formatNumber(tip.towardDeg, 0) + "°, asked " + formatNumber(asked, 0) + "° (" +
                   describeAskedTip(*m_report.project) + (weighed ? "; all parts weighed)" : "; masses not weighed)");
        if (tip.belowGroundMm <= geometry::kContactToleranceMm) return;
        Verdict& under = add("ground");
        under.value = tip.belowGroundMm;
        under.limit = geometry::kContactToleranceMm;
        under.unit = "mm";
        under.state = State::Fail;
        under.text = "Reaches through the ground in " + m_pose.name;
        under.detail = formatNumber(tip.belowGroundMm, 1) + " mm below the ground";
    }

    /// Forces within all limits are known; how much of the bonds is really asked follows.
    void addProof() {
        Verdict& v = add("bonds");
        v.unit = "λ";
        v.limit = 1;
        v.value = std::max(*m_pose.provenUse, 1e-3);
        v.margin = 1 / v.value;
        v.basis = calcBondLimits(*m_report.project).studPull.measured ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        v.text = "Bonds hold in " + m_pose.name;
        v.detail = "quick proof: holds; λ ≤ " + formatNumber(v.value, 2) + ", the exact answer follows";
        v.detail += v.basis == Basis::Measured ? "" : " (limits are starting values)";
    }

    /// λ against 1: how much stronger the bonds are than they need to be.
    void addBonds() {
        const stand::CaseResult& result = *m_pose.standing;
        const stand::Equilibrium& e = result.equilibrium;
        Verdict& v = add("bonds");
        v.unit = "λ";
        v.limit = 1;
        v.basis = calcBondLimits(*m_report.project).studPull.measured ? Basis::Measured : Basis::Starting;
        const bool known = e.lambda && !std::isinf(*e.lambda);
        if (known) {
            v.value = *e.lambda;
            v.margin = 1 / *e.lambda;
        }
        v.state = e.stands ? getStateOfMargin(v.margin) : State::Fail;
        if (!e.stands && v.margin && *v.margin >= 1) v.margin.reset();
        if (e.stands) {
            v.text = "Bonds hold in " + m_pose.name;
            const auto weakest = listWeakest(result, 1);
            v.detail = describeOutcome(result);
            if (!weakest.empty()) {
                const auto& force = e.forces[static_cast<std::size_t>(weakest[0])];
                v.detail += "; weakest: " + describeContact(*m_report.project, result, weakest[0]) + ", " + force.mode + " " +
                            formatNumber(100 * force.use, 0) + " % used";
                v.place.parts = listParts(*m_report.project, result, weakest[0]);
            }
        } else {
            const std::size_t count = e.falling.size();
            v.text = (!e.certain                              ? std::string("Bonds could not be settled")
                      : e.givesWay == stand::GivesWay::Slides ? "Slides"
                      : e.givesWay == stand::GivesWay::Tips   ? "Tips over as a whole"
                      : count == 0                            ? "Bonds do not quite hold"
                      : count == 1                            ? "A part falls"
                                                              : std::to_string(count) + " parts fall") +
                     " in " + m_pose.name;
            v.detail = describeOutcome(result);
            if (e.firstToGo)
                if (const int joint = result.net.contacts[static_cast<std::size_t>(*e.firstToGo)].joint; joint >= 0)
                    v.place.joint = m_report.project->joints[static_cast<std::size_t>(joint)].id;
            if (e.firstToGo) v.detail += "; first lets go: " + describeContact(*m_report.project, result, *e.firstToGo);
            for (std::size_t i = 0; i < count && i < 200; ++i)
                v.place.parts.push_back(getPart(*m_report.project, result.net.bodies[static_cast<std::size_t>(e.falling[i])].spot).id);
        }
        if (m_pose.tipping && m_pose.tipping->angleDeg < 0) v.detail += "; with its feet held, as it falls over otherwise";
        v.detail += v.basis == Basis::Measured ? "" : " (limits are starting values)";
    }

    const Report& m_report;
    const PoseReport& m_pose;
    std::string m_key;
    std::vector<Verdict>& m_verdicts;
};

} // namespace

void addBondVerdict(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts) { StandCollector(report, pose, verdicts).runBonds(); }

void addStandVerdicts(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts) { StandCollector(report, pose, verdicts).run(); }

} // namespace ivrant::verdict
