// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/lineup.h"

#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/model/mass.h"
#include "print/pictures.h"

namespace ivrant::print {
namespace {

using geometry::Vec3;

constexpr int kLineupWide = 2400, kLineupHigh = 1600; ///< pixels: 3 to 2, as a page across nearly is
constexpr double kTextHigh = 0.13, kHeadHigh = 0.09, kApartShare = 0.04;
const QColor kLineupInk(0x20, 0x30, 0x3A), kLineupQuiet(0x55, 0x63, 0x6B);

struct Stood {
    const verdict::Report* report = nullptr;
    geometry::Bounds box;
    double wideMm = 0, highMm = 0; ///< as seen
};

render::Camera makeFrontCamera(const geometry::Bounds& box) {
    render::Camera camera;
    camera.target = box.centre();
    camera.yaw = -std::numbers::pi / 2;
    camera.pitch = 0;
    camera.mmPerPixel = 1;
    return camera;
}

Stood stand(const verdict::Report& report) {
    Stood stood;
    stood.report = &report;
    stood.box = render::calcBounds(report.poses.front().placed);
    if (stood.box.empty()) stood.box = {Vec3::Zero(), Vec3::Ones()};
    const auto camera = makeFrontCamera(stood.box);
    geometry::Bounds seen;
    for (int c = 0; c < 8; ++c)
        seen.include(camera.project(Vec3(c & 1 ? stood.box.high.x() : stood.box.low.x(),
                                         c & 2 ? stood.box.high.y() : stood.box.low.y(),
                                         c & 4 ? stood.box.high.z() : stood.box.low.z()),
                                    0, 0));
    stood.wideMm = seen.size().x();
    stood.highMm = seen.size().y();
    return stood;
}

/// 1, 2 or 5 times a power of ten, at most that long.
double findRound(double mm) {
    const double power = std::pow(10, std::floor(std::log10(mm)));
    for (const double step : {5.0, 2.0})
        if (step * power <= mm) return step * power;
    return power;
}

void drawText(QPainter& painter, const QRectF& box, const Stood& stood) {
    const model::Project& project = *stood.report->project;
    QFont font("Inter");
    font.setPixelSize(std::max(14, static_cast<int>(box.height() * 0.2)));
    font.setBold(true);
    painter.setFont(font);
    painter.setPen(kLineupInk);
    QRectF used;
    painter.drawText(box, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, QString::fromStdString(project.name),
                     &used);
    font.setBold(false);
    font.setPixelSize(std::max(12, static_cast<int>(box.height() * 0.16)));
    painter.setFont(font);
    painter.setPen(kLineupQuiet);
    const double mass = model::calcMass(stood.report->poses.front().placed).massG;
    painter.drawText(QRectF(box.left(), used.bottom() + 4, box.width(), box.height()),
                     Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap,
                     QString::fromStdString(base::formatNumber(stood.box.size().z(), 0) + " mm high\n" +
                                            std::to_string(project.partCount()) + " parts, " +
                                            base::formatNumber(mass, 0) + " g"));
}

base::Result<QImage> drawLineup(const std::vector<verdict::Report>& reports) {
    std::vector<Stood> row;
    double wide = 0, high = 0;
    for (const verdict::Report& report : reports) {
        row.push_back(stand(report));
        wide += row.back().wideMm;
        high = std::max(high, row.back().highMm);
    }
    const double apart = kApartShare * kLineupWide;
    const double room = kLineupWide - apart * static_cast<double>(row.size() + 1);
    const double roomHigh = kLineupHigh * (1 - kTextHigh - kHeadHigh);
    const double scale = std::min(room / wide, roomHigh / high); // pixels a mm
    if (!(room > 0) || !(scale > 0)) return base::Error{"lineup.none", "these are too many models for one page", ""};
    QImage page(kLineupWide, kLineupHigh, QImage::Format_RGB32);
    page.fill(Qt::white);
    QPainter painter(&page);
    painter.setRenderHint(QPainter::Antialiasing);
    auto renderer = render::Renderer::create();
    if (!renderer) return renderer.error();
    const double ground = kLineupHigh * (1 - kTextHigh);
    double x = apart + (room - wide * scale) / 2;
    for (const Stood& stood : row) {
        render::PictureRequest request;
        request.width = static_cast<int>(std::ceil(stood.wideMm * scale)) + 8;
        request.height = static_cast<int>(std::ceil(stood.highMm * scale)) + 8;
        request.background = {255, 255, 255, 255};
        auto scene = render::makeScene(stood.report->poses.front().placed, stood.report->bonds, request);
        scene.camera = makeFrontCamera(stood.box);
        scene.camera.mmPerPixel = 1 / scale;
        painter.drawImage(QPointF(x - 4, ground - request.height + 4), toQImage((*renderer)->draw(scene)));
        drawText(painter,
                 QRectF(x - apart / 2, ground + 12, stood.wideMm * scale + apart, kLineupHigh * kTextHigh - 16), stood);
        x += stood.wideMm * scale + apart;
    }
    painter.setPen(QPen(kLineupInk, 2));
    painter.drawLine(QPointF(apart / 2, ground), QPointF(kLineupWide - apart / 2, ground));
    const double bar = findRound(0.2 * kLineupWide / scale);
    const QPointF corner(apart, kLineupHigh * kHeadHigh * 0.6);
    painter.drawLine(corner, corner + QPointF(bar * scale, 0));
    for (const double end : {0.0, bar * scale}) painter.drawLine(corner + QPointF(end, -8), corner + QPointF(end, 8));
    QFont font("Inter");
    font.setPixelSize(30);
    painter.setFont(font);
    painter.drawText(corner + QPointF(0, -16), QString::fromStdString(base::formatNumber(bar, 0) + " mm"));
    return page;
}

} // namespace

base::Status writeLineup(const std::vector<verdict::Report>& reports, const std::string& path) {
    const bool pdf = path.ends_with(".pdf");
    if (!pdf && !path.ends_with(".png"))
        return base::Error{"output.kind", "models beside each other are written as .pdf or .png", ""};
    if (reports.empty()) return base::Error{"lineup.none", "there is no model to stand there", ""};
    const GuiGuard gui;
    const auto page = drawLineup(reports);
    if (!page) return page.error();
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    if (!pdf) {
        page->save(&bytes, "PNG");
    } else {
        QPdfWriter writer(&bytes);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageOrientation(QPageLayout::Landscape);
        writer.setPageMargins(QMarginsF(12, 12, 12, 12), QPageLayout::Millimeter);
        writer.setResolution(300);
        writer.setTitle("Models to one scale");
        QPainter painter(&writer);
        const double fit = std::min(static_cast<double>(writer.width()) / page->width(),
                                    static_cast<double>(writer.height()) / page->height());
        painter.drawImage(QRectF(0, 0, page->width() * fit, page->height() * fit), *page);
    }
    return files::writeFileAtomically(path, bytes.data().toStdString());
}

} // namespace ivrant::print
