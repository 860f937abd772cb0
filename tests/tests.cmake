# SPDX-License-Identifier: GPL-3.0-or-later
find_package(GTest REQUIRED)
pkg_check_modules(FCL REQUIRED IMPORTED_TARGET fcl)
pkg_check_modules(CLP REQUIRED IMPORTED_TARGET clp)
find_library(CCD_LIBRARY ccd REQUIRED)
# Paths of this checkout are told to one object only: the others come from the compiler's cache wherever it lies.
set_source_files_properties(tests/support/repo.cpp PROPERTIES COMPILE_DEFINITIONS
  "IVRANT_SOURCE_DIR=\"${CMAKE_SOURCE_DIR}\";IVRANT_CLI=\"${CMAKE_BINARY_DIR}/ivrant-cli\"")

add_executable(ivrant-tests-core
  tests/core/units_test.cpp
  tests/core/geometry_test.cpp
  tests/core/parts_test.cpp
  tests/core/range_test.cpp
  tests/core/hold_test.cpp
  tests/core/bonds_test.cpp
  tests/core/edits_test.cpp
  tests/core/range_oracle_test.cpp
  tests/core/files_test.cpp
  tests/core/verdict_test.cpp
  tests/core/kept_facts_test.cpp
  tests/core/kill_test.cpp
  tests/core/kinematics_test.cpp
  tests/core/stance_test.cpp
  tests/core/parts_text_test.cpp
  tests/core/sweep_test.cpp
  tests/core/output_test.cpp
  tests/core/fits_test.cpp
  tests/core/gap_oracle_test.cpp
  tests/core/project_test.cpp
  tests/core/bench_test.cpp
  tests/core/brief_test.cpp
  tests/core/map_test.cpp
  tests/core/catalogue_test.cpp
  tests/core/chain_test.cpp
  tests/core/worst_test.cpp
  tests/core/space_test.cpp
  tests/core/variants_test.cpp
  tests/core/rings_test.cpp
  tests/core/own_shape_test.cpp
  tests/core/pieces_test.cpp
  tests/core/tree_test.cpp
  tests/core/limb_test.cpp
  tests/core/train_test.cpp
  tests/core/train_load_test.cpp
  tests/core/ratio_test.cpp
  tests/core/board_test.cpp
  tests/core/board_line_test.cpp
  tests/core/drive_verdict_test.cpp
  tests/core/drive_inputs_test.cpp
  tests/core/motor_fit_test.cpp
  tests/core/finder_test.cpp
  tests/core/board_model_test.cpp
  tests/core/between_test.cpp
  tests/core/board_crossing_test.cpp
  tests/core/interior_point_test.cpp
  tests/core/equilibrium_test.cpp
  tests/core/structure_test.cpp
  tests/core/springs_test.cpp
  tests/core/statue_test.cpp
  tests/core/sight_test.cpp
  tests/core/post_design_test.cpp
  tests/core/each_edit_test.cpp
  tests/core/results_test.cpp
  tests/core/posts_test.cpp
  tests/core/ballast_test.cpp
  tests/core/board_turns_test.cpp
  tests/core/ask_mends_test.cpp
  tests/core/stand_verdicts_test.cpp
  tests/core/layers_test.cpp
  tests/core/section_body_test.cpp
  tests/core/look_test.cpp
  tests/core/drive_together_test.cpp
  tests/core/drive_refused_test.cpp
  tests/core/drive_parts_test.cpp
  tests/core/script_test.cpp
  tests/core/drive_net_test.cpp
  tests/core/demo_machines_test.cpp
  tests/core/board_walls_test.cpp
  tests/core/board_convert_test.cpp
  tests/core/assembly_test.cpp
  tests/core/supply_test.cpp
  tests/core/basket_test.cpp
  tests/core/calendar_test.cpp
  tests/core/options_test.cpp
  tests/core/hands_test.cpp
  tests/core/modules_test.cpp
  tests/core/packing_test.cpp
  tests/support/repo.cpp
  tests/core/loops_test.cpp
  tests/core/motion_test.cpp
  tests/core/strand_path_test.cpp
  tests/core/lines_test.cpp
  tests/core/walk_test.cpp)
target_link_libraries(ivrant-tests-core PRIVATE ivrant_files ivrant_script GTest::gtest GTest::gtest_main PkgConfig::FCL PkgConfig::CLP ${CCD_LIBRARY})
add_test(NAME core COMMAND ivrant-tests-core)

if(IVRANT_WITH_APP)
  add_executable(ivrant-tests-app
    tests/app/main.cpp
    tests/app/monkey_test.cpp
    tests/app/safety_test.cpp
    tests/support/monkey.cpp
    tests/app/first_path_test.cpp
    tests/app/shape_test.cpp
    tests/app/pose_test.cpp
    tests/app/make_test.cpp
    tests/app/shell_test.cpp
    tests/app/verdicts_test.cpp
    tests/app/session_test.cpp
    tests/app/sheets_test.cpp
    tests/app/studies_test.cpp
    tests/app/brief_diary_test.cpp
    tests/app/own_shapes_test.cpp
    tests/app/drive_test.cpp
    tests/app/drive_finder_test.cpp
    tests/app/drive_dialog_test.cpp
    tests/app/stand_test.cpp
    tests/app/stand_design_test.cpp
    tests/app/stand_mends_test.cpp
    tests/app/layout_test.cpp
    tests/app/look_test.cpp
    tests/support/cut_text.cpp
    tests/render/picture_test.cpp
    tests/app/keyboard_test.cpp
    tests/app/supply_window_test.cpp
    tests/app/options_window_test.cpp
    tests/app/modules_window_test.cpp
    tests/app/steps_window_test.cpp
    tests/app/lines_window_test.cpp
    tests/app/motion_window_test.cpp
    tests/support/repo.cpp
    app/resources.qrc)
  target_link_libraries(ivrant-tests-app PRIVATE ivrant_app Qt6::Test GTest::gtest)
  add_dependencies(ivrant-tests-app ivrant-cli)
  add_test(NAME app COMMAND ivrant-tests-app)
endif()
