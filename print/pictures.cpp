// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/pictures.h"

#include <QGuiApplication>
#include <algorithm>

#include "core/parts/family.h"

namespace ivrant::print {
namespace {
constexpr std::array<std::uint8_t, 4> kWhite{255, 255, 255, 255};
constexpr std::array<std::uint8_t, 3> kLift{132, 186, 112}, kLeave{226, 112, 84}, kWeak{244, 204, 92};
} // namespace

GuiGuard::GuiGuard() {
    if (QCoreApplication::instance()) return;
    static int argc = 3;
    static char name[] = "ivrant", option[] = "-platform", platform[] = "offscreen";
    static char* argv[] = {name, option, platform, nullptr};
    m_own = std::make_unique<QGuiApplication>(argc, argv);
}

GuiGuard::~GuiGuard() = default;

QImage toQImage(const render::Image& image) {
    return QImage(image.rgba.data(), image.width, image.height, image.width * 4, QImage::Format_RGBA8888).copy();
}

base::Result<std::unique_ptr<Pictures>> Pictures::create(const verdict::Report& report) {
    auto renderer = render::Renderer::create();
    if (!renderer) return renderer.error();
    std::unique_ptr<Pictures> pictures(new Pictures(report));
    pictures->m_renderer = *renderer;
    return pictures;
}

QImage Pictures::cover(int width, int height) {
    render::PictureRequest request;
    request.width = width;
    request.height = height;
    request.background = kWhite;
    return toQImage(m_renderer->draw(render::makeScene(m_report.poses.front().placed, m_report.bonds, request)));
}

QImage Pictures::carrying(const files::CarryPlan& plan, int width, int height) {
    render::PictureRequest request;
    request.width = width;
    request.height = height;
    request.background = kWhite;
    request.tint = [&](model::PartSpot spot) -> std::optional<std::array<std::uint8_t, 3>> {
        const auto has = [&](const auto& list, const auto& what) {
            return std::find(list.begin(), list.end(), what) != list.end();
        };
        if (has(plan.weak, spot)) return kWeak;
        if (has(plan.lift, spot.section)) return kLift;
        if (has(plan.leave, spot.section)) return kLeave;
        return std::nullopt;
    };
    return toQImage(m_renderer->draw(render::makeScene(m_report.poses.front().placed, m_report.bonds, request)));
}

QImage Pictures::step(const make::Step& step, int width, int height) {
    render::PictureRequest request;
    request.width = width;
    request.height = height;
    request.background = kWhite;
    request.showStep(step);
    return toQImage(m_renderer->draw(render::makeScene(m_report.present.placed, m_report.bonds, request)));
}

const QImage& Pictures::part(const std::string& shape, int colour, int size) {
    QImage& image = m_parts[{shape, colour}];
    if (image.isNull())
        image = toQImage(render::drawPart(*m_renderer, parts::makeShape(shape).value(), colour, size, size));
    return image;
}

} // namespace ivrant::print
