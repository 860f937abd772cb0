// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/report.h"

#include <algorithm>
#include <exception>

#include "core/verdict/checks.h"

namespace ivrant::verdict {
namespace {

void judge(const CheckGroup& group, const study::Facts& facts, VerdictList& list) {
    list.setGroup(group.key);
    std::string failure = (group.needs & facts.failed) != 0 ? facts.failure : "";
    try {
        if (failure.empty()) group.judge(facts, list);
    } catch (const std::exception& e) {
        failure = e.what();
    }
    if (failure.empty()) return;
    Verdict& v = list.add("not-judged", group.key, Station::Shape);
    v.state = State::Fail; // nobody may take it for passing
    v.text = std::string("Could not be looked at: ") + group.title;
    v.detail = "something went wrong inside the program (" + failure + "); everything else was looked at";
}

} // namespace

Report calcReport(std::shared_ptr<const model::Project> project, base::Progress* progress, const study::Wanted& wanted,
                  const OnReport& onStage, const study::Facts* before) {
    Report report;
    VerdictList list;
    const bool judging = (wanted.facts & study::kAll) == study::kAll;
    unsigned toComeBefore = ~0U; // to come before the stage: everything, and what needs nothing
    const auto judgeStage = [&](const study::Facts& facts, unsigned toCome) {
        if (!judging) return;
        for (const CheckGroup& group : getCheckGroups())
            if ((group.needs & toCome) == 0 && (toComeBefore == ~0U || (group.needs & toComeBefore) != 0))
                judge(group, facts, list);
        toComeBefore = toCome;
        if (!onStage || toCome == 0) return;
        Report stage;
        static_cast<study::Facts&>(stage) = facts;
        stage.verdicts = list.all();
        stage.toCome = toCome;
        sortWorstFirst(stage.verdicts);
        onStage(stage);
    };
    static_cast<study::Facts&>(report) = study::calcFacts(std::move(project), wanted, progress, judgeStage, before);
    if (!report.complete) return report;
    report.verdicts = list.take();
    sortWorstFirst(report.verdicts);
    return report;
}

void judgeAgain(Report& report, unsigned facts) {
    VerdictList list;
    for (const CheckGroup& group : getCheckGroups()) {
        if ((group.needs & facts) == 0) continue;
        std::erase_if(report.verdicts, [&](const Verdict& v) { return v.group == group.key; });
        judge(group, report, list);
    }
    for (Verdict& v : list.take()) report.verdicts.push_back(std::move(v));
    sortWorstFirst(report.verdicts);
}

Report keepOlder(Report stage, const Report& before) {
    for (const CheckGroup& group : getCheckGroups()) {
        if ((group.needs & stage.toCome) == 0) continue;
        for (const Verdict& v : before.verdicts) {
            if (v.group != group.key) continue;
            stage.verdicts.push_back(v);
            stage.verdicts.back().stale = true;
        }
    }
    sortWorstFirst(stage.verdicts);
    return stage;
}

Report addQuickBonds(Report report, stand::KeptForces& kept, base::Progress* progress) {
    study::findQuickProof(report, kept, progress);
    if (report.poses.front().provenUse) judgeAgain(report, study::kAtRest);
    return report;
}

Report addBonds(Report report, base::Progress* progress) {
    if (study::findLateFacts(report, progress))
        judgeAgain(report, study::kBonds | study::kMoves | study::kAssembly | study::kModules);
    return report;
}

} // namespace ivrant::verdict
