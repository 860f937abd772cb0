// SPDX-License-Identifier: GPL-3.0-or-later
#include <png.h>
#include <stdexcept>

#include "render/picture.h"

namespace ivrant::render {

std::string encodePng(const Image& image) {
    png_image png{};
    png.version = PNG_IMAGE_VERSION;
    png.width = static_cast<png_uint_32>(image.width);
    png.height = static_cast<png_uint_32>(image.height);
    png.format = PNG_FORMAT_RGBA;
    png_alloc_size_t size = 0;
    if (!png_image_write_to_memory(&png, nullptr, &size, 0, image.rgba.data(), 0, nullptr))
        throw std::runtime_error("cannot encode the picture");
    std::string bytes(size, '\0');
    if (!png_image_write_to_memory(&png, bytes.data(), &size, 0, image.rgba.data(), 0, nullptr))
        throw std::runtime_error("cannot encode the picture");
    bytes.resize(size);
    return bytes;
}

} // namespace ivrant::render
