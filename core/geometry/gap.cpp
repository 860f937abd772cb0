// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/gap.h"

#include <array>
#include <cmath>

#include "core/base/at.h"

namespace ivrant::geometry {
namespace {

/// Separation of two boxes along the best of the 15 axes; exact depth when negative.
Gap calcBoxGap(const PlacedSolid& a, const Vec3& ha, const PlacedSolid& b, const Vec3& hb) {
    const Mat3 r = a.R.transpose() * b.R;
    const Mat3 abs = r.cwiseAbs();
    const Vec3 t = a.R.transpose() * (b.centre - a.centre);
    Gap best{-1e300, Vec3::UnitX()};
    const auto offer = [&](double separation, const Vec3& axisInA, double along) {
        if (separation <= best.distance) return;
        best.distance = separation;
        best.normal = along < 0 ? Vec3(-axisInA) : axisInA;
    };
    for (int i = 0; i < 3; ++i) offer(std::abs(t[i]) - ha[i] - abs.row(i).dot(hb), Vec3::Unit(i), t[i]);
    for (int j = 0; j < 3; ++j) {
        const Vec3 axis = r.col(j);
        const double along = t.dot(axis);
        offer(std::abs(along) - hb[j] - abs.col(j).dot(ha), axis, along);
    }
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j) {
            const Vec3 axis = Vec3::Unit(i).cross(Vec3(r.col(j)));
            const double length = axis.norm();
            if (length < 1e-7) continue;
            const int i1 = (i + 1) % 3, i2 = (i + 2) % 3, j1 = (j + 1) % 3, j2 = (j + 2) % 3;
            const double ra = ha[i1] * abs(i2, j) + ha[i2] * abs(i1, j);
            const double rb = hb[j1] * abs(i, j2) + hb[j2] * abs(i, j1);
            const double along = t.dot(axis) / length;
            // A hair's breadth in favour of face axes, so that parallel boxes give the face normal.
            offer(std::abs(along) - (ra + rb) / length - 1e-9, axis / length, along);
        }
    best.normal = a.R * best.normal;
    return best;
}

struct Simplex {
    std::array<Vec3, 4> points;
    int count = 0;
};

/// Point of the segment, triangle or tetrahedron nearest to the origin; drops the points that do not carry it.
/// Returns false when the origin is inside the tetrahedron. (Ericson, Real-Time Collision Detection, ch. 5.1 and 9.5.)
Vec3 nearestOnSegment(Simplex& s) {
    Vec3 a = s.points[0];
    const Vec3 ab = s.points[1] - a;
    const double t = -a.dot(ab);
    const double d = ab.squaredNorm();
    if (t <= 0 || d <= 0) {
        s.count = 1;
        return a;
    }
    if (t >= d) {
        s.points[0] = s.points[1];
        s.count = 1;
        return s.points[0];
    }
    return a + ab * (t / d);
}

Vec3 nearestOnTriangle(Simplex& s) {
    const Vec3 a = s.points[0], b = s.points[1], c = s.points[2];
    const Vec3 ab = b - a, ac = c - a;
    const double d1 = -ab.dot(a), d2 = -ac.dot(a), d3 = -ab.dot(b), d4 = -ac.dot(b), d5 = -ab.dot(c), d6 = -ac.dot(c);
    const auto keep = [&](const Vec3& p, const Vec3& q) {
        s.points[0] = p;
        s.points[1] = q;
        s.count = 2;
        return nearestOnSegment(s);
    };
    const auto vertex = [&](const Vec3& p) {
        s.points[0] = p;
        s.count = 1;
        return p;
    };
    if (d1 <= 0 && d2 <= 0) return vertex(a);
    if (d3 >= 0 && d4 <= d3) return vertex(b);
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return keep(a, b);
    if (d6 >= 0 && d5 <= d6) return vertex(c);
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return keep(a, c);
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return keep(b, c);
    const double sum = va + vb + vc;
    if (sum <= 0) return keep(a, b);
    return a + ab * (vb / sum) + ac * (vc / sum);
}

bool nearestOnTetrahedron(Simplex& s, Vec3& nearest) {
    static constexpr std::array<std::array<std::size_t, 4>, 4> kFaces{
        {{0, 1, 2, 3}, {0, 2, 3, 1}, {0, 3, 1, 2}, {1, 3, 2, 0}}};
    double best = 1e300;
    Simplex bestSimplex;
    for (const auto& f : kFaces) {
        const Vec3 &a = s.points[f[0]], &b = s.points[f[1]], &c = s.points[f[2]], &d = s.points[f[3]];
        const Vec3 n = (b - a).cross(c - a);
        const double originSide = -n.dot(a), innerSide = n.dot(d - a);
        if (originSide * innerSide > 0) continue; // origin on the inner side of this face
        Simplex face;
        face.points = {a, b, c, Vec3::Zero()};
        face.count = 3;
        const Vec3 p = nearestOnTriangle(face);
        if (p.squaredNorm() < best) {
            best = p.squaredNorm();
            bestSimplex = face;
            nearest = p;
        }
    }
    if (best > 1e299) return false;
    s = bestSimplex;
    return true;
}

Vec3 supportOf(const Solid& solid, const PlacedSolid& place, const Vec3& direction) {
    return place.centre + place.R * findSupport(solid, place.R.transpose() * direction);
}

/// GJK distance of two convex solids, exact to about 1e-7 mm; 0 when they intersect. `sweep`: a moved along it, with
/// all that it passes; `yesNo`: a positive distance is told as soon as one is certain.
Gap calcRoundGap(const Solid& sa, const PlacedSolid& a, const Solid& sb, const PlacedSolid& b,
                 const Vec3& sweep = Vec3::Zero(), bool yesNo = false) {
    // The Minkowski difference b − a; v is its point nearest to the origin, so v points from a towards b.
    Vec3 v = b.centre - a.centre;
    if (v.squaredNorm() < 1e-18) v = Vec3::UnitX();
    Simplex simplex;
    double lower = 0;
    for (int iteration = 0; iteration < 128; ++iteration) {
        Vec3 w = supportOf(sb, b, -v) - supportOf(sa, a, v);
        if (v.dot(sweep) > 0) w -= sweep;
        const double norm = v.norm();
        lower = std::max(lower, v.dot(w) / norm);
        if (yesNo && lower > 1e-7) return {lower, v / norm};
        if (simplex.count > 0) {
            if (norm - lower <= 1e-7 + 1e-9 * norm) return {norm, v / norm};
            bool known = false;
            for (int i = 0; i < simplex.count; ++i) known = known || (at(simplex.points, i) - w).squaredNorm() < 1e-20;
            if (known) return {std::max(lower, 0.0), v / norm};
        }
        at(simplex.points, simplex.count++) = w;
        Vec3 nearest = w;
        if (simplex.count == 2)
            nearest = nearestOnSegment(simplex);
        else if (simplex.count == 3)
            nearest = nearestOnTriangle(simplex);
        else if (simplex.count == 4 && !nearestOnTetrahedron(simplex, nearest))
            return {0.0, v / norm};
        if (nearest.squaredNorm() < 1e-14) return {0.0, v / norm};
        v = nearest;
    }
    const double norm = v.norm();
    return {std::max(lower, 0.0), v / norm};
}

bool bothBoxes(const PlacedSolid& a, const PlacedSolid& b) {
    return a.solid->kind == SolidKind::Box && b.solid->kind == SolidKind::Box;
}

} // namespace

Gap calcGap(const PlacedSolid& a, const PlacedSolid& b) {
    if (bothBoxes(a, b)) return calcBoxGap(a, a.solid->half, b, b.solid->half);
    return calcRoundGap(*a.solid, a, *b.solid, b);
}

Gap calcToleratedGap(const PlacedSolid& a, const PlacedSolid& b) {
    if (bothBoxes(a, b)) {
        Gap gap = calcBoxGap(a, a.solid->half, b, b.solid->half);
        gap.distance += kContactToleranceMm;
        return gap;
    }
    return calcRoundGap(*a.eroded, a, *b.solid, b);
}

bool isSweepClear(const PlacedSolid& a, const Vec3& sweep, const PlacedSolid& b) {
    return calcRoundGap(*a.eroded, a, *b.solid, b, sweep, true).distance > 0;
}

double calcDistance(const PlacedSolid& a, const PlacedSolid& b) {
    return calcRoundGap(*a.solid, a, *b.solid, b).distance;
}

double calcDepth(const PlacedSolid& a, const PlacedSolid& b) {
    if (bothBoxes(a, b)) return std::max(0.0, -calcBoxGap(a, a.solid->half, b, b.solid->half).distance);
    if (calcRoundGap(*a.solid, a, *b.solid, b).distance > 0) return 0.0;
    double apart = a.solid->reach, touching = 0;
    while (apart - touching > 0.001) {
        const double middle = 0.5 * (apart + touching);
        const Solid eroded = calcEroded(*a.solid, middle);
        (calcRoundGap(eroded, a, *b.solid, b).distance > 0 ? apart : touching) = middle;
    }
    return apart;
}

} // namespace ivrant::geometry
