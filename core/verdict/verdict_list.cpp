// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/verdict_list.h"

namespace ivrant::verdict {

Verdict& VerdictList::add(const std::string& check, const std::string& idRest, Station station) {
    Verdict v;
    v.check = check;
    v.id = idRest.empty() ? check : check + "/" + idRest;
    v.station = station;
    add(std::move(v));
    return m_all.back();
}

Verdict& VerdictList::addAt(const std::string& check, const model::Joint& joint, const study::PoseFacts& pose,
                            const std::string& key) {
    Verdict& v = add(check, joint.id.text + "/" + key, Station::Pose);
    v.place.joint = joint.id;
    v.place.pose = pose.id;
    return v;
}

void VerdictList::add(Verdict verdict) {
    verdict.group = m_group;
    m_all.push_back(std::move(verdict));
}

void setNeed(Verdict& v, double need, const model::Capacity& have, const std::string& unit,
             const std::optional<double>& margin) {
    v.value = need;
    v.limit = have.value;
    v.unit = unit;
    v.margin = margin;
    v.basis = have.measured ? Basis::Measured : Basis::Starting;
    v.state = getStateOfMargin(margin);
}

std::string shortBasis(const model::Capacity& capacity) {
    return capacity.measured ? capacity.basis : "starting value";
}

} // namespace ivrant::verdict
