// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of modules and of what must be within reach.
#include "core/model/edits_common.h"

namespace ivrant::model {
namespace {

constexpr auto listModules = [](Project & project) -> auto& { return project.modules.list; };
constexpr auto listReaches = [](Project & project) -> auto& { return project.modules.reaches; };

} // namespace

EditResult putModule(const Project& project, Module one) {
    return detail::putEntry(project, listModules, "e", std::move(one));
}
EditResult removeModule(const Project& project, const ModuleId& id) {
    return detail::dropEntry(project, listModules, id);
}
EditResult putReach(const Project& project, Reach reach) {
    return detail::putEntry(project, listReaches, "r", std::move(reach));
}
EditResult removeReach(const Project& project, const ReachId& id) {
    return detail::dropEntry(project, listReaches, id);
}

} // namespace ivrant::model
