// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/firm_shell.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <limits>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/body_box.h"

namespace ivrant::stand {
namespace {

using geometry::Bounds;
using geometry::Frame;

constexpr double kSlackMm = 0.3, kHalfMm = base::kPitchMm / 2;
constexpr double kBetter = 0.995;
constexpr int kPatience = 3;      ///< rounds without getting better
constexpr std::size_t kWeak = 24; ///< contacts that show where help is needed
const Vec3 kCell(base::kPitchMm, base::kPitchMm, base::kBrickMm);

double lambdaOf(const Equilibrium& e) { return e.lambda.value_or(std::numeric_limits<double>::infinity()); }

class Firmer {
public:
    Firmer(const model::Placed& placed, const BondLimits& limits, const FirmWish& wish, base::Progress* progress)
        : m_placed(placed), m_limits(limits), m_wish(wish), m_progress(progress) {}

    base::Result<FirmProposal> run() {
        const auto& sections = m_placed.project->sections;
        const auto fewer = [](const auto& l, const auto& r) { return l->parts.size() < r->parts.size(); };
        m_result.section =
            static_cast<int>(std::max_element(sections.begin(), sections.end(), fewer) - sections.begin());
        if (auto st = solve(*m_placed.project); !st) return st.error();
        m_result.before = m_result.after = m_now.equilibrium.lambda;
        if (holds()) {
            m_result.holds = true;
            m_result.why = "its bonds hold with the margin asked: nothing needs to go in";
            return std::move(m_result);
        }
        if (auto st = findRoom(); !st) return st.error();
        if (m_room.empty()) {
            m_result.why = "there is no closed hollow that a brick goes into";
            return std::move(m_result);
        }
        double best = lambdaOf(m_now.equilibrium);
        std::size_t bestCount = 0, bestFalling = m_now.equilibrium.falling.size();
        for (int idle = 0; idle < kPatience && m_result.rounds < m_wish.mostRounds && !m_room.empty();
             ++m_result.rounds) {
            if (m_progress) m_progress->report(static_cast<double>(m_result.rounds) / m_wish.mostRounds);
            takeNearest();
            auto changed = model::addParts(*m_placed.project, section().id, m_in, nullptr);
            if (!changed) return changed.error();
            if (auto st = solve(*changed); !st) return st.error();
            const double now = lambdaOf(m_now.equilibrium);
            const std::size_t falling = m_now.equilibrium.falling.size();
            idle += 1;
            if (now < kBetter * best || (std::isinf(best) && falling < bestFalling)) {
                best = now;
                bestFalling = falling;
                bestCount = m_in.size();
                m_result.after = m_now.equilibrium.lambda;
                idle = 0;
            }
            if (!holds()) continue;
            m_result.holds = true;
            ++m_result.rounds;
            break;
        }
        m_in.resize(bestCount);
        dropLoose();
        for (const model::NewPart& part : m_in) m_result.massG += part.shape->massG;
        m_result.parts = std::move(m_in);
        if (m_result.parts.empty()) m_result.why = "parts inside do not help: the weak bonds lie elsewhere";
        return std::move(m_result);
    }

private:
    [[nodiscard]] const model::Section& section() const {
        return *ivrant::at(m_placed.project->sections, m_result.section);
    }
    [[nodiscard]] bool holds() const {
        return m_now.equilibrium.stands && lambdaOf(m_now.equilibrium) <= m_wish.mostLambda;
    }

    base::Status solve(const model::Project& project) {
        model::Placed placed = m_placed;
        placed.project = &project;
        EquilibriumRequest request;
        request.use = false;
        request.progress = m_progress;
        auto solved = calcCase(placed, bonds::calcBonds(project), m_limits, {}, request);
        if (!solved) return solved.error();
        m_now = std::move(solved).value();
        return {};
    }
    base::Status findRoom() {
        Vec3 origin;
        auto hollow = listHollow(section(), &origin);
        if (!hollow) return hollow.error();
        if (hollow->count() == 0) return {};
        auto layers = layBricks(*hollow, getUsualSizes(), m_progress, true);
        if (!layers) return layers.error();
        auto statue = makeStatue("room", *layers, section().parts.empty() ? 0 : section().parts.front().colour);
        if (!statue) return statue.error();
        std::map<std::int64_t, int> stepAt; // first of the parts at that height: what goes inside goes in with its
                                            // layer, before the shell closes
        for (const model::Part& part : section().parts) {
            const auto [it, fresh] = stepAt.try_emplace(part.place.atUm[2], part.step);
            if (!fresh) it->second = std::min(it->second, part.step);
        }
        for (const model::Part& laid : statue->sections.front()->parts) {
            model::NewPart part;
            part.shape = laid.shape;
            part.colour = laid.colour;
            part.place = laid.place;
            for (int k = 0; k < 3; ++k)
                ivrant::at(part.place.atUm, k) +=
                    base::mmToUm(origin[k] + (k < 2 ? kHalfMm : 0)); // a part's origin is the middle of a cell
            if (const auto at = stepAt.find(part.place.atUm[2]); at != stepAt.end()) part.step = at->second;
            m_room.push_back(std::move(part));
        }
        m_result.room = m_room.size();
        return {};
    }
    /// The next ones into the model: nearest to what is asked most, in the world.
    void takeNearest() {
        std::vector<Vec3> weak;
        const auto& e = m_now.equilibrium;
        if (e.firstToGo) weak.push_back(ivrant::at(m_now.net.contacts, *e.firstToGo).corners.front());
        std::vector<int> order;
        for (std::size_t k = 0; k < m_now.net.contacts.size(); ++k)
            if (m_now.net.contacts[k].a >= 0) order.push_back(static_cast<int>(k));
        const auto use = [&](int k) { return ivrant::at(e.forces, k).use; };
        const std::size_t count = std::min(kWeak, order.size());
        std::partial_sort(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(count), order.end(),
                          [&](int l, int r) { return use(l) > use(r); });
        for (std::size_t i = 0; i < count; ++i)
            weak.push_back(ivrant::at(m_now.net.contacts, order[i]).corners.front());
        const Frame& X_WS = ivrant::at(m_placed.X_WS, m_result.section);
        const auto distance = [&](const model::NewPart& part) {
            const Vec3 at = X_WS * (part.place.frame() * part.shape->centre);
            double least = std::numeric_limits<double>::infinity();
            for (const Vec3& w : weak) least = std::min(least, (w - at).norm());
            return least;
        };
        std::vector<std::pair<double, std::size_t>> near;
        for (std::size_t i = 0; i < m_room.size(); ++i) near.emplace_back(distance(m_room[i]), i);
        std::sort(near.begin(), near.end());
        near.resize(std::min(near.size(), m_wish.batch));
        std::vector<std::size_t> taken;
        for (const auto& [d, i] : near) {
            m_in.push_back(m_room[i]);
            taken.push_back(i);
        }
        std::sort(taken.rbegin(), taken.rend());
        for (const std::size_t i : taken) m_room.erase(m_room.begin() + static_cast<std::ptrdiff_t>(i));
    }
    /// What holds on to nothing that is joined to the ground does not go in.
    void dropLoose() {
        const auto changed = model::addParts(*m_placed.project, section().id, m_in, nullptr);
        if (!changed) return;
        model::Placed placed = m_placed;
        placed.project = &*changed;
        const BondNet net = makeBondNet(placed, bonds::calcBonds(*changed), m_limits);
        const int first = static_cast<int>(section().parts.size());
        std::set<int> loose;
        for (const int body : net.floating)
            if (const auto spot = ivrant::at(net.bodies, body).spot;
                spot.section == m_result.section && spot.part >= first)
                loose.insert(spot.part - first);
        std::vector<model::NewPart> kept;
        for (std::size_t i = 0; i < m_in.size(); ++i)
            if (loose.count(static_cast<int>(i)) == 0) kept.push_back(m_in[i]);
        m_in = std::move(kept);
    }

    const model::Placed& m_placed;
    const BondLimits& m_limits;
    const FirmWish& m_wish;
    base::Progress* m_progress;
    CaseResult m_now;
    std::vector<model::NewPart> m_room, m_in;
    FirmProposal m_result;
};

} // namespace

base::Result<CellGrid> listHollow(const model::Section& section, Vec3* origin) {
    Bounds all;
    for (const model::Part& part : section.parts) {
        const Bounds box = parts::calcBodyBox(*part.shape, part.place.frame());
        if (!box.empty()) {
            all.include(box.low);
            all.include(box.high);
        }
    }
    CellGrid grid;
    if (all.empty()) return grid;
    // From the lowest corner on: what stands half a pitch off that grid fills the cells on both sides.
    for (int k = 0; k < 2; ++k) (*origin)[k] = std::round(all.low[k] / kHalfMm) * kHalfMm;
    // Courses lie where most bricks do, on whatever plates there are under them; the lowest cell may begin below the
    // model.
    const double lowest = std::round(all.low.z() / base::kPlateMm) * base::kPlateMm;
    std::array<int, 3> courses{};
    for (const model::Part& part : section.parts) {
        const Bounds box = parts::calcBodyBox(*part.shape, part.place.frame());
        if (box.empty() || std::abs(box.size().z() - base::kBrickMm) > kSlackMm) continue;
        ++ivrant::at(courses, std::llround((box.low.z() - lowest) / base::kPlateMm) % 3);
    }
    const auto phase = std::max_element(courses.begin(), courses.end()) - courses.begin();
    origin->z() = lowest - static_cast<double>((3 - phase) % 3) * base::kPlateMm;
    const Vec3 size = (all.high - *origin).cwiseQuotient(kCell);
    if (size.prod() > kMostCells) return base::Error{"grid.size", "the model is too large to look inside", ""};
    grid.nx = static_cast<int>(std::ceil(size.x() - 0.05));
    grid.ny = static_cast<int>(std::ceil(size.y() - 0.05));
    grid.nz = static_cast<int>(std::ceil(size.z() - 0.05));
    const std::size_t count =
        static_cast<std::size_t>(grid.nx) * static_cast<std::size_t>(grid.ny) * static_cast<std::size_t>(grid.nz);
    std::vector<char> solid(count, 0), air(count, 0);
    for (const model::Part& part : section.parts) {
        const Bounds box = parts::calcBodyBox(*part.shape, part.place.frame());
        if (box.empty()) continue;
        const Vec3 low = (box.low - *origin + Vec3::Constant(kSlackMm)).cwiseQuotient(kCell),
                   high = (box.high - *origin - Vec3::Constant(kSlackMm)).cwiseQuotient(kCell);
        for (int z = static_cast<int>(low.z()); z <= static_cast<int>(high.z()) && z < grid.nz; ++z)
            for (int y = static_cast<int>(low.y()); y <= static_cast<int>(high.y()) && y < grid.ny; ++y)
                for (int x = static_cast<int>(low.x()); x <= static_cast<int>(high.x()) && x < grid.nx; ++x)
                    solid[grid.index(x, y, z)] = 1;
    }
    std::deque<std::array<int, 3>> open;
    const auto enter = [&](int x, int y, int z) {
        if (x < 0 || y < 0 || z < 0 || x >= grid.nx || y >= grid.ny || z >= grid.nz) return;
        const std::size_t at = grid.index(x, y, z);
        if (solid[at] || air[at]) return;
        air[at] = 1;
        open.push_back({x, y, z});
    };
    for (int z = 0; z < grid.nz; ++z)
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x)
                if (x == 0 || y == 0 || z == 0 || x == grid.nx - 1 || y == grid.ny - 1 || z == grid.nz - 1)
                    enter(x, y, z);
    while (!open.empty()) {
        const auto [x, y, z] = open.front();
        open.pop_front();
        for (const auto& [dx, dy, dz] : {std::array{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}})
            enter(x + dx, y + dy, z + dz);
    }
    grid.filled.assign(count, 0);
    for (std::size_t i = 0; i < count; ++i) grid.filled[i] = !solid[i] && !air[i] ? 1 : 0;
    return grid;
}

base::Result<FirmProposal> proposeFirm(const model::Placed& placed, const BondLimits& limits, const FirmWish& wish,
                                       base::Progress* progress) {
    return Firmer(placed, limits, wish, progress).run();
}

} // namespace ivrant::stand
