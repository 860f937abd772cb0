// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/drive_model.h"

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

int find(const std::unordered_map<std::string, int>& map, const std::string& id) {
    const auto found = map.find(id);
    return found == map.end() ? -1 : found->second;
}

} // namespace

double Rotor::mmPerUnit() const { return kind == Kind::Rack ? base::kPi : kind == Kind::Screw ? 1 : 0; }

int DriveModel::findRotor(const std::string& id) const { return find(rotorOf, id); }
int DriveModel::findRing(const std::string& id) const { return find(ringOf, id); }

std::string describeWheel(model::GearKind kind, int teeth, bool loose) {
    std::string text = std::string(model::getGearKindName(kind)) + " " + std::to_string(teeth);
    if (kind == model::GearKind::Spur) text = std::to_string(teeth);
    if (kind == model::GearKind::Worm) text = "worm";
    return loose ? "loose " + text : text;
}

std::string DriveModel::nameOf(const Ring& ring) const {
    const std::string text = describeWheel(ring.kind, ring.teeth, ring.loose);
    return ring.shaft < 0 ? text : text + " on " + at(rotors, ring.shaft).name;
}

} // namespace ivrant::drive
