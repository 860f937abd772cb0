// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts on walking. Part of check_motions.h.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/walk_words.h"
#include "core/verdict/pose/check_motions.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using study::WalkStudy;

constexpr double kSlipShare = 0.25; ///< of its way; usual value of ours

class WalkCheck {
public:
    WalkCheck(const study::Facts& facts, const study::MotionStudy& study, VerdictList& list)
        : m_project(*facts.project), m_motion(at(facts.project->motions, study.index)), m_walk(*study.walk),
          m_list(list) {}

    void run() {
        Verdict& v = add("walk");
        v.basis = Basis::Starting;
        if (!m_walk.problem.empty()) {
            v.state = State::Fail;
            v.weight = 1;
            v.text = m_motion.name + (m_walk.code == "walk.falls"   ? " falls over"
                                      : m_walk.code == "walk.drags" ? " drags its body"
                                                                    : " cannot walk");
            v.detail = m_walk.problem;
            if (m_walk.code != "walk.drags") return;
        } else {
            v.value = m_walk.strideMm;
            v.unit = "mm";
            v.text = m_motion.name + " walks " + formatNumber(m_walk.strideMm, 0) + " mm a turn";
            v.detail = study::describeWalk(m_walk);
        }
        judgeRock();
        judgeSlip();
        judgeLift();
    }

private:
    Verdict& add(const char* check) {
        Verdict& v = m_list.add(check, m_motion.id.text, Station::Pose);
        v.place.things = {m_motion.id.text};
        v.place.joint = m_motion.joint;
        return v;
    }

    /// It stands still nowhere between two sets of feet: it falls from one to the other.
    void judgeRock() {
        const bool rocks = m_walk.rockDeg > study::kRockDeg;
        Verdict& v = add("walk-rock");
        v.value = rocks ? m_walk.rockDeg : m_walk.leastTipDeg;
        v.unit = "°";
        if (rocks) {
            v.state = State::Fail;
            v.weight = std::min(1.0, m_walk.rockDeg / 30);
            v.text = m_motion.name + " falls from foot to foot at " + formatNumber(m_walk.rockAt, 0) + "°";
            v.detail = "tilts by " + formatNumber(m_walk.rockDeg, 1) +
                       "° at once: its weight leaves the feet that stand "
                       "before the next ones come down";
            return;
        }
        v.limit = study::kRockDeg;
        v.margin = m_walk.leastTipDeg / study::kRockDeg;
        v.state = *v.margin < kGoodMargin ? State::Thin : State::Good;
        v.text = v.state == State::Good
                     ? m_motion.name + " stands at every place"
                     : m_motion.name + " all but falls at " + formatNumber(m_walk.leastTipAt, 0) + "°";
        v.detail = "tips at " + formatNumber(m_walk.leastTipDeg, 1) + "° or more; worst at " +
                   formatNumber(m_walk.leastTipAt, 0) + "°";
    }

    void judgeSlip() {
        if (m_walk.strideMm < 1) return;
        const double share = m_walk.slipMm / m_walk.strideMm;
        Verdict& v = add("walk-slip");
        v.value = m_walk.slipMm;
        v.limit = kSlipShare * m_walk.strideMm;
        v.unit = "mm";
        v.margin = std::min(100.0, kSlipShare / std::max(share, 1e-4));
        v.state = *v.margin < 1 ? State::Thin : State::Good; // a usual value only warns
        v.text = v.state == State::Good ? "Feet hardly slip" : m_motion.name + " drags its feet";
        v.detail = formatNumber(m_walk.slipMm, 1) + " mm of " + formatNumber(m_walk.strideMm, 0) +
                   " mm a turn, weighed by load; up to a quarter is usual";
    }

    void judgeLift() {
        const study::WalkFoot* least = nullptr;
        for (const study::WalkFoot& foot : m_walk.feet)
            if (!least || foot.liftMm < least->liftMm) least = &foot;
        if (!least) return;
        Verdict& v = add("walk-lift");
        v.value = least->liftMm;
        v.limit = study::kGoodLiftMm;
        v.unit = "mm";
        v.margin = least->liftMm / study::kGoodLiftMm;
        v.state = *v.margin < 1 ? State::Thin : State::Good;
        v.place.section = at(m_project.sections, least->section)->id;
        v.text = v.state == State::Good ? "Feet lift off well"
                                        : at(m_project.sections, least->section)->name + " hardly lifts off";
        v.detail = formatNumber(least->liftMm, 1) + " mm at most; " + formatNumber(study::kGoodLiftMm, 0) +
                   " mm clear the folds of a cloth (usual value)";
    }

    const model::Project& m_project;
    const model::Motion& m_motion;
    const WalkStudy& m_walk;
    VerdictList& m_list;
};

} // namespace

void judgeWalk(const study::Facts& facts, const study::MotionStudy& study, VerdictList& list) {
    if (study.walk) WalkCheck(facts, study, list).run();
}

} // namespace ivrant::verdict
