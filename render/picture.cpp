#include "render/picture.h"

namespace ivrant::render {
namespace {

constexpr std::array<std::uint8_t, 3> kPaper{247, 244, 236};
constexpr double kFade = 0.72;

geometry::Bounds partBounds(const model::Part& part, const geometry::Pose& X_WS) {
    geometry::Bounds b;
    const auto& own = part.shape->bounds;
    const geometry::Pose X = X_WS * part.place.pose();
    for (int c = 0; c < 8; ++c)
        b.include(X * geometry::Vec3(c & 1 ? own.high.x() : own.low.x(), c & 2 ? own.high.y() : own.low.y(), c & 4 ? own.high.z() : own.low.z()));
    return b;
}

} // namespace

geometry::Bounds calcBounds(const model::Placed& placed, const std::vector<int>& sections) {
    geometry::Bounds bounds;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
        if (!sections.empty() && std::find(sections.begin(), sections.end(), static_cast<int>(s)) == sections.end()) continue;
        for (const auto& part : placed.project->sections[s]->parts) bounds.include(partBounds(part, placed.X_WS[s]));
    }
    return bounds;
}

Scene makeScene(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds, const PictureRequest& request) {
    Scene scene;
    scene.width = request.width;
    scene.height = request.height;
    scene.background = request.background;
    scene.refined = true;
    geometry::Bounds bounds;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
        if (request.onlySection && *request.onlySection != static_cast<int>(s)) continue;
        SectionDraw draw;
        draw.section = placed.project->sections[s];
        draw.bonds = bonds[s];
        // A section by itself is shown in its own attitude, as it is built on the table.
        draw.X_WS = request.onlySection ? geometry::Pose::Identity() : placed.X_WS[s];
        draw.whole = request.upToStep.has_value();
        for (const auto& part : draw.section->parts) {
            PartState state = makeState(part.colour);
            if (request.upToStep && part.step > *request.upToStep) state.a = 0;
            else if (request.upToStep && part.step < *request.upToStep) state = mix(state, kPaper, kFade);
            if (state.a > 0) bounds.include(partBounds(part, draw.X_WS));
            draw.states.push_back(state);
        }
        scene.sections.push_back(std::move(draw));
    }
    scene.camera.look(request.view);
    scene.camera.fit(bounds, request.width, request.height, request.share);
    return scene;
}

base::Result<Image> renderPicture(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds, const PictureRequest& request) {
    auto renderer = Renderer::create();
    if (!renderer) return renderer.error();
    return (*renderer)->draw(makeScene(placed, bonds, request));
}

Image drawPart(Renderer& renderer, const parts::ShapePtr& shape, int colour, int width, int height) {
    auto section = std::make_shared<model::Section>();
    section->parts.push_back({{"p1"}, shape, colour, {}, 1, {}, nullptr});
    auto bonds = std::make_shared<bonds::SectionBonds>();
    bonds->coveredStuds.resize(1);
    Scene scene;
    scene.width = width;
    scene.height = height;
    scene.background = {255, 255, 255, 0};
    scene.refined = true;
    scene.camera.look(View::Corner);
    scene.camera.fit(partBounds(section->parts[0], geometry::Pose::Identity()), width, height, 0.9);
    scene.sections.push_back({section, bonds, geometry::Pose::Identity(), {makeState(colour)}, false});
    return renderer.draw(scene);
}

} // namespace ivrant::render
