// SPDX-License-Identifier: GPL-3.0-or-later
// How does a mesh of the builder's own come in: STL, OBJ, glTF, PLY?
//
// Files are read by the Assimp library. They carry no unit but glTF (metres, y up): the person says which; the result
// is mm, z up. All objects of a file are taken together, where its scene puts them.
#pragma once

#include <string>

#include "core/base/progress.h"
#include "core/parts/own_shape.h"

namespace ivrant::files {

inline constexpr std::size_t kMostMeshBytes = 64u << 20;

struct MeshImport {
    double mmPerUnit = 1; ///< above 0; of the numbers in the file
    bool yUp = false;     ///< the file's y points up: turned so that z does
};
/// What is usual for the file's ending: glTF 1000 and y up, all others 1 and z up.
[[nodiscard]] MeshImport getUsualImport(const std::string& path);

/// Errors: "file.open", "file.size", "mesh.format" (ending not known, or not readable), "mesh.unit", and those of
/// geometry::makeMeshBody.
[[nodiscard]] base::Result<geometry::MeshBody> loadMesh(const std::string& path, const MeshImport& import);

/// Mesh → pieces → shape without ports, moved so that its middle stands over the origin and its underside on z = 0.
[[nodiscard]] base::Result<parts::ShapePtr> importOwnShape(const std::string& path, const MeshImport& import,
                                                           const std::string& name, double massG,
                                                           base::Progress* progress = nullptr);

} // namespace ivrant::files
