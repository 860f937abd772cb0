// SPDX-License-Identifier: GPL-3.0-or-later
// How does a scene become a picture?
//
// A Renderer owns one OpenGL context and the meshes it has been shown; use it from one thread at a time. The same scene
// gives the same pixels in the window, in tests and on the command line (for one OpenGL implementation).
#pragma once

#include <cstdint>
#include <list>

#include "render/bake.h"
#include "render/camera.h"
#include "render/gl_context.h"

namespace ivrant::render {

struct Image {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgba; ///< rows from the top
};

/// Colour of one part: alpha 255 opaque, 1…254 ghosted, 0 hidden.
struct PartState {
    std::uint8_t r = 0, g = 0, b = 0, a = 255;
};

struct SectionDraw {
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
    geometry::Frame X_WS = geometry::Frame::Identity();
    std::vector<PartState> states; ///< one per part
};

struct Scene {
    std::vector<SectionDraw> sections;
    Camera camera;
    int width = 0, height = 0;
    std::array<std::uint8_t, 4> background{247, 244, 236, 255};
    std::array<std::uint8_t, 3> ink{32, 48, 58};
    bool refined = false; ///< smooth edges (multisampling); slower
    /// At most about so many milliseconds go into meshes that are not there yet; sections beyond that are left out of
    /// this picture and Renderer::isComplete() is false. 0: as long as it takes.
    double mostNewMeshMs = 0;
};

class Renderer {
public:
    static base::Result<std::shared_ptr<Renderer>> create();
    ~Renderer();
    Renderer(const Renderer&) = delete;
    Renderer& operator=(const Renderer&) = delete;

    [[nodiscard]] Image draw(const Scene& scene);
    /// False when the last picture left sections out; drawing again goes on with them.
    [[nodiscard]] bool isComplete() const { return m_complete; }
    /// Gives the context up so that another thread may use this renderer.
    void release() const { m_context->release(); }

private:
    struct Mesh;
    struct Target;
    Renderer();
    [[nodiscard]] Mesh* findMesh(const SectionDraw& draw);
    Mesh& makeMesh(const SectionDraw& draw);
    void drawSection(const Scene& scene, const SectionDraw& draw, Mesh& mesh, bool ghosts);

    std::shared_ptr<GlContext> m_context;
    std::list<std::unique_ptr<Mesh>> m_meshes;
    std::unique_ptr<Target> m_target;
    unsigned m_program = 0;
    std::uint64_t m_frame = 0;
    bool m_complete = true;
};

/// A state for a palette colour, unchanged.
[[nodiscard]] PartState makeState(int colour);
/// Mixes `share` (0…1) of another colour in.
[[nodiscard]] PartState mix(PartState state, std::array<std::uint8_t, 3> rgb, double share);

} // namespace ivrant::render
