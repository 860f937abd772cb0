// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/make/check_modules.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/variants.h"
#include "core/study/asked_tip.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using model::PartSpot;

constexpr std::size_t kNamedInWay = 3, kMostMarked = 40;

std::string forceText(double n) { return formatNumber(n, n < 10 ? 1 : 0) + " N"; }

class ModuleCheck {
public:
    ModuleCheck(const study::Facts& facts, VerdictList& list)
        : m_facts(facts), m_project(*facts.project), m_list(list) {}

    void run() {
        for (const study::LiftModule& one : m_facts.modules->modules) judge(one);
        for (const study::ReachWay& way : m_facts.modules->reaches) judgeReach(way);
    }

private:
    [[nodiscard]] const model::Module& nameOf(int index) const { return at(m_project.modules.list, index); }
    [[nodiscard]] std::string listNames(const std::vector<int>& modules) const {
        std::string text;
        for (const int k : modules) text += (text.empty() ? "" : ", ") + nameOf(k).name;
        return text;
    }
    /// "plate 2x2 of Head, 2 tile 1x2 of Hat and 3 more".
    [[nodiscard]] std::string listParts(const std::vector<PartSpot>& spots) const {
        std::map<std::string, int> counts;
        for (const PartSpot spot : spots)
            ++counts[model::getPart(m_project, spot).shape->name + " of " + at(m_project.sections, spot.section)->name];
        std::string text;
        std::size_t told = 0, left = spots.size();
        for (const auto& [name, count] : counts) {
            if (told++ == kNamedInWay) return text + " and " + std::to_string(left) + " more";
            left -= static_cast<std::size_t>(count);
            text += (text.empty() ? ""
                     : left == 0  ? " and "
                                  : ", ") +
                    (count > 1 ? std::to_string(count) + " " : "") + name;
        }
        return text;
    }
    Verdict& add(const char* check, const study::LiftModule& one, const std::vector<PartSpot>& marked) {
        Verdict& v = m_list.add(check, nameOf(one.index).id.text, Station::Make);
        v.place.things = {nameOf(one.index).id.text};
        for (std::size_t i = 0; i < marked.size() && i < kMostMarked; ++i)
            v.place.parts.push_back(model::getPart(m_project, marked[i]).id);
        return v;
    }

    void judge(const study::LiftModule& one) {
        const std::string& name = nameOf(one.index).name;
        if (one.parts.empty()) return; // the choice that it is made of is "none", or its parts are gone
        if (one.parts.size() == m_project.partCount()) {
            Verdict& v = add("module", one, {});
            v.state = State::Fail;
            v.text = name + " is the whole model";
            v.detail = "nothing is left that it could lift off from";
            return;
        }
        judgeTied(one);
        if (!one.lifts) {
            Verdict& v = add("module", one, one.blocked);
            v.state = State::Fail;
            v.text = "No straight way lifts " + name + " off";
            v.detail = listParts(one.blocked) + (one.blocked.size() == 1 ? " is" : " are") + " in its way " +
                       study::describeWayOut(one.way) + ", in every pose";
            return;
        }
        judgeForce(one);
        judgeRoom(one);
        judgeAlong(one);
        judgeWithout(one);
    }

    /// What a string, band or spring ties to the rest does not come off without untying it.
    void judgeTied(const study::LiftModule& one) {
        std::set<model::PartId> off;
        const auto take = [&](const study::LiftModule& lifted) {
            for (const PartSpot spot : lifted.parts) off.insert(model::getPart(m_project, spot).id);
        };
        take(one);
        for (const int carried : one.carries)
            for (const study::LiftModule& other : m_facts.modules->modules)
                if (other.index == carried) take(other);
        std::string lines;
        for (const model::Line& line : m_project.lines) {
            const auto inside = std::count_if(line.guides.begin(), line.guides.end(),
                                              [&](const model::Guide& guide) { return off.count(guide.part) > 0; });
            if (inside > 0 && inside < static_cast<std::ptrdiff_t>(line.guides.size()))
                lines += (lines.empty() ? "" : ", ") + line.name;
        }
        if (lines.empty()) return;
        Verdict& v = add("module-line", one, {});
        v.state = State::Fail;
        v.weight = 0.5;
        v.text = nameOf(one.index).name + " is tied to the rest";
        v.detail = "untie or unhook before it lifts off, and put on again after: " + lines;
    }

    void judgeForce(const study::LiftModule& one) {
        const std::string& name = nameOf(one.index).name;
        Verdict& v = add("module", one, one.parts);
        v.unit = "N";
        v.basis = one.measured ? Basis::Measured : Basis::Starting;
        const std::string basis = one.measured ? "" : " (starting values)";
        std::string how = study::describeWayOut(one.way);
        if (one.mustFold) how += ", folded to " + at(m_facts.poses, one.pose).name;
        if (!one.after.empty()) how += ", after " + listNames(one.after);
        const std::string bonds = describeLiftBonds(m_facts, one);
        if (one.holdN < study::kStayOnN) {
            v.value = one.holdN;
            v.limit = study::kStayOnN;
            v.margin = one.holdN / study::kStayOnN;
            v.state = State::Thin;
            v.text = name + (bonds.empty() ? " lies loose" : " comes off easily");
            v.detail = (bonds.empty() ? "nothing but its weight holds it"
                                      : forceText(one.holdN) + " hold it (" + bonds + ")" + basis) +
                       ", usual is " + forceText(study::kStayOnN) + " and more; lifts " + how;
            return;
        }
        v.value = one.forceN();
        v.limit = study::kComeOffN;
        v.margin = study::kComeOffN / std::max(one.forceN(), 1e-9);
        if (*v.margin < 1) {
            v.state = State::Thin;
            v.text = name + " is hard to lift off";
            v.detail = forceText(one.forceN()) + " straight " + how + " (" + bonds + ")" + basis + ", usual is " +
                       forceText(study::kComeOffN) + " at most; rocking it needs less";
            return;
        }
        v.text = name + " lifts off";
        v.detail =
            forceText(one.forceN()) + basis + " " + how + ": " + bonds + ", " + formatNumber(one.massG, 0) + " g";
        if (!one.carries.empty()) v.detail += "; takes " + listNames(one.carries) + " along";
    }

    /// Beside walls it must have room; among walls alone it must not rattle.
    void judgeRoom(const study::LiftModule& one) {
        const study::SideGap* tight = nullptr;
        for (const study::SideGap& side : one.sides)
            if (side.mm < study::kLeastGapMm - 1e-3 && (!tight || side.mm < tight->mm)) tight = &side;
        if (tight) {
            Verdict& v = add("module-room", one, {tight->wall});
            v.value = tight->mm;
            v.limit = study::kLeastGapMm;
            v.unit = "mm";
            v.margin = tight->mm / study::kLeastGapMm;
            v.state = State::Thin;
            v.text = nameOf(one.index).name + " sits tight";
            v.detail = formatNumber(tight->mm, 2) + " mm from " + listParts({tight->wall}) + ", usual is " +
                       formatNumber(study::kLeastGapMm, 1) + " mm and more: it rubs while it is lifted";
            return;
        }
        if (!one.bonds.empty()) return; // its bonds keep it in place
        for (const study::SideGap& l : one.sides)
            for (const study::SideGap& r : one.sides) {
                if (l.towards.dot(r.towards) > -0.9 || l.mm + r.mm <= 2 * study::kMostGapMm) continue;
                Verdict& v = add("module-room", one, {l.wall, r.wall});
                v.value = l.mm + r.mm;
                v.limit = 2 * study::kMostGapMm;
                v.unit = "mm";
                v.state = State::Thin;
                v.text = nameOf(one.index).name + " rattles";
                v.detail = formatNumber(l.mm + r.mm, 1) + " mm of room between its walls, usual is " +
                           formatNumber(2 * study::kMostGapMm, 1) + " mm at most, and no bond holds it";
                return;
            }
    }

    void judgeAlong(const study::LiftModule& one) {
        const auto tell = [&](const study::Pulled& side, const char* check, bool self) {
            if (!side.bonds) return;
            const bool tears = *side.bonds < 1;
            if (!tears && !(side.holdThere && !self)) return;
            Verdict& v = add(check, one, tears ? side.along : std::vector<PartSpot>{side.hold});
            v.margin = std::min(*side.bonds, kGoodMargin - 0.01);
            v.value = *side.bonds;
            v.limit = 1;
            v.basis = one.measured ? Basis::Measured : Basis::Starting;
            v.state = State::Thin;
            const std::string& name = nameOf(one.index).name;
            if (tears) {
                const std::string what = side.along.empty() ? "something" : listParts(side.along);
                v.text = self ? name + " comes off in pieces" : "Lifting " + name + " takes more along";
                v.detail = (self ? what + " of it may stay behind" : what + " may come along") + ": " +
                           forceText(one.holdN) + " part it, held at " + listParts({side.hold}) +
                           (one.measured ? "" : " (starting values)");
            } else {
                v.text = "Hold " + listParts({side.hold}) + " while " + name + " is lifted";
                v.detail =
                    "held farther off, other bonds give way before the " + forceText(one.holdN) + " that part it";
                v.state = State::Note;
                v.margin.reset();
            }
        };
        tell(one.rest, "module-along", false);
        tell(one.self, "module-whole", true);
    }

    void judgeWithout(const study::LiftModule& one) {
        const std::string& name = nameOf(one.index).name;
        const double asked = study::getAskedTipDeg(m_project);
        if (one.without.tipDeg && *one.without.tipDeg < asked && !tipsAnyhow(*one.without.tipDeg)) {
            Verdict& v = add("module-without", one, {});
            v.value = *one.without.tipDeg;
            v.limit = asked;
            v.unit = "°";
            v.margin = *one.without.tipDeg / std::max(asked, 1e-9);
            v.state = State::Fail;
            v.text = *one.without.tipDeg < 0 ? "Without " + name + " it falls over in " + one.without.tipPose
                                             : "Without " + name + " it tips easily in " + one.without.tipPose;
            v.detail = "tips at " + formatNumber(*one.without.tipDeg, 1) + "°, asked " + formatNumber(asked, 0) + "°";
        }
        if (one.without.bonds && *one.without.bonds < 1 && !fallsAnyhow()) {
            Verdict& v = add("module-bonds", one, {});
            v.value = *one.without.bonds;
            v.limit = 1;
            v.margin = v.value;
            v.state = State::Fail;
            v.basis = Basis::Starting;
            v.text = "Without " + name + " the rest does not hold in " + one.without.bondsPose;
            v.detail = *one.without.bonds <= 0 ? "something hangs on it alone" : "its bonds give way at rest";
        }
    }
    /// The whole tips as soon: then the module is not what it needs.
    [[nodiscard]] bool tipsAnyhow(double withoutDeg) const {
        return std::any_of(m_facts.poses.begin(), m_facts.poses.end(), [&](const study::PoseFacts& pose) {
            return pose.stance.kind != model::Stance::Kind::Held && pose.tipping &&
                   pose.tipping->angleDeg <= withoutDeg + 0.5;
        });
    }
    [[nodiscard]] bool fallsAnyhow() const {
        return std::any_of(m_facts.poses.begin(), m_facts.poses.end(), [](const study::PoseFacts& pose) {
            return pose.standing && !pose.standing->equilibrium.stands;
        });
    }

    void judgeReach(const study::ReachWay& way) {
        const model::Reach& reach = at(m_project.modules.reaches, way.index);
        Verdict& v = m_list.add("reach", reach.id.text, Station::Make);
        v.place.parts = {reach.part};
        v.place.things = {reach.id.text};
        v.unit = "moves";
        v.value = way.moves;
        v.limit = reach.mostMoves;
        const std::string who = reach.plug ? "plug" : "finger";
        if (way.gone) {
            v.place.parts.clear();
            v.state = State::Thin;
            v.text = reach.name + " is not in the model";
            v.detail = "its part is gone, or waits as an alternative";
            return;
        }
        if (!way.found) {
            for (std::size_t i = 0; i < way.blocked.size() && i < kMostMarked; ++i)
                v.place.parts.push_back(model::getPart(m_project, way.blocked[i]).id);
            v.state = State::Fail;
            v.text = "No " + who + " gets to " + reach.name;
            v.detail = way.blocked.empty() ? "the part itself is round it"
                                           : listParts(way.blocked) + (way.blocked.size() == 1 ? " is" : " are") +
                                                 " in the way, and no module that lifts off";
            return;
        }
        const std::string moves = std::to_string(way.moves) + (way.moves == 1 ? " move" : " moves");
        v.state = way.moves > reach.mostMoves ? State::Fail : State::Good;
        v.text = v.state == State::Fail ? reach.name + " is " + moves + " away" : "A " + who + " gets to " + reach.name;
        const std::string done = describeMoves(m_facts, way);
        v.detail = way.moves == 0 ? "at once, as it stands" : moves + ": " + done;
        if (v.state == State::Fail) v.detail += "; " + std::to_string(reach.mostMoves) + " at most";
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    VerdictList& m_list;
};

} // namespace

std::string describeLiftBonds(const study::Facts& facts, const study::LiftModule& one) {
    std::string text;
    int others = 0;
    for (const study::LiftBond& bond : one.bonds) {
        if (bond.joint < 0 && !bond.isStuds) {
            others += bond.count;
            continue;
        }
        const std::string what = bond.joint >= 0 ? "the joint " + at(facts.project->joints, bond.joint).name
                                                 : std::to_string(bond.count) + (bond.count == 1 ? " stud" : " studs");
        text += (text.empty() ? "" : ", ") + what;
    }
    if (others > 0)
        text += (text.empty() ? "" : ", ") + std::to_string(others) + (others == 1 ? " other bond" : " other bonds");
    return text;
}

std::string describeMoves(const study::Facts& facts, const study::ReachWay& way) {
    std::string text;
    const auto add = [&](const std::string& what) { text += (text.empty() ? "" : ", then ") + what; };
    if (way.pose) add("fold to " + at(facts.poses, *way.pose).name);
    if (way.turnedOver) add("turn it over");
    for (const int k : way.lifted) add("lift off " + at(facts.project->modules.list, k).name);
    return text;
}

void judgeModules(const study::Facts& facts, VerdictList& list) {
    if (facts.modules) ModuleCheck(facts, list).run();
}

void proposeModuleMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check != "module" || verdict.state != State::Fail || !report.modules) return;
    for (const study::LiftModule& one : report.modules->modules) {
        model::Module more = at(report.project->modules.list, one.index);
        if (verdict.id != "module/" + more.id.text || one.blocked.empty()) continue;
        std::set<model::PartId> taken;
        for (const PartSpot spot : one.blocked) taken.insert(model::getPart(*report.project, spot).id);
        more.parts.insert(more.parts.end(), taken.begin(), taken.end());
        mends.push_back({"take what is in its way into " + more.name,
                         [more](const model::Project& p) { return model::putModule(p, more); }});
    }
}

} // namespace ivrant::verdict
