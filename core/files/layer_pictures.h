// SPDX-License-Identifier: GPL-3.0-or-later
// How do pictures of layers, one PNG for each, become cells of a grid of bricks?
//
// A pixel is a cell; the first picture is the lowest layer, its first row the farthest one (largest y). A pixel that is
// more than half transparent, or white, is empty; others take the nearest colour of the palette (by the distance of
// their sRGB values).
#pragma once

#include <string>
#include <vector>

#include "core/stand/colour_map.h"

namespace ivrant::files {

inline constexpr std::size_t kMostPictureBytes = 64u << 20;
inline constexpr int kMostPictureSide = 2000;

/// Errors name the file: "picture.open", "picture.format", "picture.size" (too large, or another size than the first),
/// "picture.empty" (no pixel is filled in any), "stopped".
base::Result<stand::CellGrid> loadLayerPictures(const std::vector<std::string>& paths,
                                                const base::Progress* progress = nullptr);
/// One picture as a colour map: pixels that are more than half transparent leave the cells as they are, white is a
/// colour. Errors as above.
base::Result<stand::ColourMap> loadColourMap(const std::string& path);
/// The .png files of a folder in natural order of their names ("layer 2" before "layer 10"). Error "picture.open".
base::Result<std::vector<std::string>> listLayerPictures(const std::string& folder);

} // namespace ivrant::files
