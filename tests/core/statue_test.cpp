// SPDX-License-Identifier: GPL-3.0-or-later
// Statues: pictures of layers, colours, plates on the surface, the desk of sizes, hollows made firm.
#include <cmath>
#include <filesystem>
#include <fstream>
#include <gtest/gtest.h>
#include <map>
#include <png.h>
#include <random>
#include <set>

#include "core/base/at.h"
#include "core/files/layer_pictures.h"
#include "core/stand/firm_shell.h"
#include "core/stand/size_rows.h"
#include "core/verdict/report.h"
#include "core/verdict/stand/size_desk.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;
using test::Stack;

namespace {

struct Folder {
    std::filesystem::path path;
    Folder() : path(std::filesystem::temp_directory_path() / ("ivrant-layers-" + std::to_string(::getpid()))) {
        std::filesystem::create_directories(path);
    }
    ~Folder() { std::filesystem::remove_all(path); }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    /// '.': empty, others by `colours`.
    std::string draw(const std::string& name, const std::vector<std::string>& rows,
                     const std::map<char, std::array<std::uint8_t, 4>>& colours) const {
        png_image image{};
        image.version = PNG_IMAGE_VERSION;
        image.width = static_cast<png_uint_32>(rows[0].size());
        image.height = static_cast<png_uint_32>(rows.size());
        image.format = PNG_FORMAT_RGBA;
        std::vector<std::uint8_t> bytes;
        for (const std::string& row : rows)
            for (const char c : row) {
                const auto found = colours.find(c);
                const std::array<std::uint8_t, 4> pixel =
                    found == colours.end() ? std::array<std::uint8_t, 4>{255, 255, 255, 255} : found->second;
                bytes.insert(bytes.end(), pixel.begin(), pixel.end());
            }
        const std::string file = (path / name).string();
        EXPECT_TRUE(png_image_write_to_file(&image, file.c_str(), 0, bytes.data(), 0, nullptr));
        return file;
    }
};

std::map<char, std::array<std::uint8_t, 4>> twoColours() {
    const auto at = [](int c) {
        const auto& rgb = ivrant::at(parts::getPalette(), c).rgb;
        return std::array<std::uint8_t, 4>{rgb[0], rgb[1], rgb[2], 255};
    };
    return {{'a', at(0)}, {'b', at(3)}, {'t', {0, 0, 0, 10}}};
}

stand::CellGrid makeBlock(int nx, int ny, int nz, double cellMm) {
    stand::CellGrid grid{nx, ny, nz, {}, {}, cellMm};
    grid.filled.assign(static_cast<std::size_t>(nx * ny * nz), 1);
    return grid;
}

geometry::MeshBody makeCone(double radius, double height) {
    geometry::TriangleMesh mesh;
    const int sides = 48;
    mesh.points = {{0, 0, height}, {0, 0, 0}};
    for (int i = 0; i < sides; ++i)
        mesh.points.push_back(
            Vec3(radius * std::cos(2 * M_PI * i / sides), radius * std::sin(2 * M_PI * i / sides), 0));
    for (int i = 0; i < sides; ++i) {
        const int a = 2 + i, b = 2 + (i + 1) % sides;
        mesh.triangles.push_back({0, a, b});
        mesh.triangles.push_back({1, b, a});
    }
    return must(geometry::makeMeshBody(mesh));
}

} // namespace

TEST(LayerPictures, PixelsAreCellsFromBelowAndColoursTheNearestOnes) {
    const Folder folder;
    folder.draw("layer 2.png", {"..b", "aab"}, twoColours());
    folder.draw("layer 10.png", {"t.b", "..b"}, twoColours()); // after 2 by number; nearly transparent is empty
    const auto paths = must(files::listLayerPictures(folder.path.string()));
    ASSERT_EQ(paths.size(), 2U);
    const auto grid = must(files::loadLayerPictures(paths));
    EXPECT_EQ(grid.nx, 3);
    EXPECT_EQ(grid.ny, 2);
    EXPECT_EQ(grid.nz, 2);
    EXPECT_EQ(grid.count(), 6U);
    EXPECT_TRUE(grid.isFilled(0, 0, 0)); // the last row of a picture is the nearest one, y = 0
    EXPECT_FALSE(grid.isFilled(0, 1, 0));
    EXPECT_EQ(grid.colour[grid.index(0, 0, 0)], 0);
    EXPECT_EQ(grid.colour[grid.index(2, 1, 1)], 3);
    const auto layers = must(stand::layBricks(grid, stand::getUsualSizes()));
    for (const auto& brick : layers.bricks)
        EXPECT_EQ(brick.colour, brick.x < 2 ? 0 : 3); // no brick crosses from one colour to the other
    const auto statue = must(stand::makeStatue("Two", layers, 5));
    for (const auto& part : statue.sections[0]->parts) EXPECT_NE(part.colour, 5);
}

TEST(ColourMap, IsLaidOverTheFrontAndTwoCellsDeep) {
    const Folder folder;
    const auto map = must(files::loadColourMap(folder.draw("front.png", {"ab", "tt"}, twoColours())));
    EXPECT_EQ(map.width, 2);
    EXPECT_EQ(map.colour, (std::vector<std::int16_t>{0, 3, -1, -1}));
    const auto grid = stand::paintCells(makeBlock(8, 7, 6, base::kBrickMm), map);
    EXPECT_EQ(grid.colour[grid.index(0, 0, 5)], 0);  // top left
    EXPECT_EQ(grid.colour[grid.index(3, 6, 3)], 0);  // seen through to the back
    EXPECT_EQ(grid.colour[grid.index(4, 0, 3)], 3);  // right half
    EXPECT_EQ(grid.colour[grid.index(0, 0, 2)], -1); // the lower half is transparent
    EXPECT_EQ(grid.colour[grid.index(3, 3, 3)], -1) << "three cells from the air all round";
    EXPECT_EQ(grid.colour[grid.index(3, 1, 3)], 0) << "two cells from the air";
    const auto layers = must(stand::layBricks(grid, stand::getUsualSizes()));
    bool both = false;
    for (const auto& brick : layers.bricks) {
        if (brick.z < 9 || brick.colour < 0) continue;
        both = both || brick.colour == 3;
        for (int x = brick.x; x < brick.x + brick.across; ++x)
            for (int y = brick.y; y < brick.y + brick.along; ++y) {
                const int cell = grid.colour[grid.index(x, y, brick.z / 3)];
                EXPECT_TRUE(cell == brick.colour || cell == -1);
            }
    }
    EXPECT_TRUE(both);
    // The same of a mesh, and of plates: three of them are as deep as one brick.
    stand::LayerWish wish;
    wish.heightMm = 96;
    wish.colours = std::make_shared<const stand::ColourMap>(map);
    const auto cone = must(stand::calcSize(makeCone(60, 100), wish));
    const auto plain = must(stand::calcSize(makeCone(60, 100), {96}));
    EXPECT_GT(cone.parts, plain.parts); // no brick reaches from one colour into the other
    const auto plates = stand::paintCells(makeBlock(20, 20, 30, base::kPlateMm), map);
    EXPECT_EQ(plates.colour[plates.index(2, 2, 24)], 0);
    EXPECT_EQ(plates.colour[plates.index(8, 8, 22)], -1);
    // What cannot be read is named.
    EXPECT_EQ(files::loadColourMap((folder.path / "none.png").string()).error().code, "picture.open");
    EXPECT_EQ(files::loadColourMap(folder.draw("clear.png", {"tt"}, twoColours())).error().code, "picture.empty");
}

TEST(LayerPictures, BadOnesAreNamed) {
    const Folder folder;
    EXPECT_EQ(files::listLayerPictures((folder.path / "none").string()).error().code, "picture.open");
    EXPECT_EQ(files::listLayerPictures(folder.path.string()).error().code, "picture.empty");
    EXPECT_EQ(files::loadLayerPictures({}).error().code, "picture.empty");
    const auto small = folder.draw("1.png", {"aa", "aa"}, twoColours()),
               large = folder.draw("2.png", {"aaa", "aaa"}, twoColours());
    const auto sizes = files::loadLayerPictures({small, large});
    ASSERT_FALSE(sizes);
    EXPECT_EQ(sizes.error().code, "picture.size");
    EXPECT_NE(sizes.error().message.find("2.png"), std::string::npos);
    EXPECT_EQ(files::loadLayerPictures({folder.draw("3.png", {"..", ".."}, twoColours())}).error().code,
              "picture.empty");
    const auto broken = (folder.path / "broken.png").string();
    std::ofstream(broken) << "\x89PNG and then nothing";
    EXPECT_EQ(files::loadLayerPictures({broken}).error().code, "picture.format");
    std::filesystem::resize_file(small, std::filesystem::file_size(small) - 20);
    EXPECT_EQ(files::loadLayerPictures({small}).error().code, "picture.format");
}

TEST(Layers, PlatesFillWhatBricksDoNot) {
    // Seven plates high: two courses of bricks and one of plates.
    const auto grid = makeBlock(6, 4, 7, base::kPlateMm);
    const auto layers = must(stand::layBricks(grid, stand::getUsualSizes()));
    std::set<std::array<int, 3>> covered;
    for (const auto& brick : layers.bricks) {
        EXPECT_EQ(brick.plates, brick.z < 6 ? 3 : 1);
        for (int z = brick.z; z < brick.z + brick.plates; ++z)
            for (int y = brick.y; y < brick.y + brick.along; ++y)
                for (int x = brick.x; x < brick.x + brick.across; ++x) EXPECT_TRUE(covered.insert({x, y, z}).second);
    }
    EXPECT_EQ(covered.size(), grid.count());
    const auto statue = must(stand::makeStatue("Slab", layers, 0));
    const auto bonds = bonds::calcBonds(statue);
    EXPECT_TRUE(bonds[0]->overlaps.empty());
    EXPECT_TRUE(bonds[0]->loose.empty());
}

TEST(Layers, PlatesFollowAConeCloser) {
    const auto cone = makeCone(60, 120);
    const auto rough = must(stand::calcSize(cone, {115.2, 0})),
               fine = must(stand::calcSize(cone, {115.2, 0, stand::getUsualSizes(), true}));
    const auto volume = [](const stand::SizeRow& row) {
        double sum = 0;
        for (const auto& b : row.layers.bricks) sum += b.across * b.along * b.plates * 64 * 3.2;
        return sum;
    };
    const double scale = 115.2 / 120, exact = M_PI * 60 * 60 * 120 / 3 * std::pow(scale, 3);
    EXPECT_NEAR(volume(fine), exact, 0.05 * exact);
    EXPECT_GT(fine.parts, rough.parts);
}

TEST(SizeDesk, CountsMoneyHoursAndJudges) {
    verdict::DeskWish wish;
    wish.layers.heightMm = 96;
    wish.pricePerPart = 0.5;
    wish.partsPerHour = 50;
    const auto row = must(verdict::calcDeskRow(makeCone(60, 120), wish));
    EXPECT_NEAR(row.cost, 0.5 * static_cast<double>(row.size.parts), 1e-9);
    EXPECT_NEAR(row.hours, static_cast<double>(row.size.parts) / 50, 1e-9);
    EXPECT_TRUE(row.holds);
    EXPECT_EQ(row.state, verdict::State::Good);
    // A cone's centre lies a quarter of its height up, its foot 48 mm from the middle.
    EXPECT_NEAR(*row.tipDeg, base::radToDeg(std::atan2(48, 24)), 8);
    // On its head it falls over.
    stand::CellGrid top = makeBlock(9, 9, 2, base::kBrickMm);
    for (int y = 0; y < 9; ++y)
        for (int x = 0; x < 9; ++x) top.filled[top.index(x, y, 0)] = x == 0 && y == 0 ? 1 : 0;
    const auto falls = must(verdict::calcDeskRow(top, wish));
    EXPECT_EQ(falls.state, verdict::State::Fail);
    EXPECT_LT(*falls.tipDeg, 0);
    wish.partsPerHour = 0;
    EXPECT_EQ(verdict::calcDeskRow(makeCone(60, 120), wish).error().code, "desk.wish");
}

TEST(FirmShell, FindsTheHollowAndOnlyIt) {
    const auto shell = stand::makeHollow(makeBlock(10, 10, 8, base::kBrickMm), 2);
    const auto layers = must(stand::layBricks(shell, stand::getUsualSizes()));
    ASSERT_EQ(layers.hanging, 0U);
    const auto statue = must(stand::makeStatue("Box", layers, 0));
    Vec3 origin;
    const auto hollow = must(stand::listHollow(*statue.sections[0], &origin));
    EXPECT_EQ(hollow.count(), 6u * 6u * 4u);
    EXPECT_NEAR(origin.x(), -4, 1e-9); // the first cell reaches half a pitch before its middle
    // With the lid off there is none.
    auto open = statue;
    std::vector<model::PartId> lid;
    for (const auto& part : statue.sections[0]->parts)
        if (part.place.atUm[2] > 55'000) lid.push_back(part.id);
    open = must(model::removeParts(statue, lid));
    EXPECT_EQ(must(stand::listHollow(*open.sections[0], &origin)).count(), 0u);
}

TEST(FirmShell, PartsGoInUntilTheBondsHold) {
    // A lid far wider than its bricks hangs on its rim: pillars inside carry it.
    const auto shell = stand::makeHollow(makeBlock(16, 16, 7, base::kBrickMm), 2);
    const auto statue = must(stand::makeStatue("Box", must(stand::layBricks(shell, stand::getUsualSizes())), 0));
    Stack f;
    f.pull = 0.03; // weak studs, so that λ lies about 1
    f.shear = 0.06;
    f.project = statue;
    const auto placed = f.placed();
    const auto alone = f.net();
    const double before = *must(stand::calcEquilibrium(alone, stand::calcLoads(alone, {0, 0, -1}))).lambda;
    stand::FirmWish wish;
    wish.mostLambda = before / 1.5;
    wish.mostRounds = 30;
    const auto firm = must(stand::proposeFirm(placed, f.limits(), wish));
    EXPECT_NEAR(*firm.before, before, 0.01 * before);
    EXPECT_GT(firm.parts.size(), 0u);
    EXPECT_LT(firm.after.value_or(1e9), before);
    for (const auto& part : firm.parts) // goes in with its layer, while the shell is open
        EXPECT_EQ(part.step.value_or(0), 1 + part.place.atUm[2] / 9600);
    f.project = must(model::addParts(statue, statue.sections[0]->id, firm.parts));
    const auto bonds = bonds::calcBonds(f.project);
    EXPECT_TRUE(bonds[0]->overlaps.empty());
    EXPECT_TRUE(bonds[0]->loose.empty());
    // The second way: solved anew, λ is what was promised.
    const auto net = f.net();
    EXPECT_NEAR(*must(stand::calcEquilibrium(net, stand::calcLoads(net, {0, 0, -1}))).lambda, *firm.after,
                0.02 * *firm.after);
}

TEST(OwnCases, AreKeptJudgedAndSurviveWhatIsGone) {
    Stack f;
    f.put(0, "plate 4x4 at 0 0 0");
    for (int i = 0; i < 4; ++i) f.put(0, "brick 1x1 at 1 1 " + std::to_string(1 + 3 * i));
    model::OwnCase push;
    push.name = "a child's hand";
    push.pushN = 0.01;
    push.pushed = f.project.sections[0]->parts[4].id;
    auto project = must(model::putCase(f.project, push));
    push.name = "a gale";
    push.pushN = 50;
    push.strapped = true;
    project = must(model::putCase(project, push));
    push.name = "upside down by its plate";
    push.pushN = 0;
    push.hands = {f.project.sections[0]->parts[0].id};
    push.slopeDeg = 60;
    project = must(model::putCase(project, push));
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    ASSERT_EQ(report.ownCases.size(), 3U);
    EXPECT_TRUE(report.ownCases[0].result->equilibrium.stands);
    EXPECT_FALSE(report.ownCases[1].result->equilibrium.stands);
    EXPECT_TRUE(report.ownCases[2].result->equilibrium.stands);
    const auto count =
        std::count_if(report.verdicts.begin(), report.verdicts.end(), [](const auto& v) { return v.check == "case"; });
    EXPECT_EQ(count, 3);
    // λ of a push by hand: studs hold 1.5 N · 4 mm and what stands above.
    const auto gone = must(model::removeParts(project, std::vector{f.project.sections[0]->parts[4].id}));
    const auto after = verdict::calcReport(std::make_shared<const model::Project>(gone));
    EXPECT_NE(after.ownCases[0].problem.find("not in the model"), std::string::npos);
    push = {};
    push.name = "nonsense";
    push.slopeDeg = 100;
    EXPECT_EQ(model::putCase(project, push).error().code, "case.value");
    push.slopeDeg = 0;
    push.name.clear();
    EXPECT_EQ(model::putCase(project, push).error().code, "case.name");
}

TEST(Layers, SlopesTakeTheStepsOfTheTop) {
    // A stepped pyramid: each course a cell less on every side.
    auto grid = makeBlock(12, 12, 4, base::kBrickMm);
    for (int z = 0; z < 4; ++z)
        for (int y = 0; y < 12; ++y)
            for (int x = 0; x < 12; ++x)
                if (x < z || y < z || x >= 12 - z || y >= 12 - z) grid.filled[grid.index(x, y, z)] = 0;
    const auto layers = must(stand::layBricks(grid, stand::getUsualSizes(), nullptr, false, true));
    EXPECT_EQ(layers.hanging, 0U);
    std::set<std::array<int, 3>> covered;
    std::map<int, int> ways;
    for (const auto& brick : layers.bricks) {
        if (brick.slope > 0) ++ways[brick.slope];
        for (int y = brick.y; y < brick.y + brick.along; ++y)
            for (int x = brick.x; x < brick.x + brick.across; ++x) {
                EXPECT_TRUE(grid.isFilled(x, y, brick.z / 3));
                EXPECT_TRUE(covered.insert({x, y, brick.z}).second);
            }
    }
    EXPECT_EQ(covered.size(), grid.count());
    EXPECT_EQ(ways.size(), 4U) << "on all four sides";
    const auto statue = must(stand::makeStatue("Pyramid", layers, 0));
    const auto bonds = bonds::calcBonds(statue);
    EXPECT_TRUE(bonds[0]->overlaps.empty()) << "turned the right way, a slope lies where its cells are";
    EXPECT_TRUE(bonds[0]->loose.empty());
    // The low sides look outwards: nothing of the model lies beyond a slope's lip at its own height.
    for (const auto& part : statue.sections[0]->parts) {
        if (part.shape->family != "slope") continue;
        const Vec3 lip = part.place.frame() * Vec3(0, -8, 1);
        const int x = static_cast<int>(std::lround(lip.x() / 8)), y = static_cast<int>(std::lround(lip.y() / 8)),
                  z = static_cast<int>(part.place.atUm[2] / 9600);
        EXPECT_FALSE(grid.isFilled(x, y, z)) << part.shape->name << ' ' << x << ' ' << y << ' ' << z;
    }
}
