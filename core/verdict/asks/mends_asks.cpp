// SPDX-License-Identifier: GPL-3.0-or-later
// What an ask about balance, bonds or structure needs is what mends the finding that it is about, with the ask's own
// limit. Part of check_stand.h.
#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/asked_tip.h"
#include "core/study/post_check.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

/// The worst finding of a check, in a pose where that is said.
std::optional<Verdict> findFinding(const Report& report, const std::string& check,
                                   const std::optional<model::PoseId>& pose) {
    for (const Verdict& v : report.verdicts) // worst first
        if (v.check == check && (!pose || v.place.pose == pose)) return v;
    return std::nullopt;
}

/// The tip angle at which a push at the top of that many N tips the pose.
std::optional<double> findAngleOfPush(const Report& report, const std::optional<model::PoseId>& id, double pushN) {
    for (const study::PoseFacts& pose : report.poses)
        if (pose.id == id && pose.tipping)
            return base::radToDeg(
                std::atan(pushN * stand::calcTopMm(pose.placed) /
                          (base::weightN(pose.tipping->massG) * std::max(1.0, pose.tipping->centre.z()))));
    return std::nullopt;
}

} // namespace

std::optional<Verdict> findAsked(const Report& report, const Verdict& verdict) {
    static const std::map<std::string, const char*> kChecks{
        {"tip-angle", "tip"}, {"tip-push", "tip"}, {"move-tip", "tip-move"}, {"bond-margin", "bonds"},
        {"tug", "tug"},       {"shake", "neck"},   {"seam", "seam"},         {"support-force", "support"}};
    const auto& asks = report.project->asks;
    const auto ask =
        std::find_if(asks.begin(), asks.end(), [&](const model::Ask& a) { return verdict.id == "ask/" + a.id.text; });
    if (verdict.check != "ask" || ask == asks.end()) return std::nullopt;
    const auto check = kChecks.find(ask->measure);
    const bool less = ask->measure == "seam" || ask->measure == "support-force"; // the less of it the better
    if (check == kChecks.end() || ask->comparison == (less ? model::Comparison::AtLeast : model::Comparison::AtMost))
        return std::nullopt;
    auto finding = findFinding(report, check->second, verdict.place.pose);
    if (!finding) return std::nullopt;
    finding->state = State::Fail;
    finding->limit = ask->value;
    if (ask->measure == "tip-push")
        finding->limit = findAngleOfPush(report, verdict.place.pose, ask->value).value_or(study::kUsualTipDeg);
    if (ask->measure == "bond-margin") finding->limit = 1 / std::max(1e-3, ask->value); // as λ
    if (ask->measure == "support-force") {
        finding->check = "support-force";
        const auto posts = study::checkPosts(report);
        const auto most = std::max_element(posts.begin(), posts.end(),
                                           [](const auto& l, const auto& r) { return l.tiltN < r.tiltN; });
        finding->place.things = {at(report.project->posts, most - posts.begin()).id.text};
    }
    return finding;
}

void proposeAskMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (const auto asked = findAsked(report, verdict)) {
        for (const CheckGroup& group : getCheckGroups())
            if (group.key == asked->group && group.propose) group.propose(report, *asked, mends);
        return;
    }
    addFewerColours(report, verdict, mends);
    addCoreMends(report, verdict, mends);
    markTried(mends);
}

} // namespace ivrant::verdict
