// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/wall_plan.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/brick_rows.h"
#include "core/drive/plane_parts.h"
#include "core/parts/family.h"

namespace ivrant::drive {
namespace {

using base::Error;
using base::kPitchMm;
using base::kPlateMm;
using geometry::Frame;
using geometry::Vec3;

struct Upright {
    std::string id, name;
    double x = 0, y = 0, low = 0, high = 0;
    int cellX = 0, cellY = 0; ///< the lower of the two cells that its hole lies between, both ways
};

class FlatPlanner {
public:
    FlatPlanner(const model::Project& project, const model::Board& board, const WallsWish& wish)
        : m_board(board), m_wish(wish), m_section(*at(project.sections, project.findSection(board.section))),
          m_seen(listPlaneParts(project, board)) {}

    base::Result<WallsPlan> run() {
        if (!m_wish.walls || !m_wish.reach)
            return Error{"walls.flat", "on a board that lies flat the heads of the shafts are the lid: type walls", ""};
        listUpright();
        if (m_upright.empty())
            return Error{"walls.shafts",
                         "there is no upright shaft on this board yet that floor and ceiling could carry: type 24 or "
                         "shaft 4",
                         ""};
        if (std::all_of(m_upright.begin(), m_upright.end(), [&](const Upright& u) { return isCarried(u); }))
            return Error{"walls.there", "every shaft has its holes already", ""};
        chooseSides();
        findGrid();
        findCells();
        if (m_placed.empty()) return Error{"walls.holes", m_plan.notes.front(), ""};
        if (m_highX - m_lowX + 1 > kMostSpanCells)
            return Error{"walls.span",
                         "the walls would stand " + std::to_string(m_highX - m_lowX - 1) +
                             " pitches apart; plates with holes reach over " + std::to_string(kMostSpanCells - 2) +
                             ": lay the wheels in a row",
                         ""};
        findHeights();
        reach();
        build();
        leaveOutWhatIsInTheWay(m_section, m_plan);
        return std::move(m_plan);
    }

private:
    void listUpright() {
        const Frame X_SB = m_board.place.frame();
        for (const model::Shaft& shaft : m_seen.shafts) {
            if (shaft.axis != model::BoardAxis::Out) continue;
            const Vec3 a = X_SB *
                           Vec3(base::umToMm(shaft.atUm[0]), base::umToMm(shaft.atUm[1]), base::umToMm(shaft.atUm[2])),
                       b = a + X_SB.linear().col(2) * base::umToMm(shaft.lengthUm);
            m_upright.push_back({shaft.id.text, shaft.name.empty() ? "shaft " + shaft.id.text : shaft.name, a.x(),
                                 a.y(), std::min(a.z(), b.z()), std::max(a.z(), b.z())});
        }
    }
    [[nodiscard]] bool isCarried(const Upright& shaft) const {
        int walls = 0;
        for (std::size_t p = 0; p < m_section.parts.size(); ++p)
            if (m_section.parts[p].id.text == shaft.id)
                for (const Taken& taken : listTaken(m_section, static_cast<int>(p))) walls += taken.wall ? 1 : 0;
        return walls >= 2;
    }
    [[nodiscard]] geometry::Bounds boundsOf(const model::Part& part) const {
        geometry::Bounds box;
        for (const auto& s : part.shape->solids)
            box.include(geometry::calcBounds(s.solid, m_X_FS * part.place.frame()));
        return box;
    }
    [[nodiscard]] geometry::Bounds calcWheels() const {
        geometry::Bounds all;
        for (const model::Part& part : m_section.parts)
            if (m_seen.findGear(part.id.text)) all.include(boundsOf(part));
        for (const Upright& shaft : m_upright) {
            all.include(Vec3(shaft.x - kPitchMm / 2, shaft.y - kPitchMm / 2, shaft.low + kPitchMm));
            all.include(Vec3(shaft.x + kPitchMm / 2, shaft.y + kPitchMm / 2, shaft.high - kPitchMm));
        }
        return all;
    }
    /// Walls along the longer side of what lies there: F's y.
    void chooseSides() {
        const Vec3 size = calcWheels().size();
        if (size.x() > size.y())
            m_X_SF =
                geometry::makeFrame(Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitZ()).toRotationMatrix(), Vec3::Zero());
        m_X_FS = m_X_SF.inverse(Eigen::Isometry);
        for (Upright& shaft : m_upright) {
            const Vec3 at = m_X_FS * Vec3(shaft.x, shaft.y, 0);
            shaft.x = at.x();
            shaft.y = at.y();
        }
    }
    void findGrid() {
        m_grid = Vec3(m_upright.front().x - kPitchMm / 2, m_upright.front().y - kPitchMm / 2, m_upright.front().low);
        for (const model::Part& part : m_section.parts)
            for (const parts::Port& port : part.shape->ports) {
                const Frame X = m_X_FS * part.place.frame();
                if (port.kind != parts::PortKind::Stud || (X.linear() * port.axis).z() < 0.99) continue;
                if (part.shape->family.starts_with("motor") || part.shape->family == "jumper") continue;
                m_grid = X * port.origin;
                return;
            }
    }
    /// Holes of plates lie between four studs; two in neighbouring columns have no plates of their own.
    void findCells() {
        std::map<int, std::string> columns; // by its lower cell along y
        for (Upright& shaft : m_upright) {
            const double x = calcOffGrid(shaft.x - kPitchMm / 2, m_grid.x(), kPitchMm),
                         y = calcOffGrid(shaft.y - kPitchMm / 2, m_grid.y(), kPitchMm);
            if (std::abs(x) > kFitMm || std::abs(y) > kFitMm) {
                m_plan.notes.push_back(shaft.name + " lies " + base::formatNumber(std::abs(x) > kFitMm ? x : y, 1) +
                                       " mm beside the holes that plates can have here: move it by that");
                continue;
            }
            shaft.cellX = static_cast<int>(std::lround((shaft.x - kPitchMm / 2 - m_grid.x()) / kPitchMm));
            shaft.cellY = static_cast<int>(std::lround((shaft.y - kPitchMm / 2 - m_grid.y()) / kPitchMm));
            const auto beside = [&](int by) { return columns.find(shaft.cellY + by); };
            if (const auto other = beside(1) != columns.end() ? beside(1) : beside(-1); other != columns.end()) {
                m_plan.notes.push_back(shaft.name + " and " + other->second +
                                       " lie a pitch beside each other: no two plates with holes fit there");
                continue;
            }
            columns.emplace(shaft.cellY, shaft.name);
            m_placed.push_back(shaft);
        }
        const geometry::Bounds wheels = calcWheels();
        const auto cell = [](double mm) { return (mm + kPitchMm / 2) / kPitchMm; };
        m_lowX = static_cast<int>(std::floor(cell(wheels.low.x() - m_grid.x() - kClearMm))) - 1;
        m_highX = static_cast<int>(std::ceil(cell(wheels.high.x() - m_grid.x() + kClearMm)));
        m_lowY = m_highY = m_placed.empty() ? 0 : m_placed.front().cellY;
        for (const Upright& shaft : m_placed) {
            m_lowY = std::min(m_lowY, shaft.cellY);
            m_highY = std::max(m_highY, shaft.cellY + 1);
        }
        --m_lowY;
        ++m_highY;
    }
    void findHeights() {
        const geometry::Bounds wheels = calcWheels();
        double low = 1e9;
        for (const Upright& shaft : m_placed) low = std::min(low, shaft.low);
        // Feet below the lowest wheel, the shafts on the base; heads above the highest one.
        low = std::min(low, wheels.low.z() - kClearMm - kPlateMm);
        m_base = m_grid.z() + kPlateMm * std::floor((low - m_grid.z() + kFitMm) / kPlateMm);
        m_ceiling = m_base + kPlateMm * std::ceil((wheels.high.z() + kClearMm - m_base) / kPlateMm - 1e-3);
    }
    /// Shafts from the base through the ceiling; the next longer axle where they are too short.
    void reach() {
        for (const Upright& shaft : m_placed) {
            const double top = m_ceiling + kPlateMm;
            if (shaft.low < m_base + kFitMm && shaft.high > top - kFitMm) continue;
            const int pitches = static_cast<int>(std::ceil((std::max(shaft.high, top) - m_base) / kPitchMm - 0.01));
            const auto longer = parts::makeShape("axle " + std::to_string(pitches));
            if (!longer) {
                m_plan.notes.push_back(shaft.name + " would have to be " + std::to_string(pitches) +
                                       " pitches long: there is no such axle");
                continue;
            }
            const auto part = std::find_if(m_section.parts.begin(), m_section.parts.end(),
                                           [&](const model::Part& each) { return each.id.text == shaft.id; });
            const bool up = part->place.frame().linear()(2, 0) > 0; // its start is its lower end
            m_plan.longer.push_back(
                {part->id, *longer, Vec3(0, 0, up ? m_base - shaft.low : m_base + kPitchMm * pitches - shaft.high)});
        }
    }

    void add(const std::string& name, const Frame& X_F, int step) {
        const auto shape = parts::makeShape(name);
        if (!shape) return;
        model::NewPart part;
        part.shape = *shape;
        part.colour = chooseColour(m_board, **shape);
        part.step = step;
        part.place = model::makePlace(m_X_SF * X_F);
        m_plan.parts.push_back(std::move(part));
    }
    [[nodiscard]] Vec3 cellAt(int x, int y, double z) const {
        return {m_grid.x() + kPitchMm * x, m_grid.y() + kPitchMm * y, z};
    }
    /// 2 wide in y, from cell to cell along x.
    void addStrip(int fromX, int toX, int y, double z, int step) {
        const int length = toX - fromX + 1;
        // Its own length runs along y: turned, its first cell is the one with the lower x and the higher y.
        const geometry::Mat3 turn = Eigen::AngleAxisd(-base::kPi / 2, Vec3::UnitZ()).toRotationMatrix();
        add("pin hole plate 2x" + std::to_string(length), geometry::makeFrame(turn, cellAt(fromX, y + 1, z)), step);
    }

    void build() {
        int step = 0;
        for (const model::Part& part : m_section.parts)
            if (!isDrivePart(*part.shape)) step = std::max(step, part.step);
        ++step;
        const int wide = m_highX - m_lowX + 1, deep = m_highY - m_lowY + 1;
        if (m_wish.floor) {
            const PlateSize whole = findWholePlate(wide, deep);
            const auto layer = [&](double z, bool alongX, int x, int y) {
                const auto pieces = makeLayer("plate", x, y, alongX);
                for (const RowPiece& piece : pieces)
                    add(piece.shape->name,
                        geometry::makeFrame(geometry::Mat3::Identity(), cellAt(m_lowX, m_lowY, z) + piece.at), step);
                return pieces.size();
            };
            if (whole.x > 0)
                layer(m_base - kPlateMm, false, whole.x, whole.y);
            else if (layer(m_base - kPlateMm, false, wide, deep) > 1)
                layer(m_base - 2 * kPlateMm, true, wide, deep);
        }
        ++step;
        std::map<int, std::pair<int, int>> feet; // by column: from and to along x
        for (const Upright& shaft : m_placed) {
            auto& [from, to] = feet.try_emplace(shaft.cellY, shaft.cellX, shaft.cellX + 1).first->second;
            from = std::min(from, shaft.cellX);
            to = std::max(to, shaft.cellX + 1);
        }
        for (const auto& [y, reach] : feet) addStrip(reach.first, reach.second, y, m_base, step);
        std::set<int> seams[2];
        double z = m_base;
        auto plates = static_cast<int>(std::lround((m_ceiling - m_base) / kPlateMm));
        while (plates > 0) {
            const bool brick = plates >= 3;
            ++step;
            for (const int side : {0, 1})
                for (const RowPiece& piece : makeRow(brick ? "brick" : "plate", m_lowY, m_highY, {}, seams[side]))
                    add(piece.shape->name,
                        geometry::makeFrame(
                            geometry::Mat3::Identity(),
                            Vec3(m_grid.x() + kPitchMm * (side == 0 ? m_lowX : m_highX), m_grid.y(), z) + piece.at),
                        step);
            z += brick ? 3 * kPlateMm : kPlateMm;
            plates -= brick ? 3 : 1;
        }
        std::set<std::string> shafts;
        for (const Upright& shaft : m_placed) shafts.insert(shaft.id);
        const int last = orderDrive(m_section, shafts, step + 1, m_plan);
        for (const auto& column : feet) addStrip(m_lowX, m_highX, column.first, m_ceiling, last);
    }

    const model::Board& m_board;
    const WallsWish& m_wish;
    const model::Section& m_section;
    PlaneParts m_seen;
    Frame m_X_SF = Frame::Identity(), m_X_FS = Frame::Identity(); ///< F: y along the walls, z up
    std::vector<Upright> m_upright, m_placed;
    Vec3 m_grid = Vec3::Zero(); ///< a stud, or where one will be
    int m_lowX = 0, m_highX = 0, m_lowY = 0, m_highY = 0;
    double m_base = 0, m_ceiling = 0; ///< top of the base, underside of the heads
    WallsPlan m_plan;
};

} // namespace

base::Result<WallsPlan> planFlatWalls(const model::Project& project, const model::Board& board, const WallsWish& wish) {
    return FlatPlanner(project, board, wish).run();
}

} // namespace ivrant::drive
