// SPDX-License-Identifier: GPL-3.0-or-later
// Which train does a machine make, and what is wrong with how it lies?
//
// Wheels mesh where their places say so: nothing about meshing is stored, and planes of any attitude mesh with each
// other. Lengths mm, axes unit vectors in the model's frame C. What turns and how fast is train.h's business. Rules of
// meshing (module 1, r = teeth/2; starting values of our parts): parallel shafts at rA + rB (inside a ring rA − rB);
// across, axes that meet, with each wheel's middle plane the other's r and its own tooth face away from where they meet
// (double bevel 2 mm, crown 4 mm); a worm at 4 mm + r; a rack at r. A wheel's middle planes may differ by less than
// half their widths together.
#pragma once

#include <optional>

#include "core/drive/drive_model.h"
#include "core/drive/mesh_fit.h"
#include "core/drive/train_load.h"

namespace ivrant::drive {

enum class RelationKind { Mesh, Worm, RackMesh, Chain, Belt, Differential, Clutch, Coupling, Held, Screw };

/// What stands behind each relation of the train, in the same order.
struct NetRelation {
    RelationKind kind = RelationKind::Mesh;
    std::string text;             ///< "8 and 24 mesh", for sentences
    std::vector<std::string> ids; ///< of the wheels, shafts and loops concerned
    double errorMm = 0;           ///< of meshes: distance less the right one
    Fit fit = Fit::Meshes;        ///< of meshes
};

/// Two wheels that touch and do not run: nearer or further than they mesh.
struct MeshFault {
    int gearA = 0, gearB = 0; ///< indices into DriveModel::rings
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
    unsigned universals = 0;     ///< universal joints at its ends
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

/// The machine with the train that it makes.
struct DriveNet : DriveModel {
    Train train; ///< of the rotors
    std::vector<NetRelation> relations;
    std::vector<Efficiency> efficiency; ///< by relation; starting values
    std::vector<double> slack;          ///< by relation, for calcPlayRad; starting values
    std::vector<MeshFault> faults;
    std::vector<Clash> clashes;
    std::vector<ShaftSupport> supports; ///< by shaft, in their order
    std::vector<OffAxis> offAxis;
};

// Starting values, not measured (part of the product's domain).
inline constexpr double kSpurEfficiency = 0.92, kBevelEfficiency = 0.88, kCrownEfficiency = 0.85,
                        kChainEfficiency = 0.90, kWormEfficiency = 0.30, kBearingEfficiency = 0.98;
inline constexpr double kActuatorEfficiency = 0.25;
inline constexpr int kActuatorLeadMm = 4;  ///< for a turn
inline constexpr double kMeshPlayMm = 0.2; ///< along the pitch line, at the right distance

/// `engaged`: loose wheels (by id) that are fixed to their shafts now. O(rings²) at worst, boxes first.
[[nodiscard]] DriveNet makeDriveNet(DriveModel model, const std::vector<std::string>& engaged);

} // namespace ivrant::drive
