// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/brick_layers.h"

#include <algorithm>
#include <map>
#include <optional>
#include <set>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/base/units.h"
#include "core/parts/family.h"

namespace ivrant::stand {
namespace {

constexpr double kSeamWorth = 1.2; ///< of a seam below that is bridged, against one more cell
constexpr double kAboveSeam =
    2.4; ///< lost where its own edge stands over a seam; at 0.8 walls had straight seams of ten courses
constexpr int kWidestSlope = 4;
constexpr double kJoinWorth = 12; ///< of joining pieces that nothing joined so far

/// What one layer is laid in: cells that are to be covered, at a height, on what is below.
struct Bed {
    const CellGrid& grid;           ///< for its size across
    std::vector<std::uint8_t> open; ///< by column: to be covered
    std::vector<int> colour;        ///< by column, −1: any
    int course = 0;                 ///< counts layers: they run across each other
    int z = 0, plates = 3;
};

class Layer {
public:
    Layer(Bed bed, const std::vector<int>& below, base::Groups& pieces)
        : m_bed(std::move(bed)), m_grid(m_bed.grid), m_z(m_bed.course), m_below(below), m_pieces(pieces),
          m_own(below.size(), -1) {}

    /// First where pieces meet, then the rest from alternating corners.
    void fill(const std::vector<std::array<int, 2>>& sizes, std::vector<LaidBrick>& bricks) {
        const bool backX = (m_z / 2) % 2 == 1, backY = m_z % 4 >= 2;
        for (const bool joints : {true, false})
            for (int j = 0; j < m_grid.ny; ++j)
                for (int i = 0; i < m_grid.nx; ++i) {
                    const int x = backX ? m_grid.nx - 1 - i : i, y = backY ? m_grid.ny - 1 - j : j;
                    if (isFree(x, y) && (!joints || piecesMeet(x, y))) lay(findBest(sizes, x, y, joints), bricks);
                }
    }
    /// A slope whose cells are free and of one colour; else what fits of it, a cell wide.
    void laySlope(const LaidBrick& slope, std::vector<LaidBrick>& bricks) {
        if (fits(slope)) return lay(slope, bricks);
        const bool alongX = slope.slope % 2 == 1;
        for (int i = 0; i < (alongX ? slope.across : slope.along); ++i) {
            LaidBrick one = slope;
            (alongX ? one.x : one.y) += i;
            (alongX ? one.across : one.along) = 1;
            if (fits(one)) lay(one, bricks);
        }
    }
    [[nodiscard]] std::vector<int> take() { return std::move(m_own); }

private:
    [[nodiscard]] std::size_t at(int x, int y) const { return m_grid.column(x, y); }
    [[nodiscard]] bool isFree(int x, int y) const { return m_bed.open[at(x, y)] != 0 && m_own[at(x, y)] < 0; }
    [[nodiscard]] int below(int x, int y) const {
        return x < 0 || y < 0 || x >= m_grid.nx || y >= m_grid.ny ? -1 : m_below[at(x, y)];
    }
    [[nodiscard]] int pieceBelow(int x, int y) const {
        const int brick = below(x, y);
        return brick < 0 ? -1 : static_cast<int>(m_pieces.find(static_cast<std::size_t>(brick)));
    }
    /// A neighbour that can be covered too stands on another piece.
    [[nodiscard]] bool piecesMeet(int x, int y) const {
        const int own = pieceBelow(x, y);
        for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
            const int u = x + dx, v = y + dy;
            if (u < 0 || v < 0 || u >= m_grid.nx || v >= m_grid.ny || !isFree(u, v)) continue;
            const int other = pieceBelow(u, v);
            if (own >= 0 && other >= 0 && other != own) return true;
        }
        return false;
    }
    void lay(LaidBrick brick, std::vector<LaidBrick>& bricks) {
        brick.z = m_bed.z;
        brick.plates = m_bed.plates;
        const int number = static_cast<int>(m_pieces.add());
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u) {
                m_own[at(u, v)] = number;
                brick.colour = std::max(brick.colour, m_bed.colour[at(u, v)]);
                if (const int under = below(u, v); under >= 0)
                    m_pieces.join(static_cast<std::size_t>(number), static_cast<std::size_t>(under));
            }
        bricks.push_back(brick);
    }
    /// The worthiest brick over a cell; `anyOffset`: the cell may lie anywhere in it, else at the corner the layer is
    /// filled from.
    [[nodiscard]] LaidBrick findBest(const std::vector<std::array<int, 2>>& sizes, int x, int y, bool anyOffset) const {
        LaidBrick best{x, y, m_z, 1, 1};
        double worth = score(best);
        for (const auto& size : sizes)
            for (const bool turned :
                 {m_z % 2 == 0, m_z % 2 == 1}) { // layers run across each other where both are as good
                const int across = turned ? size[1] : size[0], along = turned ? size[0] : size[1];
                for (int dy = 0; dy < along; ++dy)
                    for (int dx = 0; dx < across; ++dx) {
                        const bool corner = (dx == 0 || dx == across - 1) && (dy == 0 || dy == along - 1);
                        if (!anyOffset && !corner) continue;
                        const LaidBrick brick{x - dx, y - dy, m_z, across, along};
                        if (const double now = fits(brick) ? score(brick) : -1e9; now > worth + 1e-9) {
                            worth = now;
                            best = brick;
                        }
                    }
            }
        return best;
    }
    [[nodiscard]] bool fits(const LaidBrick& brick) const {
        if (brick.x < 0 || brick.y < 0 || brick.x + brick.across > m_grid.nx || brick.y + brick.along > m_grid.ny)
            return false;
        int colour = -1;
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u) {
                if (!isFree(u, v)) return false;
                const int own = m_bed.colour[at(u, v)];
                if (own >= 0 && colour >= 0 && own != colour) return false;
                colour = std::max(colour, own);
            }
        return true;
    }
    /// Cells covered, seams of the layer below that run under it, pieces joined; less what its own edges repeat of the
    /// seams.
    [[nodiscard]] double score(const LaidBrick& brick) const {
        double cells = 0, seams = 0, repeated = 0;
        std::set<int> joined;
        const int right = brick.x + brick.across, top = brick.y + brick.along;
        for (int v = brick.y; v < top; ++v)
            for (int u = brick.x; u < right; ++u) {
                cells += 1;
                if (const int piece = pieceBelow(u, v); piece >= 0) joined.insert(piece);
                if (u + 1 < right && below(u, v) != below(u + 1, v)) seams += 1;
                if (v + 1 < top && below(u, v) != below(u, v + 1)) seams += 1;
            }
        const auto repeats = [&](int u, int v, int p, int q) {
            return below(u, v) >= 0 && below(p, q) >= 0 && below(u, v) != below(p, q);
        };
        for (int v = brick.y; v < top; ++v)
            repeated += repeats(brick.x, v, brick.x - 1, v) + repeats(right - 1, v, right, v);
        for (int u = brick.x; u < right; ++u)
            repeated += repeats(u, brick.y, u, brick.y - 1) + repeats(u, top - 1, u, top);
        return cells + kSeamWorth * seams - kAboveSeam * repeated +
               kJoinWorth * std::max(0.0, static_cast<double>(joined.size()) - 1);
    }

    Bed m_bed;
    const CellGrid& m_grid;
    int m_z; ///< course
    const std::vector<int>& m_below;
    base::Groups& m_pieces;
    std::vector<int> m_own;
};

} // namespace

const std::vector<std::array<int, 2>>& getUsualSizes() {
    static const std::vector<std::array<int, 2>> kSizes{{2, 8}, {2, 6}, {2, 4}, {2, 3}, {2, 2}, {1, 8},
                                                        {1, 6}, {1, 4}, {1, 3}, {1, 2}, {1, 1}};
    return kSizes;
}

namespace {

base::Status checkSizes(const std::vector<std::array<int, 2>>& sizes, bool plates) {
    for (const auto& size : sizes)
        for (const char* family : {"brick ", "plate "}) {
            if (family[0] == 'p' && !plates) continue;
            const std::string name = family + std::to_string(size[0]) + "x" + std::to_string(size[1]);
            if (size[0] < 1 || size[1] < size[0] || !parts::makeShape(name).ok())
                return base::Error{"layers.sizes", "there is no " + name, ""};
        }
    return {};
}

/// Lays a grid, remembering which brick covers each column at each plate's height.
class Mason {
public:
    Mason(const CellGrid& grid, const std::vector<std::array<int, 2>>& sizes, bool slopes)
        : m_grid(grid), m_whole(makeWholeBricks(grid)), m_sizes(sizes), m_slopes(slopes),
          m_columns(static_cast<std::size_t>(grid.nx) * static_cast<std::size_t>(grid.ny)),
          m_fine(grid.cellMm < base::kPlateMm * 1.5), m_levels(m_fine ? grid.nz : kPlatesInBrick * grid.nz),
          m_cover(static_cast<std::size_t>(m_levels) + 1, std::vector<int>(m_columns, -1)) {}

    base::Status lay(base::Progress* progress) {
        for (int z = 0; z < m_levels; z += kPlatesInBrick) {
            if (progress) {
                if (progress->stopped()) return base::Error{"stopped", "stopped", ""};
                progress->report(static_cast<double>(z) / m_levels);
            }
            layBed(makeBed(z, kPlatesInBrick));
            for (int k = 0; m_fine && k < kPlatesInBrick && z + k < m_levels; ++k) layBed(makeBed(z + k, 1));
        }
        return {};
    }
    /// Of the plate's height z, −1: none.
    [[nodiscard]] int coverOf(int z, int x, int y) const {
        return z < 0 || z >= m_levels ? -1 : m_cover[static_cast<std::size_t>(z) + 1][m_grid.column(x, y)];
    }
    /// The same, −1 outside the grid.
    [[nodiscard]] int coverAround(int z, int x, int y) const {
        return x < 0 || y < 0 || x >= m_grid.nx || y >= m_grid.ny ? -1 : coverOf(z, x, y);
    }
    [[nodiscard]] int levels() const { return m_levels; }
    base::Groups pieces; ///< numbered as the bricks
    std::vector<LaidBrick> bricks;

private:
    [[nodiscard]] int colourAt(int x, int y, int z, int plates) const {
        if (m_grid.colour.empty()) return -1;
        if (!m_fine) return m_grid.colour[m_grid.index(x, y, z / kPlatesInBrick)];
        for (int k = plates - 1; k >= 0; --k) // a whole brick takes the colour of the topmost plate that has one
            if (const int own = m_grid.colour[m_grid.index(x, y, z + k)]; own >= 0) return own;
        return -1;
    }
    [[nodiscard]] Bed makeBed(int z, int plates) const {
        Bed bed{m_grid,
                std::vector<std::uint8_t>(m_columns, 0),
                std::vector<int>(m_columns, -1),
                z / kPlatesInBrick + (plates == 1 ? z : 0),
                z,
                plates};
        for (int y = 0; y < m_grid.ny; ++y)
            for (int x = 0; x < m_grid.nx; ++x) {
                const bool open = plates == 1 ? m_grid.isFilled(x, y, z) && coverOf(z, x, y) < 0
                                              : m_whole.isFilled(x, y, z / kPlatesInBrick);
                if (!open) continue;
                bed.open[m_grid.column(x, y)] = 1;
                bed.colour[m_grid.column(x, y)] = colourAt(x, y, z, plates);
            }
        return bed;
    }
    /// Is the cell an edge that steps in: open above and outwards, a wall behind it?
    [[nodiscard]] bool isStep(int x, int y, int z, int dx, int dy) const {
        return m_whole.isFilled(x, y, z) && !m_whole.isFilled(x, y, z + 1) && !m_whole.isFilled(x + dx, y + dy, z) &&
               m_whole.isFilled(x - dx, y - dy, z) && m_whole.isFilled(x - dx, y - dy, z + 1);
    }
    /// Runs of such cells, up to kWidestSlope long.
    [[nodiscard]] std::vector<LaidBrick> listSlopes(int z) const {
        std::vector<LaidBrick> slopes;
        constexpr std::array<std::array<int, 2>, 4> kWays{{{0, -1}, {1, 0}, {0, 1}, {-1, 0}}};
        for (int way = 0; way < 4; ++way) {
            const auto [dx, dy] = ivrant::at(kWays, way);
            const bool alongX = dx == 0; // the run goes across the way it falls
            const int lines = alongX ? m_grid.ny : m_grid.nx, places = alongX ? m_grid.nx : m_grid.ny;
            for (int line = 0; line < lines; ++line)
                for (int at = 0; at < places;) {
                    int run = 0;
                    while (run < kWidestSlope && at + run < places &&
                           isStep(alongX ? at + run : line, alongX ? line : at + run, z, dx, dy))
                        ++run;
                    if (run > 0) {
                        LaidBrick slope;
                        slope.x = alongX ? at : line - std::max(dx, 0);
                        slope.y = alongX ? line - std::max(dy, 0) : at;
                        slope.across = alongX ? run : 2;
                        slope.along = alongX ? 2 : run;
                        slope.slope = way + 1;
                        slopes.push_back(slope);
                    }
                    at += std::max(run, 1);
                }
        }
        return slopes;
    }
    void layBed(Bed bed) {
        const int z = bed.z, plates = bed.plates;
        Layer layer(std::move(bed), ivrant::at(m_cover, z), pieces);
        if (m_slopes && plates == kPlatesInBrick &&
            z > 0) // on the ground corners between slopes would hold on to nothing
            for (const LaidBrick& slope : listSlopes(z / kPlatesInBrick)) layer.laySlope(slope, bricks);
        layer.fill(m_sizes, bricks);
        const std::vector<int> own = layer.take();
        for (int k = 0; k < plates && z + k < m_levels; ++k)
            for (std::size_t c = 0; c < m_columns; ++c)
                if (own[c] >= 0) m_cover[static_cast<std::size_t>(z + k) + 1][c] = own[c];
    }

    const CellGrid& m_grid;
    CellGrid m_whole;
    const std::vector<std::array<int, 2>>& m_sizes;
    bool m_slopes;
    std::size_t m_columns;
    bool m_fine;
    int m_levels;                          ///< plates
    std::vector<std::vector<int>> m_cover; ///< by level, one empty below the lowest

public:
    /// Takes other bricks for those laid, and finds anew what they cover and join.
    void take(std::vector<LaidBrick> others) {
        bricks = std::move(others);
        for (auto& level : m_cover) std::fill(level.begin(), level.end(), -1);
        pieces = base::Groups(bricks.size());
        for (std::size_t i = 0; i < bricks.size(); ++i)
            forCells(bricks[i], [&](int u, int v) {
                for (int k = 0; k < bricks[i].plates; ++k)
                    m_cover[static_cast<std::size_t>(bricks[i].z + k) + 1][m_grid.column(u, v)] = static_cast<int>(i);
            });
        for (std::size_t i = 0; i < bricks.size(); ++i)
            forCells(bricks[i], [&](int u, int v) {
                if (const int under = coverOf(bricks[i].z - 1, u, v); under >= 0)
                    pieces.join(i, static_cast<std::size_t>(under));
            });
    }
    template <class Visit> static void forCells(const LaidBrick& brick, Visit visit) {
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u) visit(u, v);
    }
};

/// By brick, whether its piece stands on the ground with more than itself.
std::vector<char> findHeld(Mason& mason) {
    std::set<std::size_t> grounded;
    std::map<std::size_t, int> countOf;
    const auto& bricks = mason.bricks;
    for (std::size_t i = 0; i < bricks.size(); ++i) ++countOf[mason.pieces.find(i)];
    for (std::size_t i = 0; i < bricks.size(); ++i)
        if (bricks[i].z == 0 && (countOf[mason.pieces.find(i)] > 1 || bricks.size() == 1))
            grounded.insert(mason.pieces.find(i));
    std::vector<char> held(bricks.size());
    for (std::size_t i = 0; i < bricks.size(); ++i) held[i] = grounded.count(mason.pieces.find(i)) > 0 ? 1 : 0;
    return held;
}

std::size_t countHangingCells(const std::vector<LaidBrick>& bricks, const std::vector<char>& held) {
    std::size_t cells = 0;
    for (std::size_t i = 0; i < bricks.size(); ++i)
        if (!held[i]) cells += static_cast<std::size_t>(bricks[i].across) * static_cast<std::size_t>(bricks[i].along);
    return cells;
}

/// Two bricks side by side laid anew: first the one that reaches from the hanging cells furthest over the held ones,
/// then the rest as it fits. Empty when no size reaches over both.
std::vector<LaidBrick> relay(const LaidBrick& hanging, const LaidBrick& held,
                             const std::vector<std::array<int, 2>>& sizes) {
    std::map<std::pair<int, int>, bool> cells; // hanging?
    Mason::forCells(held, [&](int u, int v) { cells[{u, v}] = false; });
    Mason::forCells(hanging, [&](int u, int v) { cells[{u, v}] = true; });
    std::vector<LaidBrick> laid;
    const auto best = [&](bool both) {
        std::optional<LaidBrick> found;
        int worth = 0;
        for (const auto& [at, own] : cells)
            for (const auto& size : sizes)
                for (const bool turned : {false, true}) {
                    LaidBrick brick = held;
                    brick.x = at.first;
                    brick.y = at.second;
                    brick.across = turned ? size[1] : size[0];
                    brick.along = turned ? size[0] : size[1];
                    int hang = 0, stand = 0;
                    bool fits = true;
                    Mason::forCells(brick, [&](int u, int v) {
                        const auto cell = cells.find({u, v});
                        if (cell == cells.end())
                            fits = false;
                        else
                            ++(cell->second ? hang : stand);
                    });
                    if (!fits || (both && (hang == 0 || stand == 0))) continue;
                    if (const int now = (both ? 100 * hang : 0) + hang + stand; now > worth) {
                        worth = now;
                        found = brick;
                    }
                }
        return found;
    };
    for (bool first = true; !cells.empty(); first = false) {
        auto brick = best(first);
        if (!brick && first) return {};
        if (!brick)
            brick = LaidBrick{
                cells.begin()->first.first, cells.begin()->first.second, held.z, 1, 1, held.plates, held.colour, 0};
        Mason::forCells(*brick, [&](int u, int v) { cells.erase({u, v}); });
        laid.push_back(*brick);
    }
    return laid;
}

/// Hanging bricks become part of longer ones beside them, as long as that leaves fewer cells hanging. Returns how many
/// cells were saved.
std::size_t rescue(Mason& mason, const std::vector<std::array<int, 2>>& sizes) {
    auto held = findHeld(mason);
    std::size_t hanging = countHangingCells(mason.bricks, held);
    const std::size_t before = hanging;
    for (bool better = hanging > 0; better;) {
        better = false;
        for (std::size_t i = 0; i < mason.bricks.size() && !better; ++i) {
            const LaidBrick own = mason.bricks[i];
            if (held[i] || own.slope > 0) continue;
            std::set<int> beside;
            Mason::forCells(own, [&](int u, int v) {
                for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)})
                    beside.insert(mason.coverAround(own.z, u + dx, v + dy));
            });
            for (const int n : beside) {
                if (n < 0 || !ivrant::at(held, n)) continue;
                const LaidBrick other = ivrant::at(mason.bricks, n);
                if (other.slope > 0 || other.z != own.z || other.plates != own.plates ||
                    (own.colour >= 0 && other.colour >= 0 && own.colour != other.colour))
                    continue;
                const auto laid = relay(own, other, sizes);
                if (laid.empty()) continue;
                const auto kept = mason.bricks;
                std::vector<LaidBrick> next;
                for (std::size_t k = 0; k < kept.size(); ++k) {
                    if (k == std::min(i, static_cast<std::size_t>(n)))
                        next.insert(next.end(), laid.begin(), laid.end());
                    if (k != i && k != static_cast<std::size_t>(n)) next.push_back(kept[k]);
                }
                mason.take(std::move(next));
                const auto now = findHeld(mason);
                if (const std::size_t left = countHangingCells(mason.bricks, now); left < hanging) {
                    hanging = left;
                    held = now;
                    better = true;
                    break;
                }
                mason.take(kept);
            }
        }
    }
    return before - hanging;
}

} // namespace

base::Result<Layers> layBricks(const CellGrid& grid, const std::vector<std::array<int, 2>>& sizes,
                               base::Progress* progress, bool keepHanging, bool slopes) {
    Mason mason(grid, sizes, slopes);
    if (auto st = checkSizes(sizes, grid.cellMm < base::kPlateMm * 1.5); !st) return st.error();
    if (auto st = mason.lay(progress); !st) return st.error();
    const std::size_t rescued = keepHanging ? 0 : rescue(mason, sizes);
    const auto& bricks = mason.bricks;
    // What hangs together with nothing on the ground is left out, and what lies there by itself.
    const auto standing = findHeld(mason);
    Layers layers;
    layers.rescued = rescued;
    std::set<std::pair<int, int>> bridged;
    for (std::size_t i = 0; i < bricks.size(); ++i) {
        const LaidBrick& brick = bricks[i];
        const bool held = keepHanging || standing[i];
        std::set<int> under, over;
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u) {
                under.insert(mason.coverOf(brick.z - 1, u, v));
                over.insert(mason.coverOf(brick.z + brick.plates, u, v));
            }
        for (auto* set : {&under, &over}) {
            set->erase(-1);
            for (const int a : *set)
                for (const int b : *set)
                    if (a < b) bridged.emplace(a, b);
        }
        if (held)
            layers.bricks.push_back(brick);
        else
            layers.dropped.push_back(brick);
    }
    std::set<std::pair<int, int>> seams;
    for (int z = 0; z < mason.levels(); ++z)
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x) {
                const int own = mason.coverOf(z, x, y);
                for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(0, 1)}) {
                    if (own < 0 || x + dx >= grid.nx || y + dy >= grid.ny) continue;
                    const int other = mason.coverOf(z, x + dx, y + dy);
                    if (other >= 0 && other != own) seams.insert(std::minmax(own, other));
                }
            }
    layers.hanging = layers.dropped.size();
    for (const auto& seam : seams) layers.openSeams += bridged.count(seam) == 0 ? 1 : 0;
    return layers;
}

std::string nameOf(const LaidBrick& brick) {
    if (brick.slope > 0) return "slope " + std::to_string(brick.slope % 2 == 1 ? brick.across : brick.along) + "x2";
    const auto size = std::minmax(brick.across, brick.along);
    return (brick.plates == 1 ? "plate " : "brick ") + std::to_string(size.first) + "x" + std::to_string(size.second);
}

base::Result<model::Project> makeStatue(const std::string& name, const Layers& layers, int colour) {
    model::Project project = model::makeEmptyProject(name);
    std::map<std::string, parts::ShapePtr> shapes;
    std::vector<model::NewPart> parts;
    parts.reserve(layers.bricks.size());
    for (const LaidBrick& brick : layers.bricks) {
        parts::ShapePtr& shape = shapes[nameOf(brick)];
        if (!shape) {
            auto made = parts::makeShape(nameOf(brick));
            if (!made) return made.error();
            shape = *made;
        }
        model::NewPart part;
        part.shape = shape;
        part.colour = brick.colour >= 0 ? brick.colour : colour;
        part.step = brick.z / kPlatesInBrick + 1;
        // "AxB" counts A along x; across its longer way it is turned a quarter, about its first cell.
        const bool turned = brick.across > brick.along;
        part.place.attitude = turned ? 1 : 0;
        const int x = turned ? brick.x + brick.across - 1 : brick.x;
        part.place.atUm = {x * base::kPitchUm, brick.y * base::kPitchUm, brick.z * base::mmToUm(base::kPlateMm)};
        if (brick.slope > 0) { // quarter turns about z from its low side towards −y
            part.place.attitude = brick.slope - 1;
            part.place.atUm[0] = (brick.x + (brick.slope == 2   ? 1
                                             : brick.slope == 3 ? brick.across - 1
                                                                : 0)) *
                                 base::kPitchUm;
            part.place.atUm[1] = (brick.y + (brick.slope == 3   ? 1
                                             : brick.slope == 4 ? brick.along - 1
                                                                : 0)) *
                                 base::kPitchUm;
        }
        parts.push_back(std::move(part));
    }
    auto named = model::renameSection(project, project.sections.front()->id, "Body");
    if (!named) return named;
    return model::addParts(*named, named->sections.front()->id, parts, nullptr);
}

} // namespace ivrant::stand
