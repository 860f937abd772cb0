// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/shape/hanging_part.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"

namespace ivrant::app {

using geometry::Frame;
using geometry::Vec3;

namespace {
double snap(double mm, double step) { return std::round(mm / step) * step; }
constexpr std::uint8_t kGhostAlpha = 150;
} // namespace

void HangingPart::clear() {
    m_shape.reset();
    m_fits.clear();
    m_byNumbers = false;
}

void HangingPart::take(const parts::PartLine& line, int usualColour) {
    const auto shape = parts::isOwnName(line.shape) ? m_session.project().findOwnShape(line.shape)
                                                    : parts::makeShape(line.shape).value();
    if (!shape) return clear();
    if (m_shape != shape) m_fits.clear();
    m_shape = shape;
    m_colour = line.colour ? parts::findColour(*line.colour) : usualColour;
    if (line.turn) m_wished = geometry::getTurn(*line.turn);
    m_byNumbers = line.atUm.has_value();
    if (line.turn || m_byNumbers) {
        const auto section = static_cast<std::size_t>(m_session.project().findSection(m_session.currentSection()));
        const Frame& X_WS = m_session.placed().X_WS[section];
        Frame X_SP = X_WS.inverse() * m_X_W;
        X_SP.linear() = m_wished;
        if (line.atUm)
            for (int k = 0; k < 3; ++k) X_SP.translation()[k] = base::umToMm(ivrant::at(*line.atUm, k));
        m_X_W = X_WS * X_SP;
        m_fits.clear();
    }
}

void HangingPart::follow(const std::optional<PickHit>& hit, const Vec3& ground) {
    if (!m_shape || m_byNumbers) return;
    if (hit) {
        m_target = hit->spot;
        m_fits = bonds::listFits(m_session.placed(), m_session.bonds(), hit->spot, hit->point, *m_shape, m_wished);
        m_fit = 0;
        if (!m_fits.empty()) {
            m_X_W = m_fits.front().X_W;
            return;
        }
    }
    m_fits.clear();
    m_X_W.linear() = m_wished;
    const double lowest =
        (m_wished.row(2) * m_shape->bounds.centre())(0) - 0.5 * (m_wished.cwiseAbs() * m_shape->bounds.size()).z();
    m_X_W.translation() = Vec3(snap(ground.x(), base::kPitchMm), snap(ground.y(), base::kPitchMm),
                               hit ? snap(hit->point.z(), base::kPlateMm) : snap(-lowest, 0.1));
}

void HangingPart::nextFit(int direction) {
    if (m_fits.empty()) return;
    const auto n = m_fits.size();
    m_fit = (m_fit + (direction > 0 ? 1 : n - 1)) % n;
    m_X_W = m_fits[m_fit].X_W;
}

void HangingPart::turn(int quarterTurns) {
    const geometry::Mat3 r =
        Eigen::AngleAxisd(quarterTurns * base::kPi / 2, Vec3::UnitZ()).toRotationMatrix().array().round().matrix();
    m_wished = r * m_wished;
    m_X_W.linear() = r * m_X_W.linear();
    if (m_fits.empty()) return;
    // Turn about the mated port, so that the fit is kept.
    const Vec3 pivot = m_fits[m_fit].X_W * ivrant::at(m_shape->ports, m_shape->findPort(m_fits[m_fit].ownPort)).origin;
    m_X_W.translation() = pivot + r * (m_X_W.translation() - pivot);
    m_fits[m_fit].X_W = m_X_W;
}

void HangingPart::tip() {
    const geometry::Mat3 r =
        Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitX()).toRotationMatrix().array().round().matrix();
    m_wished = r * m_wished;
    m_X_W.linear() = m_wished;
    m_fits.clear();
}

void HangingPart::nudge(const Vec3& mm) {
    m_X_W.translation() += mm;
    m_fits.clear();
}

QString HangingPart::describe() const {
    if (!m_shape) return {};
    const auto section = static_cast<std::size_t>(m_session.project().findSection(m_session.currentSection()));
    const Vec3 at = (m_session.placed().X_WS[section].inverse() * m_X_W).translation();
    const auto number = [](double v) { return QString::fromStdString(base::formatNumber(v, 2)); };
    QString text;
    if (m_session.unit() == base::LengthUnit::Studs)
        text = "at " + number(at.x() / base::kPitchMm) + "s " + number(at.y() / base::kPitchMm) + "s " +
               number(at.z() / base::kPlateMm) + "p";
    else
        text = "at " + number(at.x()) + " " + number(at.y()) + " " + number(at.z()) + " mm";
    if (m_fits.empty()) return text;
    const auto& fit = m_fits[m_fit];
    const auto& target = model::getPart(m_session.project(), fit.target);
    return text + " · " + QString::fromStdString(fit.ownPort + " on " + fit.targetPort + " of " + target.shape->name) +
           " · fit " + QString::number(m_fit + 1) + " of " + QString::number(m_fits.size());
}

std::optional<render::SectionDraw> HangingPart::draw() const {
    if (!m_shape) return std::nullopt;
    auto section = std::make_shared<model::Section>();
    section->parts.push_back({{"p1"}, m_shape, m_colour, {}, 1, {}, nullptr});
    auto bonds = std::make_shared<bonds::SectionBonds>();
    bonds->coveredStuds.resize(1);
    auto state = render::makeState(m_colour);
    state.a = kGhostAlpha;
    return render::SectionDraw{section, bonds, m_X_W, {state}};
}

} // namespace ivrant::app
