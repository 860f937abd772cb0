// SPDX-License-Identifier: GPL-3.0-or-later
// Which train do the gear boards of a project make?
//
// Wheels mesh where their places say so: nothing about meshing is stored. Every board is taken with its pose in one
// common frame C, so that boards in planes of any attitude mesh with each other. Lengths mm, axes unit vectors in C.
// What turns and how fast is train.h's business. Rules of meshing (module 1, r = teeth/2; starting values of our
// parts): parallel shafts at rA + rB (inside a ring rA − rB); across, axes that meet, with each wheel's middle plane
// the other's r and its own tooth face away from where they meet (double bevel 2 mm, crown 4 mm); a worm at 4 mm + r;
// a rack at r. A wheel's middle planes may differ by less than half their widths together.
#pragma once

#include <unordered_map>

#include "core/drive/mesh_fit.h"
#include "core/drive/train_load.h"
#include "core/model/project.h"
#include "core/model/wheel_size.h"

namespace ivrant::drive {

using geometry::Vec3;

/// Something with one speed: a shaft with all that is fixed to it, a loose wheel, a case, a turntable; what moves along
/// a line: a rack (teeth for each turn of the others), the rod of a linear actuator (mm for each turn).
struct NetThing {
    enum class Kind { Shaft, Wheel, Rack, Screw } kind = Kind::Shaft;
    std::string id;             ///< of the shaft, or of the gear
    std::string name;           ///< for the person: "shaft Input", "loose 24"
    int board = 0;              ///< index in the project
    Vec3 origin = Vec3::Zero(); ///< the shaft's start
    Vec3 axis = Vec3::UnitZ();  ///< positive turns are right-handed about it; a rack moves along it
    int carrier = -1;           ///< the thing it is told relative to; −1: the frame

    [[nodiscard]] bool isStraight() const { return kind == Kind::Rack || kind == Kind::Screw; }
    /// What one unit of its speed for each turn of the others comes to in mm; 0: it turns.
    [[nodiscard]] double mmPerUnit() const;
};

struct NetGear {
    const model::Gear* gear = nullptr;
    int board = 0;
    int thing = 0;              ///< that turns with it
    Vec3 centre = Vec3::Zero(); ///< of its middle plane; a rack's: the middle of its pitch line
    Vec3 axis = Vec3::UnitZ();
    double pitchRadiusMm = 0;
    double tipRadiusMm = 0;
    double halfWidthMm = 0; ///< along the axis; a rack's: half its length
};

enum class RelationKind { Mesh, Worm, RackMesh, Chain, Belt, Differential, Clutch, Coupling, Held, Screw };

/// What stands behind each relation of the train, in the same order.
struct NetRelation {
    RelationKind kind = RelationKind::Mesh;
    std::string text;             ///< "8 and 24 mesh", for sentences
    std::vector<std::string> ids; ///< of the wheels, shafts and loops concerned
    double errorMm = 0;           ///< of meshes: distance less the right one
};

/// Two wheels that touch and do not run: nearer or further than they mesh.
struct MeshFault {
    int gearA = 0, gearB = 0; ///< indices into BoardNet::gears
    Fit fit = Fit::Binds;
    double errorMm = 0;
};

/// Things in each other's way.
struct Clash {
    std::string idA, idB;
    std::string text; ///< "the 24 on Input meets the shaft Output"
    double depthMm = 0;
};

struct ShaftSupport {
    std::string shaft;
    std::vector<double> holesMm; ///< from the shaft's start, ascending: bearings, walls, holes of the section's bricks
    int bricks = 0;              ///< how many of them are bricks' holes
    double overhangMm = 0;       ///< how far the furthest wheel is out beyond the last hole; 0 between holes
    double shortMm = 0;          ///< how much longer the shaft would have to be to reach all its wheels and holes
};

/// A wheel that stands still beside a turning part and meshes with one that goes round with it: the mesh opens as soon
/// as it turns.
struct OffAxis {
    std::string idA, idB; ///< of the wheels
    std::string carrier;  ///< of the turning wheel
    double offMm = 0;     ///< how far the standing one is off the axis of turning
};

struct BoardNet {
    std::vector<NetThing> things;
    std::vector<NetGear> gears;
    Train train;
    std::vector<NetRelation> relations;
    std::vector<Efficiency> efficiency; ///< by relation; starting values
    std::vector<double> slack;          ///< by relation, for calcPlayRad; starting values
    std::vector<MeshFault> faults;
    std::vector<Clash> clashes;
    std::vector<ShaftSupport> supports; ///< by shaft thing, in order of the shafts
    std::vector<OffAxis> offAxis;
    std::vector<std::string> notes; ///< what could not be taken into account, in words

    std::unordered_map<std::string, int> thingOf, gearOf; ///< by id; a fixed wheel's thing is its shaft

    /// Thing of a shaft or gear by id; −1: none.
    [[nodiscard]] int findThing(const std::string& id) const;
    [[nodiscard]] int findGear(const std::string& id) const;
};

// Starting values, not measured (part of the product's domain).
inline constexpr double kSpurEfficiency = 0.92, kBevelEfficiency = 0.88, kCrownEfficiency = 0.85,
                        kChainEfficiency = 0.90, kWormEfficiency = 0.30, kBearingEfficiency = 0.98;
inline constexpr double kActuatorEfficiency = 0.25;
inline constexpr int kActuatorLeadMm = 4;  ///< for a turn
inline constexpr double kMeshPlayMm = 0.2; ///< along the pitch line, at the right distance

/// "24 on Input", "loose double bevel 12 on Span". `shaft` may be null.
[[nodiscard]] std::string describeGear(const model::Gear& gear, const NetThing* shaft);

/// `engaged`: loose wheels fixed to their shafts. Empty option: as the selectors stand. O(wheels²) per board pair, with
/// boxes first.
[[nodiscard]] BoardNet makeBoardNet(const model::Project& project, const std::vector<geometry::Frame>& X_CB,
                                    const std::optional<std::vector<model::GearId>>& engaged = std::nullopt);

} // namespace ivrant::drive
