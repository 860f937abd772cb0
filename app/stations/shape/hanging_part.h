// SPDX-License-Identifier: GPL-3.0-or-later
// Where does the part that hangs at the pointer go?
//
// Keeps shape, colour and world pose of a part that has been typed but not put down. The pose comes from the pointer
// (fits on the part under it), from the keys (nudging, turning) or from numbers ("at … turn …").
#pragma once

#include "app/sheet3d/sheet3d.h"
#include "core/bonds/fits.h"
#include "core/parts/part_line.h"

namespace ivrant::app {

class HangingPart {
public:
    explicit HangingPart(Session& session) : m_session(session) {}

    [[nodiscard]] bool active() const { return m_shape != nullptr; }
    void clear();
    /// Takes a parsed line; the place is kept unless the line gives one.
    void take(const parts::PartLine& line, int usualColour);
    /// Follows the pointer; `hit` none: over paper, at the given point of the ground.
    void follow(const std::optional<PickHit>& hit, const geometry::Vec3& ground);
    void nextFit(int direction);
    void turn(int quarterTurns);
    void tip();
    /// Moves by mm in the world; the fits are left.
    void nudge(const geometry::Vec3& mm);
    /// After putting down: ready for the next one, on top of it.
    void liftBy(double mm) { nudge({0, 0, mm}); }

    [[nodiscard]] const parts::ShapePtr& shape() const { return m_shape; }
    [[nodiscard]] int colour() const { return m_colour; }
    [[nodiscard]] const geometry::Frame& X_W() const { return m_X_W; }
    [[nodiscard]] bool placedByNumbers() const { return m_byNumbers; }
    /// "at 5.5s 3s 3p · on stud 0,1 of plate 6x10, fit 1 of 3"
    [[nodiscard]] QString describe() const;
    [[nodiscard]] std::optional<render::SectionDraw> draw() const;

private:
    Session& m_session;
    parts::ShapePtr m_shape;
    int m_colour = 0;
    geometry::Frame m_X_W = geometry::Frame::Identity();
    geometry::Mat3 m_wished = geometry::Mat3::Identity();
    bool m_byNumbers = false;
    std::vector<bonds::Fit> m_fits;
    std::size_t m_fit = 0;
    model::PartSpot m_target;
};

} // namespace ivrant::app
