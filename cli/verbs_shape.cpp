// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes from outside and from the catalogue: bricks for a mesh or for pictures of layers; the part families.
#include <CLI/CLI.hpp>
#include <iostream>
#include <sstream>

#include "cli/parts_page.h"
#include "cli/verbs.h"
#include "core/base/units.h"
#include "core/files/layer_pictures.h"
#include "core/files/mesh_import.h"
#include "core/files/results_desk.h"
#include "core/make/proposal.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/verdict/stand/size_desk.h"
#include "render/picture.h"

namespace ivrant::cli {
namespace {

constexpr int kFamilyWidth = 280, kFamilyHeight = 180; ///< pixels of a family's picture

/// "2x4,2x2" as sizes of bricks.
base::Result<std::vector<std::array<int, 2>>> parseSizes(const std::string& text) {
    if (text.empty()) return stand::getUsualSizes();
    std::vector<std::array<int, 2>> sizes;
    std::istringstream stream(text);
    for (std::string size; std::getline(stream, size, ',');) {
        const auto cross = size.find('x');
        const auto a = base::parseNumber(size.substr(0, cross)),
                   b = base::parseNumber(cross == std::string::npos ? "" : size.substr(cross + 1));
        if (!a || !b || *a < 1 || *b < *a || *b > 16 || *a != static_cast<int>(*a) || *b != static_cast<int>(*b))
            return base::Error{"layers.sizes",
                               "'" + size + "' is no size of brick such as 2x4, the smaller number first", ""};
        sizes.push_back({static_cast<int>(*a), static_cast<int>(*b)});
    }
    return sizes;
}

class Layers : public Verb {
public:
    Layers() : Verb("layers", "bricks for a closed mesh or pictures of layers, at one or several heights") {}
    void addOptions(CLI::App& sub) override {
        sub.add_option("HEIGHTS", m_heights, "such as 480mm or 60s; several make a table of sizes");
        sub.add_option("--mesh", m_mesh, "closed mesh as .stl, .obj, .gltf, .glb or .ply");
        sub.add_option("--pictures", m_pictures, "instead: a folder with one PNG for each layer, from below");
        sub.add_option("--colours", m_colours,
                       "a PNG laid over the mesh from the front: each cell takes the nearest colour");
        sub.add_flag("--plates", m_plates, "plates where a whole brick does not fit, for a finer surface");
        sub.add_flag("--slopes", m_slopes, "slopes where the top steps in");
        sub.add_option("--price", m_price, "of a part, in your own money")->check(CLI::NonNegativeNumber);
        sub.add_option("--rate", m_rate, "parts laid in an hour")->check(CLI::PositiveNumber);
        sub.add_option("--unit", m_unitMm, "mm for each unit of the file");
        sub.add_flag("--y-up", m_yUp, "y points up in the file");
        sub.add_option("--shell", m_shell, "cells left of its walls; solid without it")->check(CLI::Range(0, 100));
        sub.add_option("--sizes", m_sizes, "bricks to use, such as 2x4,2x2; all usual ones without it");
        sub.add_option("--colour", m_colour, "of all bricks");
        sub.add_option("--name", m_projectName, "of the project");
        sub.add_option("-o,--output", m_output, "write the first height here: OUT.ivrant");
        Verb::addOptions(sub);
    }
    [[nodiscard]] int run() const override {
        const int colour = m_colour.empty() ? 0 : parts::findColour(m_colour);
        if (colour < 0) return complain(unknown("colour", m_colour));
        auto wish = makeWish();
        if (!wish) return complain(wish.error());
        const auto rows = m_pictures.empty() ? layMesh(*wish) : layPictures(*wish);
        if (!rows) return complain(rows.error());
        print(files::makeDeskJson(*rows, *wish));
        if (m_output.empty()) return 0;
        auto statue = stand::makeStatue(m_projectName, rows->front().size.layers, colour);
        if (statue) statue = make::takeProposals(*statue, make::Take::Moves); // what hangs comes with its carriers
        return statue ? save(m_output, *statue) : complain(statue.error());
    }

private:
    using Rows = std::vector<verdict::DeskRow>;

    [[nodiscard]] base::Result<verdict::DeskWish> makeWish() const {
        const auto sizes = parseSizes(m_sizes);
        if (!sizes) return sizes.error();
        verdict::DeskWish wish;
        wish.layers.shell = m_shell;
        wish.layers.sizes = *sizes;
        wish.layers.plates = m_plates;
        wish.layers.slopes = m_slopes;
        wish.pricePerPart = m_price;
        wish.partsPerHour = m_rate;
        if (m_colours.empty()) return wish;
        auto map = files::loadColourMap(m_colours);
        if (!map) return map.error();
        wish.layers.colours = std::make_shared<const stand::ColourMap>(std::move(map).value());
        return wish;
    }
    [[nodiscard]] base::Result<Rows> layPictures(const verdict::DeskWish& wish) const {
        const auto paths = files::listLayerPictures(m_pictures);
        if (!paths) return paths.error();
        const auto grid = files::loadLayerPictures(*paths);
        if (!grid) return grid.error();
        auto row = verdict::calcDeskRow(*grid, wish);
        if (!row) return row.error();
        return Rows{std::move(row).value()};
    }
    [[nodiscard]] base::Result<Rows> layMesh(verdict::DeskWish wish) const {
        if (m_mesh.empty() || m_heights.empty())
            return base::Error{"layers.source", "a mesh and heights are expected, or a folder of pictures", ""};
        auto import = files::getUsualImport(m_mesh);
        if (m_unitMm) import.mmPerUnit = *m_unitMm;
        import.yUp = import.yUp || m_yUp;
        const auto body = files::loadMesh(m_mesh, import);
        if (!body) return body.error();
        Rows rows;
        for (const std::string& text : m_heights) {
            const auto height = base::parseLengthMm(text, 1);
            if (!height) return height.error();
            wish.layers.heightMm = *height;
            auto row = verdict::calcDeskRow(*body, wish);
            if (!row) return row.error();
            rows.push_back(std::move(row).value());
        }
        return rows;
    }

    std::vector<std::string> m_heights;
    std::string m_mesh, m_pictures, m_colours, m_sizes, m_colour, m_output, m_projectName = "Statue";
    bool m_plates = false, m_slopes = false, m_yUp = false;
    double m_price = verdict::kUsualPrice, m_rate = verdict::kUsualPartsPerHour;
    std::optional<double> m_unitMm;
    int m_shell = 0;
};

class Families : public Verb {
public:
    Families() : Verb("families", "every part family with its sizes and ports") {}
    void addOptions(CLI::App& sub) override {
        sub.add_flag("--markdown", m_markdown, "print as docs/parts.md has it");
        sub.add_option("--pictures", m_folder, "write a picture of each family into this folder instead");
    }
    [[nodiscard]] int run() const override {
        if (!m_folder.empty()) return drawAll();
        std::cout << formatPartsPage(m_markdown);
        return 0;
    }

private:
    [[nodiscard]] int drawAll() const {
        auto renderer = render::Renderer::create();
        if (!renderer) return complain(renderer.error());
        for (const auto& family : parts::getFamilies()) {
            const auto image = render::drawPart(**renderer, parts::makeShape(family.name).value(),
                                                parts::findColour("fog"), kFamilyWidth, kFamilyHeight);
            const std::string path = m_folder + "/" + pictureName(family);
            if (const int code = save(path, render::encodePng(image)); code != 0) return code;
        }
        return 0;
    }

    bool m_markdown = false;
    std::string m_folder;
};

} // namespace

void addShapeVerbs(Verbs& verbs) {
    verbs.push_back(std::make_unique<Layers>());
    verbs.push_back(std::make_unique<Families>());
}

} // namespace ivrant::cli
