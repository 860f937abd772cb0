// SPDX-License-Identifier: GPL-3.0-or-later
// Every family beside, on and under every other: what a builder can put together is clean, what matter forbids is told.
//
// The second way is matter alone, without ports' rules: a part is its bodies, less a cavity for a stud below each cell
// and tube, and less what its own solids give way by; two parts can be together when no more than a sliver of both is
// in one place. Points on a fine grid decide. Joints' own ports are left to other tests: their halves hold each other
// in ways of their own.
#include <tbb/parallel_for.h>

#include <atomic>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <iostream>
#include <map>
#include <mutex>
#include <random>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/teeth.h"
#include "core/geometry/gap.h"
#include "core/geometry/union_volume.h"
#include "core/parts/usual_sizes.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Frame;
using geometry::Vec3;
using test::must;

namespace {

/// Strictly within, deeper than `deep`: faces that touch are in neither. `q`: in the solid's own frame.
bool holdsOwnPoint(const geometry::Solid& solid, const Vec3& q, double deep) {
    switch (solid.kind) {
    case geometry::SolidKind::Box: return (q.cwiseAbs().array() < solid.half.array() - deep).all();
    case geometry::SolidKind::Cylinder:
        return std::abs(q.z()) < solid.half.z() - deep && q.head<2>().norm() < solid.radius() - deep + 1e-6;
    case geometry::SolidKind::Sphere: return q.norm() <= solid.radius() - deep + 1e-6;
    case geometry::SolidKind::Prism: {
        if (std::abs(q.z()) >= solid.half.z() - deep) return false;
        for (std::size_t i = 0; i < solid.polygon.size(); ++i) {
            const Eigen::Vector2d a = solid.polygon[i], e = solid.polygon[(i + 1) % solid.polygon.size()] - a;
            if (e.x() * (q.y() - a.y()) - e.y() * (q.x() - a.x()) < std::max(1e-5, deep * e.norm())) return false;
        }
        return true;
    }
    case geometry::SolidKind::Hull: return false; // no family has one
    }
    return false;
}
bool holdsPoint(const geometry::Solid& solid, const Vec3& p, double deep = 1e-6) {
    return holdsOwnPoint(solid, solid.X_PS.inverse(Eigen::Isometry) * p, deep);
}

/// What of a part can matter within a box of its own frame, ready to be asked for many points.
struct Near {
    struct Body {
        const geometry::Solid* solid;
        Frame X_SP;
        bool stud; ///< one of those that cells take
    };
    std::vector<Body> bodies;
    std::vector<const parts::Port*> cavities; ///< below a cell or in a tube, where a stud of another part has room

    Near(const parts::Shape& shape, const geometry::Bounds& box) {
        const auto meets = [&](const geometry::Bounds& b) {
            return (b.low.array() <= box.high.array()).all() && (box.low.array() <= b.high.array()).all();
        };
        for (const auto& s : shape.solids)
            if (meets(geometry::calcBounds(s.solid, Frame::Identity())))
                bodies.push_back({&s.solid, s.solid.X_PS.inverse(Eigen::Isometry), s.studPort >= 0});
        for (const auto& port : shape.ports)
            if ((port.kind == parts::PortKind::Cell || port.kind == parts::PortKind::Tube) &&
                meets({port.origin - Vec3::Constant(4), port.origin + Vec3::Constant(4)}))
                cavities.push_back(&port);
    }
    /// By its collision solids: is there anything at the point, and is it a stud alone?
    struct Matter {
        bool any = false, studAlone = false;
    };
    [[nodiscard]] Matter lookAt(const Vec3& p, double deep) const {
        bool stud = false;
        for (const Body& body : bodies) {
            if (!holdsOwnPoint(*body.solid, body.X_SP * p, deep)) continue;
            if (!body.stud) return {true, false};
            stud = true;
        }
        return {stud, stud};
    }
    [[nodiscard]] bool hasCavity(const Vec3& p) const {
        return std::any_of(cavities.begin(), cavities.end(), [&](const parts::Port* port) {
            const Vec3 to = p - port->origin;
            const double depth = -to.dot(port->axis); // into the part
            return depth >= -1e-9 && depth <= 1.75 && (to + port->axis * depth).norm() <= 2.45;
        });
    }
};
/// Both fill one point; where only a stud of one is in the other's cavity they do not, unless it is only pushed in half
/// way.
bool collide(const Near& a, const Vec3& in_a, const Near& b, const Vec3& in_b, double deep, bool halfWay) {
    const auto one = a.lookAt(in_a, deep);
    if (!one.any) return false;
    const auto other = b.lookAt(in_b, deep);
    if (!other.any || halfWay) return other.any;
    return !(other.studAlone && a.hasCavity(in_a)) && !(one.studAlone && b.hasCavity(in_b));
}

geometry::Bounds movedBox(const Frame& X, const Vec3& low, const Vec3& high) {
    geometry::Bounds box;
    for (int corner = 0; corner < 8; ++corner)
        box.include(X * Vec3(corner & 1 ? high.x() : low.x(), corner & 2 ? high.y() : low.y(),
                             corner & 4 ? high.z() : low.z()));
    return box;
}

/// Volume, mm³, that both parts fill, deeper than `deep` in each, by points on a grid; no more is sought than `enough`.
double commonMatter(const parts::Shape& whole_a, const Frame& X_a, const parts::Shape& whole_b, const Frame& X_b,
                    double step, double enough, bool halfWay = false, double deep = 1e-6) {
    geometry::Bounds common;
    const auto boundsOf = [](const parts::Shape& shape, const Frame& X) {
        geometry::Bounds bounds;
        for (const auto& s : shape.solids) bounds.include(geometry::calcBounds(s.solid, X));
        return bounds;
    };
    const auto ba = boundsOf(whole_a, X_a), bb = boundsOf(whole_b, X_b);
    const Vec3 low = ba.low.cwiseMax(bb.low), high = ba.high.cwiseMin(bb.high);
    if ((high - low).minCoeff() <= 0) return 0;
    const Frame back_a = X_a.inverse(), back_b = X_b.inverse();
    const Near a(whole_a, movedBox(back_a, low, high)), b(whole_b, movedBox(back_b, low, high));
    if (a.bodies.empty() || b.bodies.empty()) return 0;
    Eigen::Vector3i n;
    for (int k = 0; k < 3; ++k) n[k] = std::max(1, static_cast<int>(std::ceil((high - low)[k] / step)));
    const Vec3 d = (high - low).cwiseQuotient(n.cast<double>());
    int count = 0;
    for (int i = 0; i < n.x(); ++i)
        for (int j = 0; j < n.y(); ++j)
            for (int k = 0; k < n.z(); ++k) {
                const Vec3 p = low + d.cwiseProduct(Vec3(i + 0.5, j + 0.5, k + 0.5));
                if (collide(a, back_a * p, b, back_b * p, deep, halfWay) && ++count * d.prod() > enough) return enough;
            }
    return count * d.prod();
}

parts::ShapePtr usualOf(const parts::Family& family) {
    return must(parts::makeShape(parts::detail::makeName(family, family.usual)));
}

Frame turned(int turn) {
    model::Place place;
    place.attitude = turn;
    return place.frame();
}

model::Section pairOf(const parts::ShapePtr& a, const Frame& X_a, const parts::ShapePtr& b, const Frame& X_b) {
    model::Section section;
    section.id = {"s1"};
    for (const auto& [id, shape, X] : {std::tuple("p1", a, X_a), std::tuple("p2", b, X_b)}) {
        model::Part part;
        part.id = {id};
        part.shape = shape;
        for (int k = 0; k < 3; ++k) ivrant::at(part.place.atUm, k) = base::mmToUm(X.translation()[k]);
        part.place.attitude = Eigen::Quaterniond(X.linear());
        for (int turn = 0; turn < 24; ++turn)
            if (turned(turn).linear().isApprox(X.linear(), 1e-9)) part.place.attitude = turn;
        section.parts.push_back(part);
    }
    return section;
}

} // namespace

TEST(Catalogue, EveryFamilyFitsOnAndUnderAStudField) {
    // Upright on a field of studs with its own cells on studs, and below a plate on its own studs: always clean.
    const auto field = must(parts::makeShape("plate 16x16")), small = must(parts::makeShape("plate 1x1"));
    for (const auto& family : parts::getFamilies()) {
        const auto shape = usualOf(family);
        const bool sits = std::any_of(shape->ports.begin(), shape->ports.end(), [](const parts::Port& p) {
            return p.kind == parts::PortKind::Cell && p.axis.z() < -0.99;
        });
        // What hangs below its own underside cannot stand on a field: matter says so.
        for (int r = 0; r < 4 && sits; ++r) {
            const Frame X = geometry::makeFrame(turned(r).linear(), Vec3(56, 56, 3.2));
            const auto bonds = bonds::calcSectionBonds(pairOf(field, Frame::Identity(), shape, X), {});
            const double common = commonMatter(*field, Frame::Identity(), *shape, X, 0.2, 1);
            if (common < 0.02) {
                EXPECT_TRUE(bonds.overlaps.empty()) << shape->name << " turned " << r << ": "
                                                    << (bonds.overlaps.empty() ? 0 : bonds.overlaps[0].depthMm);
            } else {
                EXPECT_FALSE(bonds.overlaps.empty()) << shape->name << " fills " << common << " mm³ of the field";
            }
        }
        for (const auto& port : shape->ports) {
            if (port.kind != parts::PortKind::Stud || port.axis.z() < 0.99) continue;
            const Frame X = geometry::makeFrame(geometry::Mat3::Identity(), port.origin);
            const auto bonds = bonds::calcSectionBonds(pairOf(shape, Frame::Identity(), small, X), {});
            EXPECT_TRUE(bonds.overlaps.empty()) << "plate 1x1 on " << port.name << " of " << shape->name;
        }
    }
}

TEST(Catalogue, WhatShouldStandOnAStudFieldDoes) {
    // Known on the table: none of these has anything below its underside, or in the way of the studs beside it (as
    // balls, cups and knuckles are).
    const auto field = must(parts::makeShape("plate 16x16"));
    for (const char* name : {"dish 2x2",
                             "dish 4x4",
                             "wedge plate 2x4",
                             "wedge plate 4x8",
                             "wedge plate 3x3",
                             "round plate 4x4",
                             "round brick 4x4",
                             "inverted slope 1x2",
                             "inverted slope 2x3",
                             "inverted slope 1x4",

                             "bar plate 1x1",
                             "bar plate 1x2",
                             "clip plate 1x1",
                             "bracket up 2x2",
                             "bracket up 1x1",

                             "stepped hinge small fork",
                             "stepped hinge small tongue",
                             "cone 2x2",
                             "corner plate 4x4",
                             "arch 1x8",
                             "panel 3",
                             "side-stud brick 4",
                             "recessed side-stud brick",
                             "small turntable lower",
                             "curved slope 2x4",
                             "vent tile 1x2"}) {
        const auto shape = must(parts::makeShape(name));
        for (int r = 0; r < 4; ++r) {
            const Frame X = geometry::makeFrame(turned(r).linear(), Vec3(56, 56, 3.2));
            const auto bonds = bonds::calcSectionBonds(pairOf(field, Frame::Identity(), shape, X), {});
            EXPECT_TRUE(bonds.overlaps.empty())
                << name << " turned " << r << ": " << (bonds.overlaps.empty() ? 0 : bonds.overlaps[0].depthMm)
                << " mm deep";
        }
    }
}

namespace {

/// Places by half pitches and plates at which a part turned so can meet another, numbered; by boxes.
struct Places {
    Eigen::Vector3i low, count;
    static constexpr double kStepMm[] = {base::kPitchMm / 2, base::kPitchMm / 2, base::kPlateMm};

    Places(const parts::Shape& a, const parts::Shape& b, const geometry::Mat3& R) {
        const geometry::Bounds turnedBox = movedBox(geometry::makeFrame(R, Vec3::Zero()), b.bounds.low, b.bounds.high);
        for (int k = 0; k < 3; ++k) {
            low[k] = static_cast<int>(std::ceil((a.bounds.low[k] - turnedBox.high[k]) / kStepMm[k]));
            count[k] = static_cast<int>(std::floor((a.bounds.high[k] - turnedBox.low[k]) / kStepMm[k])) - low[k] + 1;
        }
    }
    [[nodiscard]] long size() const { return static_cast<long>(count.x()) * count.y() * count.z(); }
    [[nodiscard]] Vec3 at(long n) const {
        const long x = n % count.x(), y = n / count.x() % count.y(), z = n / count.x() / count.y();
        return {kStepMm[0] * static_cast<double>(low.x() + x), kStepMm[1] * static_cast<double>(low.y() + y),
                kStepMm[2] * static_cast<double>(low.z() + z)};
    }
};

/// Other ports of both that hold each other: what they fill together is theirs.
bool joinsOtherwise(const bonds::SectionBonds& bonds) {
    return std::any_of(bonds.mates.begin(), bonds.mates.end(),
                       [](const bonds::Mate& m) { return m.kind != parts::BondKind::Stud; });
}

/// A stud of one lies whole in a cell or tube of the other: whatever is told then, it is not that it is pushed in half
/// way.
bool isAnyStudSeated(const parts::Shape& a, const Frame& X_a, const parts::Shape& b, const Frame& X_b) {
    const auto among = [](const parts::Shape& studs, const Frame& X_s, const parts::Shape& cells, const Frame& X_c) {
        for (const auto& stud : studs.ports)
            for (const auto& cell : cells.ports)
                if (stud.kind == parts::PortKind::Stud &&
                    (cell.kind == parts::PortKind::Cell || cell.kind == parts::PortKind::Tube) &&
                    (X_s * stud.origin - X_c * cell.origin).norm() < 0.3 &&
                    (X_s.linear() * stud.axis).dot(X_c.linear() * cell.axis) < -0.99)
                    return true;
        return false;
    };
    return among(a, X_a, b, X_b) || among(b, X_b, a, X_a);
}

/// No more matter than this, mm³, is in one place: what the boxes of their solids, two and two, have in common.
double calcMostCommon(const std::vector<geometry::Bounds>& a, const std::vector<geometry::Bounds>& b,
                      const Vec3& moved) {
    double most = 0;
    for (const auto& x : a)
        for (const auto& y : b) {
            const Vec3 size = x.high.cwiseMin(y.high + moved) - x.low.cwiseMax(y.low + moved);
            if (size.minCoeff() > 0) most += size.prod();
        }
    return most;
}
std::vector<geometry::Bounds> listBoxes(const parts::Shape& shape, const geometry::Mat3& R) {
    std::vector<geometry::Bounds> boxes;
    for (const auto& s : shape.solids)
        boxes.push_back(geometry::calcBounds(s.solid, geometry::makeFrame(R, Vec3::Zero())));
    return boxes;
}

/// How many places of each turn; 0: what a run of the tests has time for; −1: all of them. More for a night: ./dev
/// sweep
int samplesPerTurn() {
    const char* asked = std::getenv("IVRANT_SWEEP_SAMPLES");
    if (!asked) return 0;
    return std::string(asked) == "all" ? -1 : std::max(1, std::atoi(asked));
}

/// Faces that lie in each other by no more than the tolerance of contact fill nothing that is this deep in both.
constexpr double kHalfTolerance = geometry::kContactToleranceMm / 2 + 1e-4;

/// What a run over all places has behind it, pair by pair, so that it goes on where it was stopped: a file named by
/// IVRANT_SWEEP_DONE. Without one nothing is remembered.
class DonePairs {
public:
    DonePairs() {
        const char* name = std::getenv("IVRANT_SWEEP_DONE");
        if (!name) return;
        std::ifstream before(name);
        for (std::size_t pair; before >> pair;) m_done.insert(pair);
        m_file.open(name, std::ios::app);
    }
    [[nodiscard]] bool has(std::size_t pair) const { return m_done.contains(pair); } ///< done by an earlier run
    void add(std::size_t pair) {
        if (!m_file.is_open()) return;
        const std::lock_guard lock(m_mutex);
        m_file << pair << std::endl;
    }

private:
    std::set<std::size_t> m_done;
    std::ofstream m_file;
    std::mutex m_mutex;
};

/// Teeth that can run together: how they mesh is told by the drive.
bool canRun(const parts::Shape& a, const parts::Shape& b, const Frame& X) {
    for (std::size_t k = 0; k < a.solids.size(); ++k)
        for (std::size_t l = 0; l < b.solids.size(); ++l)
            if (bonds::calcTeethRoomMm(a, Frame::Identity(), static_cast<int>(k), b, X, static_cast<int>(l)) > 0)
                return true;
    return false;
}

/// One pair at one place: 'c' clean, 't' told, 'j' joined by other ports.
char checkPlace(const parts::ShapePtr& a, const parts::ShapePtr& b, const Frame& X, double most) {
    const auto bonds = bonds::calcSectionBonds(pairOf(a, Frame::Identity(), b, X), {});
    if (joinsOtherwise(bonds)) return 'j';
    const auto where = [&] {
        std::ostringstream text;
        text << a->name << " and " << b->name << " turned\n" << X.linear() << "\nat " << X.translation().transpose();
        return text.str();
    };
    if (bonds.overlaps.empty()) {
        // First on a coarse grid, then, where there is something, on a finer one.
        if (most >= 3 && !canRun(*a, *b, X) && commonMatter(*a, Frame::Identity(), *b, X, 0.4, 3.0) >= 3) {
            EXPECT_LT(commonMatter(*a, Frame::Identity(), *b, X, 0.1, 3.0, false, kHalfTolerance), 3.0)
                << where() << ": matter in one place, not told";
        }
        return 'c';
    }
    // A depth that matters fills something; slivers of the grid are left open.
    if (bonds.overlaps[0].depthMm > 0.25 && commonMatter(*a, Frame::Identity(), *b, X, 0.4, 1e-9) == 0) {
        // A stud that is not seated in its cell is told although there is room for it.
        const bool halfWay = bonds.overlaps[0].studInBody && !isAnyStudSeated(*a, Frame::Identity(), *b, X);
        EXPECT_GT(commonMatter(*a, Frame::Identity(), *b, X, 0.12, 1e-9, halfWay), 0.0)
            << where() << ": told " << bonds.overlaps[0].depthMm << " mm deep";
    }
    return 't';
}

} // namespace

TEST(Catalogue, PairsInAllTurnsAndOffsetsAgreeWithMatter) {
    // All pairs of families, one of the two turned all 24 ways and moved by half pitches and plates around the other;
    // of each turn a sample of the places at which their boxes meet, another for each pair. Where no two solids' boxes
    // meet, nothing can be in one place, and nothing must be told.
    std::vector<parts::ShapePtr> shapes;
    for (const auto& family : parts::getFamilies()) shapes.push_back(usualOf(family));
    std::vector<std::pair<std::size_t, std::size_t>> pairs;
    for (std::size_t first = 0; first < shapes.size(); ++first)
        for (std::size_t second = 0; second <= first; ++second) pairs.emplace_back(first, second);
    const int each = samplesPerTurn();
    std::atomic<long> clean{0}, told{0}, joined{0}, apart{0};
    std::atomic<int> done{0};
    DonePairs before;
    tbb::parallel_for(
        tbb::blocked_range<std::size_t>(0, pairs.size(), 1), [&](const tbb::blocked_range<std::size_t>& some) {
            for (std::size_t pair = some.begin(); pair < some.end(); ++pair) {
                if (before.has(pair)) continue;
                const auto& [first, second] = pairs[pair];
                const auto &a = shapes[first], &b = shapes[second];
                std::mt19937 random(
                    static_cast<unsigned>(20261129 + pair)); // of the pair: the same places on any number of threads
                const auto boxes = listBoxes(*a, geometry::Mat3::Identity());
                const int step = each == 0 ? 4 : 1;
                for (int turn = each == 0 ? static_cast<int>(first + second) % 4 : 0; turn < 24; turn += step) {
                    const geometry::Mat3 R = turned(turn).linear();
                    const Places places(*a, *b, R);
                    const auto turnedBoxes = listBoxes(*b, R);
                    const long samples = each < 0 ? places.size() : std::max(1, each);
                    for (long sample = 0; sample < samples; ++sample) {
                        const Vec3 at = places.at(
                            each < 0 ? sample : std::uniform_int_distribution<long>(0, places.size() - 1)(random));
                        const double most = calcMostCommon(boxes, turnedBoxes, at);
                        if (each < 0 && most == 0) { // the sampled run asks these too
                            ++apart;
                            continue;
                        }
                        const char found = checkPlace(a, b, geometry::makeFrame(R, at), most);
                        ++(found == 'c' ? clean : found == 't' ? told : joined);
                        if (found == 't' && most == 0)
                            ADD_FAILURE() << a->name << " and " << b->name << ": told where nothing is";
                    }
                }
                if (!testing::Test::HasFailure()) before.add(pair);
                if (each < 0 && ++done % 100 == 0) std::cout << done << " of " << pairs.size() << " pairs" << std::endl;
            }
        });
    if (each >= 0) {
        EXPECT_GT(clean, 1000);
        EXPECT_GT(told, 1000);
        EXPECT_GT(joined, 0);
    }
    if (each != 0)
        std::cout << "clean " << clean << ", told " << told << ", joined otherwise " << joined << ", apart " << apart
                  << "\n";
}

TEST(Catalogue, MassesByTwoRoutes) {
    // Chords through the union against points on a grid; a beam of N holes is a box and two half discs, whatever N.
    for (const auto& family : parts::getFamilies()) {
        const auto shape = usualOf(family);
        if (shape->bounds.size().maxCoeff() > 100) continue;
        std::mt19937 random(11);
        geometry::Bounds bounds;
        for (const auto& s : shape->drawn) bounds.include(geometry::calcBounds(s, Frame::Identity()));
        for (const auto& s : shape->solids)
            if (s.studPort >= 0) bounds.include(geometry::calcBounds(s.solid, Frame::Identity()));
        const int tries = 120'000;
        int hits = 0;
        for (int i = 0; i < tries; ++i) {
            Vec3 p;
            for (int k = 0; k < 3; ++k)
                p[k] = std::uniform_real_distribution<double>(bounds.low[k], bounds.high[k])(random);
            bool in = false;
            for (const auto& s : shape->drawn) in = in || holdsPoint(s, p);
            for (const auto& s : shape->solids) in = in || (s.studPort >= 0 && holdsPoint(s.solid, p));
            hits += in ? 1 : 0;
        }
        const double share = static_cast<double>(hits) / tries, volume = bounds.size().prod() * share;
        const double sigma = bounds.size().prod() * std::sqrt(share * (1 - share) / tries);
        EXPECT_NEAR(shape->massG / (1.05e-3 * shape->fillFactor), volume, 4 * sigma + 0.006 * volume) << shape->name;
    }
    for (const int holes : {2, 5, 15}) {
        const auto beam = must(parts::makeShape("beam " + std::to_string(holes)));
        // 7.4 mm high, 7.8 mm thick: (N − 1)·8 mm of box and a disc of 3.7 mm.
        const double volume = 7.8 * (7.4 * 8 * (holes - 1) + base::kPi * 3.7 * 3.7);
        EXPECT_NEAR(beam->massG, volume * 1.05e-3 * beam->fillFactor, 0.006 * beam->massG) << holes;
    }
}

TEST(FilledSpace, OverlapsCountOnce) {
    const std::vector<geometry::Solid> crossed{geometry::makeBox({0, 0, 0}, {10, 2, 2}),
                                               geometry::makeBox({4, -4, 0}, {6, 6, 2})};
    const auto space = geometry::calcFilledSpace(crossed);
    EXPECT_NEAR(space.volume, 40 + 40 - 8, 0.4); // 10·2·2 + 2·10·2 less the 2·2·2 they share
    EXPECT_NEAR(space.moment.x() / space.volume, 5, 0.02);
    const std::vector<geometry::Solid> apart{geometry::makeBox({0, 0, 0}, {1, 1, 1}),
                                             geometry::makeBox({1, 0, 0}, {3, 1, 1})};
    EXPECT_NEAR(geometry::calcFilledSpace(apart).volume, 3, 1e-12) << "what only touches counts exactly";
}

TEST(UsualSizes, UnusualOnesAreToldAndSplit) {
    EXPECT_TRUE(parts::isUsualSize(*must(parts::makeShape("plate 4x2"))));
    EXPECT_FALSE(parts::isUsualSize(*must(parts::makeShape("plate 7x10"))));
    EXPECT_TRUE(parts::isUsualSize(*must(parts::makeShape("cone 1x1"))))
        << "a family without a list has no unusual sizes";
    for (const char* name : {"plate 7x10", "brick 5x7", "tile 9x5", "plate 1x7", "plate 13x11"}) {
        const auto shape = must(parts::makeShape(name));
        const auto pieces = parts::splitToUsual(*shape);
        ASSERT_GT(pieces.size(), 1U) << name;
        model::Section whole;
        double mass = 0;
        std::map<std::pair<long, long>, int> cells;
        for (const auto& piece : pieces) {
            EXPECT_TRUE(parts::isUsualSize(*piece.shape)) << piece.shape->name;
            mass += piece.shape->massG;
            for (const auto& port : piece.shape->ports)
                if (port.kind == parts::PortKind::Cell)
                    ++cells[{std::lround((piece.at + port.origin).x()), std::lround((piece.at + port.origin).y())}];
        }
        EXPECT_NEAR(mass, shape->massG, 1e-6 * shape->massG) << "the same matter";
        for (const auto& port : shape->ports)
            if (port.kind == parts::PortKind::Cell) {
                EXPECT_EQ((cells[{std::lround(port.origin.x()), std::lround(port.origin.y())}]), 1) << name;
            }
    }
    EXPECT_FALSE(parts::setUsualSizes("[]").ok());
    EXPECT_FALSE(parts::setUsualSizes(R"({"families":{"plate":["2xx"]}})").ok());
    EXPECT_FALSE(parts::isUsualSize(*must(parts::makeShape("plate 7x10")))) << "a wrong list changes nothing";
}
