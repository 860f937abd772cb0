// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_carry.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/board_parts.h"
#include "core/model/mass.h"
#include "core/study/case_words.h"
#include "core/study/post_check.h"
#include "core/study/stand_cases.h"

namespace ivrant::files {
namespace {

using base::formatNumber;

constexpr std::size_t kWeakPoints = 5;

std::string join(const std::vector<std::string>& texts) {
    std::string text;
    for (const std::string& t : texts) text += (text.empty() ? "" : ", ") + t;
    return text.empty() ? "nowhere" : text;
}

class Carrying {
public:
    explicit Carrying(const verdict::Report& report) : m_report(report), m_pose(report.poses.front()) {}

    CarryPlan run() {
        if (!m_pose.tipping) return {};
        add("Weight", formatNumber(m_pose.tipping->massG, 0) + " g (" +
                          formatNumber(base::weightN(m_pose.tipping->massG), 1) + " N)");
        addLifts();
        for (const stand::StandCase& standCase : study::listStandCases(m_report, m_pose))
            if (standCase.kind == stand::CaseKind::Bumped || standCase.kind == stand::CaseKind::Knocked ||
                standCase.kind == stand::CaseKind::Own)
                if (const auto result = study::calcStandCase(m_report, m_pose, standCase, m_quick))
                    add(standCase.name, standCase.kind == stand::CaseKind::Knocked && !result->equilibrium.stands
                                            ? "falls over"
                                            : study::describeOutcome(*result));
        addPosts();
        addWeakPoints();
        if (!m_plan.lift.empty()) m_plan.legend += "Green: lift here. ";
        if (!m_plan.leave.empty()) m_plan.legend += "Red: not here, parts come off. ";
        if (!m_plan.weak.empty()) m_plan.legend += "Yellow: weak points.";
        return std::move(m_plan);
    }

private:
    void add(const std::string& what, const std::string& how) { m_plan.rows.emplace_back(what, how); }

    void addLifts() {
        std::vector<std::string> good, bad;
        const bool each = m_report.project->partCount() <= study::kMostPartsLive;
        for (std::size_t s = 0; s < m_report.project->sections.size() && each; ++s) {
            const auto mass = model::calcMass(m_pose.placed, {static_cast<int>(s)});
            if (!(mass.massG > 0)) continue;
            const auto result = study::calcStandCase(m_report, m_pose, stand::makeCarried({mass.centre}), m_quick);
            if (!result) continue;
            (result->equilibrium.stands ? good : bad).push_back(m_report.project->sections[s]->name);
            (result->equilibrium.stands ? m_plan.lift : m_plan.leave).push_back(static_cast<int>(s));
        }
        if (!each) {
            const auto result =
                study::calcStandCase(m_report, m_pose, stand::makeCarried({m_pose.tipping->centre}), m_quick);
            if (result) (result->equilibrium.stands ? good : bad).emplace_back("its middle");
        }
        add("Lift here", join(good));
        if (!bad.empty()) add("Not here: parts come off", join(bad));
    }
    void addWeakPoints() {
        if (!m_pose.standing) return;
        std::vector<std::string> weak;
        for (const int contact : study::listWeakest(*m_pose.standing, kWeakPoints)) {
            const auto& bond = at(m_pose.standing->net.contacts, contact);
            for (const int body : {bond.a, bond.b})
                if (body >= 0) m_plan.weak.push_back(at(m_pose.standing->net.bodies, body).spot);
            weak.push_back(study::describeContact(*m_report.project, *m_pose.standing, contact) + " (" +
                           formatNumber(100 * at(m_pose.standing->equilibrium.forces, contact).use, 0) + " % used)");
        }
        if (!weak.empty()) add("Weak points", join(weak));
    }
    void addPosts() {
        const auto posts = study::checkPosts(m_report);
        for (std::size_t i = 0; i < posts.size(); ++i) {
            const auto& post = posts[i].post;
            if (!posts[i].pose || post.state != stand::PostState::Touches) continue;
            const auto& part = getPart(*m_report.project, post.part);
            add("Its stand, post " + std::to_string(i + 1),
                formatNumber(post.top.z(), 1) + " mm high, its foot at x " + formatNumber(post.top.x(), 0) + ", y " +
                    formatNumber(post.top.y(), 0) + " mm, under " + part.shape->name + " (" + part.id.text +
                    "); carries " + formatNumber(posts[i].restN, 2) + " N level and up to " +
                    formatNumber(posts[i].tiltN, 2) + " N with the base tilted. Fix it to the base");
        }
    }
    const verdict::Report& m_report;
    const study::PoseFacts& m_pose;
    const stand::EquilibriumRequest m_quick{
        .lambda = false, .use = false, .enoughShare = stand::kEnoughShare, .progress = nullptr};
    CarryPlan m_plan;
};

} // namespace

CarryPlan planCarrying(const verdict::Report& report) { return Carrying(report).run(); }

} // namespace ivrant::files
