// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/mesh_import.h"

#include <algorithm>
#include <array>
#include <assimp/IOSystem.hpp>
#include <assimp/Importer.hpp>
#include <assimp/MemoryIOWrapper.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <filesystem>

#include "core/files/atomic_file.h"

namespace ivrant::files {
namespace {

using base::Error;
using geometry::Vec3;

constexpr double kGltfMmPerUnit = 1000;

std::string endingOf(const std::string& path) {
    std::string ending = std::filesystem::path(path).extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

/// What the library may read: regular files in the mesh's own folder and below, together of a bounded size. glTF names
/// its buffers as further files; a mesh that names files elsewhere gets none of them.
class FolderReader : public Assimp::IOSystem {
public:
    explicit FolderReader(const std::string& mesh) : m_folder(std::filesystem::weakly_canonical(mesh).parent_path()) {}

    bool Exists(const char* file) const override { return isInside(file) && std::filesystem::is_regular_file(file); }
    [[nodiscard]] char getOsSeparator() const override { return '/'; }
    Assimp::IOStream* Open(const char* file, const char* mode) override {
        if (std::string_view(mode).find('r') == std::string_view::npos || !isInside(file)) return nullptr;
        auto content = readFile(file, m_left);
        if (!content) return nullptr;
        m_left -= content->size();
        auto* bytes = new std::uint8_t[content->size() + 1];
        std::copy(content->begin(), content->end(), bytes);
        return new Assimp::MemoryIOStream(bytes, content->size(), true); // owns the bytes
    }
    void Close(Assimp::IOStream* stream) override { delete stream; }

private:
    [[nodiscard]] bool isInside(const std::filesystem::path& file) const {
        std::error_code trouble;
        const auto real = std::filesystem::weakly_canonical(file, trouble);
        if (trouble) return false;
        return std::mismatch(m_folder.begin(), m_folder.end(), real.begin(), real.end()).first == m_folder.end();
    }

    std::filesystem::path m_folder;
    std::size_t m_left = 2 * kMostMeshBytes; ///< the library may open the first file twice
};

void addNode(const aiScene& scene, const aiNode& node, const aiMatrix4x4& above, geometry::TriangleMesh& mesh) {
    const aiMatrix4x4 here = above * node.mTransformation;
    for (unsigned m = 0; m < node.mNumMeshes; ++m) {
        const aiMesh& part = *scene.mMeshes[node.mMeshes[m]];
        const int first = static_cast<int>(mesh.points.size());
        for (unsigned v = 0; v < part.mNumVertices; ++v) {
            const aiVector3D p = here * part.mVertices[v];
            mesh.points.emplace_back(p.x, p.y, p.z);
        }
        for (unsigned f = 0; f < part.mNumFaces; ++f) {
            const aiFace& face = part.mFaces[f];
            if (face.mNumIndices != 3) continue; // lines and points
            mesh.triangles.push_back({first + static_cast<int>(face.mIndices[0]),
                                      first + static_cast<int>(face.mIndices[1]),
                                      first + static_cast<int>(face.mIndices[2])});
        }
    }
    for (unsigned c = 0; c < node.mNumChildren; ++c) addNode(scene, *node.mChildren[c], here, mesh);
}

} // namespace

MeshImport getUsualImport(const std::string& path) {
    const std::string ending = endingOf(path);
    if (ending == ".gltf" || ending == ".glb") return {kGltfMmPerUnit, true};
    return {};
}

base::Result<geometry::MeshBody> loadMesh(const std::string& path, const MeshImport& import) {
    static const std::array<std::string, 5> kEndings{".stl", ".obj", ".gltf", ".glb", ".ply"};
    const std::string ending = endingOf(path);
    if (std::find(kEndings.begin(), kEndings.end(), ending) == kEndings.end())
        return Error{"mesh.format", "a mesh in STL, OBJ, glTF or PLY is expected, found '" + ending + "'", path};
    if (!(import.mmPerUnit > 0 && import.mmPerUnit < 1e6)) return Error{"mesh.unit", "the unit must be above 0 mm", ""};
    if (const auto text = readFile(path, kMostMeshBytes); !text) return text.error();
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_LINE | aiPrimitiveType_POINT);
    importer.SetIOHandler(new FolderReader(path)); // the importer deletes it
    const aiScene* scene = importer.ReadFile(path, aiProcess_Triangulate | aiProcess_SortByPType);
    if (!scene || !scene->mRootNode)
        return Error{"mesh.format", "not readable as a mesh: " + std::string(importer.GetErrorString()).substr(0, 200),
                     path};
    geometry::TriangleMesh mesh;
    addNode(*scene, *scene->mRootNode, aiMatrix4x4(), mesh);
    for (Vec3& p : mesh.points) {
        p *= import.mmPerUnit;
        if (import.yUp) p = Vec3(p.x(), -p.z(), p.y());
    }
    auto body = geometry::makeMeshBody(mesh);
    if (!body) {
        Error error = body.error();
        error.place = path;
        return error;
    }
    return body;
}

base::Result<parts::ShapePtr> importOwnShape(const std::string& path, const MeshImport& import, const std::string& name,
                                             double massG, base::Progress* progress) {
    auto body = loadMesh(path, import);
    if (!body) return body.error();
    geometry::Bounds bounds;
    for (const Vec3& p : body->mesh.points) bounds.include(p);
    const Vec3 move(-bounds.centre().x(), -bounds.centre().y(), -bounds.low.z());
    geometry::MeshBody moved = *body;
    for (Vec3& p : moved.mesh.points) p += move;
    moved.centre += move;
    auto pieces = geometry::calcConvexPieces(moved, 24, 0.03, progress);
    if (!pieces) return pieces.error();
    parts::OwnSource source;
    source.mesh = std::move(moved.mesh);
    source.excessShare = pieces->excessShare;
    source.outsideMm = pieces->outsideMm;
    for (const auto& piece : pieces->pieces) {
        source.pieces.emplace_back();
        for (const Vec3& p : piece.hull->corners) source.pieces.back().push_back(piece.X_PS * p);
    }
    return parts::makeOwnShape(name, massG, std::move(source));
}

} // namespace ivrant::files
