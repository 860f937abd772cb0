find_package(CLI11 REQUIRED)
add_executable(ivrant-cli
  cli/common.cpp
  cli/main.cpp
  cli/parts_page.cpp
  cli/safe_output.cpp
  cli/tables.cpp
  cli/verbs.cpp
  cli/verbs_brief.cpp
  cli/verbs_drive.cpp
  cli/verbs_pose.cpp
  cli/verbs_stand.cpp)
target_link_libraries(ivrant-cli PRIVATE ivrant_files ivrant_render ivrant_print CLI11::CLI11)

add_executable(ivrant-make-demo data/demo/make_demo.cpp data/demo/make_boards.cpp data/demo/make_auk.cpp)
target_link_libraries(ivrant-make-demo PRIVATE ivrant_files)
