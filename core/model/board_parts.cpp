#include "core/model/board_parts.h"

#include <cmath>

#include "core/base/units.h"
#include "core/parts/family.h"

namespace ivrant::model {
namespace {

using base::umToMm;
using geometry::Vec3;

constexpr int kLongestAxle = 16, kShortestAxle = 2;

std::string shapeName(const Gear& gear) {
    const std::string teeth = " " + std::to_string(gear.teeth);
    switch (gear.kind) {
    case GearKind::Spur: return (gear.loose ? "clutch gear" : "spur gear") + teeth;
    case GearKind::Bevel: return "double bevel gear" + teeth;
    case GearKind::Crown: return "crown gear" + teeth;
    case GearKind::Worm: return gear.teeth == 1 && !gear.leftHand ? "worm gear" : "";
    case GearKind::Ring: return "ring gear" + teeth;
    case GearKind::Rack: return "rack " + std::to_string(static_cast<int>(std::ceil(gear.teeth * base::kPi / base::kPitchMm - 1e-9)));
    case GearKind::Sprocket: return "sprocket" + teeth;
    case GearKind::Pulley: return "pulley" + teeth;
    case GearKind::Differential: return gear.teeth == 28 ? "differential" : "";
    case GearKind::Turntable: return gear.teeth == 56 ? "large geared turntable upper" : "";
    }
    return "";
}

/// Frame with x along a direction of the board.
geometry::Pose alongAxis(BoardAxis axis, const Vec3& at) {
    geometry::Mat3 r = geometry::Mat3::Identity();
    if (axis == BoardAxis::Up) r = Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitZ()).toRotationMatrix();
    if (axis == BoardAxis::Out) r = Eigen::AngleAxisd(-base::kPi / 2, Vec3::UnitY()).toRotationMatrix();
    return geometry::makePose(r, at);
}
Vec3 toMm(const std::array<std::int64_t, 3>& um) { return {umToMm(um[0]), umToMm(um[1]), umToMm(um[2])}; }

class Lister {
public:
    explicit Lister(const Board& board) : m_board(board) {}

    BoardParts run() {
        for (const Shaft& shaft : m_board.shafts) {
            const int pitches = std::max(kShortestAxle, static_cast<int>(std::ceil(umToMm(shaft.lengthUm) / base::kPitchMm - 1e-9)));
            add(pitches <= kLongestAxle ? "axle " + std::to_string(pitches) : "", alongAxis(shaft.axis, toMm(shaft.atUm)), shaft.id.text);
        }
        for (const Gear& gear : m_board.gears) {
            if (gear.kind == GearKind::Rack) {
                add(shapeName(gear), geometry::makePose(geometry::Mat3::Identity(), toMm(gear.atUm)), gear.id.text);
            } else if (const Shaft* shaft = find(gear.shaft)) {
                Vec3 at = toMm(shaft->atUm);
                at[static_cast<int>(shaft->axis)] += umToMm(gear.alongUm);
                add(shapeName(gear), alongAxis(shaft->axis, at), gear.id.text);
                if (gear.kind == GearKind::Turntable) add("large geared turntable lower", alongAxis(shaft->axis, at), gear.id.text);
            }
        }
        for (const DriveMotor& motor : m_board.motors)
            if (const Shaft* shaft = find(motor.shaft)) add(motor.line, alongAxis(shaft->axis, toMm(shaft->atUm)), motor.id.text);
        return std::move(m_result);
    }

private:
    [[nodiscard]] const Shaft* find(const ShaftId& id) const {
        for (const Shaft& shaft : m_board.shafts)
            if (shaft.id == id) return &shaft;
        return nullptr;
    }
    void add(const std::string& name, const geometry::Pose& X_BP, const std::string& id) {
        if (const auto shape = name.empty() ? base::Result<parts::ShapePtr>(base::Error{}) : parts::makeShape(name); shape.ok())
            m_result.parts.push_back({*shape, X_BP, id});
        else
            m_result.missing.push_back(id);
    }
    const Board& m_board;
    BoardParts m_result;
};

} // namespace

BoardParts listBoardParts(const Board& board) { return Lister(board).run(); }

} // namespace ivrant::model
