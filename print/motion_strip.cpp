// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/motion_strip.h"

#include <QBuffer>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/model/mass.h"
#include "core/study/motion_words.h"
#include "print/pictures.h"

namespace ivrant::print {
namespace {

using geometry::Vec3;

constexpr int kStripColumns = 4;
constexpr double kStripHigh = 0.9, kStripShare = 0.94; ///< a picture's height by its width; what the model fills of it
const QColor kStripInk(0x20, 0x30, 0x3A), kStripPath(0xC9, 0x4F, 0x2B), kStripRule(0xC8, 0xC4, 0xB8);

study::MotionInputs inputsOf(const verdict::Report& report) {
    study::MotionInputs inputs;
    inputs.project = report.project.get();
    inputs.tree = &report.tree;
    inputs.placed = &report.present.placed;
    return inputs;
}

/// Along the axis of the driver; from where the moving side lies of what stands still.
render::Turn findTurn(const verdict::Report& report, const study::MotionStudy& study) {
    const pose::Kinematics kinematics(*report.project, report.tree);
    const auto& placed = report.present.placed;
    Vec3 axis = kinematics.jointFrame(placed.X_WS, study.plan.driver.joint).linear().col(2);
    std::vector<int> moving;
    for (std::size_t s = 0; s < report.project->sections.size(); ++s)
        if (static_cast<int>(s) != study.ground) moving.push_back(static_cast<int>(s));
    const Vec3 away = model::calcMass(placed, moving).centre - model::calcMass(placed, {study.ground}).centre;
    if (axis.dot(away) < 0) axis = -axis;
    if (std::abs(axis.z()) > 0.99) return {-1.5707963267948966, std::copysign(1.5, axis.z())};
    return {std::atan2(axis.y(), axis.x()), std::asin(std::clamp(axis.z(), -1.0, 1.0))};
}

/// Eight places spread over the way; of a whole turn the last is not the first again.
std::vector<std::size_t> choosePlaces(const study::MotionStudy& study) {
    const std::size_t count = study.places.size();
    const double last = static_cast<double>(count) - 1;
    const double spread = study.allRound ? kStripPlaces : kStripPlaces - 1;
    std::vector<std::size_t> chosen;
    for (int k = 0; k < kStripPlaces; ++k) {
        const auto place = static_cast<std::size_t>(std::lround(last * k / spread));
        if (chosen.empty() || chosen.back() != place) chosen.push_back(place);
    }
    return chosen;
}

} // namespace

QImage drawMotionStrip(render::Renderer& renderer, const verdict::Report& report, const study::MotionStudy& study,
                       int width) {
    if (study.places.empty()) return {};
    const auto inputs = inputsOf(report);
    const auto chosen = choosePlaces(study);
    std::vector<model::Placed> placed;
    geometry::Bounds all;
    for (const std::size_t k : chosen) {
        placed.push_back(study::placeMotion(inputs, study, study.places[k].values));
        const auto bounds = render::calcBounds(placed.back());
        all.include(bounds.low);
        all.include(bounds.high);
    }
    const int wide = width / kStripColumns, high = static_cast<int>(wide * kStripHigh);
    const int rows = (static_cast<int>(chosen.size()) + kStripColumns - 1) / kStripColumns;
    render::PictureRequest request;
    request.width = wide;
    request.height = high;
    request.background = {255, 255, 255, 255};
    request.turn = findTurn(report, study);
    render::Camera camera;
    camera.yaw = request.turn->yaw;
    camera.pitch = request.turn->pitch;
    camera.target = all.centre();
    camera.mmPerPixel = 1;
    geometry::Bounds seen;
    for (int c = 0; c < 8; ++c)
        seen.include(camera.project(Vec3(c & 1 ? all.high.x() : all.low.x(), c & 2 ? all.high.y() : all.low.y(),
                                         c & 4 ? all.high.z() : all.low.z()),
                                    0, 0));
    camera.mmPerPixel =
        std::max({seen.size().x() / (wide * kStripShare), seen.size().y() / (high * kStripShare), 1e-6});
    QImage strip(width, rows * high, QImage::Format_RGB32);
    strip.fill(Qt::white);
    QPainter painter(&strip);
    painter.setRenderHint(QPainter::Antialiasing);
    QFont font("Inter");
    font.setPixelSize(std::max(12, wide / 16));
    painter.setFont(font);
    for (std::size_t i = 0; i < chosen.size(); ++i) {
        const QPointF corner(static_cast<double>(static_cast<int>(i) % kStripColumns * wide),
                             static_cast<double>(static_cast<int>(i) / kStripColumns * high));
        auto scene = render::makeScene(placed[i], report.bonds, request);
        scene.camera = camera;
        painter.drawImage(corner, toQImage(renderer.draw(scene)));
        for (const study::MotionTrace& trace : study.traces) {
            QPolygonF path;
            for (const Vec3& p : trace.path) {
                const Vec3 on = camera.project(p, wide, high);
                path << corner + QPointF(on.x(), on.y());
            }
            painter.setPen(QPen(kStripPath, std::max(1.5, wide / 160.0)));
            painter.setBrush(Qt::NoBrush);
            painter.drawPolyline(path);
            painter.setBrush(kStripPath);
            painter.drawEllipse(path[static_cast<qsizetype>(chosen[i])], wide / 60.0, wide / 60.0);
        }
        painter.setPen(QPen(kStripRule, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(corner, QSizeF(wide - 1, high - 1)));
        painter.setPen(kStripInk);
        painter.drawText(
            QRectF(corner + QPointF(wide / 30.0, wide / 40.0), QSizeF(wide, high)), Qt::AlignLeft | Qt::AlignTop,
            QString::fromStdString(base::formatNumber(study::getShownAt(study, study.places[chosen[i]].at), 0) +
                                   study::getDriverUnit(*report.project, study)));
    }
    return strip;
}

base::Status writeMotionStrip(const verdict::Report& report, const study::MotionStudy& study, const std::string& path) {
    if (!path.ends_with(".png")) return base::Error{"output.kind", "a strip of a motion is written as .png", ""};
    if (study.places.empty()) return base::Error{"motion.none", "the motion has no places: " + study.problem, ""};
    const GuiGuard gui;
    auto renderer = render::Renderer::create();
    if (!renderer) return renderer.error();
    const QImage strip = drawMotionStrip(**renderer, report, study, 2400);
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    strip.save(&bytes, "PNG");
    return files::writeFileAtomically(path, bytes.data().toStdString());
}

} // namespace ivrant::print
