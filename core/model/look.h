// SPDX-License-Identifier: GPL-3.0-or-later
// How is a model shown in other joint values than those it was set to, and what do edits of what is shown mean?
//
// Looking changes nothing: the model as set keeps its values. Values are those of core/model/joint (degrees or mm).
#pragma once

#include <map>
#include <vector>

#include "core/model/project.h"

namespace ivrant::model {

using ValuesByJoint = std::map<JointId, std::vector<double>>;

/// The model with these joints standing so; joints that are not named, or have another number of freedoms, as set.
[[nodiscard]] Project lookAt(const Project& set, const ValuesByJoint& values);

/// `edited` came of an edit of `seen`, which is `set` as it is looked at. An edit that moves a joint is meant as it is
/// seen: all joints stand so from then on, and `moved` is true. Any other leaves those that it does not touch as set.
struct Settled {
    Project project;
    bool moved = false;
};
[[nodiscard]] Settled settle(const Project& set, const Project& seen, Project edited);

/// Does an edit put away or show variants? It has to be made of the model as set, or it would put away what is seen.
[[nodiscard]] bool changesVariants(const Project& before, const Project& after);

} // namespace ivrant::model
