# SPDX-License-Identifier: GPL-3.0-or-later
ivrant_module(NAME print USES base geometry parts model bonds pose stand drive make verdict files render LIBRARIES Qt6::Core Qt6::Gui Qt6::Svg SOURCES
  print/pictures.cpp print/step_views.cpp print/guide_pdf.cpp print/guide_html.cpp print/compare_sheet.cpp print/board_scene.cpp print/board_spots.cpp print/board_sheet.cpp)
