// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/pieces.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/hull_solid.h"

namespace ivrant::geometry {
namespace {

using base::Error;

constexpr double kWeldMm = 1e-3, kLeastMm3 = 0.5, kThinnestMm = 0.5;
constexpr int kCoarseDirections = 66;
constexpr double kEven = 0.02; ///< how much more hull a wholly uneven cut, or one across the shortest way, must save
constexpr double kOnPlaneMm = 6e-4; ///< half a step of the weld grid, on which own planes lie
constexpr int kCuts = 7;            ///< even planes tried along each axis
constexpr std::size_t kOwn = 6;     ///< and those through most corners of the mesh

struct Piece {
    struct Corner3 {
        std::array<Vec3, 3> p;
        bool cap; ///< of a cut: counts for the volume, not for the hull
    };
    std::vector<Corner3> triangles;
    double volume = 0;
    Solid hull;
    [[nodiscard]] double excess() const { return calcVolume(hull) - volume; }
};

std::vector<Vec3> makeDirections(int count) {
    std::vector<Vec3> all;
    for (int x = -1; x <= 1; ++x) // boxes and their edges come out exactly
        for (int y = -1; y <= 1; ++y)
            for (int z = -1; z <= 1; ++z)
                if (x != 0 || y != 0 || z != 0) all.push_back(Vec3(x, y, z).normalized());
    const int rest = count - static_cast<int>(all.size());
    const double golden = base::kPi * (3 - std::sqrt(5.0));
    for (int i = 0; i < rest; ++i) {
        const double z = 1 - 2 * (i + 0.5) / rest, r = std::sqrt(1 - z * z);
        all.emplace_back(r * std::cos(golden * i), r * std::sin(golden * i), z);
    }
    return all;
}

double coneVolume(const std::array<Vec3, 3>& t) { return t[0].dot(t[1].cross(t[2])) / 6; }

/// Volume and hull of the triangles; false when there is too little of it. `fine`: not only to compare cuts.
bool finish(Piece& piece, bool fine) {
    static const std::vector<Vec3> kFine = makeDirections(kHullDirections), kCoarse = makeDirections(kCoarseDirections);
    const auto& directions = fine ? kFine : kCoarse;
    std::vector<double> most(directions.size(), -1e300);
    std::vector<Vec3> extreme(directions.size());
    piece.volume = 0;
    bool any = false;
    for (const auto& t : piece.triangles) {
        piece.volume += coneVolume(t.p);
        if (t.cap) continue;
        any = true;
        for (const Vec3& p : t.p)
            for (std::size_t d = 0; d < directions.size(); ++d)
                if (const double along = directions[d].dot(p); along > most[d]) {
                    most[d] = along;
                    extreme[d] = p;
                }
    }
    if (!any || piece.volume < kLeastMm3) return false;
    try {
        piece.hull = makeHull(extreme);
    } catch (const std::invalid_argument&) {
        return false;
    }
    return true;
}

/// What lies on one side of the plane x[axis] = at; `sign` +1: above. Every edge that comes to lie in the plane is an
/// edge of the cut, which is closed by a signed fan over them; faces in the plane are replaced by it.
Piece clip(const Piece& whole, int axis, double at, double sign) {
    Piece part;
    std::optional<Vec3> apex;
    for (const auto& t : whole.triangles) {
        std::array<int, 3> side{};
        for (std::size_t i = 0; i < 3; ++i) {
            const double d = sign * (t.p[i][axis] - at);
            side[i] = std::abs(d) < kOnPlaneMm ? 0 : d > 0 ? 1 : -1;
        }
        if (*std::max_element(side.begin(), side.end()) < 1) continue;
        std::vector<std::pair<Vec3, bool>> kept; // point, and whether it lies in the plane
        for (std::size_t i = 0; i < 3; ++i) {
            const std::size_t k = (i + 1) % 3;
            if (side[i] >= 0) kept.emplace_back(t.p[i], side[i] == 0);
            if (side[i] * side[k] >= 0) continue;
            Vec3 cut = t.p[i] + (t.p[k] - t.p[i]) * ((at - t.p[i][axis]) / (t.p[k][axis] - t.p[i][axis]));
            cut[axis] = at;
            kept.emplace_back(cut, true);
        }
        for (std::size_t i = 2; i < kept.size(); ++i)
            part.triangles.push_back({{kept[0].first, kept[i - 1].first, kept[i].first}, t.cap});
        for (std::size_t i = 0; i < kept.size(); ++i) {
            const auto &u = kept[i], &v = kept[(i + 1) % kept.size()];
            if (!u.second || !v.second) continue;
            if (!apex) apex = u.first;
            part.triangles.push_back({{*apex, v.first, u.first}, true});
        }
    }
    return part;
}

std::vector<double> listCuts(const Piece& piece, int axis, const Bounds& bounds) {
    const double low = bounds.low[axis] + kThinnestMm, high = bounds.high[axis] - kThinnestMm;
    std::vector<double> cuts;
    for (int i = 1; i <= kCuts; ++i) cuts.push_back(bounds.low[axis] + bounds.size()[axis] * i / (kCuts + 1));
    std::map<long, int> corners; // in steps of the weld grid
    for (const auto& t : piece.triangles)
        for (const Vec3& p : t.p)
            if (!t.cap) ++corners[std::lrint(p[axis] / kWeldMm)];
    std::vector<std::pair<int, long>> byCount;
    for (const auto& [at, count] : corners)
        if (const double x = static_cast<double>(at) * kWeldMm; x > low && x < high) byCount.emplace_back(-count, at);
    std::sort(byCount.begin(), byCount.end());
    for (std::size_t i = 0; i < std::min(kOwn, byCount.size()); ++i)
        cuts.push_back(static_cast<double>(byCount[i].second) * kWeldMm);
    std::erase_if(cuts, [&](double x) { return x < low || x > high; });
    return cuts;
}

/// The cut of a piece that leaves the least hull in sum, an even one among equals: the first cuts through a ring gain
/// nothing yet.
std::optional<std::pair<Piece, Piece>> findBestCut(const Piece& piece) {
    std::optional<std::pair<Piece, Piece>> best;
    double least = 1e300;
    const Bounds bounds = calcBounds(piece.hull, Frame::Identity());
    for (int axis = 0; axis < 3; ++axis)
        for (const double at : listCuts(piece, axis, bounds)) {
            Piece low = clip(piece, axis, at, -1), high = clip(piece, axis, at, 1);
            if (!finish(low, false) || !finish(high, false)) continue;
            const double uneven = std::abs(low.volume - high.volume) / (low.volume + high.volume);
            const double across = 1 - bounds.size()[axis] / bounds.size().maxCoeff();
            const double sum = (calcVolume(low.hull) + calcVolume(high.hull)) * (1 + kEven * (uneven + across));
            if (sum >= least) continue;
            least = sum;
            best = {std::move(low), std::move(high)};
        }
    if (best && !(finish(best->first, true) && finish(best->second, true))) best.reset();
    return best;
}

/// How far a point lies outside all pieces.
double calcOutsideAll(const std::vector<Solid>& pieces, const Vec3& p) {
    double least = 1e300;
    for (const Solid& piece : pieces) least = std::min(least, calcOutside(piece, p));
    return least;
}

std::string formatPoint(const Vec3& p) {
    return base::formatNumber(p.x(), 2) + ", " + base::formatNumber(p.y(), 2) + ", " + base::formatNumber(p.z(), 2);
}

} // namespace

base::Result<MeshBody> makeMeshBody(const TriangleMesh& mesh) {
    if (mesh.triangles.empty()) return Error{"mesh.empty", "the mesh has no triangles", ""};
    if (mesh.triangles.size() > kMostTriangles)
        return Error{"mesh.size",
                     "the mesh has " + std::to_string(mesh.triangles.size()) + " triangles; at most " +
                         std::to_string(kMostTriangles) + " can stand in for a part",
                     ""};
    Bounds bounds;
    for (const Vec3& p : mesh.points) {
        if (!p.allFinite()) return Error{"mesh.number", "a corner of the mesh is not a number", ""};
        bounds.include(p);
    }
    if (bounds.empty() || bounds.size().maxCoeff() > kMostMeshMm || bounds.size().maxCoeff() < 1)
        return Error{"mesh.size",
                     "the mesh is " + base::formatNumber(bounds.empty() ? 0 : bounds.size().maxCoeff(), 3) +
                         " mm across; 1 to " + base::formatNumber(kMostMeshMm, 0) +
                         " mm is expected: is the unit right?",
                     ""};
    MeshBody body;
    std::map<std::array<long, 3>, int>
        known; // neighbouring cells of the weld grid are not looked at: exporters repeat points exactly
    std::vector<int> welded(mesh.points.size());
    for (std::size_t i = 0; i < mesh.points.size(); ++i) {
        const Vec3 cell = (mesh.points[i] / kWeldMm).array().round();
        const auto [at, fresh] = known.try_emplace({std::lrint(cell.x()), std::lrint(cell.y()), std::lrint(cell.z())},
                                                   static_cast<int>(body.mesh.points.size()));
        if (fresh) body.mesh.points.push_back(mesh.points[i]);
        welded[i] = at->second;
    }
    std::map<std::pair<int, int>, int> edges; // directed edge: how often
    for (const auto& t : mesh.triangles) {
        std::array<int, 3> w{};
        for (std::size_t k = 0; k < 3; ++k) {
            if (t[k] < 0 || static_cast<std::size_t>(t[k]) >= mesh.points.size())
                return Error{"mesh.number", "a triangle names a corner that is not there", ""};
            w[k] = ivrant::at(welded, t[k]);
        }
        if (w[0] == w[1] || w[1] == w[2] || w[0] == w[2]) continue;
        for (std::size_t k = 0; k < 3; ++k) ++edges[{w[k], w[(k + 1) % 3]}];
        body.mesh.triangles.push_back(w);
    }
    std::size_t open = 0;
    std::optional<int> first;
    for (const auto& [edge, count] : edges) {
        const auto back = edges.find({edge.second, edge.first});
        if (back != edges.end() && back->second == count) continue;
        ++open;
        if (!first) first = edge.first;
    }
    if (open > 0)
        return Error{"mesh.open",
                     "the mesh is not closed: " + std::to_string(open) +
                         " edges do not join two triangles of the same sense, the first at (" +
                         formatPoint(ivrant::at(body.mesh.points, *first)) + ") mm",
                     ""};
    const auto corner = [&](int i) -> const Vec3& { return ivrant::at(body.mesh.points, i); };
    Vec3 moment = Vec3::Zero();
    for (const auto& t : body.mesh.triangles) {
        const double v = coneVolume({corner(t[0]), corner(t[1]), corner(t[2])});
        body.volume += v;
        moment += v * (corner(t[0]) + corner(t[1]) + corner(t[2])) / 4;
    }
    if (std::abs(body.volume) < kLeastMm3) return Error{"mesh.empty", "the mesh holds no volume", ""};
    body.centre = moment / body.volume;
    if (body.volume < 0) { // inside out: turned
        body.volume = -body.volume;
        for (auto& t : body.mesh.triangles) std::swap(t[1], t[2]);
    }
    return body;
}

bool isMirrored(const TriangleMesh& mesh, double planeX) {
    constexpr double kNear = 0.01;
    std::vector<Vec3> sorted = mesh.points;
    std::sort(sorted.begin(), sorted.end(), [](const Vec3& l, const Vec3& r) { return l.x() < r.x(); });
    return std::all_of(sorted.begin(), sorted.end(), [&](const Vec3& p) {
        const Vec3 image(2 * planeX - p.x(), p.y(), p.z());
        auto q = std::lower_bound(sorted.begin(), sorted.end(), image.x() - kNear,
                                  [](const Vec3& l, double x) { return l.x() < x; });
        for (; q != sorted.end() && q->x() <= image.x() + kNear; ++q)
            if ((*q - image).norm() < kNear) return true;
        return false;
    });
}

base::Result<ConvexPieces> calcConvexPieces(const MeshBody& body, int most, double enoughShare,
                                            base::Progress* progress) {
    Piece whole;
    for (const auto& t : body.mesh.triangles) {
        const auto corner = [&](std::size_t k) {
            return Vec3(ivrant::at(body.mesh.points, t[k]) - body.centre);
        }; // volumes about the middle
        whole.triangles.push_back({{corner(0), corner(1), corner(2)}, false});
    }
    if (!finish(whole, true)) return Error{"mesh.empty", "the mesh holds no volume", ""};
    std::vector<Piece> done, open;
    open.push_back(std::move(whole));
    const auto sumExcess = [&] {
        double sum = 0;
        for (const auto* list : {&done, &open})
            for (const Piece& piece : *list) sum += piece.excess();
        return sum;
    };
    while (!open.empty() && static_cast<int>(done.size() + open.size()) < most &&
           sumExcess() > enoughShare * body.volume) {
        if (progress) {
            if (progress->stopped()) return Error{"mesh.stopped", "stopped", ""};
            progress->report(static_cast<double>(done.size() + open.size()) / most);
        }
        const auto worst = std::max_element(open.begin(), open.end(),
                                            [](const Piece& l, const Piece& r) { return l.excess() < r.excess(); });
        auto cut = findBestCut(*worst);
        if (!cut) {
            done.push_back(std::move(*worst));
            open.erase(worst);
            continue;
        }
        open.erase(worst);
        open.push_back(std::move(cut->first));
        open.push_back(std::move(cut->second));
    }
    done.insert(done.end(), std::make_move_iterator(open.begin()), std::make_move_iterator(open.end()));
    ConvexPieces result;
    double sum = 0;
    for (Piece& piece : done) {
        sum += calcVolume(piece.hull);
        piece.hull.X_PS.translation() += body.centre;
        result.pieces.push_back(std::move(piece.hull));
    }
    result.excessShare = sum / body.volume - 1;
    for (const Vec3& p : body.mesh.points)
        result.outsideMm = std::max(result.outsideMm, calcOutsideAll(result.pieces, p));
    return result;
}

} // namespace ivrant::geometry
