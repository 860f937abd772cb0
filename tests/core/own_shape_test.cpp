// Shapes of the builder's own: closed meshes, their convex pieces, ports, files.
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <random>

#include "core/base/units.h"
#include "core/bonds/fits.h"
#include "core/files/atomic_file.h"
#include "core/files/mesh_files.h"
#include "core/files/mesh_import.h"
#include "core/files/project_file.h"
#include "core/geometry/gap.h"
#include "core/geometry/hull_solid.h"
#include "core/geometry/mesh.h"
#include "core/geometry/pieces.h"
#include "core/model/variants.h"
#include "core/parts/own_shape.h"
#include "core/pose/collide.h"
#include "tests/support/fcl_solids.h"
#include "tests/support/figures.h"

using namespace ivrant;
using geometry::Solid;
using geometry::TriangleMesh;
using geometry::Vec3;
using test::must;

namespace {

TriangleMesh meshOf(const std::vector<Solid>& solids, int sides = 24) {
    TriangleMesh mesh;
    for (const Solid& solid : solids)
        for (const auto& t : geometry::makeTriangles(geometry::makeFaces(solid, sides))) {
            const int first = static_cast<int>(mesh.points.size());
            for (const Vec3& p : t) mesh.points.push_back(p);
            mesh.triangles.push_back({first, first + 1, first + 2});
        }
    return mesh;
}

/// Profile (x, z), counter-clockwise seen from −y, extruded over y in [0, depth]; triangles as given.
TriangleMesh extrude(const std::vector<Eigen::Vector2d>& xz, const std::vector<std::array<int, 3>>& fill, double depth) {
    TriangleMesh mesh;
    const int n = static_cast<int>(xz.size());
    for (double y : {0.0, depth})
        for (const auto& p : xz) mesh.points.emplace_back(p.x(), y, p.y());
    for (const auto& t : fill) {
        mesh.triangles.push_back({t[0], t[1], t[2]});
        mesh.triangles.push_back({n + t[0], n + t[2], n + t[1]});
    }
    for (int i = 0; i < n; ++i) {
        const int j = (i + 1) % n;
        mesh.triangles.push_back({i, n + j, j});
        mesh.triangles.push_back({i, n + i, n + j});
    }
    return mesh;
}

/// An angle: 40 long and 40 high, 10 thick, 20 deep: 14,000 mm³.
TriangleMesh angle() { return extrude({{0, 0}, {40, 0}, {40, 10}, {10, 10}, {10, 40}, {0, 40}}, {{0, 1, 2}, {0, 2, 3}, {0, 3, 5}, {3, 4, 5}}, 20); }

double sumOf(const std::vector<Solid>& pieces) {
    double sum = 0;
    for (const auto& p : pieces) sum += geometry::calcVolume(p);
    return sum;
}

bool isInside(const Solid& piece, const Vec3& p) {
    const Vec3 own = piece.X_PS.inverse() * p;
    return std::all_of(piece.hull->faces.begin(), piece.hull->faces.end(), [&](const auto& f) { return f.normal.dot(own - f.outline.front()) <= 1e-6; });
}

parts::ShapePtr makeAngle(double massG = 12, std::vector<parts::OwnPort> ports = {}) {
    const auto body = must(geometry::makeMeshBody(angle()));
    parts::OwnSource source;
    source.mesh = body.mesh;
    for (const auto& piece : must(geometry::calcConvexPieces(body)).pieces) {
        source.pieces.emplace_back();
        for (const Vec3& p : piece.hull->corners) source.pieces.back().push_back(piece.X_PS * p);
    }
    source.ports = std::move(ports);
    return must(parts::makeOwnShape("angle iron", massG, std::move(source)));
}

std::string tempPath(const std::string& name) { return testing::TempDir() + "ivrant_own_" + name; }

} // namespace

TEST(Hull, ABoxOfPointsHasTheBoxesVolumeSupportRayAndErosion) {
    std::vector<Vec3> corners;
    for (int c = 0; c < 8; ++c) corners.emplace_back(c & 1 ? 12 : 2, c & 2 ? 23 : 3, c & 4 ? 5 : -1);
    const Solid hull = geometry::makeHull(corners), box = geometry::makeBox({2, 3, -1}, {12, 23, 5});
    EXPECT_NEAR(geometry::calcVolume(hull), 10 * 20 * 6, 1e-2);
    EXPECT_LT((geometry::calcCentroid(hull) - Vec3(7, 13, 2)).norm(), 1e-4);
    EXPECT_EQ(hull.hull->faces.size(), 6u);
    const Solid small = geometry::calcEroded(hull, 0.5);
    const auto bounds = geometry::calcBounds(small, geometry::Pose::Identity());
    EXPECT_LT((bounds.low - Vec3(2.5, 3.5, -0.5)).norm(), 1e-3);
    EXPECT_LT((bounds.high - Vec3(11.5, 22.5, 4.5)).norm(), 1e-3);
    EXPECT_NEAR(geometry::calcRayHit(hull, {7, 13, 20}, {0, 0, -1}), geometry::calcRayHit(box, {7, 13, 20}, {0, 0, -1}), 1e-3);
    EXPECT_LT(geometry::calcRayHit(hull, {30, 13, 20}, {0, 0, -1}), 0);
    EXPECT_THROW((void)geometry::makeHull({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}}), std::invalid_argument);
}

TEST(Hull, DistancesAgreeWithAnotherLibrary) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> at(-10, 10);
    int apart = 0;
    for (int i = 0; i < 60; ++i) {
        std::vector<Vec3> points;
        for (int k = 0; k < 14; ++k) points.emplace_back(at(random), at(random), at(random));
        const Solid hull = geometry::makeHull(points);
        const Solid ball = geometry::makeSphere({at(random) * 3, at(random) * 3, at(random) * 3}, 3);
        const auto place = [](const Solid& s) { return geometry::PlacedSolid{&s, &s, s.X_PS.linear(), s.X_PS.translation()}; };
        const double ours = geometry::calcDistance(place(hull), place(ball));
        const auto a = test::toFcl(hull);
        const auto b = std::make_shared<fcl::Sphered>(3.0);
        const fcl::CollisionObjectd oa(a, hull.X_PS), ob(b, ball.X_PS);
        fcl::DistanceRequestd request;
        fcl::DistanceResultd result;
        const double theirs = fcl::distance(&oa, &ob, request, result);
        if (theirs <= 1e-3) continue;
        ++apart;
        EXPECT_NEAR(ours, theirs, 2e-3) << i;
    }
    EXPECT_GT(apart, 20);
}

TEST(MeshBody, VolumeAndCentreOfAnAngleAreThoseOfItsTwoLegs) {
    const auto body = must(geometry::makeMeshBody(angle()));
    EXPECT_NEAR(body.volume, 40 * 10 * 20 + 10 * 30 * 20, 1e-6);
    const Vec3 centre = (8000 * Vec3(20, 10, 5) + 6000 * Vec3(5, 10, 25)) / 14000;
    EXPECT_LT((body.centre - centre).norm(), 1e-9);
    auto turned = angle();
    for (auto& t : turned.triangles) std::swap(t[0], t[1]);
    EXPECT_NEAR(must(geometry::makeMeshBody(turned)).volume, 14000, 1e-6) << "inside out is turned";
}

TEST(MeshBody, OpenHugeAndBrokenMeshesAreNamed) {
    auto open = angle();
    open.triangles.pop_back();
    const auto error = geometry::makeMeshBody(open).error();
    EXPECT_EQ(error.code, "mesh.open");
    EXPECT_NE(error.message.find("3 edges"), std::string::npos) << error.message;
    EXPECT_EQ(geometry::makeMeshBody({}).error().code, "mesh.empty");
    auto far = angle();
    for (auto& p : far.points) p *= 1000;
    EXPECT_EQ(geometry::makeMeshBody(far).error().code, "mesh.size");
    auto nan = angle();
    nan.points[3].y() = std::nan("");
    EXPECT_EQ(geometry::makeMeshBody(nan).error().code, "mesh.number");
    auto stray = angle();
    stray.triangles[0][1] = 99;
    EXPECT_EQ(geometry::makeMeshBody(stray).error().code, "mesh.number");
    TriangleMesh many;
    many.points = angle().points;
    many.triangles.assign(geometry::kMostTriangles + 1, {0, 1, 2});
    EXPECT_EQ(geometry::makeMeshBody(many).error().code, "mesh.size");
    EXPECT_EQ(geometry::makeMeshBody(extrude({{0, 0}, {10, 0}, {10, 10}}, {{0, 1, 2}}, 0)).error().code, "mesh.empty") << "flat";
}

TEST(Pieces, AConvexBodyIsOnePieceAndAnAngleTwo) {
    const auto box = must(geometry::calcConvexPieces(must(geometry::makeMeshBody(meshOf({geometry::makeBox({0, 0, 0}, {30, 10, 8})})))));
    ASSERT_EQ(box.pieces.size(), 1u);
    EXPECT_NEAR(box.excessShare, 0, 1e-4);
    const auto two = must(geometry::calcConvexPieces(must(geometry::makeMeshBody(angle()))));
    EXPECT_EQ(two.pieces.size(), 2u);
    EXPECT_NEAR(sumOf(two.pieces), 14000, 14);
    EXPECT_LT(two.outsideMm, 1e-3);
}

TEST(Pieces, AUTroughKeepsItsHollow) {
    const auto trough = extrude({{0, 0}, {60, 0}, {60, 30}, {50, 30}, {50, 10}, {10, 10}, {10, 30}, {0, 30}},
                                {{0, 1, 4}, {0, 4, 5}, {1, 2, 3}, {1, 3, 4}, {0, 5, 6}, {0, 6, 7}}, 40);
    const auto found = must(geometry::calcConvexPieces(must(geometry::makeMeshBody(trough))));
    EXPECT_LE(found.pieces.size(), 4u);
    EXPECT_LT(found.excessShare, 0.01);
    for (const auto& piece : found.pieces) EXPECT_FALSE(isInside(piece, Vec3(30, 20, 20)));
    EXPECT_TRUE(std::any_of(found.pieces.begin(), found.pieces.end(), [](const auto& piece) { return isInside(piece, Vec3(5, 20, 20)); }));
}

TEST(Pieces, RoundBodiesAreFollowedCloselyAndSayHowClosely) {
    const auto body = must(geometry::makeMeshBody(meshOf({geometry::makeSphere({0, 0, 0}, 20)}, 48)));
    EXPECT_NEAR(body.volume, 4.0 / 3 * base::kPi * 8000, 500);
    const auto found = must(geometry::calcConvexPieces(body));
    EXPECT_EQ(found.pieces.size(), 1u);
    EXPECT_LT(found.excessShare, 0.001);
    EXPECT_GT(found.outsideMm, 0);
    EXPECT_LT(found.outsideMm, 0.5);
}

TEST(Pieces, ARingOfTubeIsCutUntilItsHoleIsFree) {
    TriangleMesh torus;
    constexpr int kAround = 48, kTube = 16;
    for (int i = 0; i < kAround; ++i)
        for (int k = 0; k < kTube; ++k) {
            const double a = 2 * base::kPi * i / kAround, b = 2 * base::kPi * k / kTube, r = 30 + 6 * std::cos(b);
            torus.points.emplace_back(r * std::cos(a), r * std::sin(a), 6 * std::sin(b));
        }
    const auto id = [](int i, int k) { return (i % kAround) * kTube + k % kTube; };
    for (int i = 0; i < kAround; ++i)
        for (int k = 0; k < kTube; ++k) {
            torus.triangles.push_back({id(i, k), id(i + 1, k), id(i + 1, k + 1)});
            torus.triangles.push_back({id(i, k), id(i + 1, k + 1), id(i, k + 1)});
        }
    const auto body = must(geometry::makeMeshBody(torus));
    const auto found = must(geometry::calcConvexPieces(body));
    EXPECT_LE(found.pieces.size(), 24u);
    EXPECT_LT(found.excessShare, 0.03);
    for (const auto& piece : found.pieces) EXPECT_FALSE(isInside(piece, Vec3::Zero()));
    EXPECT_GE(sumOf(found.pieces), body.volume * 0.97);
}

TEST(OwnShape, WeighsWhatIsTypedAndCentresWhereItsBodyDoes) {
    const auto shape = makeAngle(12);
    EXPECT_EQ(shape->name, "own angle iron");
    EXPECT_EQ(shape->massG, 12);
    EXPECT_NEAR(shape->centre.x(), (8000 * 20.0 + 6000 * 5) / 14000, 1e-6);
    EXPECT_EQ(shape->solids.size(), 2u);
    EXPECT_EQ(parts::makeOwnShape("x", 0, *shape->own).error().code, "own.mass");
    EXPECT_EQ(parts::makeOwnShape("", 1, *shape->own).error().code, "own.name");
    auto source = *shape->own;
    source.pieces.clear();
    EXPECT_EQ(parts::makeOwnShape("x", 1, source).error().code, "own.pieces");
    source = *shape->own;
    source.ports = {{parts::PortKind::Stud, "a", Vec3::Zero(), Vec3::UnitZ(), Vec3::UnitZ()}};
    EXPECT_EQ(parts::makeOwnShape("x", 1, source).error().code, "own.port");
    source.ports = {{parts::PortKind::Stud, "a", Vec3::Zero(), Vec3::UnitZ(), Vec3::UnitX()},
                    {parts::PortKind::Cell, "a", Vec3::Zero(), Vec3::UnitZ(), Vec3::UnitX()}};
    EXPECT_EQ(parts::makeOwnShape("x", 1, source).error().code, "own.port");
}

TEST(OwnShape, PartsSitOnItsPortsAndRunIntoItsPieces) {
    // A stud on the foot of the angle, clear of the upright leg.
    const auto shape = makeAngle(12, {{parts::PortKind::Stud, "stud 0", Vec3(30, 10, 10), Vec3::UnitZ(), Vec3::UnitX()}});
    test::Figure f;
    f.project = must(model::putOwnShape(f.project, shape));
    model::NewPart part;
    part.shape = shape;
    f.project = must(model::addParts(f.project, f.project.sections[0]->id, {&part, 1}));
    const auto plate = must(parts::makeShape("plate 1x1"));
    const auto fits = bonds::listFits(f.placed(), bonds::calcBonds(f.project), {0, 0}, Vec3(30, 10, 10), *plate, geometry::Mat3::Identity());
    ASSERT_FALSE(fits.empty());
    EXPECT_LT((fits.front().X_W.translation() - Vec3(30, 10, 10)).norm(), 1e-6);
    const auto onStud = f.put(0, "plate 1x1 at 3.75 1.25 3.125");
    const auto bonds = bonds::calcBonds(f.project);
    EXPECT_EQ(bonds[0]->mates.size(), 1u);
    EXPECT_TRUE(bonds[0]->loose.empty());
    (void)onStud;
    // In the hollow of the angle nothing touches; in its leg something does.
    f.put(1, "brick 1x1 at 3 1.25 7");
    f.put(2, "brick 1x1 at 0.5 1.25 7");
    const auto context = f.context();
    const auto collisions = pose::calcCollisions(f.placed(), context.bodies);
    ASSERT_EQ(collisions.size(), 1u);
    EXPECT_EQ(collisions[0].b.section, 2);
}

TEST(OwnShape, IsKeptByTheProjectAndChangesWithAllItsParts) {
    test::Figure f;
    f.project = must(model::putOwnShape(f.project, makeAngle(12)));
    model::NewPart part;
    part.shape = f.project.ownShapes[0];
    f.project = must(model::addParts(f.project, f.project.sections[0]->id, {&part, 1}));
    f.project = must(model::addVariant(f.project, "B"));
    EXPECT_EQ(model::removeOwnShape(f.project, "own angle iron").error().code, "own.used");
    const auto read = must(files::parseProject(files::writeProject(f.project)));
    ASSERT_EQ(read.ownShapes.size(), 1u);
    EXPECT_EQ(read.sections[0]->parts[0].shape, read.ownShapes[0]);
    EXPECT_EQ(read.variants[0].body->sections[0]->parts[0].shape, read.ownShapes[0]);
    EXPECT_EQ(read.ownShapes[0]->solids.size(), 2u);
    EXPECT_NEAR(read.ownShapes[0]->centre.x(), f.project.ownShapes[0]->centre.x(), 1e-3);
    EXPECT_EQ(files::writeProject(read), files::writeProject(must(files::parseProject(files::writeProject(read)))));
    const auto heavier = must(model::putOwnShape(read, makeAngle(20)));
    EXPECT_EQ(heavier.ownShapes.size(), 1u);
    EXPECT_EQ(heavier.sections[0]->parts[0].massG(), 20);
    EXPECT_EQ(heavier.variants[0].body->sections[0]->parts[0].massG(), 20);
}

TEST(OwnShape, GarbageInAProjectIsNamedWithItsPlace) {
    test::Figure f;
    f.project = must(model::putOwnShape(f.project, makeAngle(12)));
    const auto text = files::writeProject(f.project);
    const auto broken = [&](const std::string& from, const std::string& to) {
        auto changed = text;
        const auto at = changed.find(from);
        EXPECT_NE(at, std::string::npos) << from;
        if (at != std::string::npos) changed.replace(at, from.size(), to);
        const auto read = files::parseProject(changed);
        return read ? std::string("fine") : read.error().code + " " + read.error().place;
    };
    EXPECT_EQ(broken("\"mass_g\": 12", "\"mass_g\": -1"), "own.mass /own_shapes/0");
    EXPECT_EQ(broken("\"triangles\": [[0", "\"triangles\": [[999"), "file.value /own_shapes/0/triangles/0");
    EXPECT_EQ(broken("\"points\": [[", "\"points\": [[1, "), "file.type /own_shapes/0/points/0");
    EXPECT_EQ(broken("\"ports\": []", "\"ports\": [{ \"kind\": \"glue\" }]"), "own.port /own_shapes/0/ports/0/kind");
}

class MeshFile : public testing::TestWithParam<const char*> {};

TEST_P(MeshFile, OfASectionComesBackAsTheSameBody) {
    test::Figure f;
    f.put(0, "tile 2x4 at 0 0 0");
    const std::string path = tempPath(std::string("tile.") + GetParam());
    const auto text = std::string(GetParam()) == "stl" ? files::makeStl(f.placed()) : files::makeObj(f.placed());
    ASSERT_TRUE(files::writeFileAtomically(path, text));
    const auto body = files::loadMesh(path, files::getUsualImport(path));
    ASSERT_TRUE(body) << body.error().message;
    EXPECT_NEAR(body->volume, 16 * 32 * 3.2, 0.5);
    const auto shape = must(files::importOwnShape(path, {}, "tile again", 1.5));
    EXPECT_EQ(shape->solids.size(), 1u);
    EXPECT_NEAR(shape->bounds.low.z(), 0, 1e-4);
    EXPECT_NEAR(shape->bounds.centre().x(), 0, 1e-4);
}

INSTANTIATE_TEST_SUITE_P(Formats, MeshFile, testing::Values("stl", "obj"));

TEST(MeshImport, GltfIsInMetresWithYUp) {
    // A tetrahedron of 20 mm legs, buffers inside the file (base64 of 4 float corners and 12 short indices).
    const float corners[] = {0, 0, 0, 0.02f, 0, 0, 0, 0.03f, 0, 0, 0, 0.04f};
    const std::uint16_t indices[] = {0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3};
    std::string bytes(reinterpret_cast<const char*>(corners), sizeof corners);
    bytes.append(reinterpret_cast<const char*>(indices), sizeof indices);
    static const char kLetters[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string base64;
    for (std::size_t i = 0; i < bytes.size(); i += 3) { // 72 bytes: a multiple of three
        const auto byte = [&](std::size_t k) { return unsigned{static_cast<unsigned char>(bytes[i + k])}; };
        const unsigned v = byte(0) << 16U | byte(1) << 8U | byte(2);
        for (int k = 18; k >= 0; k -= 6) base64 += kLetters[v >> k & 63];
    }
    const std::string path = tempPath("tetra.gltf");
    std::ofstream(path) << R"({ "asset": { "version": "2.0" }, "scene": 0, "scenes": [ { "nodes": [ 0 ] } ], "nodes": [ { "mesh": 0 } ],
        "meshes": [ { "primitives": [ { "attributes": { "POSITION": 0 }, "indices": 1 } ] } ],
        "buffers": [ { "byteLength": 72, "uri": "data:application/octet-stream;base64,)"
                        << base64 << R"(" } ],
        "bufferViews": [ { "buffer": 0, "byteOffset": 0, "byteLength": 48 }, { "buffer": 0, "byteOffset": 48, "byteLength": 24 } ],
        "accessors": [ { "bufferView": 0, "componentType": 5126, "count": 4, "type": "VEC3", "min": [0, 0, 0], "max": [0.02, 0.03, 0.04] },
                       { "bufferView": 1, "componentType": 5123, "count": 12, "type": "SCALAR" } ] })";
    const auto body = files::loadMesh(path, files::getUsualImport(path));
    ASSERT_TRUE(body) << body.error().message;
    EXPECT_NEAR(body->volume, 20 * 30 * 40 / 6.0, 0.01);
    geometry::Bounds bounds;
    for (const auto& p : body->mesh.points) bounds.include(p);
    EXPECT_NEAR(bounds.high.z(), 30, 1e-3) << "the file's y";
    EXPECT_NEAR(bounds.low.y(), -40, 1e-3) << "the file's z, towards the viewer";
}

TEST(MeshImport, GarbageIsNamedAndSurvived) {
    EXPECT_EQ(files::loadMesh(tempPath("none.stl"), {}).error().code, "file.open");
    const auto write = [](const std::string& name, const std::string& text) {
        const std::string path = tempPath(name);
        std::ofstream(path, std::ios::binary) << text;
        return path;
    };
    EXPECT_EQ(files::loadMesh(write("words.txt", "hello"), {}).error().code, "mesh.format");
    for (const char* ending : {"stl", "obj", "gltf", "glb", "ply"}) {
        EXPECT_FALSE(files::loadMesh(write(std::string("empty.") + ending, ""), {})) << ending;
        EXPECT_FALSE(files::loadMesh(write(std::string("noise.") + ending, std::string(400, '\x7f')), {})) << ending;
        EXPECT_FALSE(files::loadMesh(write(std::string("cut.") + ending, "solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0"), {})) << ending;
    }
    const std::string path = write("flat.obj", "v 0 0 0\nv 10 0 0\nv 0 10 0\nf 1 2 3\n");
    EXPECT_EQ(files::loadMesh(path, {}).error().code, "mesh.open");
    EXPECT_EQ(files::loadMesh(path, {-1, false}).error().code, "mesh.unit");
}

TEST(Hull, MovedFacesLeaveWhatIsDeeperThanThat) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> at(-12, 12);
    for (int i = 0; i < 20; ++i) {
        std::vector<Vec3> points;
        for (int k = 0; k < 20; ++k) points.emplace_back(at(random), at(random), at(random));
        const Solid hull = geometry::makeHull(points);
        const Solid small = geometry::calcEroded(hull, 1.5);
        const auto depthOf = [&](const Vec3& p) { // of a point below the nearest face
            double depth = 1e300;
            for (const auto& f : hull.hull->faces) depth = std::min(depth, f.normal.dot(f.outline.front() - p));
            return depth;
        };
        for (const Vec3& p : small.hull->corners) EXPECT_NEAR(depthOf(p), 1.5, 0.01) << "each corner lies on moved faces";
        for (const Vec3& p : points) EXPECT_NEAR(geometry::calcOutside(hull, p), 0, 0.01);
        // The support of the small one along a face's normal is that face moved inwards, or less where others cut it off.
        for (const auto& f : hull.hull->faces) EXPECT_LE(f.normal.dot(geometry::findSupport(small, f.normal)), f.normal.dot(f.outline.front()) - 1.5 + 0.01);
    }
    EXPECT_EQ(geometry::calcEroded(geometry::makeHull({{0, 0, 0}, {9, 0, 0}, {0, 9, 0}, {9, 9, 0}, {0, 0, 1}, {9, 9, 1}}), 2).hull->corners.size(), 1u);
}

TEST(Hull, OutsideIsTheDistanceFromTheNearestFaceAhead) {
    const Solid box = geometry::makeHull({{0, 0, 0}, {10, 0, 0}, {0, 10, 0}, {10, 10, 0}, {0, 0, 10}, {10, 0, 10}, {0, 10, 10}, {10, 10, 10}});
    EXPECT_EQ(geometry::calcOutside(box, {5, 5, 5}), 0);
    EXPECT_NEAR(geometry::calcOutside(box, {5, 5, 13}), 3, 1e-4);
    EXPECT_NEAR(geometry::calcOutside(box, {13, 14, 5}), 4, 1e-4) << "the farthest face, less than the distance 5";
}

TEST(Pieces, TogetherHoldWhatTheMeshHolds) {
    // Points inside a winding body, by counting how often a ray leaves it, lie in some piece or hardly outside.
    std::vector<Eigen::Vector2d> outline{{0, 0}, {50, 0}, {50, 20}, {40, 20}, {40, 10}, {30, 10}, {30, 30}, {20, 30}, {20, 10}, {10, 10}, {10, 40}, {0, 40}};
    const std::vector<std::array<int, 3>> fill{{0, 1, 4}, {1, 2, 3}, {1, 3, 4}, {0, 4, 5}, {0, 5, 8}, {5, 6, 7}, {5, 7, 8}, {0, 8, 9}, {0, 9, 11}, {9, 10, 11}};
    const auto body = must(geometry::makeMeshBody(extrude(outline, fill, 15)));
    const auto found = must(geometry::calcConvexPieces(body));
    std::mt19937 random(2);
    std::uniform_real_distribution<double> x(0, 50), y(0, 15), z(0, 40);
    int inside = 0, wrongly = 0;
    for (int i = 0; i < 3000; ++i) {
        const Vec3 p(x(random), y(random), z(random));
        bool in = false; // the outline, by crossings
        for (std::size_t k = 0; k < outline.size(); ++k) {
            const auto &a = outline[k], &b = outline[(k + 1) % outline.size()];
            if ((a.y() > p.z()) != (b.y() > p.z()) && p.x() < a.x() + (b.x() - a.x()) * (p.z() - a.y()) / (b.y() - a.y())) in = !in;
        }
        double out = 1e300;
        for (const auto& piece : found.pieces) out = std::min(out, geometry::calcOutside(piece, p));
        inside += in ? 1 : 0;
        if (in) {
            EXPECT_LE(out, found.outsideMm + 0.01) << p.transpose();
        }
        wrongly += !in && out == 0 ? 1 : 0;
    }
    EXPECT_GT(inside, 500);
    EXPECT_LE(wrongly, 0.04 * inside) << "little is filled that was hollow";
    EXPECT_GE(sumOf(found.pieces), body.volume * 0.999);
}

TEST(Pieces, FewAreAsFewAsAskedAndStoppingStops) {
    const auto body = must(geometry::makeMeshBody(angle()));
    EXPECT_EQ(must(geometry::calcConvexPieces(body, 1)).pieces.size(), 1u);
    EXPECT_GT(must(geometry::calcConvexPieces(body, 1)).excessShare, 0.1);
    base::Progress progress;
    progress.stop();
    EXPECT_EQ(geometry::calcConvexPieces(body, 24, 0.03, &progress).error().code, "mesh.stopped");
}

TEST(OwnShape, AnotherMassAndOtherPortsLeaveTheBodyAsItIs) {
    const auto shape = makeAngle(12);
    const auto changed = must(parts::changeOwnShape(*shape, 24, {{parts::PortKind::Hole, "hole 0", Vec3(30, 10, 5), Vec3::UnitY(), Vec3::UnitX()}}));
    EXPECT_EQ(changed->massG, 24);
    EXPECT_NEAR(changed->fillFactor, 2 * shape->fillFactor, 1e-12);
    EXPECT_EQ(changed->centre, shape->centre);
    EXPECT_EQ(changed->solids.size(), shape->solids.size());
    ASSERT_EQ(changed->ports.size(), 1u);
    EXPECT_EQ(changed->ports[0].solids.size(), 1u) << "the foot alone";
    EXPECT_TRUE(shape->ports.empty()) << "the one before is not touched";
    EXPECT_EQ(parts::changeOwnShape(*shape, -1, {}).error().code, "own.mass");
    const parts::OwnPort flat{parts::PortKind::Hole, "h", Vec3::Zero(), Vec3::UnitY(), Vec3::UnitY()};
    EXPECT_EQ(parts::changeOwnShape(*shape, 1, {flat}).error().code, "own.port");
}

TEST(OwnShape, OnlyAMirroredMeshHasAMirroredTwin) {
    EXPECT_FALSE(geometry::isMirrored(angle(), 20));
    EXPECT_TRUE(geometry::isMirrored(meshOf({geometry::makeBox({0, 0, 0}, {8, 3, 2})}), 4));
    const auto put = [](const parts::ShapePtr& shape) {
        test::Figure f;
        f.project = must(model::putOwnShape(f.project, shape));
        model::NewPart part;
        part.shape = shape;
        std::vector<model::PartId> ids;
        f.project = must(model::addParts(f.project, f.project.sections[0]->id, {&part, 1}, &ids));
        return model::mirrorParts(f.project, ids, 50, true);
    };
    EXPECT_EQ(put(makeAngle()).error().code, "part.mirror");
    parts::OwnSource box;
    box.mesh = meshOf({geometry::makeBox({0, 0, 0}, {8, 3, 2})});
    box.pieces = {box.mesh.points};
    EXPECT_TRUE(put(must(parts::makeOwnShape("slab", 1, box))));
}

TEST(OwnShape, AMeshWithStudsTakesAPlateOnThem) {
    // A brick by way of a file: its studs are part of the mesh, and a plate pressed on them is no overlap.
    test::Figure brick;
    brick.put(0, "brick 2x2 at 0 0 0");
    const std::string path = tempPath("brick.stl");
    ASSERT_TRUE(files::writeFileAtomically(path, files::makeStl(brick.placed())));
    const auto bare = must(files::importOwnShape(path, {}, "brick again", 2));
    std::vector<parts::OwnPort> studs;
    for (const double x : {-4.0, 4.0})
        for (const double y : {-4.0, 4.0})
            studs.push_back({parts::PortKind::Stud, "stud " + std::to_string(studs.size()), Vec3(x, y, 9.6), Vec3::UnitZ(), Vec3::UnitX()});
    const auto shape = must(parts::changeOwnShape(*bare, 2, studs));
    test::Figure f;
    f.project = must(model::putOwnShape(f.project, shape));
    model::NewPart part;
    part.shape = shape;
    part.place.atUm = {4000, 4000, 0};
    f.project = must(model::addParts(f.project, f.project.sections[0]->id, {&part, 1}));
    f.put(0, "plate 2x2 at 0 0 3");
    const auto bonds = bonds::calcBonds(f.project);
    EXPECT_EQ(bonds[0]->mates.size(), 4u);
    EXPECT_TRUE(bonds[0]->overlaps.empty());
    EXPECT_TRUE(bonds[0]->loose.empty());
}

TEST(OwnShape, LeavesAsAMeshAgain) {
    const auto shape = makeAngle();
    test::Figure f;
    f.project = must(model::putOwnShape(f.project, shape));
    model::NewPart part;
    part.shape = shape;
    f.project = must(model::addParts(f.project, f.project.sections[0]->id, {&part, 1}));
    const std::string path = tempPath("angle.obj");
    ASSERT_TRUE(files::writeFileAtomically(path, files::makeObj(f.placed())));
    EXPECT_NEAR(must(files::loadMesh(path, {})).volume, 14000, 1) << "its own triangles, not its pieces";
}
