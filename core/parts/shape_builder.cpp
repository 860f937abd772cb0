// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/shape_builder.h"

#include "core/base/units.h"
#include "core/geometry/gap.h"
#include "core/geometry/union_volume.h"

namespace ivrant::parts {

using geometry::Vec3;

ShapeBuilder::ShapeBuilder(std::string family, std::string name, double fillFactor) {
    m_shape.family = std::move(family);
    m_shape.name = std::move(name);
    m_shape.fillFactor = fillFactor;
}

int ShapeBuilder::addSolid(const geometry::Solid& collision, const geometry::Solid& drawn) {
    m_shape.solids.push_back({collision, geometry::calcEroded(collision, geometry::kContactToleranceMm), -1});
    m_shape.drawn.push_back(drawn);
    return static_cast<int>(m_shape.solids.size()) - 1;
}

void ShapeBuilder::addPicture(const geometry::Solid& drawn) { m_shape.drawn.push_back(drawn); }

int ShapeBuilder::addContact(const geometry::Solid& collision) {
    m_shape.solids.push_back({collision, geometry::calcEroded(collision, geometry::kContactToleranceMm), -1});
    return static_cast<int>(m_shape.solids.size()) - 1;
}

int ShapeBuilder::addBody(const Vec3& low, const Vec3& high) {
    const Vec3 inset(kSideInsetMm, kSideInsetMm, 0);
    return addSolid(geometry::makeBox(low + inset, high - inset), geometry::makeBox(low, high));
}

int ShapeBuilder::addBox(const Vec3& low, const Vec3& high) {
    return addSolid(geometry::makeBox(low, high), geometry::makeBox(low, high));
}

int ShapeBuilder::addRoundBody(const Vec3& foot, double height, double radius) {
    const Vec3 top = foot + Vec3(0, 0, height);
    return addSolid(geometry::makeCylinder(foot, top, radius - kSideInsetMm),
                    geometry::makeCylinder(foot, top, radius));
}

int ShapeBuilder::addCylinder(const Vec3& start, const Vec3& end, double radius) {
    const auto c = geometry::makeCylinder(start, end, radius);
    return addSolid(c, c);
}

int ShapeBuilder::addSphere(const Vec3& centre, double radius) {
    const auto s = geometry::makeSphere(centre, radius);
    return addSolid(s, s);
}

int ShapeBuilder::addProfile(std::vector<Eigen::Vector2d> yz, double x0, double x1) {
    // Prism frame: its x is the part's y, its y is the part's z, so its z is the part's x.
    geometry::Mat3 r;
    r.col(0) = Vec3::UnitY();
    r.col(1) = Vec3::UnitZ();
    r.col(2) = Vec3::UnitX();
    const geometry::Frame frame = geometry::makeFrame(r, Vec3(0.5 * (x0 + x1), 0, 0));
    const auto drawn = geometry::makePrism(frame, yz, 0.5 * (x1 - x0));
    double low = 1e30, high = -1e30;
    for (const auto& p : yz) {
        low = std::min(low, p.x());
        high = std::max(high, p.x());
    }
    for (auto& p : yz) p.x() = std::clamp(p.x(), low + kSideInsetMm, high - kSideInsetMm);
    return addSolid(geometry::makePrism(frame, yz, 0.5 * (x1 - x0) - kSideInsetMm), drawn);
}

namespace {

/// A convex outline, counter-clockwise, with every side moved in by so much, mm: neighbouring sides meet where their
/// moved lines do.
std::vector<Eigen::Vector2d> calcInset(const std::vector<Eigen::Vector2d>& outline, double inset) {
    const std::size_t n = outline.size();
    const auto way = [&](std::size_t i) {
        return Eigen::Vector2d((outline[(i + 1) % n] - outline[i % n]).normalized());
    };
    std::vector<Eigen::Vector2d> in;
    for (std::size_t i = 0; i < n; ++i) {
        const Eigen::Vector2d before = way(i + n - 1), after = way(i);
        const double sine = before.x() * after.y() - before.y() * after.x();
        // Along both sides as far as both are moved; straight in where they lie in one line.
        const Eigen::Vector2d left(-after.y(), after.x());
        in.push_back(outline[i] +
                     (sine < 1e-9 ? Eigen::Vector2d(inset * left) : Eigen::Vector2d(inset / sine * (after - before))));
    }
    return in;
}

} // namespace

int ShapeBuilder::addPlan(const std::vector<Eigen::Vector2d>& xy, double z0, double z1) {
    const geometry::Frame frame = geometry::makeFrame(geometry::Mat3::Identity(), Vec3(0, 0, 0.5 * (z0 + z1)));
    const auto drawn = geometry::makePrism(frame, xy, 0.5 * (z1 - z0));
    return addSolid(geometry::makePrism(frame, calcInset(xy, kSideInsetMm), 0.5 * (z1 - z0)), drawn);
}

int ShapeBuilder::addElevation(const std::vector<Eigen::Vector2d>& xz, double y0, double y1) {
    // Prism frame: its x is the part's x, its y is the part's z, so its z is the part's −y.
    geometry::Mat3 r;
    r.col(0) = Vec3::UnitX();
    r.col(1) = Vec3::UnitZ();
    r.col(2) = -Vec3::UnitY();
    const auto prism = geometry::makePrism(geometry::makeFrame(r, Vec3(0, 0.5 * (y0 + y1), 0)), xz, 0.5 * (y1 - y0));
    return addSolid(prism, prism);
}

Port& ShapeBuilder::addPort(PortKind kind, const std::string& name, const Vec3& at, const Vec3& axis,
                            const Vec3& reference, const std::vector<int>& solids) {
    Port port;
    port.kind = kind;
    port.name = name;
    port.origin = at;
    port.axis = axis;
    port.reference = reference;
    port.solids = solids;
    m_shape.ports.push_back(std::move(port));
    return m_shape.ports.back();
}

void ShapeBuilder::addThrough(PortKind kind, const std::string& name, const Vec3& at, const Vec3& axis,
                              const Vec3& reference, double depth, const std::vector<int>& solids) {
    addPort(kind, name, at, axis, reference, solids).depth = depth;
    addPort(kind, name + " back", at, -axis, reference, solids).depth = depth;
}

ToothRing& ShapeBuilder::addRing(GearKind kind, int teeth, const std::vector<int>& solids) {
    m_shape.rings.push_back({kind, teeth, Vec3::Zero(), Vec3::UnitX(), Vec3::Zero(), 0, solids});
    return m_shape.rings.back();
}

void ShapeBuilder::addStud(const std::string& name, const Vec3& foot, const Vec3& axis, bool hollow, double clearMm) {
    const auto cylinder = geometry::makeCylinder(foot, foot + axis * kStudHeightMm, kStudRadiusMm - clearMm);
    m_shape.solids.push_back({cylinder, geometry::calcEroded(cylinder, geometry::kContactToleranceMm),
                              static_cast<int>(m_shape.ports.size())});
    const Vec3 reference = std::abs(axis.z()) > 0.5 ? Vec3::UnitX() : Vec3::UnitZ();
    Port& port = addPort(PortKind::Stud, name, foot, axis, reference, {static_cast<int>(m_shape.solids.size()) - 1});
    port.hollow = hollow;
}

void ShapeBuilder::addCell(const std::string& name, const Vec3& at, const std::vector<int>& bodies) {
    addPort(PortKind::Cell, name, at, -Vec3::UnitZ(), Vec3::UnitX(), bodies);
}

void ShapeBuilder::addTube(const std::string& name, const Vec3& at, const std::vector<int>& bodies) {
    addPort(PortKind::Tube, name, at, -Vec3::UnitZ(), Vec3::UnitX(), bodies).hollow = true;
}

void ShapeBuilder::addStudGrid(int a, int b, double z, bool hollow) {
    for (int i = 0; i < a; ++i)
        for (int j = 0; j < b; ++j)
            addStud(gridName("stud", i, j), Vec3(i * base::kPitchMm, j * base::kPitchMm, z), Vec3::UnitZ(), hollow);
}

void ShapeBuilder::addUnderside(int a, int b, const std::vector<int>& bodies) {
    for (int i = 0; i < a; ++i)
        for (int j = 0; j < b; ++j)
            addCell(gridName("cell", i, j), Vec3(i * base::kPitchMm, j * base::kPitchMm, 0), bodies);
    for (int i = 0; i + 1 < a; ++i)
        for (int j = 0; j + 1 < b; ++j)
            addTube(gridName("tube", i, j), Vec3((i + 0.5) * base::kPitchMm, (j + 0.5) * base::kPitchMm, 0), bodies);
}

Shape ShapeBuilder::build() && {
    const auto body = geometry::calcFilledSpace(m_shape.drawn); // pieces overlap where they meet
    double volume = body.volume;
    Vec3 moment = body.moment;
    for (const auto& s : m_shape.solids) {
        m_shape.bounds.include(geometry::calcBounds(s.solid, geometry::Frame::Identity()));
        if (s.studPort < 0) continue;
        const double stud = geometry::calcVolume(s.solid);
        volume += stud;
        moment += stud * geometry::calcCentroid(s.solid);
    }
    m_shape.massG = volume * kDensityGPerMm3 * m_shape.fillFactor;
    m_shape.centre = moment / volume;
    return std::move(m_shape);
}

std::string gridName(std::string_view what, int i, int j) {
    return std::string(what) + " " + std::to_string(i) + "," + std::to_string(j);
}

} // namespace ivrant::parts
