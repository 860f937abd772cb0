// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/strand_path.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using geometry::Vec3;
using Vec2 = Eigen::Vector2d;

constexpr double kTiny = 1e-9;
constexpr std::size_t kMostTriedAll = 12; ///< rounds of which every choice is tried when letting go and taking up cycle

Vec2 perp(const Vec2& v) { return {-v.y(), v.x()}; }
double cross(const Vec2& l, const Vec2& r) { return l.x() * r.y() - l.y() * r.x(); }

/// A round or a point in the plane.
struct Disc {
    Vec2 c;
    double rho = 0; ///< signed radius
    bool stays = false;
};
struct Tangent {
    Vec2 a, b, u;
    double mm = 0;
};

/// None: one lies inside the other.
std::optional<Tangent> calcTangent(const Disc& i, const Disc& j) {
    const Vec2 d = j.c - i.c;
    const double e = j.rho - i.rho, square = d.squaredNorm() - e * e;
    if (square < 0) return std::nullopt;
    Tangent t;
    t.mm = std::sqrt(square);
    if (d.squaredNorm() < kTiny * kTiny) {
        t.u = Vec2::Zero();
        t.a = t.b = i.c;
        return t;
    }
    t.u = (t.mm * d - e * perp(d)) / d.squaredNorm();
    t.a = i.c - i.rho * perp(t.u);
    t.b = j.c - j.rho * perp(t.u);
    return t;
}

/// How far the line turns round the disc. What stays, or goes all round, may turn by more than half a turn.
double calcWrap(const Disc& disc, const Vec2& in, const Vec2& out, bool wide) {
    double phi = std::atan2(cross(in, out), in.dot(out)) * (disc.rho > 0 ? 1 : -1);
    if (wide && phi < -std::numbers::pi / 2) phi += 2 * std::numbers::pi;
    return phi;
}

/// The plane way past some of the discs, in order.
struct PlaneWay {
    std::vector<std::size_t> touched; ///< discs, the ends among them
    std::vector<Tangent> pieces;      ///< between them; closed: the last goes back to the first
    std::vector<double> wraps;        ///< by touched
    int inside = -1;                  ///< no way: this disc overlaps the next
    [[nodiscard]] double calcLength(const std::vector<Disc>& discs) const {
        double mm = 0;
        for (const Tangent& t : pieces) mm += t.mm;
        for (std::size_t k = 0; k < touched.size(); ++k) mm += std::abs(discs[touched[k]].rho) * wraps[k];
        return mm;
    }
};

class PlaneSolver {
public:
    /// `wide`: rounds may be gone round by more than half a turn, as those of a loop are.
    PlaneSolver(const std::vector<Disc>& discs, bool closed, bool wide)
        : m_discs(discs), m_closed(closed), m_wide(wide), m_on(discs.size(), true) {}

    PlaneWay run() {
        PlaneWay way;
        for (std::size_t round = 0; round < 4 * m_discs.size() + 8; ++round) {
            way = make();
            if (way.inside >= 0 && !dropInside(way)) return way;
            if (way.inside >= 0) continue;
            if (letGo(way) || takeUp(way)) continue;
            return way;
        }
        return tryAll().value_or(way);
    }

private:
    [[nodiscard]] bool isEnd(std::size_t i) const { return !m_closed && (i == 0 || i + 1 == m_discs.size()); }
    [[nodiscard]] bool canLeave(std::size_t i) const { return !isEnd(i) && !m_discs[i].stays; }

    [[nodiscard]] PlaneWay make() const {
        PlaneWay way;
        for (std::size_t i = 0; i < m_discs.size(); ++i)
            if (m_on[i]) way.touched.push_back(i);
        const std::size_t n = way.touched.size(), pieces = m_closed ? n : n - 1;
        for (std::size_t k = 0; k < pieces; ++k) {
            const auto t = calcTangent(m_discs[way.touched[k]], m_discs[way.touched[(k + 1) % n]]);
            if (!t) {
                way.inside = static_cast<int>(k);
                return way;
            }
            way.pieces.push_back(*t);
        }
        way.wraps.assign(n, 0);
        for (std::size_t k = 0; k < n; ++k) {
            if (isEnd(way.touched[k])) continue;
            const Tangent& in = way.pieces[(k + pieces - 1) % pieces];
            way.wraps[k] =
                calcWrap(m_discs[way.touched[k]], in.u, way.pieces[k].u, m_wide || m_discs[way.touched[k]].stays);
        }
        return way;
    }

    /// Of two that overlap the one that can leave does.
    bool dropInside(const PlaneWay& way) {
        const std::size_t n = way.touched.size(), k = static_cast<std::size_t>(way.inside);
        for (const std::size_t i : {way.touched[k], way.touched[(k + 1) % n]})
            if (canLeave(i) && n > 2) {
                m_on[i] = false;
                return true;
            }
        return false;
    }

    bool letGo(const PlaneWay& way) {
        std::size_t worst = 0;
        double least = -kTiny;
        for (std::size_t k = 0; k < way.touched.size(); ++k)
            if (canLeave(way.touched[k]) && way.wraps[k] < least) {
                least = way.wraps[k];
                worst = k;
            }
        if (least >= -kTiny || way.touched.size() <= 2) return false;
        m_on[way.touched[worst]] = false;
        return true;
    }

    /// How deep a piece between its neighbours cuts into a disc that was let go; below 0: not at all.
    [[nodiscard]] double calcCut(const PlaneWay& way, std::size_t i) const {
        const std::size_t n = way.touched.size();
        std::size_t k = 0;
        while (k < n && way.touched[k] < i) ++k;
        const Tangent& t = way.pieces[(k + way.pieces.size() - 1) % way.pieces.size()];
        const Vec2 to = m_discs[i].c - t.a;
        const double along = to.dot(t.u), r = std::abs(m_discs[i].rho);
        if (along < 0 || along > t.mm) return -1;
        return r - (m_discs[i].rho > 0 ? 1 : -1) * cross(t.u, to);
    }
    bool takeUp(const PlaneWay& way) {
        double most = kTiny;
        std::size_t which = m_discs.size();
        for (std::size_t i = 0; i < m_discs.size(); ++i) {
            if (m_on[i]) continue;
            if (const double cut = calcCut(way, i); cut > most) {
                most = cut;
                which = i;
            }
        }
        if (which == m_discs.size()) return false;
        m_on[which] = true;
        return true;
    }

    /// The shortest way of all choices that neither pull off a disc nor cut one.
    std::optional<PlaneWay> tryAll() {
        std::vector<std::size_t> loose;
        for (std::size_t i = 0; i < m_discs.size(); ++i)
            if (canLeave(i)) loose.push_back(i);
        if (loose.size() > kMostTriedAll) return std::nullopt;
        std::optional<PlaneWay> best;
        for (unsigned choice = 0; choice < (1U << loose.size()); ++choice) {
            for (std::size_t k = 0; k < loose.size(); ++k) m_on[loose[k]] = (choice >> k & 1U) != 0;
            if (std::count(m_on.begin(), m_on.end(), true) < 2) continue;
            const PlaneWay way = make();
            if (way.inside >= 0) continue;
            bool fits = true;
            for (std::size_t k = 0; k < way.touched.size() && fits; ++k)
                fits = !canLeave(way.touched[k]) || way.wraps[k] >= -kTiny;
            for (std::size_t i = 0; i < m_discs.size() && fits; ++i) fits = m_on[i] || calcCut(way, i) <= kTiny;
            if (fits && (!best || way.calcLength(m_discs) < best->calcLength(m_discs))) best = way;
        }
        return best;
    }

    const std::vector<Disc>& m_discs;
    bool m_closed, m_wide;
    std::vector<bool> m_on;
};

class PathMaker {
public:
    explicit PathMaker(std::span<const StrandGuide> guides) : m_guides(guides) {}

    StrandPath run(bool closed) {
        m_loop = closed;
        std::vector<int> order;
        const auto count = static_cast<int>(m_guides.size());
        int first = 0;
        while (closed && first < count && isRound(first)) ++first;
        const bool allRound = closed && first == count;
        if (allRound) first = 0;
        order.reserve(m_guides.size() + 1);
        for (int k = 0; k < count; ++k) order.push_back((first + k) % count);
        if (closed && !allRound) order.push_back(first);
        if (allRound) {
            addPlane(order, true);
        } else {
            std::vector<int> stretch{order.front()};
            for (std::size_t k = 1; k < order.size() && m_path.fault == StrandFault::None; ++k) {
                stretch.push_back(order[k]);
                if (isRound(order[k]) && k + 1 < order.size()) continue;
                addStretch(stretch);
                stretch.assign(1, order[k]);
            }
        }
        return std::move(m_path);
    }

private:
    [[nodiscard]] const StrandGuide& guide(int g) const { return m_guides[static_cast<std::size_t>(g)]; }
    [[nodiscard]] bool isRound(int g) const { return guide(g).radius > 0; }

    void addStretch(const std::vector<int>& stretch) {
        if (stretch.size() > 2 || isRound(stretch.back())) return addPlane(stretch, false);
        const Vec3 &a = guide(stretch[0]).at, &b = guide(stretch[1]).at;
        const double mm = (b - a).norm();
        addPiece({stretch[0], stretch[1], a, b, mm > kTiny ? Vec3((b - a) / mm) : Vec3::Zero(), mm});
        m_path.lengthMm += mm;
    }

    /// The bend is found from the pieces: an eye turns the line by the angle between them, a round by its arc.
    void addPiece(StrandPiece piece, std::optional<double> bend = std::nullopt) {
        if (m_path.pieces.empty()) {
            bend = 0;
        } else if (!bend) {
            const Vec3 &in = m_path.pieces.back().unit, &out = piece.unit;
            bend = in.isZero() || out.isZero() ? 0 : std::atan2(in.cross(out).norm(), in.dot(out));
        }
        m_path.bends.push_back(*bend);
        m_path.pieces.push_back(std::move(piece));
    }

    void addPlane(const std::vector<int>& stretch, bool closed) {
        int lead = -1; // the round that gives the plane
        for (const int g : stretch)
            if (isRound(g) && lead < 0) lead = g;
        const Vec3 n = guide(lead).axis, e1 = n.unitOrthogonal(), e2 = n.cross(e1), origin = guide(lead).at;
        std::vector<Disc> discs;
        for (const int g : stretch) {
            const StrandGuide& one = guide(g);
            const Vec3 to = one.at - origin;
            Disc disc{{to.dot(e1), to.dot(e2)}, 0, one.captive};
            if (isRound(g)) {
                const double along = one.axis.dot(n);
                if (std::abs(along) < std::cos(base::degToRad(kStrandAskewDeg))) return fail(StrandFault::Askew, g);
                disc.rho = one.radius * one.side * (along > 0 ? 1 : -1);
            }
            discs.push_back(disc);
        }
        const PlaneWay way = PlaneSolver(discs, closed, m_loop).run();
        if (way.inside >= 0) {
            const std::size_t k = static_cast<std::size_t>(way.inside);
            const int g = stretch[way.touched[k]], next = stretch[way.touched[(k + 1) % way.touched.size()]];
            return fail(StrandFault::Inside, isRound(g) ? g : next);
        }
        for (std::size_t i = 0; i < discs.size(); ++i)
            if (std::find(way.touched.begin(), way.touched.end(), i) == way.touched.end())
                m_path.free.push_back(stretch[i]);
        const double plane = way.calcLength(discs);
        const double from = (guide(stretch.front()).at - origin).dot(n),
                     climb = closed ? 0 : (guide(stretch.back()).at - origin).dot(n) - from;
        const double whole = std::hypot(plane, climb);
        m_path.lengthMm += whole;
        double done = 0; // of the plane way
        const auto lift = [&](const Vec2& p, double at) {
            return Vec3(origin + p.x() * e1 + p.y() * e2 + (from + (plane > kTiny ? climb * at / plane : 0)) * n);
        };
        for (std::size_t k = 0; k < way.pieces.size(); ++k) {
            const Tangent& t = way.pieces[k];
            const bool turns = k > 0 || closed;
            const double arc = std::abs(discs[way.touched[k]].rho) * way.wraps[k];
            if (k > 0) done += arc;
            StrandPiece piece;
            piece.from = stretch[way.touched[k]];
            piece.to = stretch[way.touched[(k + 1) % way.touched.size()]];
            piece.a = lift(t.a, done);
            done += t.mm;
            piece.b = lift(t.b, done);
            piece.mm = (piece.b - piece.a).norm();
            piece.unit = piece.mm > kTiny ? Vec3((piece.b - piece.a) / piece.mm) : Vec3::Zero();
            // On a helix the way turns by its plane angle times the cosine of its slope.
            std::optional<double> bend;
            if (turns && whole > kTiny) bend = std::abs(way.wraps[k]) * plane / whole;
            addPiece(std::move(piece), bend);
        }
    }

    void fail(StrandFault fault, int g) {
        m_path.fault = fault;
        m_path.faultGuide = g;
    }

    std::span<const StrandGuide> m_guides;
    StrandPath m_path;
    bool m_loop = false;
};

} // namespace

StrandPath calcStrandPath(std::span<const StrandGuide> guides, bool closed) { return PathMaker(guides).run(closed); }

} // namespace ivrant::pose
