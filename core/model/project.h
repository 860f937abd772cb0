// SPDX-License-Identifier: GPL-3.0-or-later
// What is a project? The immutable value that everything is computed from.
//
// A Project is cheap to copy: sections are shared and never changed in place. Lengths in whole micrometres, angles in
// degrees as they stand in the file. Invariants are those of validate() in core/model/validate.h.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <variant>
#include <vector>

#include "core/model/board.h"
#include "core/model/line.h"
#include "core/model/making.h"
#include "core/model/module.h"
#include "core/model/motion.h"
#include "core/model/notes.h"
#include "core/model/options.h"
#include "core/model/place.h"
#include "core/parts/joint_kind.h"
#include "core/parts/shape.h"

namespace ivrant::model {

using base::PartId;
using base::PoseId;
using base::PostId;
using base::SectionId;
using base::VariantId;

struct Part {
    PartId id;
    parts::ShapePtr shape;
    int colour = 0;                 ///< index into parts::getPalette()
    Place place;                    ///< X_SP in the section
    int step = 1;                   ///< ≥ 1; the order of building
    std::optional<double> weighedG; ///< a weighed mass replaces the computed one
    ExtraPtr extra;
    std::string name{}; ///< of its own: shafts and motors; most have none
    SectionId after{};  ///< put on once that section, its own or another, is on; empty: as its own is built

    [[nodiscard]] double massG() const { return weighedG.value_or(shape->massG); }
};

/// Extra mass fixed in a section (putty, a steel nut): a point.
struct Ballast {
    double massG = 0;
    std::array<std::int64_t, 3> atUm{0, 0, 0};
};

struct Section {
    SectionId id;
    std::string name;
    Place place; ///< in the world; only for sections that no joint carries
    std::vector<Part> parts;
    std::vector<Ballast> ballast;
    ExtraPtr extra;
};
using SectionPtr = std::shared_ptr<const Section>;

struct PortRef {
    PartId part;
    std::string port;
    auto operator<=>(const PortRef&) const = default;
};

struct Range {
    double low = 0;
    double high = 0;
    bool operator==(const Range&) const = default;
};

struct Joint {
    JointId id;
    std::string name;
    const parts::JointKind* kind = nullptr;
    PortRef from;              ///< on the carrying side
    PortRef to;                ///< on the carried side
    std::vector<double> value; ///< one per freedom, degrees or mm
    std::vector<Range> wanted; ///< one per freedom, or empty: nothing wanted
    ExtraPtr extra;
};

/// How a pose stands: flat on a section's underside, settled on its hull with a given side up, or fixed in the world.
struct Stance {
    enum class Kind { Flat, Settle, Held } kind = Kind::Held;
    SectionId section;                 ///< Flat; Held: the section held (empty: the first root)
    std::array<double, 3> up{0, 0, 1}; ///< Settle
    bool operator==(const Stance&) const = default;
};

struct NamedPose {
    PoseId id;
    std::string name;
    std::map<JointId, std::vector<double>> values; ///< joints not named keep their value
    Stance stands;
    ExtraPtr extra;
};

/// A post of the base that stands upright on the ground under the model and presses on what lies on it, wherever the
/// model does. It is no part of the model and has no weight in it.
struct Post {
    PostId id;
    std::array<std::int64_t, 3> atUm{0, 0, 0}; ///< middle of its top, in the world; at least kLowestSupportUm high
    ExtraPtr extra;
};
inline constexpr std::int64_t kLowestPostUm = 1000, kHighestPostUm = 2'000'000;

enum class BuildRules { Strict, Display };

/// What differs between the variants of a model.
struct VariantBody {
    std::vector<SectionPtr> sections;
    std::vector<Joint> joints;
    std::vector<NamedPose> poses;
    std::vector<BoardPtr> boards;
    std::vector<Post> posts;
    Options options;
    Modules modules;
    std::vector<Motion> motions;
    std::vector<Line> lines;
};

/// One way of building the model. The same id in two variants means the same thing.
struct Variant {
    VariantId id;
    std::string name;
    std::shared_ptr<const VariantBody> body; ///< null: this is the one that the project shows
};

struct Project {
    std::string name;
    BuildRules rules = BuildRules::Strict;
    std::vector<SectionPtr> sections;
    std::vector<Joint> joints;
    std::vector<NamedPose> poses;
    std::vector<BoardPtr> boards;           ///< gear boards
    std::vector<Post> posts;                ///< posts of the base that it stands on
    Options options;                        ///< choices, and what waits of them
    Modules modules;                        ///< what lifts off, and what must be within reach
    std::vector<Motion> motions;            ///< joints that are driven, and what follows them
    std::vector<Line> lines;                ///< strings, bands and springs
    std::vector<parts::ShapePtr> ownShapes; ///< of the builder's own, by name; parts of all variants may use them
    std::vector<Variant> variants;          ///< empty: there is only this one; else exactly one has no body
    std::vector<Ask> asks;
    std::vector<Series> measured;
    std::vector<DiaryEntry> diary;
    std::vector<OwnCase> cases;
    double tiltDeg = 0;                       ///< wanted tilt of the base, 0 to 45
    std::string shownOn;                      ///< when the person who asked saw it; empty: not yet
    Making making;                            ///< stocks, orders, calendar
    std::string today;                        ///< the day it is, for what depends on it; not saved here; empty: unknown
    std::shared_ptr<const Supplies> supplies; ///< what the files named by `making` hold; not saved here; null: not read
    std::shared_ptr<const std::vector<Series>> workshop; ///< the person's own library of measured kinds; not saved here
    std::int64_t nextId = 1;                             ///< numbers from here on have never been used in an id
    ExtraPtr extra;

    [[nodiscard]] std::size_t partCount() const;
    [[nodiscard]] int findSection(const SectionId& id) const; ///< index or −1
    [[nodiscard]] int findJoint(const JointId& id) const;
    [[nodiscard]] int findPose(const PoseId& id) const;
    [[nodiscard]] int findBoard(const BoardId& id) const;
    [[nodiscard]] parts::ShapePtr findOwnShape(std::string_view name) const; ///< or null
};

/// Where a part is: section index and index in the section.
struct PartSpot {
    int section = -1;
    int part = -1;
    auto operator<=>(const PartSpot&) const = default;
};

/// Look-up from part id to its spot. Valid for the project it was made from. O(parts) to make.
class PartIndex {
public:
    explicit PartIndex(const Project& project);
    /// Spot with section −1 when there is no such part.
    [[nodiscard]] PartSpot find(const PartId& id) const;

private:
    std::unordered_map<PartId, PartSpot> m_spots;
};

/// Numbers beyond the section's own parts mean what stands on its boards (board_parts.h). std::out_of_range: there is
/// no such part.
[[nodiscard]] const Part& getPart(const Project& project, PartSpot spot);

} // namespace ivrant::model
