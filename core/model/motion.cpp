// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/motion.h"

#include <cmath>

#include "core/model/edits_common.h"

namespace ivrant::model {

base::Status checkMotions(const Project& project) {
    for (std::size_t i = 0; i < project.motions.size(); ++i) {
        const Motion& motion = project.motions[i];
        const std::string place = "/motions/" + std::to_string(i);
        if (motion.name.empty()) return base::Error{"edit.name", "a motion needs a name", place + "/name"};
        if (motion.joint.empty())
            return base::Error{"motion.joint", "the joint that is driven is expected", place + "/joint"};
        if (motion.over && (!std::isfinite(motion.over->from) || !std::isfinite(motion.over->to) ||
                            motion.over->from == motion.over->to ||
                            std::max(std::abs(motion.over->from), std::abs(motion.over->to)) > kMostTravel))
            return base::Error{"motion.over", "a motion goes from one value of its joint to another", place + "/over"};
        if (motion.places < kLeastPlaces || motion.places > kMostPlaces)
            return base::Error{"motion.places",
                               "a motion is looked at in " + std::to_string(kLeastPlaces) + " to " +
                                   std::to_string(kMostPlaces) + " places",
                               place + "/places"};
        if (motion.feet.size() > kMostFeet ||
            std::any_of(motion.feet.begin(), motion.feet.end(), [](const auto& id) { return id.empty(); }))
            return base::Error{"motion.feet", "feet are sections, 100 at most", place + "/feet"};
        for (std::size_t k = 0; k < motion.traced.size(); ++k)
            if (motion.traced[k].part.empty())
                return base::Error{"motion.traced", "a part is expected",
                                   place + "/traced/" + std::to_string(k) + "/part"};
    }
    return {};
}

namespace {
constexpr auto listMotions = [](Project & project) -> auto& { return project.motions; };
} // namespace

EditResult putMotion(const Project& project, Motion motion) {
    if (project.findJoint(motion.joint) < 0) return detail::noSuch("joint", motion.joint.text);
    return detail::putEntry(project, listMotions, "y", std::move(motion));
}
EditResult removeMotion(const Project& project, const MotionId& id) {
    return detail::dropEntry(project, listMotions, id);
}

} // namespace ivrant::model
