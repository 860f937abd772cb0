// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/mates.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>
#include <unordered_map>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::bonds {
namespace {

using geometry::Frame;
using geometry::Vec3;
using parts::Port;
using parts::PortKind;

constexpr double kCellMm = 0.5;

std::uint64_t cellKey(long x, long y, long z) {
    const auto mask = [](long v) { return static_cast<std::uint64_t>(v + (1L << 20)) & 0x1fffffULL; };
    return mask(x) << 42 | mask(y) << 21 | mask(z);
}

constexpr double kCoarseMm = 16; ///< two depths and a mating distance

std::array<long, 3> coarseCell(const Vec3& p) {
    return {std::lround(p.x() / kCoarseMm), std::lround(p.y() / kCoarseMm), std::lround(p.z() / kCoarseMm)};
}
std::uint64_t coarseKey(const Vec3& p) {
    const auto cell = coarseCell(p);
    return cellKey(cell[0], cell[1], cell[2]);
}

/// Calls visit(key) for the cells within the mating distance of p; nearly always one.
template <class Visit> void forCells(const Vec3& p, Visit visit) {
    long low[3], high[3];
    for (int k = 0; k < 3; ++k) {
        low[k] = std::lround((p[k] - kMateDistanceMm) / kCellMm);
        high[k] = std::lround((p[k] + kMateDistanceMm) / kCellMm);
    }
    for (long x = low[0]; x <= high[0]; ++x)
        for (long y = low[1]; y <= high[1]; ++y)
            for (long z = low[2]; z <= high[2]; ++z) visit(cellKey(x, y, z));
}

/// The side of a pair that is put into the table; the other side asks.
bool isInserted(const Port& port) {
    switch (port.kind) {
    case PortKind::Stud:
    case PortKind::PinSmooth:
    case PortKind::PinRibbed:
    case PortKind::Axle:
    case PortKind::BarEnd:
    case PortKind::ForkSmall:
    case PortKind::ForkLarge:
    case PortKind::BallSmall:
    case PortKind::BallLarge:
    case PortKind::Clip:
    case PortKind::HingePlateLower:
    case PortKind::GearedLower:
    case PortKind::UniversalFork:
    case PortKind::TurntableLower: return true;
    default: return false;
    }
}

bool isPin(const Port& port) { return port.kind == PortKind::PinSmooth || port.kind == PortKind::PinRibbed; }

/// A hole that is thinner than a pin's half is long leaves it the choice where it sits.
double findThinRoom(const Port& a, const Port& b) {
    if (!isPin(a) && !isPin(b)) return 0;
    const double depth = isPin(a) ? b.depth : a.depth;
    return depth > 0 && depth < kHoleStepMm ? kPinHalfMm - depth : 0;
}

/// Shafts and rods stay at any depth they are pushed to; pins and studs have a stop and a place.
bool slides(const Port& port) { return port.kind == PortKind::Axle || port.kind == PortKind::Bar; }

bool asks(const Port& port) { return !isInserted(port) || (port.kind == PortKind::Stud && port.hollow); }

} // namespace

bool isSeated(const Port& a, const Frame& X_a, const Port& b, const Frame& X_b) {
    const Vec3 axisA = X_a.linear() * a.axis, axisB = X_b.linear() * b.axis;
    static const double kOpposed = -std::cos(base::degToRad(kMateAngleDeg));
    const bool eitherWay = a.kind == PortKind::Bar || b.kind == PortKind::Bar;
    const double agreement = axisA.dot(axisB);
    if (agreement > kOpposed && !(eitherWay && -agreement <= kOpposed)) return false;
    const Vec3 offset = X_b * b.origin - X_a * a.origin;
    double along = offset.dot(axisA);
    double room = a.depth + b.depth;
    if (room > 0 && (a.kind == PortKind::Axle || b.kind == PortKind::Axle)) room = std::max(room, kAxleReachMm);
    const double thin = findThinRoom(a, b);
    if (thin > 0 && std::abs(along) <= thin + kMateDistanceMm)
        along = 0;
    else if (room > 0 && std::abs(along) <= room + kMateDistanceMm)
        along = slides(a) || slides(b) ? 0 : along - kHoleStepMm * std::round(along / kHoleStepMm);
    const Vec3 across = offset - axisA * offset.dot(axisA);
    return across.norm() <= kMateDistanceMm && std::abs(along) <= kMateDistanceMm;
}

std::vector<Mate> findMates(const model::Section& section) {
    struct Entry {
        int part, port;
    };
    std::unordered_multimap<std::uint64_t, Entry> table, shafts; ///< shafts: by coarse cells, as they mate at any depth
    std::vector<Frame> places;
    places.reserve(section.parts.size());
    std::size_t count = 0;
    for (const auto& part : section.parts) {
        places.push_back(part.place.frame());
        count += part.shape->ports.size();
    }
    table.reserve(count);
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        const auto& ports = section.parts[p].shape->ports;
        for (std::size_t k = 0; k < ports.size(); ++k) {
            const Entry entry{static_cast<int>(p), static_cast<int>(k)};
            const Vec3 at = places[p] * ports[k].origin;
            const bool slid = isInserted(ports[k]) && (slides(ports[k]) || ports[k].kind == PortKind::Clip);
            if (slid || isPin(ports[k])) shafts.emplace(coarseKey(at), entry);
            if (!slid && isInserted(ports[k])) forCells(at, [&](std::uint64_t key) { table.emplace(key, entry); });
        }
    }
    std::vector<Mate> mates;
    const auto offer = [&](int p, int k, const Port& port, Entry e) {
        if (e.part == p) return;
        const auto ep = static_cast<std::size_t>(e.part);
        const Port& other = ivrant::at(section.parts[ep].shape->ports, e.port);
        const auto kind = parts::findBondKind(port, other);
        if (kind == parts::BondKind::None || !isSeated(other, places[ep], port, ivrant::at(places, p))) return;
        if (e.part < p)
            mates.push_back({e.part, e.port, p, k, kind});
        else
            mates.push_back({p, k, e.part, e.port, kind});
    };
    const auto ask = [&](int p, int k, const Port& port, const Vec3& at) {
        forCells(at, [&](std::uint64_t key) {
            const auto [first, last] = table.equal_range(key);
            for (auto it = first; it != last; ++it) offer(p, k, port, it->second);
        });
    };
    // Of a shaft's places in a hole the nearest counts.
    const auto askShafts = [&](int p, int k, const Port& port, const Vec3& at) {
        const auto cell = coarseCell(at);
        const std::size_t before = mates.size();
        for (long x = -1; x <= 1; ++x)
            for (long y = -1; y <= 1; ++y)
                for (long z = -1; z <= 1; ++z) {
                    const auto [first, last] = shafts.equal_range(cellKey(cell[0] + x, cell[1] + y, cell[2] + z));
                    for (auto it = first; it != last; ++it) offer(p, k, port, it->second);
                }
        const auto off = [&](const Mate& m) {
            const bool isA = m.partA != p;
            const auto part = static_cast<std::size_t>(isA ? m.partA : m.partB),
                       index = static_cast<std::size_t>(isA ? m.portA : m.portB);
            return (places[part] * section.parts[part].shape->ports[index].origin - at).norm();
        };
        const auto other = [&](const Mate& m) { return m.partA != p ? m.partA : m.partB; };
        std::sort(mates.begin() + static_cast<std::ptrdiff_t>(before), mates.end(), [&](const Mate& l, const Mate& r) {
            return std::tuple(other(l), std::llround(off(l) * 1000), l.portA, l.portB) <
                   std::tuple(other(r), std::llround(off(r) * 1000), r.portA, r.portB);
        });
        mates.erase(std::unique(mates.begin() + static_cast<std::ptrdiff_t>(before), mates.end(),
                                [&](const Mate& l, const Mate& r) { return other(l) == other(r); }),
                    mates.end());
    };
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        const auto& ports = section.parts[p].shape->ports;
        for (std::size_t k = 0; k < ports.size(); ++k) {
            if (!asks(ports[k])) continue;
            if (!shafts.empty() && ports[k].depth > 0)
                askShafts(static_cast<int>(p), static_cast<int>(k), ports[k], places[p] * ports[k].origin);
            // A mating partner along a hole may bring its own depth: look over the longest reach of both.
            const int steps =
                ports[k].depth > 0 ? static_cast<int>((ports[k].depth + base::kPitchMm / 2) / kHoleStepMm) : 0;
            for (int s = -steps; s <= steps; ++s)
                ask(static_cast<int>(p), static_cast<int>(k), ports[k],
                    places[p] * (ports[k].origin + ports[k].axis * (s * kHoleStepMm)));
        }
    }
    const auto key = [](const Mate& m) { return std::tie(m.partA, m.portA, m.partB, m.portB); };
    std::sort(mates.begin(), mates.end(), [&](const Mate& l, const Mate& r) { return key(l) < key(r); });
    mates.erase(std::unique(mates.begin(), mates.end(), [&](const Mate& l, const Mate& r) { return key(l) == key(r); }),
                mates.end());
    return mates;
}

} // namespace ivrant::bonds
