// SPDX-License-Identifier: GPL-3.0-or-later
// Where could a new part go, and which sections could be joined?
//
// A fit puts a port of the new shape on a free port of a part that is there. Poses are in the world, mm.
#pragma once

#include "core/bonds/section_bonds.h"
#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::bonds {

struct Fit {
    geometry::Frame X_W = geometry::Frame::Identity(); ///< of the new part
    model::PartSpot target;
    std::string targetPort, ownPort;
    parts::BondKind kind = parts::BondKind::None;
};

/// Frame of a part whose port `own` is mated with `there` of a part at `X`: origins together, axes opposed, turned by
/// quarter turns about them. In the frame of X.
[[nodiscard]] geometry::Frame calcMatedFrame(const geometry::Frame& X, const parts::Port& there, const parts::Port& own,
                                             int quarters);

/// Fits of `shape` on the free ports of the target part, nearest to `near` (world) and to the wished attitude first; no
/// two with the same pose. At most `most`.
[[nodiscard]] std::vector<Fit> listFits(const model::Placed& placed, const std::vector<SectionBondsPtr>& bonds,
                                        model::PartSpot target, const geometry::Vec3& near, const parts::Shape& shape,
                                        const geometry::Mat3& wished, std::size_t most = 24);

struct JointOffer {
    model::PortRef from, to;
    const parts::JointKind* kind = nullptr;
    int fromSection = 0, toSection = 0;
};

/// Movable ports of two sections that meet in the world and could become a joint: the carried section must not be
/// carried yet, nor carry the other; or both hang together already by other joints, and this one would close a ring
/// (these come last). A single stud between two sections counts, two or more do not (they hold rigidly).
[[nodiscard]] std::vector<JointOffer> listJointOffers(const model::Placed& placed, const model::SectionTree& tree);

/// The joint that two parts could make by any pair of free movable ports, met or not; the first part carries, or the
/// joint closes a ring.
[[nodiscard]] std::optional<JointOffer> findJointBetween(const model::Placed& placed, const model::SectionTree& tree,
                                                         model::PartSpot from, model::PartSpot to);

} // namespace ivrant::bonds
