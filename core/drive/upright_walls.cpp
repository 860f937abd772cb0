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
using parts::PortKind;

constexpr double kBrickMm = 3 * base::kPlateMm, kHoleMm = 5.6; ///< of a pin hole brick above its underside
constexpr double kThroughMm = 3.7; ///< an axle ends no nearer to a wall's middle than that when it goes through

bool isNear(double a, double b) { return std::abs(a - b) < kFitMm; }

/// A shaft square to the walls, in the walls' frame.
struct Across {
    std::string id, name;
    double low = 0, high = 0; ///< along the normal
    double u = 0, v = 0;
};

/// In whose output one of the shafts ends.
struct Motor {
    const model::Part* part = nullptr;
    std::string shaft;
    bool seated = false; ///< by this plan
};

class UprightPlanner {
public:
    UprightPlanner(const model::Project& project, const model::Board& board, const WallsWish& wish)
        : m_board(board), m_wish(wish), m_section(*at(project.sections, project.findSection(board.section))),
          m_seen(listPlaneParts(project, board)) {}

    base::Result<WallsPlan> run() {
        const geometry::Mat3 R = m_board.place.frame().linear();
        const bool alongX = std::abs(R.col(2).x()) > 0.9;
        m_X_SF = geometry::makeFrame(
            alongX ? geometry::Mat3(geometry::Mat3::Identity())
                   : geometry::Mat3(Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitZ()).toRotationMatrix()),
            Vec3::Zero());
        m_X_FS = m_X_SF.inverse(Eigen::Isometry);
        listAcross();
        for (const std::int64_t height : m_wish.heightsUm)
            m_walls.push_back((m_X_FS * (m_board.place.frame() * Vec3(0, 0, base::umToMm(height)))).x());
        std::sort(m_walls.begin(), m_walls.end());
        m_walls.erase(std::unique(m_walls.begin(), m_walls.end(), isNear), m_walls.end());
        if (m_across.empty() && m_wish.walls)
            return Error{"walls.shafts",
                         "there is no shaft square to this board yet that walls could carry: type 24 or shaft 4", ""};
        findGrid();
        if (m_wish.walls && m_wish.reach) reachWalls();
        findHoles();
        if (m_wish.walls && m_levels.empty() && !m_wish.lid && !m_wish.seats)
            return m_notes.empty() ? Error{"walls.there", "every shaft has its holes already", ""}
                                   : Error{"walls.holes", m_notes.front(), ""};
        findRoom();
        build();
        if (m_plan.parts.empty() && m_plan.longer.empty() && m_notes.empty())
            return Error{"walls.there", "all of it is there already", ""};
        m_plan.notes = std::move(m_notes);
        leaveOutWhatIsInTheWay(m_section, m_plan);
        return std::move(m_plan);
    }

private:
    [[nodiscard]] Frame inWalls(const model::Part& part) const { return m_X_FS * part.place.frame(); }
    [[nodiscard]] static geometry::Bounds boundsOf(const parts::Shape& shape, const Frame& X) {
        geometry::Bounds box;
        for (const auto& s : shape.solids) box.include(geometry::calcBounds(s.solid, X));
        return box;
    }

    void listAcross() {
        const Frame X_FB = m_X_FS * m_board.place.frame();
        for (const model::Shaft& shaft : m_seen.shafts) {
            if (shaft.axis != model::BoardAxis::Out) continue;
            const Vec3 from = X_FB * Vec3(base::umToMm(shaft.atUm[0]), base::umToMm(shaft.atUm[1]),
                                          base::umToMm(shaft.atUm[2])),
                       to = from + X_FB.linear().col(2) * base::umToMm(shaft.lengthUm);
            m_across.push_back({shaft.id.text, shaft.name.empty() ? "shaft " + shaft.id.text : shaft.name,
                                std::min(from.x(), to.x()), std::max(from.x(), to.x()), from.y(), from.z()});
        }
        for (const Across& shaft : m_across)
            for (std::size_t p = 0; p < m_section.parts.size(); ++p) {
                if (m_section.parts[p].id.text != shaft.id) continue;
                for (const Taken& taken : listTaken(m_section, static_cast<int>(p)))
                    if (const model::Part& part = at(m_section.parts, taken.part);
                        part.shape->family.starts_with("motor"))
                        m_motors.push_back({&part, shaft.id});
            }
    }

    /// Axles that end short of the outer walls, where nothing is in the way of longer ones.
    void reachWalls() {
        if (m_walls.empty()) return;
        for (Across& shaft : m_across) {
            const double low = std::min(shaft.low, m_walls.front() - kPitchMm / 2),
                         high = std::max(shaft.high, m_walls.back() + kPitchMm / 2);
            const double below = shaft.low - low, above = high - shaft.high;
            if (below + above < kFitMm || !isFree(shaft, low, shaft.low) || !isFree(shaft, shaft.high, high)) continue;
            const auto whole = [](double mm) { return kPitchMm * std::ceil(mm / kPitchMm - 0.01); };
            const auto longer =
                parts::makeShape("axle " + std::to_string(static_cast<int>(std::lround(
                                               (shaft.high - shaft.low + whole(below) + whole(above)) / kPitchMm))));
            if (!longer) continue; // told as ending short
            const auto part = std::find_if(m_section.parts.begin(), m_section.parts.end(),
                                           [&](const model::Part& each) { return each.id.text == shaft.id; });
            const Vec3 own = part->place.frame().linear().col(0);
            const bool against = (m_X_FS.linear() * own).x() < 0;
            m_plan.longer.push_back({part->id, *longer, -(against ? whole(above) : whole(below)) * own});
            shaft.low -= whole(below);
            shaft.high += whole(above);
        }
    }
    /// No wheel or motor of another shaft where an axle would come.
    [[nodiscard]] bool isFree(const Across& shaft, double low, double high) const {
        constexpr double kAxleMm = 2.4;
        if (high - low < kFitMm) return true;
        return std::none_of(m_section.parts.begin(), m_section.parts.end(), [&](const model::Part& part) {
            if (part.shape->rings.empty() && !part.shape->family.starts_with("motor")) return false;
            const geometry::Bounds box = boundsOf(*part.shape, inWalls(part));
            if (box.high.x() < low + kFitMm || box.low.x() > high - kFitMm) return false;
            const double u = shaft.u - box.centre().y(), v = shaft.v - box.centre().z();
            const Vec3 half = box.size() / 2;
            if (part.shape->rings.empty()) return std::abs(u) < half.y() + kAxleMm && std::abs(v) < half.z() + kAxleMm;
            return std::hypot(u, v) < std::max(half.y(), half.z()) + kAxleMm;
        });
    }

    /// Where studs of the section stand; without any, so that the first wall and shaft fit.
    void findGrid() {
        for (const model::Part& part : m_section.parts)
            for (const parts::Port& port : part.shape->ports) {
                const Frame X = inWalls(part);
                if (port.kind != PortKind::Stud || (X.linear() * port.axis).z() < 0.99) continue;
                if (part.shape->family.starts_with("motor") || part.shape->family == "jumper") continue;
                m_studs.push_back(X * port.origin);
            }
        if (!m_studs.empty()) {
            m_grid = m_studs.front();
            return;
        }
        const Across& first = m_across.empty() ? Across{} : m_across.front();
        m_grid = Vec3(m_walls.empty() ? 0 : m_walls.front(), first.u - kPitchMm / 2, first.v - kHoleMm);
    }

    /// Is there a round hole at this place of a wall already?
    [[nodiscard]] bool hasHole(double wall, const Across& shaft) const {
        return std::any_of(m_section.parts.begin(), m_section.parts.end(), [&](const model::Part& part) {
            if (!part.shape->rings.empty()) return false;
            const Frame X = inWalls(part);
            return std::any_of(part.shape->ports.begin(), part.shape->ports.end(), [&](const parts::Port& port) {
                if (port.kind != PortKind::Hole || std::abs((X.linear() * port.axis).x()) < 0.99) return false;
                const Vec3 p = X * port.origin;
                return isNear(p.y(), shaft.u) && isNear(p.z(), shaft.v) && std::abs(p.x() - wall) < kPitchMm / 2;
            });
        });
    }

    void findHoles() {
        if (!m_wish.walls) return;
        m_holes.resize(m_walls.size());
        std::map<std::string, int> reached;
        for (std::size_t w = 0; w < m_walls.size(); ++w) {
            if (std::abs(calcOffGrid(m_walls[w], m_grid.x(), kPitchMm)) > kFitMm) {
                m_notes.push_back("a wall lies " +
                                  base::formatNumber(calcOffGrid(m_walls[w], m_grid.x(), kPitchMm), 1) +
                                  " mm beside the studs of the section: move the board or the wall by that");
                continue;
            }
            for (const Across& shaft : m_across) {
                if (shaft.low > m_walls[w] - kThroughMm || shaft.high < m_walls[w] + kThroughMm) continue;
                ++reached[shaft.id];
                if (hasHole(m_walls[w], shaft)) continue;
                const double u = calcOffGrid(shaft.u, m_grid.y(), kPitchMm / 2),
                             v = calcOffGrid(shaft.v - kHoleMm, m_grid.z(), kPlateMm);
                if (std::abs(u) > kFitMm || std::abs(v) > kFitMm) {
                    noteOnce(shaft.name + " lies " + base::formatNumber(std::abs(u) > kFitMm ? u : v, 1) +
                             " mm beside the holes that bricks can have here: move it by that");
                    continue;
                }
                m_holes[w].push_back(&shaft);
            }
        }
        std::vector<double> levels;
        for (const auto& holes : m_holes)
            for (const Across* shaft : holes) levels.push_back(shaft->v - kHoleMm);
        std::sort(levels.begin(), levels.end());
        levels.erase(std::unique(levels.begin(), levels.end(), isNear), levels.end());
        for (const double level : levels) {
            if (m_levels.empty() || level > m_levels.back() + kBrickMm - kFitMm) {
                m_levels.push_back(level);
                continue;
            }
            noteOnce("holes " + base::formatNumber(level - m_levels.back(), 1) +
                     " mm above each other do not fit into bricks: shafts of one wall lie level, or 9.6, 12.8, 16 … mm "
                     "apart in height");
        }
        for (auto& holes : m_holes)
            holes.erase(std::remove_if(holes.begin(), holes.end(),
                                       [&](const Across* shaft) { return !isLevel(shaft->v - kHoleMm); }),
                        holes.end());
        for (const Across& shaft : m_across)
            if (const int walls = reached[shaft.id]; walls < 2 && m_walls.size() > 1)
                noteOnce(shaft.name + (walls == 0 ? " reaches no wall" : " reaches one wall only") +
                         ": a longer shaft goes through both");
    }
    [[nodiscard]] bool isLevel(double z) const {
        return std::any_of(m_levels.begin(), m_levels.end(), [&](double level) { return isNear(level, z); });
    }
    void noteOnce(const std::string& note) {
        if (std::find(m_notes.begin(), m_notes.end(), note) == m_notes.end()) m_notes.push_back(note);
    }

    /// Cells, floor and top, by what turns and what sits there.
    void findRoom() {
        double low = 1e9, high = -1e9, left = 1e9, right = -1e9;
        for (const Across& shaft : m_across) {
            left = std::min(left, shaft.u);
            right = std::max(right, shaft.u);
            low = std::min(low, shaft.v - kHoleMm);
            high = std::max(high, shaft.v - kHoleMm + kBrickMm);
        }
        m_lowCell = static_cast<int>(std::floor((left - m_grid.y()) / kPitchMm + 1e-3)) - 1;
        m_highCell = static_cast<int>(std::ceil((right - m_grid.y()) / kPitchMm - 1e-3)) + 1;
        if ((m_highCell - m_lowCell) % 2 == 0) ++m_highCell; // bricks with holes have an even number of cells
        for (const model::Gear& gear : m_seen.gears)
            for (const model::Part& part : m_section.parts) {
                if (part.id.text != gear.id.text) continue;
                const geometry::Bounds box = boundsOf(*part.shape, inWalls(part));
                low = std::min(low, box.low.z() - kClearMm);
                high = std::max(high, box.high.z() + kClearMm);
            }
        double outerLow = m_walls.empty() ? 0 : m_walls.front(), outerHigh = m_walls.empty() ? 0 : m_walls.back();
        for (const Across& shaft : m_across) { // one floor for all walls that there will be
            outerLow = std::min(outerLow, shaft.low + kPitchMm / 2);
            outerHigh = std::max(outerHigh, shaft.high - kPitchMm / 2);
        }
        for (const Motor& motor : m_motors) {
            const geometry::Bounds box = boundsOf(*motor.part->shape, inWalls(*motor.part));
            low = std::min(low, box.low.z() - kPlateMm); // a jumper goes between
            outerLow = std::min(outerLow, box.low.x() + kPitchMm / 2);
            outerHigh = std::max(outerHigh, box.high.x() - kPitchMm / 2);
            m_floorLeft = std::min(m_floorLeft, cellOf(box.low.y() + kPitchMm / 2));
            m_floorRight = std::max(m_floorRight, cellOf(box.high.y() - kPitchMm / 2));
        }
        m_floorLeft = std::min(m_floorLeft, m_lowCell);
        m_floorRight = std::max(m_floorRight, m_highCell);
        m_floorNear = static_cast<int>(std::floor((outerLow - m_grid.x()) / kPitchMm + 0.01));
        m_floorFar = static_cast<int>(std::ceil((outerHigh - m_grid.x()) / kPitchMm - 0.01));
        // Down by whole plates from the grid.
        const double first = m_levels.empty() ? low : m_levels.front();
        m_base = m_grid.z() + kPlateMm * std::floor((std::min(low, first) - m_grid.z() + kFitMm) / kPlateMm);
        m_top = high;
        findStudsBelow(first);
    }
    [[nodiscard]] int cellOf(double u) const { return static_cast<int>(std::lround((u - m_grid.y()) / kPitchMm)); }

    /// What is there below the walls already carries them.
    void findStudsBelow(double first) {
        std::map<long, std::set<std::size_t>> byHeight; // walls that have studs there
        for (const Vec3& stud : m_studs)
            for (std::size_t w = 0; w < m_walls.size(); ++w) {
                const int cell = cellOf(stud.y());
                if (isNear(stud.x(), m_walls[w]) && cell >= m_lowCell && cell <= m_highCell &&
                    stud.z() < first + kFitMm)
                    byHeight[std::lround(stud.z() * 10)].insert(w);
            }
        for (const auto& [height, walls] : byHeight)
            if (walls.size() == m_walls.size() && !m_walls.empty()) {
                m_base = static_cast<double>(height) / 10;
                m_ownFloor = false;
            }
    }

    void add(const parts::ShapePtr& shape, const Vec3& at, int step) {
        model::NewPart part;
        part.shape = shape;
        part.colour = chooseColour(m_board, *shape);
        part.step = step;
        part.place = model::makePlace(m_X_SF * geometry::makeFrame(geometry::Mat3::Identity(), at));
        m_plan.parts.push_back(std::move(part));
    }
    void addLayer(const std::string& family, int near, int far, int left, int right, double z, bool alongX, int step) {
        const Vec3 origin(m_grid.x() + kPitchMm * near, m_grid.y() + kPitchMm * left, z);
        for (const RowPiece& piece : makeLayer(family, far - near + 1, right - left + 1, alongX))
            add(piece.shape, origin + piece.at, step);
    }

    void build() {
        int step = 0;
        for (const model::Part& part : m_section.parts)
            if (!isDrivePart(*part.shape)) step = std::max(step, part.step);
        if (m_wish.walls && m_wish.floor && m_ownFloor && !m_levels.empty()) {
            ++step;
            if (const PlateSize whole = findWholePlate(m_floorFar - m_floorNear + 1, m_floorRight - m_floorLeft + 1);
                whole.x > 0) {
                m_floorFar = m_floorNear + whole.x - 1;
                m_floorRight = m_floorLeft + whole.y - 1;
            }
            const std::size_t before = m_plan.parts.size();
            addLayer("plate", m_floorNear, m_floorFar, m_floorLeft, m_floorRight, m_base - kPlateMm, false, step);
            if (m_plan.parts.size() > before + 1) // of several: a second layer across binds them
                addLayer("plate", m_floorNear, m_floorFar, m_floorLeft, m_floorRight, m_base - 2 * kPlateMm, true,
                         step);
        }
        if (m_wish.walls && !m_levels.empty()) step = buildWalls(step);
        if (m_wish.seats) step = buildSeats(step);
        std::set<std::string> shafts; // that get a hole, or their motor a seat
        for (const auto& holes : m_holes)
            for (const Across* shaft : holes) shafts.insert(shaft->id);
        for (const Motor& motor : m_motors)
            if (motor.seated) shafts.insert(motor.shaft);
        const int last = orderDrive(m_section, shafts, step + 1, m_plan);
        // The lid comes when all of it is in.
        if (m_wish.lid) buildLid(last);
    }
    /// All walls course by course; returns the last step.
    int buildWalls(int step) {
        std::vector<std::set<int>> seams(m_walls.size());
        const auto course = [&](const std::string& family, double z, double hole) {
            ++step;
            for (std::size_t w = 0; w < m_walls.size(); ++w) {
                if (m_holes[w].empty()) continue;
                std::set<int> holes;
                for (const Across* shaft : m_holes[w])
                    if (isNear(shaft->v - kHoleMm, hole))
                        holes.insert(static_cast<int>(std::lround(2 * (shaft->u - m_grid.y()) / kPitchMm)));
                const auto row = makeRow(family, m_lowCell, m_highCell, holes, seams[w]);
                if (row.empty()) noteOnce("the holes of a course lie too near to each other for bricks with holes");
                for (const RowPiece& piece : row) add(piece.shape, Vec3(m_walls[w], m_grid.y(), z) + piece.at, step);
            }
        };
        double z = m_base;
        const auto fillTo = [&](double top) {
            auto plates = static_cast<int>(std::lround((top - z) / kPlateMm));
            for (; plates >= 3; plates -= 3, z += kBrickMm) course("brick", z, 1e9);
            for (; plates > 0; --plates, z += kPlateMm) course("plate", z, 1e9);
        };
        for (const double level : m_levels) {
            fillTo(level);
            course("brick", level, level);
            z = level + kBrickMm;
        }
        fillTo(z + kPlateMm * std::max(0.0, std::ceil((m_top - z) / kPlateMm - 1e-3)));
        m_wallTop = z;
        return step;
    }

    /// Plates from wall to wall over the highest wheel; on walls that stand already, on the highest studs of both.
    void buildLid(int step) {
        if (m_walls.size() < 2) {
            m_notes.emplace_back("a lid needs two walls");
            return;
        }
        if (m_wallTop < -1e8) {
            std::map<long, std::set<std::size_t>> byHeight;
            for (const Vec3& stud : m_studs)
                for (std::size_t w = 0; w < m_walls.size(); ++w)
                    if (isNear(stud.x(), m_walls[w])) byHeight[std::lround(stud.z() * 10)].insert(w);
            for (const auto& [height, walls] : byHeight)
                if (walls.size() == m_walls.size()) m_wallTop = static_cast<double>(height) / 10;
            if (m_wallTop < m_top - kFitMm) {
                m_notes.emplace_back("the walls end below the highest wheel or are not equally high: type walls first");
                return;
            }
        }
        const auto cell = [&](double n) { return static_cast<int>(std::lround((n - m_grid.x()) / kPitchMm)); };
        const std::size_t before = m_plan.parts.size();
        addLayer("plate", cell(m_walls.front()), cell(m_walls.back()), m_lowCell, m_highCell, m_wallTop, true, step);
        if (m_plan.parts.size() > before + 1)
            addLayer("plate", cell(m_walls.front()), cell(m_walls.back()), m_lowCell, m_highCell, m_wallTop + kPlateMm,
                     false, step);
    }

    struct Jumper {
        std::string shape; ///< empty: the cell stands on a stud itself
        int cellsX = 1, cellsY = 1;
    };
    /// Under a cell so far beside the studs.
    [[nodiscard]] static std::optional<Jumper> findJumper(double offX, double offY) {
        const auto half = [](double off) { return std::abs(std::abs(off) - kPitchMm / 2) < kFitMm; };
        const auto none = [](double off) { return std::abs(off) < kFitMm; };
        if (none(offX) && none(offY)) return Jumper{};
        if (none(offX) && half(offY)) return Jumper{"jumper 1x2", 1, 2};
        if (half(offX) && none(offY)) return Jumper{"jumper 2x1", 2, 1};
        if (half(offX) && half(offY)) return Jumper{"jumper 2x2", 2, 2};
        return std::nullopt;
    }

    /// A block of bricks and plates under each motor that nothing holds, with jumpers where its cells are off the
    /// studs.
    int buildSeats(int step) {
        for (Motor& motor : m_motors) {
            const std::string name = motor.part->name.empty() ? motor.part->shape->name : motor.part->name;
            const Frame X = inWalls(*motor.part);
            std::vector<Vec3> cells;
            for (const parts::Port& port : motor.part->shape->ports)
                if (port.kind == PortKind::Cell && (X.linear() * port.axis).z() < -0.99)
                    cells.push_back(X * port.origin);
            if (cells.empty()) {
                m_notes.push_back(name + " does not stand upright: seats are built from below");
                continue;
            }
            if (isSeated(cells)) continue;
            const int before = step;
            step = buildSeat(name, cells, step);
            motor.seated = step > before;
        }
        return step;
    }
    [[nodiscard]] bool isSeated(const std::vector<Vec3>& cells) const {
        for (const model::Part& part : m_section.parts)
            for (const parts::Port& port : part.shape->ports) {
                if (port.kind != PortKind::Stud) continue;
                const Vec3 p = inWalls(part) * port.origin;
                if (std::any_of(cells.begin(), cells.end(), [&](const Vec3& c) { return (c - p).norm() < kFitMm; }))
                    return true;
            }
        return false;
    }
    int buildSeat(const std::string& name, const std::vector<Vec3>& cells, int step) {
        const auto jumper = findJumper(calcOffGrid(cells.front().x(), m_grid.x(), kPitchMm),
                                       calcOffGrid(cells.front().y(), m_grid.y(), kPitchMm));
        const double top = cells.front().z() - (jumper && !jumper->shape.empty() ? kPlateMm : 0);
        const double plates = (top - m_base) / kPlateMm;
        if (!jumper || std::abs(plates - std::round(plates)) > 0.05 || plates < -0.05) {
            m_notes.push_back(name +
                              " lies where no seat of bricks and jumpers fits: move it along its shaft or in height");
            return step;
        }
        // Jumpers side by side as far as they have room; their cells are the block's.
        std::set<std::pair<int, int>> taken;
        std::vector<std::pair<int, int>> jumpers;
        int near = 1'000'000, far = -near, left = near, right = -near;
        for (const Vec3& cell : cells) {
            const int x = static_cast<int>(std::floor((cell.x() - m_grid.x()) / kPitchMm + 0.02)),
                      y = static_cast<int>(std::floor((cell.y() - m_grid.y()) / kPitchMm + 0.02));
            bool free = true;
            for (int i = 0; i < jumper->cellsX; ++i)
                for (int j = 0; j < jumper->cellsY; ++j) free &= taken.count({x + i, y + j}) == 0;
            if (!free) continue;
            jumpers.emplace_back(x, y);
            for (int i = 0; i < jumper->cellsX; ++i)
                for (int j = 0; j < jumper->cellsY; ++j) taken.insert({x + i, y + j});
            near = std::min(near, x);
            far = std::max(far, x + jumper->cellsX - 1);
            left = std::min(left, y);
            right = std::max(right, y + jumper->cellsY - 1);
        }
        ++step;
        if (!m_ownFloor && !isCarried(near, far, left, right))
            m_notes.push_back("below " + name +
                              " there are no studs at the height of the walls' feet: put plates there");
        auto left3 = static_cast<int>(std::lround(plates));
        double z = m_base;
        bool alongX = false;
        for (; left3 >= 3; left3 -= 3, z += kBrickMm, alongX = !alongX)
            addLayer("brick", near, far, left, right, z, alongX, step);
        for (; left3 > 0; --left3, z += kPlateMm, alongX = !alongX)
            addLayer("plate", near, far, left, right, z, alongX, step);
        if (jumper->shape.empty()) return step;
        const auto shape = parts::makeShape(jumper->shape);
        for (const auto& [x, y] : jumpers)
            add(*shape, Vec3(m_grid.x() + kPitchMm * x, m_grid.y() + kPitchMm * y, z), step);
        return step;
    }
    [[nodiscard]] bool isCarried(int near, int far, int left, int right) const {
        return std::any_of(m_studs.begin(), m_studs.end(), [&](const Vec3& stud) {
            const int x = static_cast<int>(std::lround((stud.x() - m_grid.x()) / kPitchMm)), y = cellOf(stud.y());
            return isNear(stud.z(), m_base) && x >= near && x <= far && y >= left && y <= right;
        });
    }

    const model::Board& m_board;
    const WallsWish& m_wish;
    const model::Section& m_section;
    PlaneParts m_seen;
    Frame m_X_SF = Frame::Identity(), m_X_FS = Frame::Identity(); ///< F: x square to the walls, y along them, z up
    std::vector<double> m_walls;
    std::vector<Across> m_across;
    std::vector<std::vector<const Across*>> m_holes; ///< by wall: that are missing
    std::vector<double> m_levels;                    ///< undersides of the courses with holes, from below
    std::vector<Motor> m_motors;                     ///< on these shafts
    std::vector<Vec3> m_studs;
    Vec3 m_grid = Vec3::Zero();
    int m_lowCell = 0, m_highCell = 0, m_floorLeft = 1'000'000, m_floorRight = -1'000'000, m_floorNear = 0,
        m_floorFar = 0;
    double m_base = 0, m_top = 0, m_wallTop = -1e9;
    bool m_ownFloor = true;
    WallsPlan m_plan;
    std::vector<std::string> m_notes;
};

} // namespace

base::Result<WallsPlan> planUprightWalls(const model::Project& project, const model::Board& board,
                                         const WallsWish& wish) {
    return UprightPlanner(project, board, wish).run();
}

} // namespace ivrant::drive
