// SPDX-License-Identifier: GPL-3.0-or-later
// What of a model is meant to lift off by hand, and what must be within reach?
//
// A module is parts, whole sections with all they carry, or whatever is chosen for an option; a lid, a hat, the upper
// half of a statue. A reach is a side of a part that a fingertip or a plug must get to: a switch, a charging port.
// Both belong to a variant. Parts that are gone, or that wait as an alternative, are no error of the project: the
// module does without them, a reach says so.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::model {

using base::ModuleId;
using base::OptionId;
using base::ReachId;
using base::SectionId;

struct Project;
struct PartSpot;

struct Module {
    ModuleId id;
    std::string name;
    std::vector<PartId> parts;
    std::vector<SectionId> sections; ///< each with all it carries
    OptionId option;                 ///< with what is chosen there; empty: with none
    PoseId pose;                     ///< folded so before it is lifted; empty or gone: whichever lets it
    ExtraPtr extra;
};

enum class Side { Top, Bottom, Left, Right, Front, Back }; ///< of a part: +z, −z, −x, +x, −y, +y in its own frame
[[nodiscard]] const char* getSideName(Side side);          ///< "top" …
[[nodiscard]] std::optional<Side> findSide(std::string_view name);
[[nodiscard]] std::array<int, 3> getSideAxis(Side side);

struct Reach {
    ReachId id;
    std::string name;
    PartId part;
    Side side = Side::Top;
    bool plug = false; ///< else a fingertip
    int mostMoves = 1; ///< so many may be needed, 0 to 20
    ExtraPtr extra;
};
inline constexpr int kMostReachMoves = 20;

struct Modules {
    std::vector<Module> list;
    std::vector<Reach> reaches;
    [[nodiscard]] bool empty() const { return list.empty() && reaches.empty(); }
};

[[nodiscard]] int findModule(const Modules& modules, const ModuleId& id); ///< index or −1
/// Everything that comes off with it, in order; empty: nothing of it is in the model. O(parts).
[[nodiscard]] std::vector<PartSpot> listModuleParts(const Project& project, const Module& one);

/// Whether they are whole. `place`: "/modules/0/name" …
[[nodiscard]] base::Status checkModules(const Project& project);

} // namespace ivrant::model
