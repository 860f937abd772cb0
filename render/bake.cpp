// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/bake.h"

#include <algorithm>
#include <cmath>
#include <list>
#include <map>
#include <mutex>
#include <unordered_map>

#include "core/geometry/mesh.h"
#include "core/parts/own_shape.h"

namespace ivrant::render {
namespace {

using geometry::Face;
using geometry::Frame;
using geometry::Vec3;

constexpr float kNoEdge = 1e3F;

void putVertex(std::vector<Vertex>& out, const Vec3& p, const Vec3& n, std::uint32_t part,
               const std::array<float, 4>& edges) {
    Vertex v{};
    for (int k = 0; k < 3; ++k) {
        v.position[k] = static_cast<float>(p[k]);
        v.normal[k] = static_cast<std::int8_t>(std::lround(n[k] * 127));
    }
    v.part = part;
    std::copy(edges.begin(), edges.end(), v.edges);
    out.push_back(v);
}

double lineDistance(const Vec3& p, const Vec3& a, const Vec3& b) {
    return (b - a).cross(p - a).norm() / (b - a).norm();
}

void putFace(std::vector<Vertex>& out, const Face& face, const Frame& X, std::uint32_t part) {
    const std::size_t n = face.corners.size();
    const auto normal = [&](std::size_t i) -> Vec3 {
        return X.linear() * face.normals[face.normals.size() == 1 ? 0 : i];
    };
    for (std::size_t i = 2; i < n; ++i) {
        const std::array<std::size_t, 3> corner{0, i - 1, i};
        for (std::size_t c : corner) {
            std::array<float, 4> edges{kNoEdge, kNoEdge, kNoEdge, kNoEdge};
            if (n <= 4) {
                for (std::size_t e = 0; e < n; ++e)
                    if (face.inked[e])
                        edges[e] = static_cast<float>(
                            lineDistance(face.corners[c], face.corners[e], face.corners[(e + 1) % n]));
            } else {
                for (std::size_t e = 0; e < 3; ++e) {
                    const std::size_t a = corner[e], b = corner[(e + 1) % 3];
                    if ((a + 1) % n == b && face.inked[a])
                        edges[e] = static_cast<float>(lineDistance(face.corners[c], face.corners[a], face.corners[b]));
                }
            }
            putVertex(out, X * face.corners[c], normal(c), part, edges);
        }
    }
}

/// An axis-parallel rectangle in a plane, in whole micrometres: (u, v) are the two other axes in order.
struct Rect {
    long u0, v0, u1, v1;
};

struct PlaneKey {
    int axis;
    long offset;
    bool operator==(const PlaneKey&) const = default;
};
struct PlaneHash {
    std::size_t operator()(const PlaneKey& k) const { return std::hash<long>{}(k.offset * 3 + k.axis); }
};

struct PlaneFace {
    Rect rect;
    bool positive; ///< outward normal along +axis
    std::uint32_t part;
};

long um(double mm) { return std::lround(mm * 1000); }

/// What is left of `rects` after taking `cover` away.
std::vector<Rect> subtract(const std::vector<Rect>& rects, const Rect& cover) {
    std::vector<Rect> rest;
    for (const Rect& r : rects) {
        const Rect in{std::max(r.u0, cover.u0), std::max(r.v0, cover.v0), std::min(r.u1, cover.u1),
                      std::min(r.v1, cover.v1)};
        if (in.u0 >= in.u1 || in.v0 >= in.v1) {
            rest.push_back(r);
            continue;
        }
        if (r.v0 < in.v0) rest.push_back({r.u0, r.v0, r.u1, in.v0});
        if (in.v1 < r.v1) rest.push_back({r.u0, in.v1, r.u1, r.v1});
        if (r.u0 < in.u0) rest.push_back({r.u0, in.v0, in.u0, in.v1});
        if (in.u1 < r.u1) rest.push_back({in.u1, in.v0, r.u1, in.v1});
    }
    return rest;
}

class PlaneFaces {
public:
    void addBox(const geometry::Bounds& b, std::uint32_t part) {
        for (int axis = 0; axis < 3; ++axis) {
            const int u = (axis + 1) % 3, v = (axis + 2) % 3;
            const Rect rect{um(b.low[u]), um(b.low[v]), um(b.high[u]), um(b.high[v])};
            m_planes[{axis, um(b.low[axis])}].push_back({rect, false, part});
            m_planes[{axis, um(b.high[axis])}].push_back({rect, true, part});
        }
    }

    void bake(std::vector<Vertex>& out) const {
        for (const auto& [key, faces] : m_planes) {
            // Faces of one plane, sorted along u, so that only neighbours are compared.
            std::vector<const PlaneFace*> sorted;
            long widest = 0;
            for (const auto& f : faces) {
                sorted.push_back(&f);
                widest = std::max(widest, f.rect.u1 - f.rect.u0);
            }
            std::sort(sorted.begin(), sorted.end(),
                      [](const auto* l, const auto* r) { return l->rect.u0 < r->rect.u0; });
            for (const PlaneFace& face : faces) {
                std::vector<Rect> rest{face.rect};
                auto it = std::lower_bound(sorted.begin(), sorted.end(), face.rect.u0 - widest,
                                           [](const auto* f, long u) { return f->rect.u0 < u; });
                for (; it != sorted.end() && (*it)->rect.u0 < face.rect.u1 && !rest.empty(); ++it)
                    if ((*it)->positive != face.positive) rest = subtract(rest, (*it)->rect);
                for (const Rect& r : rest) putRect(out, key, face, r);
            }
        }
    }

private:
    static void putRect(std::vector<Vertex>& out, const PlaneKey& key, const PlaneFace& face, const Rect& r) {
        const int u = (key.axis + 1) % 3, v = (key.axis + 2) % 3;
        Face quad;
        const auto corner = [&](long cu, long cv) {
            Vec3 p;
            p[key.axis] = static_cast<double>(key.offset) / 1000;
            p[u] = static_cast<double>(cu) / 1000;
            p[v] = static_cast<double>(cv) / 1000;
            return p;
        };
        quad.corners = {corner(r.u0, r.v0), corner(r.u1, r.v0), corner(r.u1, r.v1), corner(r.u0, r.v1)};
        quad.inked = {r.v0 == face.rect.v0, r.u1 == face.rect.u1, r.v1 == face.rect.v1, r.u0 == face.rect.u0};
        if (!face.positive) {
            std::reverse(quad.corners.begin(), quad.corners.end()); // edges: (c2→c1) … in reversed order
            quad.inked = {quad.inked[2], quad.inked[1], quad.inked[0], quad.inked[3]};
        }
        quad.normals = {face.positive ? Vec3(Vec3::Unit(key.axis)) : Vec3(-Vec3::Unit(key.axis))};
        putFace(out, quad, Frame::Identity(), face.part);
    }
    std::unordered_map<PlaneKey, std::vector<PlaneFace>, PlaneHash> m_planes;
};

int sidesFor(const geometry::Solid& solid) { return std::clamp(static_cast<int>(solid.reach * 2) + 12, 16, 48); }

StudTriangles makeStudTriangles(const geometry::Solid& stud) {
    geometry::Solid own = stud;
    own.X_PS = Frame::Identity();
    StudTriangles out;
    for (const auto& [level, sides] : {std::pair(0, 16), std::pair(1, 8)}) {
        auto faces = geometry::makeFaces(own, sides);
        faces.erase(faces.begin() + 1); // the foot is never seen
        for (const Face& face : faces) putFace(out.levels[level], face, Frame::Identity(), 0);
    }
    auto flat = geometry::makeFaces(own, 6);
    flat[0].inked.assign(6, false);
    putFace(out.levels[2], flat[0], Frame::Identity(), 0);
    return out;
}

/// All studs are alike, so their triangles are made once for each size and then only moved.
const StudTriangles& getStudTriangles(const geometry::Solid& stud) {
    static std::mutex mutex;
    static std::map<std::pair<double, double>, StudTriangles> known;
    const std::lock_guard lock(mutex);
    const auto [entry, fresh] = known.try_emplace({stud.half.x(), stud.half.z()});
    if (fresh) entry->second = makeStudTriangles(stud);
    return entry->second;
}

void putMoved(std::vector<Vertex>& out, const std::vector<Vertex>& triangles, const StudSpot& stud) {
    for (Vertex v : triangles) {
        Eigen::Map<Eigen::Vector3f> position(v.position);
        position = (stud.R * position + stud.p).eval();
        const Eigen::Vector3f n = stud.R * Eigen::Vector3f(v.normal[0], v.normal[1], v.normal[2]);
        for (int k = 0; k < 3; ++k) v.normal[k] = static_cast<std::int8_t>(std::lrint(n[k]));
        v.part = stud.part;
        out.push_back(v);
    }
}

} // namespace

std::vector<Vertex> makeStuds(const BakedSection& baked, std::size_t level) {
    std::vector<Vertex> out;
    std::size_t count = 0;
    for (const StudSpot& stud : baked.studs) count += stud.triangles->levels[level].size();
    out.reserve(count);
    for (const StudSpot& stud : baked.studs) putMoved(out, stud.triangles->levels[level], stud);
    return out;
}

BakedSection bakeSection(const model::Section& section, const bonds::SectionBonds& bonds) {
    BakedSection out;
    PlaneFaces planes;
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        const model::Part& part = section.parts[p];
        const Frame X = part.place.frame();
        const auto id = static_cast<std::uint32_t>(p);
        if (part.shape->own)
            for (const Face& face : parts::listFaces(*part.shape, 0)) putFace(out.bodies, face, X, id);
        for (const auto& solid : part.shape->drawn) {
            if (part.shape->own) break; // its mesh is drawn
            if (solid.kind == geometry::SolidKind::Box && part.place.isTurn())
                planes.addBox(geometry::calcBounds(solid, X), id);
            else
                for (const Face& face : geometry::makeFaces(solid, sidesFor(solid))) putFace(out.bodies, face, X, id);
        }
        const auto& covered = bonds.coveredStuds[p];
        for (const auto& solid : part.shape->solids) {
            if (solid.studPort < 0) continue;
            if (std::find(covered.begin(), covered.end(), solid.studPort) != covered.end()) continue;
            const Frame own = X * solid.solid.X_PS;
            out.studs.push_back(
                {&getStudTriangles(solid.solid), own.linear().cast<float>(), own.translation().cast<float>(), id});
        }
    }
    planes.bake(out.bodies);
    return out;
}

namespace {

struct Ahead {
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
    std::shared_ptr<const BakedSection> baked;
};
constexpr std::size_t kMostAhead = 800;
std::mutex g_aheadMutex;
std::list<Ahead> g_ahead;

} // namespace

void bakeAhead(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds) {
    auto baked = std::make_shared<const BakedSection>(bakeSection(*section, *bonds));
    const std::lock_guard lock(g_aheadMutex);
    g_ahead.remove_if(
        [](const Ahead& a) { return a.section.use_count() == 1; }); // of snapshots that are gone: nobody will draw them
    g_ahead.push_back({section, bonds, std::move(baked)});
    if (g_ahead.size() > kMostAhead) g_ahead.pop_front();
}

std::shared_ptr<const BakedSection> takeBaked(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds) {
    const std::lock_guard lock(g_aheadMutex);
    for (auto it = g_ahead.begin(); it != g_ahead.end(); ++it) {
        if (it->section != section || it->bonds != bonds) continue;
        auto baked = std::move(it->baked);
        g_ahead.erase(it);
        return baked;
    }
    return nullptr;
}

} // namespace ivrant::render
