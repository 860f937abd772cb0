// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/picture.h"

#include <algorithm>
#include <tuple>

#include "render/board_draw.h"
#include "render/line_draw.h"

#include "core/base/at.h"

namespace ivrant::render {
namespace {

constexpr std::array<std::uint8_t, 3> kPaper{247, 244, 236};
constexpr double kFade = 0.72;
constexpr double kTint = 0.85;

geometry::Bounds partBounds(const model::Part& part, const geometry::Frame& X_WS) {
    geometry::Bounds b;
    const auto& own = part.shape->bounds;
    const geometry::Frame X = X_WS * part.place.frame();
    for (int c = 0; c < 8; ++c)
        b.include(X * geometry::Vec3(c & 1 ? own.high.x() : own.low.x(), c & 2 ? own.high.y() : own.low.y(),
                                     c & 4 ? own.high.z() : own.low.z()));
    return b;
}

/// Some parts of a section, with the studs that are covered among them.
struct Taken {
    model::SectionPtr section;
    bonds::SectionBondsPtr bonds;
    std::vector<int> index; ///< of its parts in the whole section
};
Taken takeOnly(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds, const std::vector<bool>& takes) {
    Taken taken;
    std::vector<int> number(section->parts.size(), -1);
    for (std::size_t p = 0; p < section->parts.size(); ++p) {
        if (!takes[p]) continue;
        number[p] = static_cast<int>(taken.index.size());
        taken.index.push_back(static_cast<int>(p));
    }
    taken.section = section;
    taken.bonds = bonds;
    if (taken.index.size() == section->parts.size()) return taken;
    auto some = std::make_shared<model::Section>();
    auto covered = std::make_shared<bonds::SectionBonds>();
    some->id = section->id;
    for (const int p : taken.index) some->parts.push_back(at(section->parts, p));
    covered->coveredStuds.resize(some->parts.size());
    for (const auto& mate : bonds->mates) {
        const int a = at(number, mate.partA), b = at(number, mate.partB);
        if (a < 0 || b < 0) continue;
        for (const auto& [part, port] : {std::pair(a, mate.portA), std::pair(b, mate.portB)})
            if (bonds::coversStud(mate, at(at(some->parts, part).shape->ports, port)))
                at(covered->coveredStuds, part).push_back(port);
    }
    taken.section = some;
    taken.bonds = covered;
    return taken;
}

/// What of a section is drawn together: all that stays in its place first, then what is moved away alike.
struct DrawnGroup {
    Taken taken;
    geometry::Vec3 moved = geometry::Vec3::Zero();
};
std::vector<DrawnGroup> listGroups(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds, int s,
                                   const PictureRequest& request) {
    std::vector<geometry::Vec3> moves{geometry::Vec3::Zero()};
    std::vector<std::size_t> moveOf(section->parts.size(), 0);
    for (auto it = request.moved.lower_bound({s, 0}); it != request.moved.end() && it->first.section == s; ++it) {
        const auto known = std::find_if(moves.begin(), moves.end(),
                                        [&](const geometry::Vec3& v) { return (v - it->second).norm() < 1e-6; });
        moveOf.at(static_cast<std::size_t>(it->first.part)) = static_cast<std::size_t>(known - moves.begin());
        if (known == moves.end()) moves.push_back(it->second);
    }
    std::vector<DrawnGroup> groups;
    for (std::size_t g = 0; g < moves.size(); ++g) {
        std::vector<bool> takes(section->parts.size());
        for (std::size_t p = 0; p < takes.size(); ++p) {
            const model::Part& part = section->parts[p];
            takes[p] =
                moveOf[p] == g &&
                (!request.upToStep || (part.step <= *request.upToStep && request.absentParts.count(part.id.text) == 0));
        }
        DrawnGroup group{takeOnly(section, bonds, takes), moves[g]};
        if (!group.taken.index.empty()) groups.push_back(std::move(group));
    }
    return groups;
}

/// The gear boards that the request shows, in the frame of what else is shown.
void addBoards(Scene& scene, const model::Placed& placed, const PictureRequest& request, geometry::Bounds& bounds) {
    const bool boardOnly = request.board && !request.onlySection;
    for (BoardDraw& drawn : makeBoardDraws(placed)) {
        const model::Board& board = *at(placed.project->boards, drawn.board);
        const bool isNew = request.board && *request.board == drawn.board;
        const bool isThere =
            std::find(request.boards.begin(), request.boards.end(), drawn.board) != request.boards.end();
        if (boardOnly && !isNew) continue;
        if (request.onlySection) {
            const bool own = placed.project->findSection(board.section) == *request.onlySection;
            if (!own || (request.upToStep && !isNew && !isThere)) continue;
        }
        if (boardOnly || request.onlySection)
            drawn.draw.X_WS = boardOnly ? geometry::Frame::Identity() : board.place.frame();
        if (isThere && !isNew)
            for (PartState& state : drawn.draw.states) state = mix(state, kPaper, kFade);
        for (const auto& part : drawn.draw.section->parts) bounds.include(partBounds(part, drawn.draw.X_WS));
        scene.sections.push_back(std::move(drawn.draw));
    }
}

void addGroup(Scene& scene, const model::Placed& placed, const PictureRequest& request, int s, DrawnGroup group,
              geometry::Bounds& bounds) {
    SectionDraw draw;
    draw.section = group.taken.section;
    draw.bonds = group.taken.bonds;
    // A section by itself is shown in its own attitude, as it is built on the table.
    draw.X_WS = request.onlySection ? geometry::Frame::Identity() : at(placed.X_WS, s);
    const bool inFocus =
        request.focus.empty() || std::find(request.focus.begin(), request.focus.end(), s) != request.focus.end();
    const bool isFresh = request.fresh == s;
    draw.X_WS = Eigen::Translation3d(group.moved + (isFresh ? request.shift : geometry::Vec3::Zero())) * draw.X_WS;
    for (std::size_t p = 0; p < draw.section->parts.size(); ++p) {
        const auto& part = draw.section->parts[p];
        PartState state = makeState(part.colour);
        const bool isAbsent = request.absentParts.count(part.id.text) > 0;
        if (isAbsent || (!request.onlyParts.empty() && std::find(request.onlyParts.begin(), request.onlyParts.end(),
                                                                 part.id) == request.onlyParts.end())) {
            state.a = 0;
            draw.states.push_back(state);
            continue;
        }
        const bool isNew = isFresh || request.freshParts.count(part.id.text) > 0;
        if ((request.fresh >= 0 || !request.freshParts.empty()) && !isNew) state = mix(state, kPaper, kFade);
        if (request.tint)
            if (const auto tint = request.tint({s, group.taken.index[p]})) state = mix(state, *tint, kTint);
        if (request.upToStep && (part.step < *request.upToStep || request.board)) state = mix(state, kPaper, kFade);
        if (inFocus) bounds.include(partBounds(part, draw.X_WS));
        draw.states.push_back(state);
    }
    scene.sections.push_back(std::move(draw));
}

} // namespace

geometry::Bounds calcBounds(const model::Placed& placed, const std::vector<int>& sections) {
    geometry::Bounds bounds;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
        if (!sections.empty() && std::find(sections.begin(), sections.end(), static_cast<int>(s)) == sections.end())
            continue;
        for (const auto& part : placed.project->sections[s]->parts) bounds.include(partBounds(part, placed.X_WS[s]));
    }
    for (const BoardDraw& drawn : makeBoardDraws(placed)) {
        const int own = placed.project->findSection(at(placed.project->boards, drawn.board)->section);
        if (!sections.empty() && std::find(sections.begin(), sections.end(), own) == sections.end()) continue;
        for (const auto& part : drawn.draw.section->parts) bounds.include(partBounds(part, drawn.draw.X_WS));
    }
    return bounds;
}

void PictureRequest::showStep(const make::Step& step, const model::Project& project, const model::SectionTree& tree) {
    const auto rank = make::rankSections(tree);
    for (std::size_t s = 0; s < project.sections.size(); ++s) {
        const int own = static_cast<int>(s);
        for (const model::Part& part : project.sections[s]->parts) {
            const int after = make::findAfter(project, rank, own, part);
            if (after < 0) continue;
            // What waits comes after the joining, section by section, step by step.
            const bool there =
                step.after >= 0 && std::tuple(at(rank, after), at(rank, own), part.step) <=
                                       std::tuple(at(rank, step.after), at(rank, step.section), step.stepInSection);
            if (!there) absentParts.insert(part.id.text);
        }
        if (step.after >= 0 && at(rank, own) <= at(rank, step.after)) sections.push_back(own);
    }
    boards = step.boards;
    if (step.board >= 0) board = step.board;
    if (step.after >= 0) {
        for (const int p : step.added) freshParts.insert(at(at(project.sections, step.section)->parts, p).id.text);
        focus = {step.section};
    } else if (step.section >= 0) {
        onlySection = step.section;
        upToStep = step.stepInSection;
    }
}

Scene makeScene(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                const PictureRequest& request) {
    Scene scene;
    scene.width = request.width;
    scene.height = request.height;
    scene.background = request.background;
    scene.refined = true;
    geometry::Bounds bounds;
    const bool boardOnly = request.board && !request.onlySection;
    for (std::size_t s = 0; s < placed.X_WS.size() && !boardOnly; ++s) {
        if (request.onlySection && *request.onlySection != static_cast<int>(s)) continue;
        const bool listed =
            std::find(request.sections.begin(), request.sections.end(), static_cast<int>(s)) != request.sections.end();
        if (!request.onlySection && !request.sections.empty() && !listed) continue;
        for (DrawnGroup& group : listGroups(placed.project->sections[s], bonds[s], static_cast<int>(s), request))
            addGroup(scene, placed, request, static_cast<int>(s), std::move(group), bounds);
    }
    if (request.onlyParts.empty() && request.sections.empty()) addBoards(scene, placed, request, bounds);
    if (request.showsWhole())
        for (SectionDraw& draw : makeLineDraws(placed)) scene.sections.push_back(std::move(draw));
    scene.camera.look(request.view);
    if (request.turn) {
        scene.camera.yaw = request.turn->yaw;
        scene.camera.pitch = request.turn->pitch;
    }
    scene.camera.fit(bounds, request.width, request.height, request.share);
    return scene;
}

base::Result<Image> renderPicture(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                  const PictureRequest& request) {
    auto renderer = Renderer::create();
    if (!renderer) return renderer.error();
    return (*renderer)->draw(makeScene(placed, bonds, request));
}

Camera makePartCamera(const parts::Shape& shape, int width, int height, View view) {
    Camera camera;
    camera.look(view);
    camera.fit(shape.bounds, width, height, 0.9);
    return camera;
}

Image drawPart(Renderer& renderer, const parts::ShapePtr& shape, int colour, int width, int height, View view) {
    auto section = std::make_shared<model::Section>();
    section->parts.push_back({{"p1"}, shape, colour, {}, 1, {}, nullptr});
    auto bonds = std::make_shared<bonds::SectionBonds>();
    bonds->coveredStuds.resize(1);
    Scene scene;
    scene.width = width;
    scene.height = height;
    scene.background = {255, 255, 255, 0};
    scene.refined = true;
    scene.camera = makePartCamera(*shape, width, height, view);
    scene.sections.push_back({section, bonds, geometry::Frame::Identity(), {makeState(colour)}});
    return renderer.draw(scene);
}

} // namespace ivrant::render
