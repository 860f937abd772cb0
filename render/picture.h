// SPDX-License-Identifier: GPL-3.0-or-later
// One picture of a placed figure, for sheets and the command line.
#pragma once

#include <functional>
#include <map>
#include <set>

#include "core/make/steps.h"
#include "core/model/placed.h"
#include "render/renderer.h"

namespace ivrant::render {

/// Where one looks from: see Camera.
struct Turn {
    double yaw = 0, pitch = 0;
    bool operator==(const Turn&) const = default;
};

struct PictureRequest {
    int width = 1280, height = 800;
    View view = View::Corner;
    std::optional<Turn> turn; ///< another view than `view`
    std::optional<int> onlySection;
    /// Of `onlySection`, only parts up to this step are shown and those of earlier steps are faded.
    std::optional<int> upToStep;
    /// Gear boards shown with `onlySection` and its steps; those in `boards` faded. Whole models show all of theirs.
    std::vector<int> boards;
    std::vector<int> sections;         ///< of a whole model these alone; empty: all
    int fresh = -1;                    ///< of a whole model this section in its colours, the others faded
    std::set<std::string> freshParts;  ///< of a whole model these parts in their colours, all others faded
    std::set<std::string> absentParts; ///< of a whole model these are not there yet
    std::vector<int> focus; ///< of a whole model the sections that fill the picture; empty: all that are shown
    geometry::Vec3 shift = geometry::Vec3::Zero(); ///< how far `fresh` is away from its place
    /// Parts that are drawn so far away from their place: in the frame of the picture, which is the section's when it
    /// is shown by itself.
    std::map<model::PartSpot, geometry::Vec3> moved;
    std::vector<model::PartId> onlyParts; ///< nothing but these; empty: all
    std::optional<int> board;             ///< by itself when there is no `onlySection`
    std::function<std::optional<std::array<std::uint8_t, 3>>(model::PartSpot)>
        tint; ///< another colour for some parts; null: none
    std::array<std::uint8_t, 4> background{247, 244, 236, 255};
    double share = 0.86;

    /// All of the model as it stands, with its lines: nothing left out, away, or yet to come.
    [[nodiscard]] bool showsWhole() const {
        return !onlySection && !board && sections.empty() && absentParts.empty() && onlyParts.empty() && moved.empty();
    }
    /// The picture of a step of building: its section by itself, or what waited in the whole as far as it is built.
    void showStep(const make::Step& step, const model::Project& project, const model::SectionTree& tree);
};

/// Scene of a picture, camera fitted to what is shown.
[[nodiscard]] Scene makeScene(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                              const PictureRequest& request);

/// Draws with a renderer of its own.
base::Result<Image> renderPicture(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                  const PictureRequest& request);

/// Camera that has a single part fill a picture.
[[nodiscard]] Camera makePartCamera(const parts::Shape& shape, int width, int height, View view = View::Corner);
/// A single part in a colour on a transparent ground, seen by makePartCamera.
[[nodiscard]] Image drawPart(Renderer& renderer, const parts::ShapePtr& shape, int colour, int width, int height,
                             View view = View::Corner);

[[nodiscard]] geometry::Bounds calcBounds(const model::Placed& placed, const std::vector<int>& sections = {});

/// PNG bytes.
[[nodiscard]] std::string encodePng(const Image& image);

} // namespace ivrant::render
