# SPDX-License-Identifier: GPL-3.0-or-later
set(CMAKE_AUTOMOC ON)
set(CMAKE_AUTORCC ON)
find_package(QCustomPlotQt6 REQUIRED)
add_library(ivrant_app STATIC
  app/shell/theme.cpp
  app/shell/notice_bar.cpp
  app/shell/plain_labels.cpp
  app/shell/end_signals.cpp
  app/shell/jobs.cpp
  app/shell/safe_application.cpp
  app/shell/session.cpp
  app/shell/supply_files.cpp
  app/shell/slip_rows.cpp
  app/shell/verdict_slip.cpp
  app/shell/command_field.cpp
  app/shell/table_tools.cpp
  app/shell/main_window.cpp
  app/shell/documents.cpp
  app/shell/prompts.cpp
  app/shell/main_menus.cpp
  app/shell/variant_chips.cpp
  app/shell/start_sheet.cpp
  app/shell/station.h
  app/shell/station_tab.h
  app/shell/flow_layout.cpp
  app/shell/focus_mark.cpp
  app/sheet3d/scene_picture.cpp
  app/sheet3d/sheet3d.cpp
  app/sheet3d/view_bar.cpp
  app/sheet3d/plumb.cpp
  app/charts/range_ladder.cpp
  app/charts/drawing.cpp
  app/charts/joint_map.cpp
  app/charts/motor_chart.cpp
  app/charts/box_chart.cpp
  app/charts/plan_chart.cpp
  app/charts/run_chart.cpp
  app/charts/support_strip.cpp
  app/charts/turn_plots.cpp
  app/charts/tide_chart.cpp
  app/charts/tip_rose.cpp
  app/charts/tip_way.cpp
  app/stations/stations.cpp
  app/stations/shape/hanging_part.cpp
  app/stations/shape/section_tree.cpp
  app/stations/shape/shape_station.cpp
  app/stations/shape/shape_commands.cpp
  app/stations/shape/shape_overlay.cpp
  app/stations/shape/own_shapes.cpp
  app/stations/shape/own_ports.cpp
  app/stations/shape/port_picture.cpp
  app/stations/pose/pose_drag.cpp
  app/stations/pose/pose_station.cpp
  app/stations/pose/pose_strip.cpp
  app/stations/pose/pose_overlay.cpp
  app/stations/pose/pose_tab.cpp
  app/stations/pose/map_tab.cpp
  app/stations/pose/lines_tab.cpp
  app/stations/pose/motion_tab.cpp
  app/stations/pose/chain_tab.cpp
  app/stations/pose/choose_tab.cpp
  app/stations/pose/compare_tab.cpp
  app/stations/pose/study_tab.cpp
  app/stations/make/column_dialog.cpp
  app/stations/make/make_station.cpp
  app/stations/make/modules_tab.cpp
  app/stations/make/option_rules.cpp
  app/stations/make/options_tab.cpp
  app/stations/make/orders_tab.cpp
  app/stations/make/packing_tab.cpp
  app/stations/make/steps_show.cpp
  app/stations/make/steps_tab.cpp
  app/stations/make/stock_tab.cpp
  app/stations/make/time_tab.cpp
  app/stations/drive/board_widget.cpp
  app/stations/drive/finder_panel.cpp
  app/stations/drive/travel_panel.cpp
  app/stations/drive/take_off.cpp
  app/stations/drive/function_dialog.cpp
  app/stations/drive/board_dialog.cpp
  app/stations/drive/selector_dialog.cpp
  app/stations/drive/walls_dialog.cpp
  app/stations/drive/drive_station.cpp
  app/stations/drive/drive_results.cpp
  app/stations/stand/stand_station.cpp
  app/stations/stand/stand_tab.cpp
  app/stations/stand/case_strip.cpp
  app/stations/stand/bonds_tab.cpp
  app/stations/stand/bonds_overlay.cpp
  app/stations/stand/weight_tab.cpp
  app/stations/stand/moves_tab.cpp
  app/stations/stand/posts_tab.cpp
  app/stations/stand/shell_tab.cpp
  app/stations/stand/case_dialog.cpp
  app/stations/stand/statue_desk.cpp
  app/stations/brief/brief_station.cpp
  app/stations/brief/brief_desks.cpp
  app/stations/diary/build_panel.cpp
  app/stations/diary/diary_station.cpp
  app/stations/diary/strength_panel.cpp
  app/stations/diary/test_panel.cpp
  app/stations/diary/motor_panel.cpp
  app/stations/diary/weigh_panel.cpp
)
target_link_libraries(ivrant_app PUBLIC ivrant_files ivrant_script ivrant_render ivrant_print Qt6::Widgets Qt6::Svg
                      QCustomPlotQt6::QCustomPlotQt6)
# Told to the objects that need it only: all others come from the compiler's cache wherever the checkout lies.
set_property(SOURCE app/shell/main_menus.cpp app/shots.cpp APPEND PROPERTY COMPILE_DEFINITIONS
  "IVRANT_DATA_DIR=\"${CMAKE_SOURCE_DIR}/data\"")
add_executable(ivrant app/main.cpp app/resources.qrc)
target_link_libraries(ivrant PRIVATE ivrant_app)
add_executable(ivrant-shots app/shots.cpp app/resources.qrc)
target_link_libraries(ivrant-shots PRIVATE ivrant_app Qt6::Test)
