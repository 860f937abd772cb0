// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/pictures.h"

#include <QGuiApplication>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "core/parts/body_box.h"
#include "core/parts/family.h"
#include "core/pose/lines.h"
#include "core/stand/tipping.h"
#include "core/study/strands.h"
#include "print/motion_strip.h"

namespace ivrant::print {
namespace {
constexpr std::array<std::uint8_t, 4> kWhite{255, 255, 255, 255};
constexpr std::array<std::uint8_t, 3> kLift{132, 186, 112}, kLeave{226, 112, 84}, kWeak{244, 204, 92};
} // namespace

void paintArrow(QPainter& painter, const QPointF& from, const QPointF& to, double width) {
    const QPointF along = to - from;
    const double length = std::hypot(along.x(), along.y());
    if (length < 4 * width) return; // seen from its end
    const QPointF unit = along / length, across(-unit.y(), unit.x());
    const double head = std::min(4.5 * width, 0.5 * length);
    const QPointF neck = to - head * unit;
    const QPolygonF outline{from + 0.5 * width * across, neck + 0.5 * width * across, neck + 1.6 * width * across, to,
                            neck - 1.6 * width * across, neck - 0.5 * width * across, from - 0.5 * width * across};
    painter.setPen(QPen(Qt::white, 0.5 * width));
    painter.setBrush(QColor(0x20, 0x30, 0x3A));
    painter.drawPolygon(outline);
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(outline);
}

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

namespace {

constexpr double kHandMm = 180, kThumbMm = 62; ///< usual lengths
constexpr double kHandFrom = 140;              ///< models lower than that are compared with a thumb

/// A hand with its fingers up, or a thumb, as an outline of that height; its lower left corner at the origin.
QPainterPath makeHand(bool thumb) {
    QPainterPath path;
    if (thumb) {
        path.addRoundedRect(QRectF(0, -kThumbMm, 21, kThumbMm), 10, 10);
        QPainterPath nail;
        nail.addRoundedRect(QRectF(4, -kThumbMm + 3, 13, 15), 5, 5);
        path.addPath(nail);
        return path;
    }
    QPainterPath palm;
    palm.addRoundedRect(QRectF(18, -100, 84, 100), 22, 22);
    const double tops[4] = {-168, -180, -172, -148}; // fore, middle, ring, little finger
    for (int k = 0; k < 4; ++k) {
        QPainterPath finger;
        finger.addRoundedRect(QRectF(18 + 21 * k, tops[k], 19, -tops[k] - 60), 9, 9);
        palm = palm.united(finger);
    }
    QPainterPath thumbOf;
    thumbOf.addRoundedRect(QRectF(0, -62, 20, 62), 10, 10);
    QTransform lean;
    lean.translate(24, -34);
    lean.rotate(-28);
    return palm.united(lean.map(thumbOf.translated(-10, -20)));
}

} // namespace

QImage Pictures::cover(int width, int height) {
    render::PictureRequest request;
    request.width = width;
    request.height = height;
    request.background = kWhite;
    const auto scene = render::makeScene(m_report.poses.front().placed, m_report.bonds, request);
    QImage image = toQImage(m_renderer->draw(scene));
    if (m_report.project->partCount() == 0) return image;
    // Beside it, to the same scale, what everybody knows the size of.
    const bool thumb = stand::calcTopMm(m_report.poses.front().placed) < kHandFrom;
    const double scale = 1 / scene.camera.mmPerPixel;
    const QPainterPath hand = makeHand(thumb);
    if (hand.boundingRect().height() * scale > 0.7 * height) return image;
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(0.02 * width, 0.97 * height);
    painter.scale(scale, scale);
    painter.setPen(QPen(QColor(0x55, 0x63, 0x6B), 0.004 * width / scale));
    painter.setBrush(QColor(0xF2, 0xED, 0xE0));
    painter.drawPath(hand);
    const QPointF corner = painter.transform().map(hand.boundingRect().bottomRight());
    painter.resetTransform();
    QFont font("Inter");
    font.setPixelSize(std::max(12, height / 44));
    painter.setFont(font);
    painter.drawText(corner + QPointF(8, -4), thumb ? "a thumb" : "a hand");
    return image;
}

QImage Pictures::motion(int study, int width) {
    return drawMotionStrip(*m_renderer, m_report, *at(m_report.motions, study), width);
}

QImage Pictures::threading(int study, int width, int height) {
    render::PictureRequest request;
    request.width = width;
    request.height = height;
    request.background = kWhite;
    const std::array<std::uint8_t, 3> pale{255, 255, 255};
    request.tint = [&](model::PartSpot) -> std::optional<std::array<std::uint8_t, 3>> { return pale; };
    const auto& placed = m_report.poses.front().placed;
    const auto scene = render::makeScene(placed, m_report.bonds, request);
    QImage image = toQImage(m_renderer->draw(scene));
    const pose::Lines lines(*m_report.project, m_report.tree);
    const auto index = static_cast<std::size_t>(at(m_report.lines, study)->index);
    const pose::LineState state = lines.place(index, placed.X_WS);
    const auto onPaper = [&](const geometry::Vec3& p) {
        const geometry::Vec3 on = scene.camera.project(p, width, height);
        return QPointF(on.x(), on.y());
    };
    QPolygonF way;
    for (const auto& p : lines.listPoints(index, state, placed.X_WS)) way << onPaper(p);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QFont font("Inter");
    font.setPixelSize(std::max(12, height / 30));
    painter.setFont(font);
    painter.setPen(QPen(QColor(0x1F, 0x7A, 0x80), std::max(2.0, width / 400.0)));
    painter.drawPolyline(way);
    const auto mark = [&](int guide, const geometry::Vec3& p) {
        painter.setBrush(QColor(0x1F, 0x7A, 0x80));
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(onPaper(p), width / 250.0, width / 250.0);
        painter.setPen(QColor(0x20, 0x30, 0x3A));
        painter.drawText(onPaper(p) + QPointF(width / 120.0, -height / 120.0), QString::number(guide + 1));
    };
    for (std::size_t k = 0; k < state.path.pieces.size(); ++k) {
        if (k == 0) mark(state.path.pieces[k].from, state.path.pieces[k].a);
        mark(state.path.pieces[k].to, state.path.pieces[k].b);
    }
    return image;
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

QImage Pictures::step(const files::SheetStep& step, const StepView& view, int width, int height) {
    render::PictureRequest request = makeStepRequest(m_report, step);
    request.width = width;
    request.height = height;
    request.background = kWhite;
    request.turn = view.turn;
    request.moved = view.away;
    const auto scene = render::makeScene(findStepPlaced(m_report, step), m_report.bonds, request);
    QImage image = toQImage(m_renderer->draw(scene));
    if (!step.groups.empty()) drawInset(image, step, view.turn);
    drawArrows(image, scene.camera, step, view);
    return image;
}

std::vector<StepView> Pictures::chooseViews(const std::vector<files::SheetStep>& steps, base::Progress* progress) {
    return chooseStepViews(*m_renderer, m_report, steps, progress);
}

/// What goes in as one, by itself, framed in the upper right corner.
void Pictures::drawInset(QImage& image, const files::SheetStep& step, const render::Turn& view) {
    constexpr double kShare = 0.34;
    render::PictureRequest request = makeStepRequest(m_report, step);
    request.width = static_cast<int>(kShare * image.width());
    request.height = static_cast<int>(kShare * image.height());
    request.background = kWhite;
    request.turn = view;
    for (const int p : step.groups.front().parts)
        request.onlyParts.push_back(m_report.project->sections[static_cast<std::size_t>(step.step.section)]
                                        ->parts[static_cast<std::size_t>(p)]
                                        .id);
    const QImage inset =
        toQImage(m_renderer->draw(render::makeScene(m_report.present.placed, m_report.bonds, request)));
    QPainter painter(&image);
    const QPoint corner(image.width() - inset.width() - 4, 4);
    painter.drawImage(corner, inset);
    painter.setPen(QPen(QColor(0x1F, 0x7A, 0x80), 3));
    painter.drawRect(QRect(corner, inset.size()));
}

/// One arrow for each way that is not from above, into the middle of what goes in that way.
void Pictures::drawArrows(QImage& image, const render::Camera& camera, const files::SheetStep& step,
                          const StepView& view) const {
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto draw = [&](const geometry::Vec3& from, const geometry::Vec3& to) {
        const auto at = [&](const geometry::Vec3& p) {
            const auto v = camera.project(p, image.width(), image.height());
            return QPointF(v.x(), v.y());
        };
        paintArrow(painter, at(from), at(to), image.height() / 90.0);
    };
    if (step.joins) {
        const auto& placed = findStepPlaced(m_report, step);
        const auto& joint = m_report.project->joints[static_cast<std::size_t>(step.step.joint)];
        const auto spot = m_report.tree.to[static_cast<std::size_t>(step.step.joint)];
        const auto& shape = *model::getPart(*m_report.project, spot).shape;
        const geometry::Vec3 port =
            placed.X_WP(spot) * shape.ports[static_cast<std::size_t>(shape.findPort(joint.to.port))].origin;
        draw(port + 0.85 * calcJoinShift(m_report, step), port);
        return;
    }
    if (step.step.section < 0) return;
    const auto& parts = m_report.project->sections[static_cast<std::size_t>(step.step.section)]->parts;
    std::map<std::string, geometry::Bounds> boxes;
    std::map<std::string, make::Way> ways;
    for (std::size_t i = 0; i < step.ways.size() && i < step.step.added.size(); ++i) {
        const make::Way& way = step.ways[i];
        const auto& part = parts[static_cast<std::size_t>(step.step.added[i])];
        const model::PartSpot spot{step.step.section, step.step.added[i]};
        if (const auto away = view.away.find(spot); away != view.away.end()) { // from where it is drawn to its place
            const geometry::Vec3 place =
                parts::calcBodyBox(*part.shape,
                                   step.step.after >= 0 ? m_report.present.placed.X_WP(spot) : part.place.frame())
                    .centre();
            draw(place + 0.82 * away->second, place);
            continue;
        }
        if (way.off.z() > make::kSameWay && way.lift == geometry::Vec3::Zero()) continue;
        const std::string key = make::describeWayIn(way);
        boxes[key].include(parts::calcBodyBox(*part.shape, step.step.after >= 0 ? m_report.present.placed.X_WP(spot)
                                                                                : part.place.frame()));
        ways[key] = way;
    }
    for (const auto& [key, box] : boxes) {
        const make::Way& way = ways[key];
        const double half = 0.5 * box.size().dot(way.off.cwiseAbs()), length = 26;
        const geometry::Vec3 tip = box.centre() + way.off * (half + 2);
        draw(tip + length * way.off, tip);
    }
}

const QImage& Pictures::part(const std::string& shape, int colour, int size) {
    QImage& image = m_parts[{shape, colour}];
    if (image.isNull())
        image = toQImage(render::drawPart(*m_renderer, parts::makeShape(shape).value(), colour, size, size));
    return image;
}

} // namespace ivrant::print
