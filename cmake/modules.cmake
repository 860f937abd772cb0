# SPDX-License-Identifier: GPL-3.0-or-later
# One static library per module. ivrant_module(NAME base USES … SOURCES …) makes target ivrant_base; USES names the
# modules whose headers it may include (checked against the includes by cmake/check_includes.py as well).
add_library(ivrant_options INTERFACE)
target_compile_options(ivrant_options INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror
  $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict> # false alarm of GCC 12 on std::string, its bug 105651
  $<$<AND:$<CXX_COMPILER_ID:GNU>,$<BOOL:${CMAKE_UNITY_BUILD}>>:-Wno-subobject-linkage>) # several sources in one: none of them is a header
target_include_directories(ivrant_options INTERFACE ${CMAKE_SOURCE_DIR})
if(IVRANT_WITH_FUZZ)
  target_compile_options(ivrant_options INTERFACE -fsanitize=fuzzer-no-link)
endif()
if(IVRANT_SANITIZE)
  target_compile_options(ivrant_options INTERFACE -fsanitize=address,undefined -fno-sanitize-recover=all -g)
  target_link_options(ivrant_options INTERFACE -fsanitize=address,undefined)
endif()

function(ivrant_module)
  cmake_parse_arguments(M "" "NAME" "USES;SOURCES;LIBRARIES" ${ARGN})
  add_library(ivrant_${M_NAME} STATIC ${M_SOURCES})
  target_link_libraries(ivrant_${M_NAME} PUBLIC ivrant_options Eigen3::Eigen nlohmann_json::nlohmann_json Threads::Threads ${M_LIBRARIES})
  foreach(used ${M_USES})
    target_link_libraries(ivrant_${M_NAME} PUBLIC ivrant_${used})
  endforeach()
endfunction()
