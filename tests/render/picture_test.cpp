// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures: the camera's arithmetic, what is baked and what is left out, and that a picture shows what it should.
#include <gtest/gtest.h>

#include "core/base/units.h"
#include "render/picture.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;

namespace {

render::Image drawn(const Figure& f, render::PictureRequest request = {}) {
    request.width = 320;
    request.height = 200;
    return test::must(render::renderPicture(f.placed(), bonds::calcBonds(f.project), request));
}

/// Pixels that differ from the background.
int countInk(const render::Image& image) {
    const std::array<std::uint8_t, 4> paper = render::PictureRequest{}.background;
    int count = 0;
    for (std::size_t i = 0; i < image.rgba.size(); i += 4)
        count += std::equal(paper.begin(), paper.begin() + 3, image.rgba.begin() + static_cast<long>(i)) ? 0 : 1;
    return count;
}

std::size_t countTriangles(const render::BakedSection& baked) { return baked.bodies.size() / 3; }

} // namespace

TEST(Camera, ARayThroughAProjectedPointHitsIt) {
    render::Camera camera;
    camera.target = Vec3(3, -2, 7);
    camera.mmPerPixel = 0.4;
    for (const Vec3& p : {Vec3(0, 0, 0), Vec3(40, -12, 5), Vec3(-7, 90, 33)}) {
        const Vec3 pixel = camera.project(p, 640, 480);
        const auto [origin, direction] = camera.ray(pixel.x(), pixel.y(), 640, 480);
        EXPECT_NEAR((p - origin).cross(direction).norm(), 0, 1e-9);
    }
}

TEST(Camera, FrontLooksAlongYWithZUp) {
    render::Camera camera;
    camera.look(render::View::Front);
    camera.mmPerPixel = 1;
    const Vec3 middle = camera.project(camera.target, 200, 100);
    EXPECT_NEAR(middle.x(), 100, 1e-9);
    EXPECT_NEAR(middle.y(), 50, 1e-9);
    const Vec3 right = camera.project(camera.target + Vec3(10, 0, 0), 200, 100),
               up = camera.project(camera.target + Vec3(0, 0, 10), 200, 100);
    EXPECT_NEAR(right.x(), 110, 1e-9);
    EXPECT_NEAR(up.y(), 40, 1e-9) << "pixels count downwards";
}

TEST(Camera, FitShowsTheWholeBox) {
    render::Camera camera;
    geometry::Bounds bounds;
    bounds.include(Vec3(-100, 20, 0));
    bounds.include(Vec3(60, 300, 40));
    camera.fit(bounds, 400, 300, 0.9);
    for (int c = 0; c < 8; ++c) {
        const Vec3 p = camera.project(Vec3(c & 1 ? 60 : -100, c & 2 ? 300 : 20, c & 4 ? 40 : 0), 400, 300);
        EXPECT_TRUE(p.x() >= 0 && p.x() <= 400 && p.y() >= 0 && p.y() <= 300) << c;
    }
}

TEST(Bake, FacesBetweenTouchingPartsAndCoveredStudsAreLeftOut) {
    // A box has 6 faces of 2 triangles. Two bricks 2x2 on each other: the upper one's underside and the lower one's top
    // are not drawn, and the lower one's four studs are covered.
    Figure one, two;
    one.put(0, "brick 2x2 at 0 0 0");
    two.put(0, "brick 2x2 at 0 0 0");
    two.put(0, "brick 2x2 at 0 0 3");
    const auto bake = [](const Figure& f) {
        return render::bakeSection(*f.project.sections[0], *bonds::calcBonds(f.project)[0]);
    };
    EXPECT_EQ(countTriangles(bake(one)), 12U);
    EXPECT_EQ(countTriangles(bake(two)), 20U);
    ASSERT_EQ(bake(one).studs.size(), 4U);
    EXPECT_EQ(bake(two).studs.size(), 4U) << "only the upper four studs";
    const auto baked = bake(two);
    for (std::size_t level = 1; level < 3; ++level)
        EXPECT_LT(render::makeStuds(baked, level).size(), render::makeStuds(baked, level - 1).size()) << level;
    for (const auto& v : render::makeStuds(baked, 0))
        EXPECT_GE(v.position[2], 2 * base::kBrickMm - 1e-3) << "on top of the upper brick";
}

TEST(Bake, HalfCoveredFacesAreCut) {
    // A brick 2x2 on half of a brick 2x4: the free half of the top remains, as a rectangle.
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    f.put(0, "brick 2x2 at 0 0 3");
    const auto baked = render::bakeSection(*f.project.sections[0], *bonds::calcBonds(f.project)[0]);
    EXPECT_EQ(countTriangles(baked),
              12U + 12U - 2U); // only the upper one's underside is gone, the lower one's top is smaller
    double free = 0;
    for (std::size_t i = 0; i + 2 < baked.bodies.size(); i += 3) {
        const auto at = [&](std::size_t k) {
            return Vec3(baked.bodies[i + k].position[0], baked.bodies[i + k].position[1],
                        baked.bodies[i + k].position[2]);
        };
        const Vec3 area = 0.5 * (at(1) - at(0)).cross(at(2) - at(0));
        if (area.z() > 0 && std::abs(at(0).z() - base::kBrickMm) < 1e-3) free += area.z();
    }
    EXPECT_NEAR(free, 16.0 * 16.0, 0.01); // 2x2 cells of 8 mm
}

TEST(Picture, ShowsTheModelAndOnlyTheWantedSection) {
    Figure f;
    f.put(0, "brick 2x4 kelp at 0 0 0");
    f.put(1, "brick 2x4 buoy at 6 0 0");
    const int both = countInk(drawn(f));
    render::PictureRequest only;
    only.onlySection = 1;
    const auto alone = drawn(f, only);
    EXPECT_GT(both, 1000);
    EXPECT_GT(countInk(alone), 1000);
    // The second section is red: among its inked pixels red outweighs green.
    long red = 0, green = 0;
    for (std::size_t i = 0; i < alone.rgba.size(); i += 4) {
        red += alone.rgba[i];
        green += alone.rgba[i + 1];
    }
    EXPECT_GT(red, green * 11 / 10);
}

TEST(Picture, AStepShowsWhatIsThereByThen) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto brick = f.put(0, "brick 2x2 buoy at 1 1 1");
    f.project = test::must(model::setStep(f.project, std::vector<model::PartId>{brick}, 2));
    render::PictureRequest first, second;
    first.onlySection = second.onlySection = 0;
    first.upToStep = 1;
    second.upToStep = 2;
    const auto before = drawn(f, first), after = drawn(f, second);
    EXPECT_NE(before.rgba, after.rgba);
    long red = 0;
    for (std::size_t i = 0; i < before.rgba.size(); i += 4) red += before.rgba[i] > before.rgba[i + 1] + 60 ? 1 : 0;
    EXPECT_EQ(red, 0) << "the red brick is not there yet";
}

TEST(Picture, SameSceneSamePixels) {
    Figure f;
    f.put(0, "round brick 2x2 gorse at 0 0 0");
    EXPECT_EQ(drawn(f).rgba, drawn(f).rgba);
}

TEST(Picture, PngBeginsWithItsSignatureAndHasItsSize) {
    Figure f;
    f.put(0, "brick 1x1 at 0 0 0");
    const auto png = render::encodePng(drawn(f));
    ASSERT_GT(png.size(), 100U);
    EXPECT_EQ(png.substr(1, 3), "PNG");
    EXPECT_EQ(static_cast<unsigned char>(png[18]) * 256 + static_cast<unsigned char>(png[19]),
              320); // width, big-endian, in the header chunk
}

TEST(Picture, LargeModelsAppearSectionBySection) {
    Figure f;
    for (std::size_t s = 0; s < 3; ++s) f.put(s, "brick 2x4 kelp at " + std::to_string(4 * s) + " 0 0");
    const auto renderer = test::must(render::Renderer::create());
    const auto placed = f.placed(); // the scene's sections are those of f
    auto scene = render::makeScene(placed, bonds::calcBonds(f.project), {});
    scene.mostNewMeshMs = 1e-9; // no time at all: one new section a picture, so that it always goes on
    const auto first = renderer->draw(scene);
    EXPECT_FALSE(renderer->isComplete());
    int more = 0;
    auto last = first;
    while (!renderer->isComplete() && more < 10) {
        last = renderer->draw(scene);
        ++more;
    }
    EXPECT_EQ(more, 2);
    scene.mostNewMeshMs = 0;
    EXPECT_EQ(test::must(render::Renderer::create())->draw(scene).rgba, last.rgba)
        << "in the end it is the whole picture";
    EXPECT_LT(countInk(first), countInk(last));
}
