// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/board.h"

#include "core/model/name_table.h"

namespace ivrant::model {
namespace {

constexpr std::array<std::pair<GearKind, const char*>, 11> kGearKinds{{{GearKind::Spur, "spur"},
                                                                       {GearKind::Bevel, "double bevel"},
                                                                       {GearKind::Crown, "crown"},
                                                                       {GearKind::Worm, "worm"},
                                                                       {GearKind::Ring, "ring"},
                                                                       {GearKind::Rack, "rack"},
                                                                       {GearKind::Sprocket, "sprocket"},
                                                                       {GearKind::Pulley, "pulley"},
                                                                       {GearKind::Differential, "differential"},
                                                                       {GearKind::Turntable, "turntable"},
                                                                       {GearKind::Actuator, "linear actuator"}}};
constexpr std::array<std::pair<LoadKind, const char*>, 7> kLoadKinds{{{LoadKind::None, "none"},
                                                                      {LoadKind::Friction, "friction"},
                                                                      {LoadKind::Lift, "lift"},
                                                                      {LoadKind::Arm, "arm"},
                                                                      {LoadKind::Joint, "joint"},
                                                                      {LoadKind::Slope, "slope"},
                                                                      {LoadKind::Band, "band"}}};

} // namespace

const char* getGearKindName(GearKind kind) { return detail::nameOf(kGearKinds, kind); }
std::optional<GearKind> findGearKind(std::string_view name) { return detail::findNamed(kGearKinds, name); }
const char* getLoadKindName(LoadKind kind) { return detail::nameOf(kLoadKinds, kind); }
std::optional<LoadKind> findLoadKind(std::string_view name) { return detail::findNamed(kLoadKinds, name); }

} // namespace ivrant::model
