// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet3d/sheet3d.h"

#include <QApplication>
#include <QClipboard>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/shell/station.h"
#include "app/shell/theme.h"
#include "render/board_draw.h"
#include "render/line_draw.h"

namespace ivrant::app {
namespace {

using geometry::Vec3;

constexpr double kRadPerPixel = 0.008; ///< of a drag
constexpr int kRefineAfterMs = 250;
constexpr double kClickSlack = 4;
constexpr double kMostFrameToRefineMs = 25; ///< a smooth frame takes about four times as long
constexpr double kMostNewMeshMs = 25;       ///< so that a frame stays well under a tenth of a second

/// One renderer for all sheets of the program: they are drawn one after the other on the same thread.
std::shared_ptr<render::Renderer> sharedRenderer(QString& trouble) {
    static std::weak_ptr<render::Renderer> shared;
    auto renderer = shared.lock();
    if (renderer) return renderer;
    auto made = render::Renderer::create();
    if (!made) {
        trouble = QString::fromStdString(made.error().message);
        return nullptr;
    }
    shared = *made;
    return *made;
}

bool isSameState(const render::PartState& l, const render::PartState& r) {
    return l.r == r.r && l.g == r.g && l.b == r.b && l.a == r.a;
}
bool isSameSection(const render::SectionDraw& l, const render::SectionDraw& r) {
    return l.section == r.section && l.bonds == r.bonds && l.X_WS.matrix() == r.X_WS.matrix() &&
           std::equal(l.states.begin(), l.states.end(), r.states.begin(), r.states.end(), isSameState);
}
/// The same picture but for the smoothness of its edges.
bool looksAlike(const render::Scene& l, const render::Scene& r) {
    const render::Camera &a = l.camera, &b = r.camera;
    return a.target == b.target && a.yaw == b.yaw && a.pitch == b.pitch && a.mmPerPixel == b.mmPerPixel &&
           l.width == r.width && l.height == r.height && l.background == r.background && l.ink == r.ink &&
           std::equal(l.sections.begin(), l.sections.end(), r.sections.begin(), r.sections.end(), isSameSection);
}

} // namespace

Sheet3d::Sheet3d(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_renderer(sharedRenderer(m_trouble)) {
    setObjectName("sheet3d");
    setAccessibleName("3-D sheet");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(200, 160);
    m_camera.look(render::View::Corner);
    m_refine.setSingleShot(true);
    m_repaint.setSingleShot(true);
    m_repaint.setInterval(1);
    connect(&m_repaint, &QTimer::timeout, this, qOverload<>(&QWidget::update));
    m_refine.setInterval(kRefineAfterMs);
    connect(&m_refine, &QTimer::timeout, this, [this] {
        if (!isVisible() || m_drag != Drag::None || m_frameMs > kMostFrameToRefineMs) return;
        if (!m_session.isReportCurrent()) return m_refine.start(); // once, after the last verdicts of an edit
        drawFrame(true);
        update();
    });
    connect(&session, &Session::projectOpened, this,
            [this] { m_fitted = m_ownView = false; }); // another model: seen whole
    connect(&session, &Session::projectChanged, this, [this] {
        m_elsewhere.reset();
        if (!m_fitted || (!m_ownView && !isAllInView())) fit();
        refresh();
    });
    connect(&session, &Session::selectionChanged, this, &Sheet3d::refresh);
    connect(&session, &Session::reportChanged, this, &Sheet3d::refresh);
}

const model::Placed& Sheet3d::placed() const {
    // What was worked out of another model, or of this one before an edit, is not shown any more.
    const model::Placed& now = m_session.placed();
    return m_elsewhere && m_elsewhere->project == now.project && m_elsewhere->X_WS.size() == now.X_WS.size()
               ? *m_elsewhere
               : now;
}

void Sheet3d::showElsewhere(std::optional<model::Placed> placed) {
    m_elsewhere = std::move(placed);
    if (m_elsewhere) m_elsewhere->project = m_session.placed().project; // the same as what it was worked out of, a copy
    refresh();
}

void Sheet3d::look(render::View view) {
    m_camera.look(view);
    fit();
}

void Sheet3d::fit() {
    const auto bounds = render::calcBounds(placed());
    m_fitted = !bounds.empty();
    m_ownView = false;
    if (bounds.empty()) {
        m_camera.target = Vec3(16, 16, 0);
        m_camera.mmPerPixel = 0.2;
    } else {
        m_camera.fit(bounds, width(), height(), 0.88);
    }
    refresh();
}

void Sheet3d::fitAgain() {
    if (!m_ownView) fit();
}

bool Sheet3d::isAllInView() const {
    const auto bounds = render::calcBounds(placed());
    for (int c = 0; c < 8 && !bounds.empty(); ++c) {
        const Vec3 corner(c & 1 ? bounds.high.x() : bounds.low.x(), c & 2 ? bounds.high.y() : bounds.low.y(),
                          c & 4 ? bounds.high.z() : bounds.low.z());
        if (!QRectF(rect()).contains(toScreen(corner))) return false;
    }
    return true;
}

void Sheet3d::refresh() {
    m_stale = true;
    m_refine.start();
    if (!m_repaint.isActive())
        m_repaint.start(); // not in the same breath as the edit: what the person does comes in between
}

QPointF Sheet3d::toScreen(const Vec3& world) const {
    const Vec3 p = m_camera.project(world, width(), height());
    return {p.x(), p.y()};
}

std::pair<Vec3, Vec3> Sheet3d::rayAt(QPointF position) const {
    return m_camera.ray(position.x(), position.y(), width(), height());
}

std::optional<PickHit> Sheet3d::pick(QPointF position) const {
    const auto [origin, direction] = rayAt(position);
    const model::Placed& placed = this->placed();
    double best = 1e30;
    std::optional<PickHit> hit;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
        const auto& parts = placed.project->sections[s]->parts;
        for (std::size_t p = 0; p < parts.size(); ++p) {
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            if (hooks.state && hooks.state(spot, parts[p]).a < 255) continue; // ghosts and hidden parts are not picked
            const geometry::Frame X_PW = (placed.X_WS[s] * parts[p].place.frame()).inverse();
            const Vec3 o = X_PW * origin, d = X_PW.linear() * direction;
            const Vec3 centre = parts[p].shape->bounds.centre();
            const double radius = 0.5 * parts[p].shape->bounds.size().norm();
            if ((o - centre).cross(d).norm() > radius) continue;
            for (const auto& solid : parts[p].shape->solids)
                if (const double t = geometry::calcRayHit(solid.solid, o, d); t >= 0 && t < best) {
                    best = t;
                    hit = PickHit{spot, origin + direction * t};
                }
        }
    }
    return hit;
}

render::Scene Sheet3d::makeScene() const {
    const Theme& t = theme();
    render::Scene scene;
    scene.width = width();
    scene.height = height();
    scene.camera = m_camera;
    scene.mostNewMeshMs = kMostNewMeshMs;
    const auto byte = [](int v) { return static_cast<std::uint8_t>(v); };
    scene.background = {byte(t.ground.red()), byte(t.ground.green()), byte(t.ground.blue()), 255};
    if (t.dark) scene.ink = {10, 16, 20};
    const model::Placed& placed = this->placed();
    for (std::size_t s = 0; s < std::min(placed.X_WS.size(), m_session.project().sections.size()); ++s) {
        render::SectionDraw draw{m_session.project().sections[s], m_session.bonds()[s], placed.X_WS[s], {}};
        draw.states.reserve(draw.section->parts.size());
        for (std::size_t p = 0; p < draw.section->parts.size(); ++p)
            draw.states.push_back(hooks.state
                                      ? hooks.state({static_cast<int>(s), static_cast<int>(p)}, draw.section->parts[p])
                                      : render::makeState(draw.section->parts[p].colour));
        scene.sections.push_back(std::move(draw));
    }
    for (render::BoardDraw& board : render::makeBoardDraws(placed)) scene.sections.push_back(std::move(board.draw));
    for (render::SectionDraw& line : render::makeLineDraws(placed)) scene.sections.push_back(std::move(line));
    if (hooks.extra) hooks.extra(scene.sections);
    return scene;
}

void Sheet3d::drawFrame(bool refined) {
    m_stale = false;
    if (!m_renderer || width() < 1 || height() < 1) return;
    render::Scene scene = makeScene();
    scene.refined = refined;
    // The verdicts of an edit that tints nothing change nothing in the picture.
    if (m_drawn && m_renderer->isComplete() && (m_drawn->refined || !refined) && looksAlike(*m_drawn, scene)) return;
    QElapsedTimer timer;
    timer.start();
    const render::Image image = m_renderer->draw(scene);
    if (!m_renderer->isComplete())
        QTimer::singleShot(0, this, &Sheet3d::refresh); // a large model appears section by section
    m_frame = QImage(image.rgba.data(), image.width, image.height, image.width * 4, QImage::Format_RGBA8888).copy();
    m_frameMs = static_cast<double>(timer.nsecsElapsed()) / 1e6;
    m_drawn = std::move(scene);
}

void Sheet3d::paintEvent(QPaintEvent*) {
    if (m_stale) drawFrame(false);
    QPainter painter(this);
    painter.fillRect(rect(), theme().ground);
    if (!m_frame.isNull()) painter.drawImage(0, 0, m_frame);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_trouble.isEmpty())
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, "No 3-D picture: " + m_trouble);
    if (hooks.overlay) hooks.overlay(painter);
    if (m_drag == Drag::Box) {
        painter.setPen(QPen(theme().brine, 1, Qt::DashLine));
        painter.setBrush(QColor(theme().brine.red(), theme().brine.green(), theme().brine.blue(), 30));
        painter.drawRect(QRectF(m_pressed, m_last).normalized());
    }
}

void Sheet3d::resizeEvent(QResizeEvent*) {
    if (!m_ownView) fit();
    refresh();
}

void Sheet3d::mousePressEvent(QMouseEvent* event) {
    m_pressed = m_last = event->position();
    if (event->button() == Qt::RightButton) {
        m_drag = event->modifiers() & Qt::ShiftModifier ? Drag::Pan : Drag::Orbit;
        return;
    }
    if (event->button() == Qt::MiddleButton) {
        m_drag = Drag::Pan;
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    const auto hit = pick(event->position());
    m_pressedSpot = hit ? hit->spot : model::PartSpot{};
    m_drag = Drag::Undecided;
    if (hooks.dragBegins && hooks.dragBegins(m_pressedSpot, event->position())) m_drag = Drag::Station;
}

void Sheet3d::mouseMoveEvent(QMouseEvent* event) {
    const QPointF delta = event->position() - m_last;
    const bool moved = (event->position() - m_pressed).manhattanLength() > kClickSlack;
    switch (m_drag) {
    case Drag::None:
        if (hooks.hovered) hooks.hovered(event->position());
        break;
    case Drag::Undecided:
        if (moved) m_drag = Drag::Box;
        break;
    case Drag::Station:
        if (hooks.dragMoves) hooks.dragMoves(event->position());
        break;
    case Drag::Box: break;
    case Drag::Orbit: turn(-delta.x() * kRadPerPixel, delta.y() * kRadPerPixel); break;
    case Drag::Pan:
        m_ownView = true;
        m_camera.target -= m_camera.axes().transpose() * Vec3(delta.x(), -delta.y(), 0) * m_camera.mmPerPixel;
        refresh();
        break;
    }
    m_last = event->position();
    if (m_drag == Drag::Box) update();
}

void Sheet3d::mouseReleaseEvent(QMouseEvent* event) {
    const Drag was = m_drag;
    m_drag = Drag::None;
    if (was == Drag::Station && hooks.dragEnds) hooks.dragEnds();
    const bool moved = (event->position() - m_pressed).manhattanLength() > kClickSlack;
    if (was == Drag::Undecided || (was == Drag::Station && !moved)) {
        const auto hit = hooks.picked && m_pressedSpot.section >= 0 ? pick(m_pressed) : std::nullopt;
        if ((!hit || !hooks.picked(*hit)) && hooks.clicked) hooks.clicked(m_pressedSpot, event->modifiers());
    }
    if (was == Drag::Box) boxSelect(event->modifiers());
    m_refine.start();
    update();
}

void Sheet3d::boxSelect(Qt::KeyboardModifiers modifiers) {
    if (!hooks.boxed) return;
    const QRectF box = QRectF(m_pressed, m_last).normalized();
    std::vector<model::PartId> inside;
    const model::Placed& placed = this->placed();
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        for (const auto& part : placed.project->sections[s]->parts)
            if (box.contains(toScreen(placed.X_WS[s] * (part.place.frame() * part.shape->bounds.centre()))))
                inside.push_back(part.id);
    hooks.boxed(inside, modifiers);
}

void Sheet3d::wheelEvent(QWheelEvent* event) { zoom(std::pow(1.0015, -event->angleDelta().y()), event->position()); }

void Sheet3d::turn(double yaw, double pitch) {
    m_ownView = true;
    m_camera.yaw += yaw;
    m_camera.pitch = std::clamp(m_camera.pitch + pitch, -1.5707, 1.5708);
    refresh();
}

void Sheet3d::zoom(double factor, QPointF about) {
    const auto before = rayAt(about).first;
    m_camera.mmPerPixel = std::clamp(m_camera.mmPerPixel * factor, 0.005, 20.0);
    m_ownView = true;
    m_camera.target += before - rayAt(about).first;
    refresh();
}

void Sheet3d::addPictureCommands(QWidget* station) {
    addCommand(station, "Copy picture", QKeySequence("Ctrl+Shift+C"), [this] {
        drawFrame(true);
        QApplication::clipboard()->setPixmap(grab());
        m_session.say("Picture copied");
    });
    addCommand(station, "Save picture …", {}, [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Save picture", "figure.png", "PNG (*.png)");
        if (path.isEmpty()) return;
        const bool saved = savePicture(path);
        m_session.say(saved ? "Picture written: " + path : "The picture could not be written to " + path, !saved);
    });
}

bool Sheet3d::savePicture(const QString& path) {
    do drawFrame(true);
    while (m_renderer && !m_renderer->isComplete());
    return grab().save(path, "PNG");
}

} // namespace ivrant::app
