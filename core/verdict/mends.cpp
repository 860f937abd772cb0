// SPDX-License-Identifier: GPL-3.0-or-later
// What would mend a verdict: proposed by the group that judged it, and tried.
#include "core/verdict/mends.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/verdict/checks.h"
#include "core/verdict/groups.h"

namespace ivrant::verdict {
namespace {

/// All that may help, tried or not.
std::vector<Mend> proposeMends(const Report& report, const Verdict& verdict) {
    std::vector<Mend> mends;
    if (verdict.state == State::Good && !verdict.check.starts_with("hold")) return mends;
    for (const CheckGroup& group : getCheckGroups())
        if (group.key == verdict.group && group.propose) group.propose(report, verdict, mends);
    return mends;
}

} // namespace

void markTried(std::vector<Mend>& mends, std::size_t from) {
    for (std::size_t i = from; i < mends.size(); ++i) mends[i].tried = true;
}

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
    const Report after = calcReport(std::make_shared<const model::Project>(*project), progress, {}, {}, &report);
    if (!after.complete) return std::nullopt;
    MendTrials::Outcome outcome;
    for (const Verdict& v : after.verdicts) outcome[v.id] = {v.state, v.margin};
    return outcome;
}

/// It mends when its verdict is gone, passes, or is no failure any more and better than it was, and when nothing fails
/// that did not.
bool mends(const Report& report, const Verdict& verdict, const MendTrials::Outcome& outcome) {
    if (const auto left = outcome.find(verdict.id); left != outcome.end()) {
        const auto& [state, margin] = left->second;
        if (state == State::Fail) return false;
        const bool better = static_cast<int>(state) > static_cast<int>(verdict.state) ||
                            (margin && verdict.margin && *margin > *verdict.margin * 1.001) ||
                            (!margin && verdict.margin);
        if (!better) return false;
    }
    std::set<std::string> failing;
    for (const Verdict& v : report.verdicts)
        if (v.state == State::Fail) failing.insert(v.id);
    return std::all_of(outcome.begin(), outcome.end(), [&](const auto& entry) {
        return entry.second.state != State::Fail || failing.count(entry.first) > 0;
    });
}

std::string keyOf(const Verdict& verdict, const Mend& mend) {
    std::string key = mend.text + "/" + (verdict.place.joint ? verdict.place.joint->text : "");
    if (verdict.check == "value" || verdict.check == "ring")
        key += "/" + (verdict.place.pose ? verdict.place.pose->text : "");
    if (verdict.check != "range" && !verdict.check.starts_with("hold"))
        for (const auto& part : verdict.place.parts) key += "/" + part.text;
    return key;
}

} // namespace

std::vector<Mend> listMends(const Report& report, const Verdict& verdict, base::Progress* progress, MendTrials* trials,
                            const OnMend& onMend) {
    MendTrials own;
    if (!trials) trials = &own;
    std::vector<Mend> kept;
    std::vector<Mend> proposed = proposeMends(report, verdict);
    const bool clearing = verdict.check == "overlap" || verdict.check == "collide";
    // Bonds of large models are not looked at in a trial: a mend of theirs cannot be judged by one.
    const bool judged = verdict.check != "bonds" || report.project->partCount() <= study::kMostPartsLive;
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
        if (onMend && !onMend(kept.back())) break;
    }
    return kept;
}

base::Result<MendPreview> previewMend(const Report& report, const Mend& mend) {
    auto project = mend.apply(*report.project);
    if (!project) return project.error();
    MendPreview preview{*project, {}, {}, {}};
    const Report after = calcReport(std::make_shared<const model::Project>(*project), nullptr, {}, {}, &report);
    const auto old = collapsePoses(report.verdicts), now = collapsePoses(after.verdicts);
    const auto count = [](const Report& r) { // lines, as the slip counts them
        const GroupSummary lines = countGroups(groupVerdicts(r.verdicts, *r.project));
        return Summary{lines.fail, lines.thin, lines.good, lines.note};
    };
    preview.before = count(report);
    preview.after = count(after);
    const auto keyOf = [](const Verdict& v) {
        return v.place.joint && v.place.pose ? v.check + "/" + v.place.joint->text : v.id;
    };
    std::map<std::string, const Verdict*> byKey;
    for (const Verdict& v : old) byKey[keyOf(v)] = &v;
    const auto shown = [](const Verdict& v) {
        return v.margin ? base::formatMargin(*v.margin) : std::string(getStateName(v.state));
    };
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
