# SPDX-License-Identifier: GPL-3.0-or-later

pkg_check_modules(EPOXY REQUIRED IMPORTED_TARGET epoxy)
ivrant_module(NAME render USES base geometry parts model bonds pose LIBRARIES PkgConfig::EPOXY PkgConfig::PNG SOURCES
  render/camera.cpp render/bake.cpp render/gl_context.cpp render/renderer.cpp render/board_draw.cpp render/line_draw.cpp render/picture.cpp render/png_file.cpp)
