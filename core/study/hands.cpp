// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/hands.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/study/stand_cases.h"

namespace ivrant::study {
namespace {

using geometry::Vec3;

constexpr double kOnTableMm = 0.6;     ///< as far as parts of one layer differ
constexpr double kSameDirection = 1e3; ///< directions are told apart by thousandths

class Presser {
public:
    Presser(const Facts& facts, int section, int reach)
        : m_reach(reach), m_section(*ivrant::at(facts.project->sections, section)),
          m_order(getSectionAssembly(ivrant::at(facts.project->sections, section), *ivrant::at(facts.bonds, section))),
          m_R(ivrant::at(facts.present.placed.X_WS, section).linear()) {
        stand::NetRequest request;
        request.ground = false;
        request.built = [section](model::PartSpot spot) { return spot.section == section; };
        m_net = stand::makeBondNet(facts.present.placed, facts.bonds, calcBondLimits(*facts.project), request);
        m_body.assign(m_section.parts.size(), -1);
        for (std::size_t b = 0; b < m_net.bodies.size(); ++b)
            if (m_net.bodies[b].spot.section == section)
                ivrant::at(m_body, m_net.bodies[b].spot.part) = static_cast<int>(b);
        m_contacts.resize(m_net.bodies.size());
        for (std::size_t c = 0; c < m_net.contacts.size(); ++c) {
            const stand::Contact& contact = m_net.contacts[c];
            if (contact.a < 0 || contact.b < 0) continue;
            ivrant::at(m_contacts, contact.a).push_back(static_cast<int>(c));
            ivrant::at(m_contacts, contact.b).push_back(static_cast<int>(c));
        }
        for (const stand::Body& body : m_net.bodies) {
            const model::Part& part = model::getPart(*facts.project, body.spot);
            m_steps.push_back(part.after.empty() ? part.step : kNever); // what waits is put on elsewhere
            const geometry::Frame X = facts.present.placed.X_WP(body.spot);
            geometry::Bounds bounds;
            for (const auto& solid : part.shape->solids) {
                const auto own = geometry::calcBounds(solid.solid, X);
                bounds.include(own.low);
                bounds.include(own.high);
            }
            m_bounds.push_back(bounds);
        }
    }

    /// What must be held when the part is pressed on; empty: nothing.
    [[nodiscard]] std::vector<int> press(int part) {
        const int own = ivrant::at(m_body, part);
        if (own < 0 || ivrant::at(m_steps, own) == kNever) return {};
        const int step = ivrant::at(m_steps, own);
        const Vec3 toward = -(m_R * ivrant::at(m_order->check.ways, part).off);
        const double table = findTable(toward, step);
        if (reach(own, toward) > table - kOnTableMm) return {};
        std::vector<int> carriers;
        const stand::BondNet piece = cutOut(own, step, toward, table, carriers);
        const Vec3 at = findPressed(piece);
        if (carriers.empty()) return {}; // it only goes in with others
        auto loads = stand::calcLoads(piece, m_R * -Vec3::UnitZ());
        stand::addPush(loads, piece, 0, at, kPressN * toward);
        stand::EquilibriumRequest request;
        request.lambda = false;
        request.use = false;
        const auto found = stand::calcEquilibrium(piece, loads, request);
        if (!found || found->stands || !found->certain) return {};
        return carriers;
    }

private:
    static constexpr int kNever = 1 << 30;

    [[nodiscard]] double reach(int body, const Vec3& toward) const {
        const geometry::Bounds& bounds = ivrant::at(m_bounds, body);
        double most = 0;
        for (int k = 0; k < 3; ++k) most += std::max(toward[k] * bounds.low[k], toward[k] * bounds.high[k]);
        return most;
    }
    /// How far what is there before the step reaches in a direction: that is where the table is.
    double findTable(const Vec3& toward, int step) {
        const std::array<long, 3> key{std::lround(toward.x() * kSameDirection),
                                      std::lround(toward.y() * kSameDirection),
                                      std::lround(toward.z() * kSameDirection)};
        auto [known, isNew] = m_tables.try_emplace(key);
        if (isNew) {
            for (std::size_t b = 0; b < m_net.bodies.size(); ++b)
                if (m_steps[b] != kNever) known->second.emplace_back(m_steps[b], reach(static_cast<int>(b), toward));
            std::sort(known->second.begin(), known->second.end());
            for (std::size_t i = 1; i < known->second.size(); ++i)
                known->second[i].second = std::max(known->second[i].second, known->second[i - 1].second);
        }
        const auto& reaches = known->second;
        const auto after = std::lower_bound(reaches.begin(), reaches.end(), std::pair(step, -1e30));
        return after == reaches.begin() ? -1e30 : std::prev(after)->second;
    }
    /// In the middle of what is new to bond: that is where a builder presses.
    [[nodiscard]] static Vec3 findPressed(const stand::BondNet& piece) {
        Vec3 sum = Vec3::Zero();
        int count = 0;
        for (const stand::Contact& contact : piece.contacts) {
            if (contact.a != 0 && contact.b != 0) continue;
            for (const Vec3& stud : contact.studs.empty() ? contact.corners : contact.studs) {
                sum += stud;
                ++count;
            }
        }
        return count > 0 ? Vec3(sum / count) : piece.bodies.front().centre;
    }
    /// The body first, then what is there within reach; what stands on the table and the rim are held.
    [[nodiscard]] stand::BondNet cutOut(int own, int step, const Vec3& toward, double table,
                                        std::vector<int>& carriers) const {
        std::vector<int> bodies{own}, depth{0};
        std::map<int, int> local{{own, 0}};
        for (std::size_t i = 0; i < bodies.size(); ++i) {
            if (depth[i] == m_reach) continue;
            for (const int c : ivrant::at(m_contacts, bodies[i])) {
                const stand::Contact& contact = ivrant::at(m_net.contacts, c);
                const int other = contact.a == bodies[i] ? contact.b : contact.a;
                if (ivrant::at(m_steps, other) >= step || local.count(other) > 0) continue;
                if (i == 0) carriers.push_back(ivrant::at(m_net.bodies, other).spot.part);
                local[other] = static_cast<int>(bodies.size());
                bodies.push_back(other);
                depth.push_back(depth[i] + 1);
            }
        }
        stand::BondNet piece;
        for (std::size_t i = 0; i < bodies.size(); ++i) {
            piece.bodies.push_back(ivrant::at(m_net.bodies, bodies[i]));
            const bool onTable = reach(bodies[i], toward) > table - kOnTableMm;
            if (i > 0 && (depth[i] == m_reach || onTable)) {
                stand::Contact hold;
                hold.kind = stand::ContactKind::Hand;
                hold.b = static_cast<int>(i);
                hold.corners = {piece.bodies.back().centre};
                piece.contacts.push_back(std::move(hold));
            }
            for (const int c : ivrant::at(m_contacts, bodies[i])) {
                stand::Contact contact = ivrant::at(m_net.contacts, c);
                const auto a = local.find(contact.a), b = local.find(contact.b);
                if (a == local.end() || b == local.end() || contact.a != bodies[i]) continue; // each once
                contact.a = a->second;
                contact.b = b->second;
                piece.contacts.push_back(std::move(contact));
            }
        }
        return piece;
    }

    int m_reach;
    const model::Section& m_section;
    std::shared_ptr<const SectionAssembly> m_order;
    Eigen::Matrix3d m_R;
    stand::BondNet m_net;
    std::vector<int> m_body, m_steps;                                            ///< by part; by body
    std::vector<std::vector<int>> m_contacts;                                    ///< by body
    std::vector<geometry::Bounds> m_bounds;                                      ///< by body, world
    std::map<std::array<long, 3>, std::vector<std::pair<int, double>>> m_tables; ///< by direction: step, reach so far
};

} // namespace

std::vector<HoldHint> calcHolds(const Facts& facts, int section, base::Progress* progress, int reach) {
    std::vector<HoldHint> hints;
    const auto& parts = ivrant::at(facts.project->sections, section)->parts;
    Presser presser(facts, section, reach);
    for (std::size_t p = 0; p < parts.size(); ++p) {
        if (progress && progress->stopped()) break;
        if (auto under = presser.press(static_cast<int>(p)); !under.empty())
            hints.push_back({static_cast<int>(p), std::move(under)});
    }
    std::stable_sort(hints.begin(), hints.end(), [&](const HoldHint& l, const HoldHint& r) {
        return ivrant::at(parts, l.part).step < ivrant::at(parts, r.part).step;
    });
    return hints;
}

} // namespace ivrant::study
