// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/layer_pictures.h"

#include <algorithm>
#include <filesystem>
#include <limits>
#include <png.h>

#include "core/parts/palette.h"

namespace ivrant::files {
namespace {

struct Picture {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgba; ///< four bytes a pixel, rows from the top

    [[nodiscard]] const std::uint8_t* at(int x, int y) const {
        return rgba.data() +
               (static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)) * 4;
    }
};

base::Result<Picture> loadPicture(const std::string& path) {
    std::error_code code;
    const auto size = std::filesystem::file_size(path, code);
    if (code) return base::Error{"picture.open", "cannot be read: " + path, ""};
    if (size > kMostPictureBytes) return base::Error{"picture.size", "larger than 64 MB: " + path, ""};
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    if (!png_image_begin_read_from_file(&image, path.c_str()))
        return base::Error{"picture.format", "no PNG picture: " + path, ""};
    if (image.width > kMostPictureSide || image.height > kMostPictureSide || image.width == 0 || image.height == 0) {
        png_image_free(&image);
        return base::Error{"picture.size", "more than " + std::to_string(kMostPictureSide) + " cells a side: " + path,
                           ""};
    }
    image.format = PNG_FORMAT_RGBA;
    Picture picture;
    picture.width = static_cast<int>(image.width);
    picture.height = static_cast<int>(image.height);
    picture.rgba.resize(PNG_IMAGE_SIZE(image));
    if (!png_image_finish_read(&image, nullptr, picture.rgba.data(), 0, nullptr))
        return base::Error{"picture.format", "broken in the middle: " + path, ""};
    return picture;
}

constexpr std::uint8_t kOpaque = 128;

bool isEmpty(const std::uint8_t* pixel) {
    return pixel[3] < kOpaque || (pixel[0] > 250 && pixel[1] > 250 && pixel[2] > 250);
}

int findNearestColour(const std::uint8_t* pixel) {
    int best = 0, least = std::numeric_limits<int>::max();
    const auto palette = parts::getPalette();
    for (std::size_t c = 0; c < palette.size(); ++c) {
        int distance = 0;
        for (std::size_t k = 0; k < 3; ++k) {
            const int d = static_cast<int>(pixel[k]) - static_cast<int>(palette[c].rgb[k]);
            distance += d * d;
        }
        if (distance >= least) continue;
        least = distance;
        best = static_cast<int>(c);
    }
    return best;
}

/// Runs of digits compare as numbers.
bool comesBefore(const std::string& l, const std::string& r) {
    std::size_t i = 0, k = 0;
    const auto isDigit = [](char c) { return c >= '0' && c <= '9'; };
    while (i < l.size() && k < r.size()) {
        if (!isDigit(l[i]) || !isDigit(r[k])) {
            if (l[i] != r[k]) return l[i] < r[k];
            ++i;
            ++k;
            continue;
        }
        const auto run = [&](const std::string& text, std::size_t& at) {
            while (at < text.size() && text[at] == '0') ++at;
            const std::size_t start = at;
            while (at < text.size() && isDigit(text[at])) ++at;
            return text.substr(start, at - start);
        };
        const std::string a = run(l, i), b = run(r, k);
        if (a.size() != b.size()) return a.size() < b.size();
        if (a != b) return a < b;
    }
    return l.size() - i < r.size() - k;
}

} // namespace

base::Result<stand::CellGrid> loadLayerPictures(const std::vector<std::string>& paths, const base::Progress* progress) {
    if (paths.empty()) return base::Error{"picture.empty", "there are no pictures", ""};
    stand::CellGrid grid;
    grid.nz = static_cast<int>(paths.size());
    for (std::size_t z = 0; z < paths.size(); ++z) {
        if (progress && progress->stopped()) return base::Error{"stopped", "stopped", ""};
        const auto picture = loadPicture(paths[z]);
        if (!picture) return picture.error();
        if (z == 0) {
            grid.nx = picture->width;
            grid.ny = picture->height;
            const auto cells = static_cast<std::int64_t>(grid.nx) * grid.ny * grid.nz;
            if (cells > stand::kMostCells)
                return base::Error{
                    "picture.size",
                    std::to_string(cells) + " cells are too many: at most " + std::to_string(stand::kMostCells), ""};
            grid.filled.assign(static_cast<std::size_t>(cells), 0);
            grid.colour.assign(static_cast<std::size_t>(cells), -1);
        }
        if (picture->width != grid.nx || picture->height != grid.ny)
            return base::Error{"picture.size",
                               paths[z] + " is " + std::to_string(picture->width) + " x " +
                                   std::to_string(picture->height) + ", the first picture " + std::to_string(grid.nx) +
                                   " x " + std::to_string(grid.ny),
                               ""};
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x) {
                const std::uint8_t* pixel = picture->at(x, grid.ny - 1 - y);
                if (isEmpty(pixel)) continue;
                const std::size_t at = grid.index(x, y, static_cast<int>(z));
                grid.filled[at] = 1;
                grid.colour[at] = static_cast<std::int16_t>(findNearestColour(pixel));
            }
    }
    if (grid.count() == 0)
        return base::Error{"picture.empty", "no pixel of any picture is filled: white and transparent ones are empty",
                           ""};
    return grid;
}

base::Result<stand::ColourMap> loadColourMap(const std::string& path) {
    const auto picture = loadPicture(path);
    if (!picture) return picture.error();
    stand::ColourMap map{picture->width, picture->height, {}};
    bool any = false;
    for (int y = 0; y < map.height; ++y)
        for (int x = 0; x < map.width; ++x) {
            const std::uint8_t* pixel = picture->at(x, y);
            const bool told = pixel[3] >= kOpaque;
            any = any || told;
            map.colour.push_back(told ? static_cast<std::int16_t>(findNearestColour(pixel)) : std::int16_t{-1});
        }
    if (!any) return base::Error{"picture.empty", "every pixel is transparent: " + path, ""};
    return map;
}

base::Result<std::vector<std::string>> listLayerPictures(const std::string& folder) {
    std::vector<std::string> paths;
    std::error_code code;
    for (const auto& entry : std::filesystem::directory_iterator(folder, code)) {
        std::string ending = entry.path().extension().string();
        std::transform(ending.begin(), ending.end(), ending.begin(),
                       [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
        if (ending == ".png") paths.push_back(entry.path().string());
    }
    if (code) return base::Error{"picture.open", "cannot be read: " + folder, ""};
    if (paths.empty()) return base::Error{"picture.empty", "there is no .png picture in " + folder, ""};
    std::sort(paths.begin(), paths.end(), comesBefore);
    return paths;
}

} // namespace ivrant::files
