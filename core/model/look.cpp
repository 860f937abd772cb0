// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/look.h"

#include <algorithm>

#include "core/base/at.h"

namespace ivrant::model {

Project lookAt(const Project& set, const ValuesByJoint& values) {
    Project seen = set;
    for (Joint& joint : seen.joints) {
        const auto found = values.find(joint.id);
        if (found != values.end() && found->second.size() == joint.value.size()) joint.value = found->second;
    }
    return seen;
}

Settled settle(const Project& set, const Project& seen, Project edited) {
    Settled settled{std::move(edited), false};
    for (const Joint& joint : settled.project.joints) {
        const int j = seen.findJoint(joint.id);
        if (j < 0) continue;
        const Joint& before = at(seen.joints, j);
        settled.moved |= joint.kind == before.kind && joint.value != before.value;
    }
    if (settled.moved) return settled;
    for (Joint& joint : settled.project.joints) {
        const int j = set.findJoint(joint.id), k = seen.findJoint(joint.id);
        if (j >= 0 && k >= 0 && at(seen.joints, k).value == joint.value) joint.value = at(set.joints, j).value;
    }
    return settled;
}

bool changesVariants(const Project& before, const Project& after) {
    return !std::equal(before.variants.begin(), before.variants.end(), after.variants.begin(), after.variants.end(),
                       [](const Variant& l, const Variant& r) { return l.id == r.id && l.body == r.body; });
}

} // namespace ivrant::model
