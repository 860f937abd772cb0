// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes of the builder's own: mass, ports, files.
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>

#include "core/base/units.h"
#include "core/bonds/fits.h"
#include "core/files/atomic_file.h"
#include "core/files/mesh_files.h"
#include "core/files/mesh_import.h"
#include "core/files/project_file.h"
#include "core/geometry/mesh.h"
#include "core/geometry/pieces.h"
#include "core/model/variants.h"
#include "core/parts/own_shape.h"
#include "core/pose/collide.h"
#include "tests/support/figures.h"
#include "tests/support/meshes.h"

using namespace ivrant;
using geometry::Vec3;
using test::angle;
using test::meshOf;
using test::must;

namespace {

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
    const auto shape =
        makeAngle(12, {{parts::PortKind::Stud, "stud 0", Vec3(30, 10, 10), Vec3::UnitZ(), Vec3::UnitX()}});
    test::Figure f;
    f.project = must(model::putOwnShape(f.project, shape));
    model::NewPart part;
    part.shape = shape;
    f.project = must(model::addParts(f.project, f.project.sections[0]->id, {&part, 1}));
    const auto plate = must(parts::makeShape("plate 1x1"));
    const auto fits = bonds::listFits(f.placed(), bonds::calcBonds(f.project), {0, 0}, Vec3(30, 10, 10), *plate,
                                      geometry::Mat3::Identity());
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
    std::ofstream(path)
        << R"({ "asset": { "version": "2.0" }, "scene": 0, "scenes": [ { "nodes": [ 0 ] } ], "nodes": [ { "mesh": 0 } ],
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
        EXPECT_FALSE(files::loadMesh(
            write(std::string("cut.") + ending, "solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0"), {}))
            << ending;
    }
    const std::string path = write("flat.obj", "v 0 0 0\nv 10 0 0\nv 0 10 0\nf 1 2 3\n");
    EXPECT_EQ(files::loadMesh(path, {}).error().code, "mesh.open");
    EXPECT_EQ(files::loadMesh(path, {-1, false}).error().code, "mesh.unit");
}

TEST(OwnShape, AnotherMassAndOtherPortsLeaveTheBodyAsItIs) {
    const auto shape = makeAngle(12);
    const auto changed = must(parts::changeOwnShape(
        *shape, 24, {{parts::PortKind::Hole, "hole 0", Vec3(30, 10, 5), Vec3::UnitY(), Vec3::UnitX()}}));
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
            studs.push_back({parts::PortKind::Stud, "stud " + std::to_string(studs.size()), Vec3(x, y, 9.6),
                             Vec3::UnitZ(), Vec3::UnitX()});
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
