// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/shape.h"

#include <stdexcept>

namespace ivrant::parts {

std::string_view getPortKindName(PortKind kind) {
    switch (kind) {
    case PortKind::Stud: return "stud";
    case PortKind::Cell: return "cell";
    case PortKind::Tube: return "tube";
    case PortKind::Bar: return "bar";
    case PortKind::BarEnd: return "bar end";
    case PortKind::Clip: return "clip";
    case PortKind::Hole: return "pin hole";
    case PortKind::CrossHole: return "cross hole";
    case PortKind::PinSmooth: return "smooth pin end";
    case PortKind::PinRibbed: return "ribbed pin end";
    case PortKind::Axle: return "axle";
    case PortKind::BallSmall: return "small ball";
    case PortKind::BallLarge: return "large ball";
    case PortKind::CupSmall: return "small cup";
    case PortKind::CupLarge: return "large cup";
    case PortKind::ForkSmall: return "small hinge fork";
    case PortKind::TongueSmall: return "small hinge tongue";
    case PortKind::ForkLarge: return "large hinge fork";
    case PortKind::TongueLarge: return "large hinge tongue";
    case PortKind::TurntableLower: return "turntable lower half";
    case PortKind::TurntableUpper: return "turntable upper half";
    case PortKind::HingePlateLower: return "hinge plate lower half";
    case PortKind::HingePlateUpper: return "hinge plate upper half";
    case PortKind::GearedLower: return "geared turntable lower half";
    case PortKind::GearedUpper: return "geared turntable upper half";
    case PortKind::UniversalFork: return "universal joint fork";
    case PortKind::UniversalCross: return "universal joint cross";
    case PortKind::TurningHole: return "turning hole";
    case PortKind::Eye: return "eye";
    }
    throw std::logic_error("unknown port kind");
}

std::optional<PortKind> findPortKind(std::string_view name) {
    for (int k = 0; k <= static_cast<int>(kLastPortKind); ++k)
        if (getPortKindName(static_cast<PortKind>(k)) == name) return static_cast<PortKind>(k);
    return std::nullopt;
}

int Shape::findPort(std::string_view wanted) const {
    for (std::size_t i = 0; i < ports.size(); ++i)
        if (ports[i].name == wanted) return static_cast<int>(i);
    return -1;
}

} // namespace ivrant::parts
