// SPDX-License-Identifier: GPL-3.0-or-later
// What is in the way of a part that goes in or comes out?
//
// A scene is what lies and sticks together in one common frame: the parts of a section, or whole sections. Going in is
// coming out backwards, so all is told as ways out. A way is straight, or a lift followed by a way off (tucked under
// something, the lift takes the studs out of their cells). A bond is left along the axes of its ports only; what fills
// space is swept along the way without the 0.05 mm that touching solids may be in each other. Lengths mm.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/bonds/section_bonds.h"
#include "core/geometry/gap.h"

namespace ivrant::make {

using geometry::Vec3;

inline constexpr double kSameWay = 0.999; ///< cosine between ways that count as one
inline constexpr double kOnLineMm = 0.1;  ///< a shaft this near to a hole's line is in line with it

/// Off to beyond everything there is; a lift comes before it.
struct Way {
    Vec3 off = Vec3::UnitZ(); ///< unit
    Vec3 lift = Vec3::Zero(); ///< zero: straight
};
/// "upward", "to the left", "from below" …: the way in that is the reverse of a way out along axes of the section.
[[nodiscard]] std::string describeWayIn(const Way& way);

/// A solid of a body where it lies.
struct SceneSolid {
    geometry::PlacedSolid placed;
    geometry::Bounds bounds, eroded;                 ///< of the solid and of its eroded twin
    bool boxy = false;                               ///< it is its bounds
    Vec3 studAxis = Vec3::Zero();                    ///< of a stud; a body that goes that way is in front of it
    const parts::Shape* toothed = nullptr;           ///< of a part with teeth: its shape, which must live on
    int index = 0;                                   ///< of the solid in it
    geometry::Frame X = geometry::Frame::Identity(); ///< of that part
};
/// Something round that goes through holes, or such a hole: its line and which solids it is made of.
struct SceneShaft {
    Vec3 at = Vec3::Zero(), axis = Vec3::UnitX();
    std::vector<int> solids;
};
struct SceneBody {
    std::vector<SceneSolid> solids;
    std::vector<SceneShaft> shafts, holes;
    geometry::Bounds bounds;
    bool onTable = false; ///< nothing lies lower
};

/// What bodies a and b hold each other by.
struct SceneBond {
    int a = 0, b = 0;
    std::vector<std::vector<Vec3>> lines;   ///< for each the ways in which a may leave b; all must agree
    std::vector<std::pair<int, int>> seats; ///< solids of a and b that sit in each other
    double depth = 0;                       ///< along a line until a is out of b
    bool threaded = false;                  ///< by nothing but shafts through holes that are open at both ends
};

class Scene {
public:
    /// The parts of a section, in its frame; pairs that overlap as they are built are in nobody's way. O(ports).
    Scene(const model::Section& section, const bonds::SectionBonds& bonds);
    /// Bodies put together by others; bonds of both directions are made here.
    Scene(std::vector<SceneBody> bodies, std::vector<SceneBond> bonds);
    ~Scene();
    Scene(Scene&&) noexcept;
    Scene& operator=(Scene&&) noexcept;
    Scene(const Scene&) = delete;
    Scene& operator=(const Scene&) = delete;

    [[nodiscard]] int count() const;
    [[nodiscard]] const SceneBody& body(int index) const;
    /// What it holds on to, in order.
    [[nodiscard]] const std::vector<int>& bonded(int body) const;
    /// Does `body` sit on `other`: does it leave it upward?
    [[nodiscard]] bool sitsOn(int body, int other) const;
    /// Is one a shaft that does nothing but run through the other?
    [[nodiscard]] bool isThreaded(int body, int other) const;
    /// Ways worth trying, straight ones first, upward first. At most 14 directions.
    [[nodiscard]] const std::vector<Way>& ways(int body) const;

    /// Who is there; all are at first.
    [[nodiscard]] bool isThere(int body) const;
    void take(int body);
    void putBack(int body);
    [[nodiscard]] int thereCount() const;

    /// The first of those there that is in the way, other than `with` (which go along); −1: none.
    [[nodiscard]] int findBlocker(int body, const Way& way, const std::vector<bool>* with = nullptr) const;
    /// All that are in the way, in order.
    [[nodiscard]] std::vector<int> listBlockers(int body, const Way& way,
                                                const std::vector<bool>* with = nullptr) const;

    /// Would what holds together now still do so, or stand on the table, without it?
    [[nodiscard]] bool mayLeave(int body) const;
    [[nodiscard]] bool mayLeave(const std::vector<int>& bodies) const;
    /// What would then hang on nothing, in order: all pieces that touched these but the one on the table, or the one
    /// that is found to go on longest. O(parts of those pieces).
    [[nodiscard]] std::vector<int> listCutOff(const std::vector<int>& bodies) const;

private:
    struct Impl;
    std::unique_ptr<Impl> m;
};

/// The solids of a shape where its part lies, with its shafts and holes.
[[nodiscard]] SceneBody makeSceneBody(const parts::Shape& shape, const geometry::Frame& X);
/// How two placed parts that these ports mate hold each other; nothing when no port of them is mated.
[[nodiscard]] SceneBond makeSceneBond(int a, const parts::Shape& shapeA, const geometry::Frame& X_a, int b,
                                      const parts::Shape& shapeB, const geometry::Frame& X_b,
                                      const std::vector<bonds::Mate>& mates);

} // namespace ivrant::make
