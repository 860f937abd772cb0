// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/verdict.h"

#include <algorithm>
#include <map>

namespace ivrant::verdict {
namespace {

double rankOf(const Verdict& v) {
    // Without a margin: failures before those with one, thin findings by weight among the margins of 1 to 1.5.
    const double margin = v.margin.value_or(v.state == State::Fail   ? -1e4 * v.weight
                                            : v.state == State::Thin ? kGoodMargin - 0.5 * v.weight
                                                                     : 1e6);
    return static_cast<int>(v.state) * 1e9 + std::clamp(margin, -1e8, 1e8);
}

} // namespace

State getStateOfMargin(std::optional<double> margin) {
    if (!margin || *margin >= kGoodMargin) return State::Good;
    return *margin < 1.0 ? State::Fail : State::Thin;
}

const char* getStateName(State state) {
    return state == State::Fail ? "fail" : state == State::Thin ? "thin" : state == State::Good ? "good" : "note";
}
const char* getBasisName(Basis basis) {
    return basis == Basis::Measured ? "measured" : basis == Basis::Starting ? "starting" : "geometry";
}

bool isWorse(const Verdict& l, const Verdict& r) {
    const double a = rankOf(l), b = rankOf(r);
    return a != b ? a < b : l.id < r.id;
}

void sortWorstFirst(std::vector<Verdict>& verdicts) { std::stable_sort(verdicts.begin(), verdicts.end(), isWorse); }

std::vector<Verdict> collapsePoses(const std::vector<Verdict>& verdicts) {
    std::map<std::string, std::size_t> seen;
    std::vector<Verdict> out;
    for (const Verdict& v : verdicts) {
        const std::string key = v.place.joint && v.place.pose ? v.check + "/" + v.place.joint->text : v.id;
        const auto [known, fresh] = seen.try_emplace(key, out.size());
        if (fresh)
            out.push_back(v);
        else if (rankOf(v) < rankOf(out[known->second]))
            out[known->second] = v;
    }
    sortWorstFirst(out);
    return out;
}

Summary countStates(const std::vector<Verdict>& verdicts) {
    Summary sum;
    for (const Verdict& v : verdicts)
        ++(v.state == State::Fail   ? sum.fail
           : v.state == State::Thin ? sum.thin
           : v.state == State::Good ? sum.good
                                    : sum.note);
    return sum;
}

} // namespace ivrant::verdict
