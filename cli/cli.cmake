# SPDX-License-Identifier: GPL-3.0-or-later
find_package(CLI11 REQUIRED)
add_executable(ivrant-cli
  cli/drive_text.cpp
  cli/main.cpp
  cli/parts_page.cpp
  cli/safe_output.cpp
  cli/tables.cpp
  cli/verb.cpp
  cli/verbs_assembly.cpp
  cli/verbs_balance.cpp
  cli/verbs_brief.cpp
  cli/verbs_check.cpp
  cli/verbs_drive.cpp
  cli/verbs_make.cpp
  cli/verbs_modules.cpp
  cli/verbs_motion.cpp
  cli/verbs_strands.cpp
  cli/verbs_options.cpp
  cli/verbs_pose.cpp
  cli/verbs_script.cpp
  cli/verbs_shape.cpp
  cli/verbs_stand.cpp
  cli/verbs_supply.cpp
)
target_link_libraries(ivrant-cli PRIVATE ivrant_files ivrant_script ivrant_render ivrant_print CLI11::CLI11)

add_executable(ivrant-make-demo
  data/demo/make_auk.cpp
  data/demo/make_boards.cpp
  data/demo/make_demo.cpp
)
target_link_libraries(ivrant-make-demo PRIVATE ivrant_files ivrant_script)
target_compile_definitions(ivrant-make-demo PRIVATE IVRANT_DATA_DIR="${CMAKE_SOURCE_DIR}/data")
