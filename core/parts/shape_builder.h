// SPDX-License-Identifier: GPL-3.0-or-later
// How is a shape put together? Used by the families only.
//
// Bodies are given at their full size; the builder insets the sides for collision by 0.1 mm per face and keeps the
// full size for drawing. The mass follows from the drawn volume and the family's fill factor.
#pragma once

#include "core/parts/shape.h"

namespace ivrant::parts {

inline constexpr double kSideInsetMm = 0.1;
inline constexpr double kStudRadiusMm = 2.4;
inline constexpr double kStudHeightMm = 1.7;
inline constexpr double kOverStudMm = 1.8;  ///< what overhangs a stud begins this high
inline constexpr double kNearStudMm = 0.06; ///< what lies level with a stud's top gives way by this much
inline constexpr double kBarRadiusMm = 1.6;
inline constexpr double kHoleRadiusMm = 2.4;
inline constexpr double kDensityGPerMm3 = 1.05e-3;

class ShapeBuilder {
public:
    ShapeBuilder(std::string family, std::string name, double fillFactor);

    /// Box body, inset on the four sides (x and y faces), full height. Returns its solid index.
    int addBody(const geometry::Vec3& low, const geometry::Vec3& high);
    /// Box as it is, no inset.
    int addBox(const geometry::Vec3& low, const geometry::Vec3& high);
    /// Upright cylinder body, radius inset.
    int addRoundBody(const geometry::Vec3& foot, double height, double radius);
    /// Cylinder as it is.
    int addCylinder(const geometry::Vec3& start, const geometry::Vec3& end, double radius);
    int addSphere(const geometry::Vec3& centre, double radius);
    /// Convex profile in (y, z), counter-clockwise seen from +x, extruded over x in [x0, x1]; sides inset.
    int addProfile(std::vector<Eigen::Vector2d> yz, double x0, double x1);

    /// Convex plan in (x, y), counter-clockwise seen from above, extruded over z in [z0, z1]; sides inset.
    int addPlan(const std::vector<Eigen::Vector2d>& xy, double z0, double z1);
    /// Convex elevation in (x, z), counter-clockwise seen from −y, extruded over y in [y0, y1]; as it is.
    int addElevation(const std::vector<Eigen::Vector2d>& xz, double y0, double y1);

    /// Drawn and weighed, but not in anybody's way.
    void addPicture(const geometry::Solid& drawn);
    /// In the way, but neither drawn nor weighed. Returns its solid index.
    int addContact(const geometry::Solid& collision);

    /// `clearMm`: how much less its radius counts for collision, where it passes close by a stud below.
    void addStud(const std::string& name, const geometry::Vec3& foot, const geometry::Vec3& axis, bool hollow = false,
                 double clearMm = 0);
    /// `bodies`: the solids in which the cell or tube is a cavity.
    void addCell(const std::string& name, const geometry::Vec3& at, const std::vector<int>& bodies);
    void addTube(const std::string& name, const geometry::Vec3& at, const std::vector<int>& bodies);
    Port& addPort(PortKind kind, const std::string& name, const geometry::Vec3& at, const geometry::Vec3& axis,
                  const geometry::Vec3& reference, const std::vector<int>& solids);

    /// A hole or shaft open at both ends: "NAME" opens along `axis`, "NAME back" the other way.
    void addThrough(PortKind kind, const std::string& name, const geometry::Vec3& at, const geometry::Vec3& axis,
                    const geometry::Vec3& reference, double depth, const std::vector<int>& solids);

    /// Teeth about the x axis at the origin, unless told otherwise; `solids`: those that mesh.
    ToothRing& addRing(GearKind kind, int teeth, const std::vector<int>& solids);

    /// Studs at (8i, 8j, z) for i < a, j < b.
    void addStudGrid(int a, int b, double z, bool hollow = false);
    /// Cells, and tubes between them when both counts are at least 2.
    void addUnderside(int a, int b, const std::vector<int>& bodies);

    [[nodiscard]] Shape build() &&;

private:
    int addSolid(const geometry::Solid& collision, const geometry::Solid& drawn);
    Shape m_shape;
};

/// "stud 0,1"
[[nodiscard]] std::string gridName(std::string_view what, int i, int j);

} // namespace ivrant::parts
