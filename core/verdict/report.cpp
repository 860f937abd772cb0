#include "core/verdict/report.h"

#include <algorithm>

#include "core/verdict/checks.h"

namespace ivrant::verdict {
namespace {

void judge(const CheckGroup& group, const study::Facts& facts, VerdictList& list) {
    list.setGroup(group.key);
    group.judge(facts, list);
}

} // namespace

Report calcReport(std::shared_ptr<const model::Project> project, base::Progress* progress, const study::Wanted& wanted, const OnReport& onStage) {
    Report report;
    VerdictList list;
    const bool judging = (wanted.facts & study::kAll) == study::kAll;
    unsigned before = ~0U; // to come before the stage: everything, and what needs nothing
    const auto judgeStage = [&](const study::Facts& facts, unsigned toCome) {
        if (!judging) return;
        for (const CheckGroup& group : getCheckGroups())
            if ((group.needs & toCome) == 0 && (before == ~0U || (group.needs & before) != 0)) judge(group, facts, list);
        before = toCome;
        if (!onStage || toCome == 0) return;
        Report stage;
        static_cast<study::Facts&>(stage) = facts;
        stage.verdicts = list.all();
        stage.toCome = toCome;
        sortWorstFirst(stage.verdicts);
        onStage(stage);
    };
    static_cast<study::Facts&>(report) = study::calcFacts(std::move(project), wanted, progress, judgeStage);
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

Report addQuickBonds(Report report, stand::KeptForces& kept, base::Progress* progress) {
    study::findQuickProof(report, kept, progress);
    if (report.poses.front().provenUse) judgeAgain(report, study::kAtRest);
    return report;
}

Report addBonds(Report report, base::Progress* progress) {
    if (study::findLateFacts(report, progress)) judgeAgain(report, study::kBonds | study::kMoves);
    return report;
}

} // namespace ivrant::verdict
