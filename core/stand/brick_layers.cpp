#include "core/stand/brick_layers.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/parts/family.h"

namespace ivrant::stand {
namespace {

constexpr double kSeamWorth = 1.2; ///< of a seam below that is bridged, against one more cell
constexpr double kAboveSeam = 0.8; ///< lost where its own edge stands over a seam
constexpr double kJoinWorth = 12;  ///< of joining pieces that nothing joined so far

/// Which bricks hang together already.
class Pieces {
public:
    int add() {
        m_root.push_back(static_cast<int>(m_root.size()));
        return m_root.back();
    }
    [[nodiscard]] int find(int i) {
        while (m_root[static_cast<std::size_t>(i)] != i)
            i = m_root[static_cast<std::size_t>(i)] = m_root[static_cast<std::size_t>(m_root[static_cast<std::size_t>(i)])];
        return i;
    }
    void join(int a, int b) { m_root[static_cast<std::size_t>(find(a))] = find(b); }

private:
    std::vector<int> m_root;
};

class Layer {
public:
    Layer(const CellGrid& grid, int z, const std::vector<int>& below, Pieces& pieces)
        : m_grid(grid), m_z(z), m_below(below), m_pieces(pieces), m_own(below.size(), -1) {}

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
    [[nodiscard]] std::vector<int> take() { return std::move(m_own); }

private:
    [[nodiscard]] std::size_t at(int x, int y) const { return m_grid.column(x, y); }
    [[nodiscard]] bool isFree(int x, int y) const { return m_grid.isFilled(x, y, m_z) && m_own[at(x, y)] < 0; }
    [[nodiscard]] int below(int x, int y) const { return x < 0 || y < 0 || x >= m_grid.nx || y >= m_grid.ny ? -1 : m_below[at(x, y)]; }
    [[nodiscard]] int pieceBelow(int x, int y) const {
        const int brick = below(x, y);
        return brick < 0 ? -1 : m_pieces.find(brick);
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
    void lay(const LaidBrick& brick, std::vector<LaidBrick>& bricks) {
        const int number = m_pieces.add();
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u) {
                m_own[at(u, v)] = number;
                if (const int under = below(u, v); under >= 0) m_pieces.join(number, under);
            }
        bricks.push_back(brick);
    }
    /// The worthiest brick over a cell; `anyOffset`: the cell may lie anywhere in it, else at the corner the layer is filled from.
    [[nodiscard]] LaidBrick findBest(const std::vector<std::array<int, 2>>& sizes, int x, int y, bool anyOffset) const {
        LaidBrick best{x, y, m_z, 1, 1};
        double worth = score(best);
        for (const auto& size : sizes)
            for (const bool turned : {m_z % 2 == 0, m_z % 2 == 1}) { // layers run across each other where both are as good
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
        if (brick.x < 0 || brick.y < 0 || brick.x + brick.across > m_grid.nx || brick.y + brick.along > m_grid.ny) return false;
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u)
                if (!isFree(u, v)) return false;
        return true;
    }
    /// Cells covered, seams of the layer below that run under it, pieces joined; less what its own edges repeat of the seams.
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
        const auto repeats = [&](int u, int v, int p, int q) { return below(u, v) >= 0 && below(p, q) >= 0 && below(u, v) != below(p, q); };
        for (int v = brick.y; v < top; ++v) repeated += repeats(brick.x, v, brick.x - 1, v) + repeats(right - 1, v, right, v);
        for (int u = brick.x; u < right; ++u) repeated += repeats(u, brick.y, u, brick.y - 1) + repeats(u, top - 1, u, top);
        return cells + kSeamWorth * seams - kAboveSeam * repeated + kJoinWorth * std::max(0.0, static_cast<double>(joined.size()) - 1);
    }

    const CellGrid& m_grid;
    int m_z;
    const std::vector<int>& m_below;
    Pieces& m_pieces;
    std::vector<int> m_own;
};

} // namespace

const std::vector<std::array<int, 2>>& getUsualSizes() {
    static const std::vector<std::array<int, 2>> kSizes{{2, 8}, {2, 6}, {2, 4}, {2, 3}, {2, 2}, {1, 8}, {1, 6}, {1, 4}, {1, 3}, {1, 2}, {1, 1}};
    return kSizes;
}

base::Result<Layers> layBricks(const CellGrid& grid, const std::vector<std::array<int, 2>>& sizes, base::Progress* progress) {
    for (const auto& size : sizes)
        if (size[0] < 1 || size[1] < size[0] || !parts::makeShape("brick " + std::to_string(size[0]) + "x" + std::to_string(size[1])).ok())
            return base::Error{"layers.sizes", "there is no brick " + std::to_string(size[0]) + "x" + std::to_string(size[1]), ""};
    std::vector<LaidBrick> bricks;
    Pieces pieces;                          // numbered as the bricks
    std::vector<std::vector<int>> cover(1); // by layer, one empty below the lowest
    for (int z = 0; z < grid.nz; ++z) {
        if (progress) {
            if (progress->stopped()) return base::Error{"stopped", "stopped", ""};
            progress->report(static_cast<double>(z) / grid.nz);
        }
        const std::size_t cells = static_cast<std::size_t>(grid.nx) * static_cast<std::size_t>(grid.ny);
        std::vector<int> none(cells, -1);
        const std::vector<int>& below = z == 0 ? none : cover.back();
        Layer layer(grid, z, below, pieces);
        layer.fill(sizes, bricks);
        cover.push_back(layer.take());
    }
    // What hangs together with nothing on the ground is left out.
    std::set<int> grounded;
    for (std::size_t i = 0; i < bricks.size(); ++i)
        if (bricks[i].z == 0) grounded.insert(pieces.find(static_cast<int>(i)));
    const auto coverOf = [&](int z, int x, int y) { return z < 0 || z >= grid.nz ? -1 : cover[static_cast<std::size_t>(z) + 1][grid.column(x, y)]; };
    Layers layers;
    std::set<std::pair<int, int>> bridged;
    for (std::size_t i = 0; i < bricks.size(); ++i) {
        const LaidBrick& brick = bricks[i];
        const bool held = grounded.count(pieces.find(static_cast<int>(i))) > 0;
        std::set<int> under, over;
        for (int v = brick.y; v < brick.y + brick.along; ++v)
            for (int u = brick.x; u < brick.x + brick.across; ++u) {
                under.insert(coverOf(brick.z - 1, u, v));
                over.insert(coverOf(brick.z + 1, u, v));
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
            ++layers.hanging;
    }
    std::set<std::pair<int, int>> seams;
    for (int z = 0; z < grid.nz; ++z)
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x) {
                const int own = coverOf(z, x, y);
                for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(0, 1)}) {
                    if (own < 0 || x + dx >= grid.nx || y + dy >= grid.ny) continue;
                    const int other = coverOf(z, x + dx, y + dy);
                    if (other >= 0 && other != own) seams.insert(std::minmax(own, other));
                }
            }
    for (const auto& seam : seams) layers.openSeams += bridged.count(seam) == 0 ? 1 : 0;
    return layers;
}

base::Result<model::Project> makeStatue(const std::string& name, const Layers& layers, int colour) {
    model::Project project = model::makeEmptyProject(name);
    std::map<std::array<int, 2>, parts::ShapePtr> shapes;
    std::vector<model::NewPart> parts;
    parts.reserve(layers.bricks.size());
    for (const LaidBrick& brick : layers.bricks) {
        const std::array<int, 2> size{std::min(brick.across, brick.along), std::max(brick.across, brick.along)};
        parts::ShapePtr& shape = shapes[size];
        if (!shape) {
            auto made = parts::makeShape("brick " + std::to_string(size[0]) + "x" + std::to_string(size[1]));
            if (!made) return made.error();
            shape = *made;
        }
        model::NewPart part;
        part.shape = shape;
        part.colour = colour;
        part.step = brick.z + 1;
        // "AxB" counts A along x; across its longer way it is turned a quarter, about its first cell.
        const bool turned = brick.across > brick.along;
        part.place.attitude = turned ? 1 : 0;
        const int x = turned ? brick.x + brick.across - 1 : brick.x;
        part.place.atUm = {x * base::kPitchUm, brick.y * base::kPitchUm, brick.z * base::mmToUm(base::kBrickMm)};
        parts.push_back(std::move(part));
    }
    auto named = model::renameSection(project, project.sections.front()->id, "Body");
    if (!named) return named;
    return model::addParts(*named, named->sections.front()->id, parts, nullptr);
}

} // namespace ivrant::stand
