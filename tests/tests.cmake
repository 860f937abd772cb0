find_package(GTest REQUIRED)
pkg_check_modules(FCL REQUIRED IMPORTED_TARGET fcl)
find_package(ccd QUIET)

add_executable(ivrant-tests-core
  tests/core/units_test.cpp tests/core/geometry_test.cpp tests/core/parts_test.cpp tests/core/range_test.cpp
 )
target_link_libraries(ivrant-tests-core PRIVATE ivrant_files GTest::gtest GTest::gtest_main PkgConfig::FCL)
target_compile_definitions(ivrant-tests-core PRIVATE IVRANT_SOURCE_DIR="${CMAKE_SOURCE_DIR}")
add_test(NAME core COMMAND ivrant-tests-core)
