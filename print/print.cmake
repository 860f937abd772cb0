# SPDX-License-Identifier: GPL-3.0-or-later
pkg_check_modules(QPDF REQUIRED IMPORTED_TARGET libqpdf)
ivrant_module(NAME print
  USES base geometry parts model bonds pose stand drive make verdict files render
  LIBRARIES Qt6::Core Qt6::Gui Qt6::Svg PkgConfig::QPDF
  SOURCES
  print/pictures.cpp
  print/step_views.cpp
  print/step_pictures.cpp
  print/guide_pdf.cpp
  print/pdf_outline.cpp
  print/guide_html.cpp
  print/compare_sheet.cpp
  print/lineup.cpp
  print/motion_strip.cpp
  print/board_scene.cpp
  print/board_spots.cpp
  print/board_sheet.cpp
)
