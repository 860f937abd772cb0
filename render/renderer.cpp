// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/renderer.h"

#include <algorithm>
#include <chrono>
#include <cstddef>
#include <epoxy/gl.h>

#include "core/base/at.h"
#include "core/parts/palette.h"

namespace ivrant::render {
namespace {

constexpr const char* kVertexShader = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in uint part;
layout(location = 3) in vec4 edges;
uniform mat4 toClip;
uniform mat3 turn;       // section to eye
uniform samplerBuffer states;
uniform bool ghosts;
out vec4 edgeMm;
flat out vec4 state;
out float light;
void main() {
    state = texelFetch(states, int(part));
    bool ghost = state.a < 0.998;
    if (state.a == 0.0 || ghost != ghosts) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }
    vec3 n = normalize(turn * normal);
    light = 0.60 + 0.30 * max(dot(n, normalize(vec3(-0.35, 0.75, 0.55))), 0.0) + 0.16 * max(n.z, 0.0);
    edgeMm = edges;
    gl_Position = toClip * vec4(position, 1.0);
}
)";

constexpr const char* kFragmentShader = R"(#version 330 core
in vec4 edgeMm;
flat in vec4 state;
in float light;
uniform vec3 ink;
uniform float mmPerPixel;
uniform float inkStrength;
out vec4 colour;
void main() {
    float d = min(min(edgeMm.x, edgeMm.y), min(edgeMm.z, edgeMm.w)) / max(length(vec2(fwidth(min(min(edgeMm.x, edgeMm.y), min(edgeMm.z, edgeMm.w))))), 1e-4);
    float line = (1.0 - smoothstep(0.6, 1.4, d)) * inkStrength;
    vec3 body = min(state.rgb * light, vec3(1.0));
    colour = vec4(mix(body, ink, line), state.a < 0.998 ? max(state.a, line * 0.5 * state.a + state.a) : 1.0);
}
)";

unsigned compile(GLenum kind, const char* source) {
    const unsigned shader = glCreateShader(kind);
    glShaderSource(shader, 1, &source, nullptr);
    glCompileShader(shader);
    int ok = 0;
    glGetShaderiv(shader, GL_COMPILE_STATUS, &ok);
    if (!ok) {
        char log[2000];
        glGetShaderInfoLog(shader, sizeof log, nullptr, log);
        throw std::runtime_error(std::string("shader: ") + log);
    }
    return shader;
}

unsigned link() {
    const unsigned program = glCreateProgram();
    const unsigned vertex = compile(GL_VERTEX_SHADER, kVertexShader),
                   fragment = compile(GL_FRAGMENT_SHADER, kFragmentShader);
    glAttachShader(program, vertex);
    glAttachShader(program, fragment);
    glLinkProgram(program);
    glDeleteShader(vertex);
    glDeleteShader(fragment);
    return program;
}

struct Buffer {
    unsigned vao = 0, vbo = 0;
    int count = 0;

    void upload(const std::vector<Vertex>& vertices) {
        count = static_cast<int>(vertices.size());
        if (count == 0) return;
        glGenVertexArrays(1, &vao);
        glGenBuffers(1, &vbo);
        glBindVertexArray(vao);
        glBindBuffer(GL_ARRAY_BUFFER, vbo);
        glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(vertices.size() * sizeof(Vertex)), vertices.data(),
                     GL_STATIC_DRAW);
        const auto at = [](std::size_t offset) { return reinterpret_cast<const void*>(offset); };
        glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, sizeof(Vertex), at(offsetof(Vertex, position)));
        glVertexAttribPointer(1, 3, GL_BYTE, GL_TRUE, sizeof(Vertex), at(offsetof(Vertex, normal)));
        glVertexAttribIPointer(2, 1, GL_UNSIGNED_INT, sizeof(Vertex), at(offsetof(Vertex, part)));
        glVertexAttribPointer(3, 4, GL_FLOAT, GL_FALSE, sizeof(Vertex), at(offsetof(Vertex, edges)));
        for (unsigned i = 0; i < 4; ++i) glEnableVertexAttribArray(i);
    }
    void free() {
        if (vao) glDeleteVertexArrays(1, &vao);
        if (vbo) glDeleteBuffers(1, &vbo);
    }
};

} // namespace

constexpr std::uint64_t kKeepFrames = 8; ///< a mesh not drawn for so many frames is dropped

struct Renderer::Mesh {
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
    std::uint64_t usedInFrame = 0;
    std::shared_ptr<const BakedSection> baked; ///< studs are uploaded only as coarsely as they are drawn
    Buffer bodies, studs[3];
    unsigned stateBuffer = 0, stateTexture = 0;

    ~Mesh() {
        bodies.free();
        for (auto& s : studs) s.free();
        if (stateBuffer) glDeleteBuffers(1, &stateBuffer);
        if (stateTexture) glDeleteTextures(1, &stateTexture);
    }
};

/// Frame buffer of the picture's size, and a plain one to resolve multisampled frames into.
struct Renderer::Target {
    int width, height;
    bool multisampled;
    unsigned frame = 0, colour = 0, depth = 0, plainFrame = 0, plainColour = 0;

    Target(int w, int h, bool multi) : width(w), height(h), multisampled(multi) {
        const int samples = multi ? 4 : 0;
        const auto storage = [&](unsigned& buffer, GLenum format, int count) {
            glGenRenderbuffers(1, &buffer);
            glBindRenderbuffer(GL_RENDERBUFFER, buffer);
            glRenderbufferStorageMultisample(GL_RENDERBUFFER, count, format, w, h);
        };
        storage(colour, GL_RGBA8, samples);
        storage(depth, GL_DEPTH_COMPONENT24, samples);
        glGenFramebuffers(1, &frame);
        glBindFramebuffer(GL_FRAMEBUFFER, frame);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, colour);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_RENDERBUFFER, depth);
        if (!multi) return;
        storage(plainColour, GL_RGBA8, 0);
        glGenFramebuffers(1, &plainFrame);
        glBindFramebuffer(GL_FRAMEBUFFER, plainFrame);
        glFramebufferRenderbuffer(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_RENDERBUFFER, plainColour);
    }
    ~Target() {
        const unsigned frames[] = {frame, plainFrame};
        const unsigned buffers[] = {colour, depth, plainColour};
        glDeleteFramebuffers(2, frames);
        glDeleteRenderbuffers(3, buffers);
    }
};

Renderer::Renderer() = default;

base::Result<std::shared_ptr<Renderer>> Renderer::create() {
    auto context = GlContext::create();
    if (!context) return context.error();
    const std::shared_ptr<Renderer> made(new Renderer);
    made->m_context = *context;
    made->m_context->makeCurrent();
    made->m_program = link();
    return made;
}

Renderer::~Renderer() {
    if (!m_context) return;
    m_context->makeCurrent();
    m_meshes.clear();
    m_target.reset();
    glDeleteProgram(m_program);
}

Renderer::Mesh* Renderer::findMesh(const SectionDraw& draw) {
    for (auto& mesh : m_meshes)
        if (mesh->section == draw.section && mesh->bonds == draw.bonds) {
            mesh->usedInFrame = m_frame;
            return mesh.get();
        }
    return nullptr;
}

Renderer::Mesh& Renderer::makeMesh(const SectionDraw& draw) {
    auto mesh = std::make_unique<Mesh>();
    mesh->section = draw.section;
    mesh->bonds = draw.bonds;
    mesh->usedInFrame = m_frame;
    auto known = takeBaked(draw.section, draw.bonds);
    if (!known) known = std::make_shared<const BakedSection>(bakeSection(*draw.section, *draw.bonds));
    mesh->bodies.upload(known->bodies);
    mesh->baked = std::move(known);
    glGenBuffers(1, &mesh->stateBuffer);
    glGenTextures(1, &mesh->stateTexture);
    m_meshes.push_back(std::move(mesh));
    return *m_meshes.back();
}

void Renderer::drawSection(const Scene& scene, const SectionDraw& draw, Mesh& mesh, bool ghosts) {
    const Camera& camera = scene.camera;
    constexpr double kDepthMm = 4000; // half the depth range about the target
    const geometry::Mat3 turn = camera.axes() * draw.X_WS.linear();
    const geometry::Vec3 shift = camera.axes() * (draw.X_WS.translation() - camera.target);
    const geometry::Vec3 scale(2 / (camera.mmPerPixel * scene.width), 2 / (camera.mmPerPixel * scene.height),
                               -1 / kDepthMm);
    Eigen::Matrix4f clip = Eigen::Matrix4f::Identity();
    clip.topLeftCorner<3, 3>() = (scale.asDiagonal() * turn).cast<float>();
    clip.topRightCorner<3, 1>() = scale.cwiseProduct(shift).cast<float>();
    const Eigen::Matrix3f turnF = turn.cast<float>();
    glUniformMatrix4fv(glGetUniformLocation(m_program, "toClip"), 1, GL_FALSE, clip.data());
    glUniformMatrix3fv(glGetUniformLocation(m_program, "turn"), 1, GL_FALSE, turnF.data());
    glUniform1i(glGetUniformLocation(m_program, "ghosts"), ghosts ? 1 : 0);
    glBindTexture(GL_TEXTURE_BUFFER, mesh.stateTexture);
    if (!ghosts) {
        glBindBuffer(GL_TEXTURE_BUFFER, mesh.stateBuffer);
        glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(draw.states.size() * sizeof(PartState)),
                     draw.states.data(), GL_STREAM_DRAW);
        glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA8, mesh.stateBuffer);
    }
    const double studPixels = 2.4 / camera.mmPerPixel;
    const std::size_t coarseness = studPixels > 9 ? 0 : studPixels > 3 ? 1 : 2;
    Buffer& studs = mesh.studs[coarseness];
    if (studs.vao == 0) studs.upload(makeStuds(*mesh.baked, coarseness));
    const float inkStrength = static_cast<float>(std::clamp(0.9 - (camera.mmPerPixel - 0.4) * 0.5, 0.35, 0.9));
    for (const Buffer* buffer : std::initializer_list<const Buffer*>{&mesh.bodies, &studs}) {
        if (buffer->count == 0) continue;
        glUniform1f(glGetUniformLocation(m_program, "inkStrength"),
                    buffer == &mesh.bodies ? inkStrength : inkStrength * 0.75F);
        glBindVertexArray(buffer->vao);
        glDrawArrays(GL_TRIANGLES, 0, buffer->count);
    }
}

Image Renderer::draw(const Scene& scene) {
    m_context->makeCurrent();
    ++m_frame;
    if (!m_target || m_target->width != scene.width || m_target->height != scene.height ||
        m_target->multisampled != scene.refined) {
        m_target.reset();
        m_target = std::make_unique<Target>(scene.width, scene.height, scene.refined);
    }
    glBindFramebuffer(GL_FRAMEBUFFER, m_target->frame);
    glViewport(0, 0, scene.width, scene.height);
    const auto& bg = scene.background;
    glClearColor(static_cast<float>(bg[0]) / 255, static_cast<float>(bg[1]) / 255, static_cast<float>(bg[2]) / 255,
                 static_cast<float>(bg[3]) / 255);
    glDepthMask(GL_TRUE);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    glEnable(GL_CULL_FACE);
    glUseProgram(m_program);
    glUniform3f(glGetUniformLocation(m_program, "ink"), static_cast<float>(scene.ink[0]) / 255,
                static_cast<float>(scene.ink[1]) / 255, static_cast<float>(scene.ink[2]) / 255);
    std::vector<Mesh*> meshes;
    m_complete = true;
    int made = 0;
    const auto begun = std::chrono::steady_clock::now();
    for (const auto& section : scene.sections) {
        Mesh* mesh = section.section->parts.empty() ? nullptr : findMesh(section);
        if (!mesh && !section.section->parts.empty()) {
            const std::chrono::duration<double, std::milli> spent = std::chrono::steady_clock::now() - begun;
            if (made > 0 && scene.mostNewMeshMs > 0 && spent.count() > scene.mostNewMeshMs) {
                m_complete = false;
            } else {
                mesh = &makeMesh(section);
                ++made; // the first is always made, so that it goes on
            }
        }
        meshes.push_back(mesh);
    }
    bool anyGhost = false;
    glDisable(GL_BLEND);
    for (std::size_t i = 0; i < scene.sections.size(); ++i) {
        if (!meshes[i]) continue;
        drawSection(scene, scene.sections[i], *meshes[i], false);
        anyGhost = anyGhost || std::any_of(scene.sections[i].states.begin(), scene.sections[i].states.end(),
                                           [](PartState s) { return s.a > 0 && s.a < 255; });
    }
    if (anyGhost) {
        glEnable(GL_BLEND);
        glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
        glDepthMask(GL_FALSE);
        for (std::size_t i = 0; i < scene.sections.size(); ++i)
            if (meshes[i]) drawSection(scene, scene.sections[i], *meshes[i], true);
        glDepthMask(GL_TRUE);
    }
    if (scene.refined) {
        glBindFramebuffer(GL_READ_FRAMEBUFFER, m_target->frame);
        glBindFramebuffer(GL_DRAW_FRAMEBUFFER, m_target->plainFrame);
        glBlitFramebuffer(0, 0, scene.width, scene.height, 0, 0, scene.width, scene.height, GL_COLOR_BUFFER_BIT,
                          GL_NEAREST);
        glBindFramebuffer(GL_FRAMEBUFFER, m_target->plainFrame);
    }
    Image image{scene.width, scene.height, {}};
    image.rgba.resize(static_cast<std::size_t>(scene.width) * static_cast<std::size_t>(scene.height) * 4);
    glReadPixels(0, 0, scene.width, scene.height, GL_RGBA, GL_UNSIGNED_BYTE, image.rgba.data());
    const auto row = static_cast<std::ptrdiff_t>(scene.width) * 4;
    for (int y = 0; y < scene.height / 2; ++y)
        std::swap_ranges(image.rgba.begin() + y * row, image.rgba.begin() + (y + 1) * row,
                         image.rgba.begin() + (scene.height - 1 - y) * row);
    m_meshes.remove_if([&](const auto& mesh) { return mesh->usedInFrame + kKeepFrames < m_frame; });
    return image;
}

PartState makeState(int colour) {
    const auto& rgb = ivrant::at(parts::getPalette(), colour).rgb;
    return {rgb[0], rgb[1], rgb[2], 255};
}

PartState mix(PartState state, std::array<std::uint8_t, 3> rgb, double share) {
    const auto blend = [&](std::uint8_t a, std::uint8_t b) { return static_cast<std::uint8_t>(a + (b - a) * share); };
    return {blend(state.r, rgb[0]), blend(state.g, rgb[1]), blend(state.b, rgb[2]), state.a};
}

} // namespace ivrant::render
