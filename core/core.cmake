# SPDX-License-Identifier: GPL-3.0-or-later
file(READ ${CMAKE_SOURCE_DIR}/data/palette.json IVRANT_PALETTE_JSON)
file(READ ${CMAKE_SOURCE_DIR}/data/joints.json IVRANT_JOINTS_JSON)
file(READ ${CMAKE_SOURCE_DIR}/data/usual_sizes.json IVRANT_USUAL_SIZES_JSON)
set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${CMAKE_SOURCE_DIR}/data/palette.json ${CMAKE_SOURCE_DIR}/data/joints.json
  ${CMAKE_SOURCE_DIR}/data/usual_sizes.json)
configure_file(${CMAKE_SOURCE_DIR}/core/parts/data_files.cpp.in ${CMAKE_BINARY_DIR}/generated/data_files.cpp @ONLY)

ivrant_module(NAME base SOURCES
  core/base/ids.cpp
  core/base/units.cpp
  core/base/dates.cpp
)
find_package(PkgConfig REQUIRED)
pkg_check_modules(QHULL REQUIRED IMPORTED_TARGET qhull_r)
ivrant_module(NAME geometry USES base LIBRARIES PkgConfig::QHULL SOURCES
  core/geometry/frames.cpp
  core/geometry/solid.cpp
  core/geometry/gap.cpp
  core/geometry/mesh.cpp
  core/geometry/hull.cpp
  core/geometry/pieces.cpp
  core/geometry/corners.cpp
  core/geometry/hull_solid.cpp
  core/geometry/union_volume.cpp
)
ivrant_module(NAME parts USES base geometry SOURCES
  core/parts/shape.cpp
  core/parts/shape_builder.cpp
  core/parts/family.cpp
  core/parts/families_stud.cpp
  core/parts/families_side.cpp
  core/parts/families_joint.cpp
  core/parts/families_hole.cpp
  core/parts/families_shape.cpp
  core/parts/families_link.cpp
  core/parts/families_bearing.cpp
  core/parts/families_drive.cpp
  core/parts/palette.cpp
  core/parts/joint_kind.cpp
  core/parts/part_line.cpp
  core/parts/own_shape.cpp
  core/parts/usual_sizes.cpp
  ${CMAKE_BINARY_DIR}/generated/data_files.cpp
)
ivrant_module(NAME model USES base geometry parts SOURCES
  core/model/project.cpp
  core/model/validate.cpp
  core/model/texts.cpp
  core/model/section_tree.cpp
  core/model/edits_parts.cpp
  core/model/edits_joints.cpp
  core/model/edits_project.cpp
  core/model/edits_notes.cpp
  core/model/edits_making.cpp
  core/model/edits_options.cpp
  core/model/edits_modules.cpp
  core/model/notes.cpp
  core/model/making.cpp
  core/model/options.cpp
  core/model/module.cpp
  core/model/board.cpp
  core/model/board_parts.cpp
  core/model/board_turns.cpp
  core/model/wheel_size.cpp
  core/model/edits_boards.cpp
  core/model/validate_boards.cpp
  core/model/variants.cpp
  core/model/look.cpp
  core/model/history.cpp
  core/model/mass.cpp
  core/model/section_body.cpp
)
ivrant_module(NAME bonds USES base geometry parts model SOURCES
  core/bonds/mates.cpp
  core/bonds/section_bonds.cpp
  core/bonds/teeth.cpp
  core/bonds/fits.cpp
  core/bonds/board_overlaps.cpp
  core/bonds/across.cpp
)
find_package(TBB REQUIRED)
find_package(PkgConfig REQUIRED)
pkg_check_modules(PNG REQUIRED IMPORTED_TARGET libpng)
ivrant_module(NAME pose USES base geometry parts model bonds LIBRARIES TBB::tbb SOURCES
  core/pose/kinematics.cpp
  core/pose/bodies.cpp
  core/pose/sweep.cpp
  core/pose/seats.cpp
  core/pose/range.cpp
  core/pose/kept_ranges.cpp
  core/pose/hold.cpp
  core/pose/ground.cpp
  core/pose/stance.cpp
  core/pose/collide.cpp
  core/pose/checker.cpp
  core/pose/map.cpp
  core/pose/chain.cpp
  core/pose/worst.cpp
  core/pose/gaps.cpp
  core/pose/choose.cpp
  core/pose/solve.cpp
  core/pose/path.cpp
  core/pose/reach.cpp
  core/pose/rings.cpp
  core/pose/limb.cpp
  core/pose/clearance.cpp
  core/pose/covers.cpp
  core/pose/joint_arm.cpp
)
ivrant_module(NAME drive USES base geometry parts model bonds LIBRARIES gmpxx gmp SOURCES
  core/drive/rational.cpp
  core/drive/train.cpp
  core/drive/train_load.cpp
  core/drive/motor.cpp
  core/drive/mesh_fit.cpp
  core/drive/ratio_search.cpp
  core/drive/ratio_text.cpp
  core/drive/brick_bearings.cpp
  core/drive/strand_turn.cpp
  core/drive/net_mesh.cpp
  core/drive/net_bodies.cpp
  core/drive/drive_model.cpp
  core/drive/board_reader.cpp
  core/drive/board_view.cpp
  core/drive/part_bodies.cpp
  core/drive/part_reader.cpp
  core/drive/drive_net.cpp
  core/drive/function_load.cpp
  core/drive/board_line.cpp
  core/drive/board_line_apply.cpp
  core/drive/drive_report.cpp
  core/drive/position.cpp
  core/drive/position_work.cpp
  core/drive/wanted_ratio.cpp
  core/drive/travel_finder.cpp
  core/drive/selector_compare.cpp
  core/drive/settle.cpp
  core/drive/shaft_twist.cpp
  core/drive/plane_parts.cpp
  core/drive/line_board.cpp
  core/drive/function_words.cpp
  core/drive/brick_rows.cpp
  core/drive/board_walls.cpp
  core/drive/upright_walls.cpp
  core/drive/flat_walls.cpp
  core/drive/board_convert.cpp
)
pkg_check_modules(CBC REQUIRED IMPORTED_TARGET cbc)
ivrant_module(NAME make USES base geometry parts model bonds LIBRARIES PkgConfig::CBC SOURCES
  core/make/steps.cpp
  core/make/same_sections.cpp
  core/make/scene.cpp
  core/make/scene_bond.cpp
  core/make/assembly_plan.cpp
  core/make/leaving_groups.cpp
  core/make/order_check.cpp
  core/make/order_mend.cpp
  core/make/proposal.cpp
  core/make/parts_list.cpp
  core/make/stock.cpp
  core/make/whole_numbers.cpp
  core/make/basket.cpp
  core/make/pick_list.cpp
  core/make/combinations.cpp
  core/make/stand_ins.cpp
  core/make/calendar.cpp
  core/make/icalendar.cpp
)
ivrant_module(NAME script USES base geometry parts model bonds drive make SOURCES
  core/script/script_line.cpp
  core/script/script.cpp
  core/script/script_export.cpp
)
ivrant_module(NAME trials USES base geometry parts model SOURCES
  core/trials/statistics.cpp
  core/trials/strengths.cpp
  core/trials/lever.cpp
  core/trials/instrument.cpp
  core/trials/readings_csv.cpp
  core/trials/motor_fit.cpp
  core/trials/motor_stand.cpp
)
ivrant_module(NAME brief USES base geometry parts model bonds SOURCES
  core/brief/measures.cpp
  core/brief/scale.cpp
  core/brief/offset.cpp
)
find_path(CHOLMOD_INCLUDE cholmod.h PATH_SUFFIXES suitesparse REQUIRED)
find_library(CHOLMOD_LIBRARY cholmod REQUIRED)
ivrant_module(NAME stand USES base geometry parts model bonds LIBRARIES ${CHOLMOD_LIBRARY} gomp TBB::tbb SOURCES
  core/stand/blas_guard.cpp
  core/stand/tipping.cpp
  core/stand/interior_point.cpp
  core/stand/normal_equations.cpp
  core/stand/bond_net.cpp
  core/stand/equilibrium.cpp
  core/stand/certificate.cpp
  core/stand/yielding_springs.cpp
  core/stand/structure.cpp
  core/stand/seams.cpp
  core/stand/base_flex.cpp
  core/stand/cases.cpp
  core/stand/cell_grid.cpp
  core/stand/colour_map.cpp
  core/stand/brick_layers.cpp
  core/stand/size_rows.cpp
  core/stand/part_depth.cpp
  core/stand/core_removal.cpp
  core/stand/firm_shell.cpp
  core/stand/post_design.cpp
  core/stand/posts.cpp
  core/stand/rests.cpp
  core/stand/sight.cpp
  core/stand/ray_grid.cpp
  core/stand/ballast.cpp
)
set_source_files_properties(core/stand/normal_equations.cpp PROPERTIES COMPILE_OPTIONS "-isystem;${CHOLMOD_INCLUDE}")
ivrant_module(NAME study USES base geometry parts model bonds pose stand drive make trials brief LIBRARIES TBB::tbb SOURCES
  core/study/asked_tip.cpp
  core/study/assembly.cpp
  core/study/hands.cpp
  core/study/fingers.cpp
  core/study/group_scene.cpp
  core/study/modules.cpp
  core/study/packing.cpp
  core/study/packed_size.cpp
  core/study/module_pull.cpp
  core/study/module_reach.cpp
  core/study/module_room.cpp
  core/study/case_words.cpp
  core/study/drive_inputs.cpp
  core/study/motor_seat.cpp
  core/study/shaft_slip.cpp
  core/study/facts.cpp
  core/study/hidden.cpp
  core/study/kept_facts.cpp
  core/study/moves.cpp
  core/study/own_cases.cpp
  core/study/stand_cases.cpp
  core/study/structure.cpp
  core/study/pose_meshes.cpp
  core/study/post_check.cpp
  core/study/worst_load.cpp
)
ivrant_module(NAME verdict USES base geometry parts model bonds pose stand drive make trials brief study SOURCES
  core/verdict/asks/ask_model.cpp
  core/verdict/asks/asks.cpp
  core/verdict/asks/check_asks.cpp
  core/verdict/asks/mends_asks.cpp
  core/verdict/checks.cpp
  core/verdict/compare.cpp
  core/verdict/diary/check_diary.cpp
  core/verdict/drive/check_drive.cpp
  core/verdict/drive/check_functions.cpp
  core/verdict/drive/mends_drive.cpp
  core/verdict/drive/mends_parts.cpp
  core/verdict/groups.cpp
  core/verdict/make/check_make.cpp
  core/verdict/make/check_supply.cpp
  core/verdict/make/check_modules.cpp
  core/verdict/make/option_matrix.cpp
  core/verdict/make/mends_make.cpp
  core/verdict/mends.cpp
  core/verdict/pose/check_pose.cpp
  core/verdict/pose/check_worst.cpp
  core/verdict/pose/mends_pose.cpp
  core/verdict/report.cpp
  core/verdict/shape/check_shape.cpp
  core/verdict/shape/mends_shape.cpp
  core/verdict/stand/bridges.cpp
  core/verdict/stand/check_hidden.cpp
  core/verdict/stand/check_own_cases.cpp
  core/verdict/stand/check_stand.cpp
  core/verdict/stand/check_structure.cpp
  core/verdict/stand/check_posts.cpp
  core/verdict/stand/mends_ballast.cpp
  core/verdict/stand/mends_base.cpp
  core/verdict/stand/mends_stand.cpp
  core/verdict/stand/mends_structure.cpp
  core/verdict/stand/size_desk.cpp
  core/verdict/verdict.cpp
  core/verdict/verdict_list.cpp
)
find_package(assimp REQUIRED)
ivrant_module(NAME files USES base geometry parts model bonds pose stand drive make trials brief study verdict LIBRARIES assimp::assimp PkgConfig::PNG SOURCES
  core/files/json_guard.cpp
  core/files/notes_json.cpp
  core/files/own_json.cpp
  core/files/place_json.cpp
  core/files/boards_json.cpp
  core/files/mesh_import.cpp
  core/files/layer_pictures.cpp
  core/files/project_file.cpp
  core/files/project_writer.cpp
  core/files/atomic_file.cpp
  core/files/results_json.cpp
  core/files/results_make.cpp
  core/files/results_pose.cpp
  core/files/results_drive.cpp
  core/files/results_stand.cpp
  core/files/results_desk.cpp
  core/files/brief_file.cpp
  core/files/sheet_content.cpp
  core/files/sheet_drive.cpp
  core/files/sheet_steps.cpp
  core/files/sheet_carry.cpp
  core/files/mesh_files.cpp
  core/files/parts_csv.cpp
  core/files/csv_rows.cpp
  core/files/supplies_csv.cpp
  core/files/making_json.cpp
  core/files/options_json.cpp
  core/files/modules_json.cpp
  core/files/results_supply.cpp
  core/files/results_options.cpp
  core/files/results_modules.cpp
  core/files/sheet_lifts.cpp
  core/files/sheet_trials.cpp
  core/files/steps_csv.cpp
  core/files/usual_sizes_file.cpp
  core/files/journal.cpp
)
