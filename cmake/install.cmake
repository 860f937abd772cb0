# SPDX-License-Identifier: GPL-3.0-or-later
# What goes where on the system, and the Debian package (cpack).
include(GNUInstallDirs)
install(TARGETS ivrant ivrant-cli RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(FILES data/ivrant.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES data/ivrant-mime.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages RENAME ivrant.xml)
install(FILES data/icons/ivrant.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES data/man/ivrant.1 data/man/ivrant-cli.1 DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(DIRECTORY data/demo/ DESTINATION ${CMAKE_INSTALL_DATADIR}/ivrant/demo FILES_MATCHING PATTERN "*.ivrant" PATTERN "*.csv")
install(FILES LICENSE data/fonts/COPYRIGHT DESTINATION ${CMAKE_INSTALL_DOCDIR})

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME ivrant)
set(CPACK_PACKAGE_VERSION ${PROJECT_VERSION})
set(CPACK_PACKAGE_CONTACT "Ivrant maintainers <maintainers@ivrant.example>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY ${PROJECT_DESCRIPTION})
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
# Found at run time, so that no linker names them: the platform plugins of Qt and the OpenGL drivers.
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libegl1, libegl-mesa0, libgl1, libgl1-mesa-dri, libopenblas0-pthread, qt6-qpa-plugins")
include(CPack)
