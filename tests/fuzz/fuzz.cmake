# SPDX-License-Identifier: GPL-3.0-or-later
add_executable(ivrant-fuzz-project-file tests/fuzz/project_file_fuzz.cpp)
target_link_libraries(ivrant-fuzz-project-file PRIVATE ivrant_files)
target_link_options(ivrant-fuzz-project-file PRIVATE -fsanitize=fuzzer)
