// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/board_scene.h"

#include <QCache>
#include <QPaintEngine>
#include <QPainterPath>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/strand_turn.h"
#include "print/board_spots.h"

namespace ivrant::print {
namespace {

using base::kPitchMm;
using base::umToMm;
using model::BoardAxis;
using model::GearKind;

class Painting {
public:
    Painting(QPainter& painter, const QRectF& area, const DriveState& state, const BoardView& view,
             const BoardLook& look)
        : m_painter(painter), m_area(area), m_state(state), m_net(state.report.net),
          m_board(boardOf(state, look.board)), m_view(view), m_look(look) {}

    void run() {
        m_painter.fillRect(m_area, m_look.colours.sheet);
        m_painter.setRenderHint(QPainter::Antialiasing);
        paintHoles();
        for (const drive::SeenBody& body : ivrant::at(m_state.bodies, m_look.board)) paintBody(body);
        for (const model::Loop& loop : m_board.loops) paintLoop(loop);
        for (const model::Shaft& shaft : m_board.shafts)
            if (shaft.axis != BoardAxis::Out && !isWheel(shaft.id.text)) paintRod(shaft);
        m_spots = listSpots(m_board);
        for (const Spot& spot : m_spots) paintSpot(spot);
        for (const model::Shaft& shaft : m_board.shafts)
            if (shaft.axis == BoardAxis::Out && !isWheel(shaft.id.text)) paintEnd(shaft);
        paintTags();
        paintFaults();
        if (m_look.cursor) paintCursor();
    }

private:
    [[nodiscard]] QPointF px(QPointF mm) const { return m_view.toPixel(mm.x(), mm.y()); }
    [[nodiscard]] double len(double mm) const { return mm * m_view.scale; }
    [[nodiscard]] bool isChosen(const std::string& id) const { return m_look.chosen.count(id) > 0; }
    [[nodiscard]] bool isMarked(const std::string& id) const { return m_look.marked.count(id) > 0; }
    [[nodiscard]] bool isGhost(const Spot& spot) const {
        return m_look.layerUm && std::abs(spot.height - umToMm(*m_look.layerUm)) >
                                     (spot.axis == BoardAxis::Out ? spot.size.halfWidthMm : spot.size.tipRadiusMm);
    }
    /// The middle of a wheel that no axle of this plane goes through.
    [[nodiscard]] bool isWheel(const std::string& id) const {
        return std::any_of(m_board.gears.begin(), m_board.gears.end(),
                           [&](const model::Gear& gear) { return gear.id.text == id; });
    }
    [[nodiscard]] bool isFaulty(const std::string& gear) const {
        for (const auto& fault : m_net.faults)
            if (ivrant::at(m_net.rings, fault.gearA).id == gear || ivrant::at(m_net.rings, fault.gearB).id == gear)
                return true;
        for (const auto& clash : m_net.clashes)
            if (clash.idA == gear || clash.idB == gear) return true;
        return false;
    }
    [[nodiscard]] int thingOf(const Spot& spot) const {
        const int gear = m_net.findRing(spot.gear->id.text);
        return gear < 0 ? -1 : ivrant::at(m_net.rings, gear).rotor;
    }
    /// About the way of the board's own axis: parts may lie the other way round.
    [[nodiscard]] double rpmOf(int thing) const {
        if (thing < 0 || static_cast<std::size_t>(thing) >= m_look.speedsRpm.size()) return 0;
        const drive::Rotor& rotor = ivrant::at(m_net.rotors, thing);
        const geometry::Vec3 seen = ivrant::at(m_state.X_WB, m_look.board).linear().transpose() * rotor.axis;
        const bool against = rotor.board < 0 && seen.sum() < 0; // along one of the board's axes
        return (against ? -1 : 1) * ivrant::at(m_look.speedsRpm, thing);
    }
    [[nodiscard]] double turnedDeg(int thing) const { return rpmOf(thing) * 6 * m_look.seconds; }

    void paintHoles() {
        const QPointF low = m_view.toBoard(m_area.bottomLeft()), high = m_view.toBoard(m_area.topRight());
        const int x0 = static_cast<int>(std::floor(low.x() / kPitchMm)),
                  x1 = static_cast<int>(std::ceil(high.x() / kPitchMm));
        const int y0 = static_cast<int>(std::floor(low.y() / kPitchMm)),
                  y1 = static_cast<int>(std::ceil(high.y() / kPitchMm));
        if (static_cast<long>(x1 - x0) * (y1 - y0) > 20'000) return; // too far away to tell holes apart
        m_painter.setPen(QPen(m_look.colours.rule, 1));
        m_painter.setBrush(Qt::NoBrush);
        const double radius = std::max(1.2, len(2.4) * 0.5);
        for (int x = x0; x <= x1; ++x)
            for (int y = y0; y <= y1; ++y) m_painter.drawEllipse(px({x * kPitchMm, y * kPitchMm}), radius, radius);
        m_painter.setPen(m_look.colours.quiet);
        for (int x = x0; x <= x1; ++x)
            if (x % 5 == 0 && x > x0 + 1 && x < x1 - 1)
                m_painter.drawText(QRectF(px({x * kPitchMm, 0}).x() - 15, m_area.bottom() - 15, 30, 14),
                                   Qt::AlignCenter, QString::number(x));
        for (int y = y0; y <= y1; ++y)
            if (y % 5 == 0 && y > y0 + 1 && y < y1 - 1)
                m_painter.drawText(QRectF(m_area.left() + 3, px({0, y * kPitchMm}).y() - 7, 24, 14),
                                   Qt::AlignLeft | Qt::AlignVCenter,
                                   QString::number(m_look.layerSign == 0 ? y : m_look.layerSign * y));
    }

    /// Walls as a light ground under what they carry, motors as boxes.
    void paintBody(const drive::SeenBody& body) {
        const QRectF box(px({body.box.low.x(), body.box.high.y()}), px({body.box.high.x(), body.box.low.y()}));
        QColor fill = body.motor ? m_look.colours.quiet : m_look.colours.rule;
        fill.setAlpha(body.motor ? 90 : 70);
        m_painter.setBrush(fill);
        m_painter.setPen(QPen(isMarked(body.id) ? m_look.colours.ember
                              : body.motor      ? m_look.colours.ink
                                                : m_look.colours.rule,
                              body.motor ? 1.4 : 1));
        m_painter.drawRoundedRect(box, body.motor ? 4 : 0, body.motor ? 4 : 0);
    }

    void setColours(const Spot& spot, int thing) {
        const bool bad = isFaulty(spot.gear->id.text) || isMarked(spot.gear->id.text);
        const bool locked = thing >= 0 && m_state.report.motion.isLocked(thing);
        QColor line = bad      ? m_look.colours.ember
                      : locked ? m_look.colours.quiet
                               : m_look.colours.brine,
               fill = bad      ? m_look.colours.ember
                      : locked ? m_look.colours.quiet
                               : m_look.colours.brine;
        const bool still = std::abs(rpmOf(thing)) < 1e-9;
        if (!bad && still) line = fill = m_look.colours.quiet;
        fill.setAlpha(isGhost(spot) ? 0 : bad ? 60 : 44);
        if (isGhost(spot)) line.setAlpha(110);
        QPen pen(line, isChosen(spot.gear->id.text) || (spot.shaft && isChosen(spot.shaft->id.text)) ? 2.6 : 1.4);
        if (spot.gear->loose) pen.setStyle(Qt::DashLine);
        m_painter.setPen(pen);
        m_painter.setBrush(fill);
    }

    void paintSpot(const Spot& spot) {
        const int thing = thingOf(spot);
        setColours(spot, thing);
        const double turned = turnedDeg(thing);
        if (spot.axis != BoardAxis::Out || spot.gear->kind == GearKind::Rack) {
            paintSide(spot, turned);
            return;
        }
        if (turned == 0 && m_painter.paintEngine()->type() == QPaintEngine::Raster)
            paintKept(spot);
        else
            paintFace(spot, turned);
    }

    /// Toothed outlines take long to stroke: at rest every kind of wheel is painted once and kept as a picture, set on
    /// whole pixels.
    void paintKept(const Spot& spot) {
        constexpr int kMostBytes = 64 << 20;
        static thread_local QCache<QString, QImage> kept(kMostBytes);
        const QPen pen = m_painter.pen();
        const QBrush brush = m_painter.brush();
        const double dots = m_painter.device()->devicePixelRatioF();
        const QString key = QString("%1 %2 %3 %4 %5 %6 %7 %8")
                                .arg(static_cast<int>(spot.gear->kind))
                                .arg(spot.gear->teeth)
                                .arg(m_view.scale)
                                .arg(dots)
                                .arg(pen.color().rgba())
                                .arg(pen.widthF())
                                .arg(static_cast<int>(pen.style()))
                                .arg(brush.color().rgba());
        const QPoint half(static_cast<int>(std::ceil(len(spot.size.tipRadiusMm + 1))) + 4,
                          static_cast<int>(std::ceil(len(spot.size.tipRadiusMm + 1))) + 4);
        const QPoint centre = px(spot.at).toPoint();
        QImage* image = kept.object(key);
        if (!image) {
            image = new QImage(QSize(2 * half.x(), 2 * half.y()) * dots, QImage::Format_ARGB32_Premultiplied);
            image->setDevicePixelRatio(dots);
            image->fill(Qt::transparent);
            QPainter painter(image);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.translate(QPointF(half) - px(spot.at));
            painter.setPen(pen);
            painter.setBrush(brush);
            Painting(painter, m_area, m_state, m_view, m_look).paintFace(spot, 0);
            painter.end();
            const auto bytes = static_cast<int>(image->sizeInBytes());
            if (bytes > kMostBytes / 4) { // looked at from very near: not worth keeping
                m_painter.drawImage(centre - half, *image);
                delete image;
                return;
            }
            kept.insert(key, image, bytes);
        }
        m_painter.drawImage(centre - half, *image);
    }

    void paintFace(const Spot& spot, double turned) {
        switch (spot.gear->kind) {
        case GearKind::Pulley:
        case GearKind::Worm:
            m_painter.drawEllipse(px(spot.at), len(spot.size.tipRadiusMm), len(spot.size.tipRadiusMm));
            break;
        case GearKind::Ring:
            m_painter.drawEllipse(px(spot.at), len(spot.size.tipRadiusMm), len(spot.size.tipRadiusMm));
            m_painter.drawPath(toothed(spot, turned, -1));
            break;
        default: m_painter.drawPath(toothed(spot, turned, 1));
        }
        if (spot.size.holeRadiusMm > 0 && spot.gear->kind == GearKind::Turntable)
            m_painter.drawEllipse(px(spot.at), len(spot.size.holeRadiusMm), len(spot.size.holeRadiusMm));
        // A mark that shows the turning.
        const double angle = base::degToRad(turned);
        const double inner = spot.size.pitchRadiusMm * 0.35, outer = spot.size.pitchRadiusMm * 0.8;
        m_painter.drawLine(px(spot.at + QPointF(inner * std::cos(angle), inner * std::sin(angle))),
                           px(spot.at + QPointF(outer * std::cos(angle), outer * std::sin(angle))));
    }
    /// Teeth as a zigzag between root and tip; plain circles where they would be too small.
    [[nodiscard]] QPainterPath toothed(const Spot& spot, double turnedDegrees, int outwards) const {
        const double pitch = spot.size.pitchRadiusMm, tip = pitch + outwards * 1.0, root = pitch - outwards * 1.15;
        QPainterPath path;
        if (len(2) < 3) {
            path.addEllipse(px(spot.at), len(pitch), len(pitch));
            return path;
        }
        const int teeth = spot.gear->teeth;
        const double step = 2 * base::kPi / teeth, start = base::degToRad(turnedDegrees);
        QPolygonF polygon;
        const auto add = [&](double radius, double angle) {
            polygon << px(spot.at + QPointF(radius * std::cos(angle), radius * std::sin(angle)));
        };
        for (int i = 0; i < teeth; ++i) {
            const double a = start + i * step;
            add(root, a - 0.30 * step);
            add(tip, a - 0.13 * step);
            add(tip, a + 0.13 * step);
            add(root, a + 0.30 * step);
        }
        path.addPolygon(polygon);
        path.closeSubpath();
        return path;
    }
    /// Wheels seen from the side, worms, racks.
    void paintSide(const Spot& spot, double turned) {
        const QRectF mm = findBox(spot);
        const QRectF box(m_view.toPixel(mm.left(), mm.bottom()), m_view.toPixel(mm.right(), mm.top()));
        const bool along = spot.axis == BoardAxis::Right;
        if (spot.gear->kind == GearKind::Rack) {
            m_painter.drawRect(box);
            const double step = len(base::kPi), shift = std::fmod(len(turned / 360 * base::kPi), step);
            for (double at = shift; at < (along ? box.width() : box.height()); at += step) {
                if (along)
                    m_painter.drawLine(QPointF(box.left() + at, box.top()),
                                       QPointF(box.left() + at, box.top() + box.height() * 0.4));
                else
                    m_painter.drawLine(QPointF(box.right(), box.bottom() - at),
                                       QPointF(box.right() - box.width() * 0.4, box.bottom() - at));
            }
            return;
        }
        m_painter.drawRoundedRect(box, 2, 2);
        m_painter.save();
        m_painter.setClipRect(box);
        QPen thin = m_painter.pen();
        thin.setWidthF(1);
        m_painter.setPen(thin);
        const bool worm = spot.gear->kind == GearKind::Worm;
        // Teeth pass by as lines along the axis; a worm's thread as slanted ones across.
        const double radius = len(spot.size.tipRadiusMm), centre = along ? box.center().y() : box.center().x();
        if (worm) {
            const double step = len(base::kPi), shift = std::fmod(len(turned / 360 * base::kPi), step),
                         slant = (spot.gear->leftHand ? -1 : 1) * step;
            for (double at = -2 * step + shift; at < (along ? box.width() : box.height()) + 2 * step; at += step) {
                if (along)
                    m_painter.drawLine(QPointF(box.left() + at, box.bottom()),
                                       QPointF(box.left() + at + slant, box.top()));
                else
                    m_painter.drawLine(QPointF(box.left(), box.top() + at),
                                       QPointF(box.right(), box.top() + at + slant));
            }
        } else {
            const int teeth = spot.gear->teeth;
            for (int i = 0; i < teeth && len(3) > 4; ++i) {
                const double angle = base::degToRad(turned) + 2 * base::kPi * i / teeth;
                if (std::sin(angle) < 0) continue;
                const double at = centre - radius * std::cos(angle);
                if (along)
                    m_painter.drawLine(QPointF(box.left(), at), QPointF(box.right(), at));
                else
                    m_painter.drawLine(QPointF(at, box.top()), QPointF(at, box.bottom()));
            }
        }
        m_painter.restore();
    }

    void paintRod(const model::Shaft& shaft) {
        QPointF from(umToMm(shaft.atUm[0]), umToMm(shaft.atUm[1])), to = from;
        (shaft.axis == BoardAxis::Right ? to.rx() : to.ry()) += umToMm(shaft.lengthUm);
        const bool bad = isFaulty(shaft.id.text) || isMarked(shaft.id.text);
        QPen pen(bad                       ? m_look.colours.ember
                 : isChosen(shaft.id.text) ? m_look.colours.brine
                                           : m_look.colours.ink,
                 std::max(2.0, len(2.4)));
        pen.setCapStyle(Qt::FlatCap);
        m_painter.setPen(pen);
        m_painter.drawLine(px(from), px(to));
        m_painter.setPen(QPen(m_look.colours.ink, 1));
        m_painter.setBrush(m_look.colours.panel);
        for (const std::int64_t bearing : shaft.bearingsUm) {
            QPointF at = from;
            (shaft.axis == BoardAxis::Right ? at.rx() : at.ry()) += umToMm(bearing);
            const double half = len(2);
            m_painter.drawRect(QRectF(px(at) - QPointF(half, half * 1.6), px(at) + QPointF(half, half * 1.6)));
        }
    }
    void paintEnd(const model::Shaft& shaft) {
        const QPointF at = px({umToMm(shaft.atUm[0]), umToMm(shaft.atUm[1])});
        const bool bad = isFaulty(shaft.id.text) || isMarked(shaft.id.text);
        const double radius = std::max(2.5, len(2.4));
        m_painter.setPen(QPen(bad ? m_look.colours.ember : m_look.colours.ink, isChosen(shaft.id.text) ? 2.4 : 1));
        m_painter.setBrush(bad ? m_look.colours.ember : m_look.colours.ink);
        // An axle's cross, so that shafts are not taken for holes.
        const double arm = radius * 0.42;
        QPainterPath cross;
        cross.setFillRule(Qt::WindingFill);
        cross.addRect(QRectF(at.x() - radius, at.y() - arm, 2 * radius, 2 * arm));
        cross.addRect(QRectF(at.x() - arm, at.y() - radius, 2 * arm, 2 * radius));
        m_painter.drawPath(cross);
        if (isChosen(shaft.id.text)) {
            m_painter.setBrush(Qt::NoBrush);
            m_painter.setPen(QPen(m_look.colours.brine, 2));
            m_painter.drawEllipse(at, radius + 4, radius + 4);
        }
    }
    void paintLoop(const model::Loop& loop) {
        std::vector<Spot> wheels;
        for (const Spot& spot : listSpots(m_board))
            for (const model::GearId& id : loop.gears)
                if (spot.gear->id == id && spot.axis == BoardAxis::Out) wheels.push_back(spot);
        if (wheels.size() < 2) return;
        QPen pen(isMarked(loop.id.text) ? m_look.colours.ember : m_look.colours.ink, loop.belt ? 2 : 3);
        pen.setStyle(loop.belt ? Qt::SolidLine : Qt::DotLine);
        m_painter.setPen(pen);
        for (std::size_t i = 0; i < wheels.size(); ++i) {
            const Spot &a = wheels[i], &b = wheels[(i + 1) % wheels.size()];
            const QPointF along = b.at - a.at;
            const double distance = std::hypot(along.x(), along.y());
            if (distance < 1e-9) continue;
            const double ra = a.size.pitchRadiusMm, rb = b.size.pitchRadiusMm;
            for (const double side : {1.0, -1.0}) { // both tangents; of more than two wheels those on the outside count
                if (wheels.size() > 2 && side > 0) continue;
                const double other = loop.crossed ? -rb : rb,
                             lean = std::asin(std::clamp((ra - other) / distance, -1.0, 1.0));
                const double angle = std::atan2(along.y(), along.x()) + side * (base::kPi / 2 - lean);
                const QPointF out(std::cos(angle), std::sin(angle));
                m_painter.drawLine(px(a.at + out * ra), px(b.at + out * other));
            }
        }
    }

    /// Guides as small rings on a dotted line from the axis, with how far the part may turn.
    void paintStrand(const model::Strand& strand) {
        for (const Spot& spot : m_spots) {
            if (spot.gear->id != strand.over || spot.axis != BoardAxis::Out) continue;
            const QColor colour = isMarked(strand.id.text) ? m_look.colours.ember : m_look.colours.ink;
            const QPointF guide = spot.at + QPointF(umToMm(strand.offUm), 0);
            m_painter.setPen(QPen(colour, 1.4, Qt::DotLine));
            m_painter.setBrush(Qt::NoBrush);
            m_painter.drawLine(px(spot.at), px(guide));
            m_painter.setPen(QPen(colour, 1.6));
            m_painter.drawEllipse(px(guide), 4, 4);
            label(px(guide) + QPointF(0, -14),
                  QString::fromStdString(strand.name + " ±" + base::formatNumber(drive::calcStrandTurnDeg(strand), 0) +
                                         "°"),
                  colour, true);
        }
    }

    [[nodiscard]] QPointF tagPlace(const model::ShaftId& id) const {
        for (const model::Shaft& shaft : m_board.shafts)
            if (shaft.id == id) {
                QPointF at(umToMm(shaft.atUm[0]), umToMm(shaft.atUm[1]));
                if (shaft.axis == BoardAxis::Right) at.rx() += umToMm(shaft.lengthUm) / 2;
                if (shaft.axis == BoardAxis::Up) at.ry() += umToMm(shaft.lengthUm) / 2;
                return at;
            }
        return {};
    }
    /// A small label that keeps off the ones before it: pushed down until it is free. Framed ones are always drawn,
    /// others only where there is room.
    void label(QPointF at, const QString& words, const QColor& colour, bool framed) {
        if (words.isEmpty()) return;
        const QString text = QString::fromStdString(base::printable(words.toStdString())); // a drawing may be XML
        const QFontMetricsF metrics(m_painter.font());
        QRectF box(0, 0, metrics.horizontalAdvance(text) + 6, metrics.height());
        box.moveCenter(at);
        if (framed && box.left() < m_area.left()) box.moveLeft(m_area.left() + 2);
        if (framed && box.right() > m_area.right()) box.moveRight(m_area.right() - 2);
        const auto isTaken = [&] {
            return std::any_of(m_labels.begin(), m_labels.end(),
                               [&](const QRectF& other) { return other.intersects(box); });
        };
        for (int tries = framed ? 8 : 1; tries > 0 && isTaken(); --tries) box.translate(0, metrics.height());
        if (!framed && isTaken()) return;
        m_labels.push_back(box);
        QColor ground = m_look.colours.sheet;
        ground.setAlpha(framed ? 235 : 190);
        m_painter.setBrush(ground);
        m_painter.setPen(framed ? QPen(colour, 1) : QPen(Qt::NoPen));
        m_painter.drawRoundedRect(box, 3, 3);
        m_painter.setPen(colour);
        m_painter.drawText(box, Qt::AlignCenter, text);
    }
    void paintTags() {
        const QFont plain = m_painter.font();
        QFont small = plain;
        if (plain.pointSizeF() > 0)
            small.setPointSizeF(plain.pointSizeF() * 0.88);
        else
            small.setPixelSize(std::max(1, static_cast<int>(std::lround(plain.pixelSize() * 0.88))));
        m_painter.setFont(small);
        for (const model::DriveMotor& motor : m_board.motors)
            label(px(tagPlace(motor.shaft)) + QPointF(0, -len(2.4) - 16),
                  QString::fromStdString(motor.name + " · " + motor.line), m_look.colours.ink, true);
        for (const model::Strand& strand : m_board.strands) paintStrand(strand);
        for (const model::DriveFunction& function : m_board.functions) {
            const QPointF at = function.shaft.empty() ? placeOfGear(function.gear) : tagPlace(function.shaft);
            label(px(at) + QPointF(0, -len(2.4) - 16), QString::fromStdString(function.name), m_look.colours.brine,
                  true);
        }
        for (std::size_t t = 0; t < m_net.rotors.size(); ++t)
            if (isChosen(m_net.rotors[t].id)) paintSpeed(t);
        for (const Spot& spot : m_spots) {
            if (isGhost(spot) || len(spot.size.pitchRadiusMm) < 9) continue;
            const QString teeth = spot.gear->kind == GearKind::Worm ? "worm" : QString::number(spot.gear->teeth);
            const bool side = spot.axis != BoardAxis::Out;
            const double up = side ? 0 : spot.size.pitchRadiusMm * 0.62;
            label(px(spot.at + QPointF(0, up)), teeth, m_look.colours.ink, false);
        }
        for (std::size_t t = 0; t < m_net.rotors.size(); ++t)
            if (!isChosen(m_net.rotors[t].id)) paintSpeed(t);
        m_painter.setFont(plain);
    }
    void paintSpeed(std::size_t t) {
        const auto& thing = m_net.rotors[t];
        const bool seen = std::any_of(m_board.shafts.begin(), m_board.shafts.end(),
                                      [&](const model::Shaft& shaft) { return shaft.id.text == thing.id; });
        if (thing.kind != drive::Rotor::Kind::Shaft || !seen || m_look.layerSign != 0) return;
        const QPointF at = tagPlace({thing.id});
        label(px(at) + QPointF(0, len(2.4) + 11), speedText(static_cast<int>(t)), m_look.colours.quiet, false);
    }
    [[nodiscard]] QPointF placeOfGear(const model::GearId& id) const {
        for (const Spot& spot : m_spots)
            if (spot.gear->id == id) return spot.at + QPointF(0, spot.size.tipRadiusMm * 0.8);
        return {};
    }
    [[nodiscard]] QString speedText(int thing) const {
        if (m_state.report.motion.isLocked(thing)) return m_net.relations.empty() ? "" : "locked";
        const double rpm = rpmOf(thing);
        if (std::abs(rpm) < 1e-9) return "still";
        const int decimals = std::abs(rpm) < 10 ? 2 : std::abs(rpm) < 100 ? 1 : 0;
        return QString::fromStdString(base::formatNumber(std::abs(rpm), decimals)) + (rpm > 0 ? " ↺" : " ↻");
    }

    void paintFaults() {
        static const std::map<drive::Fit, const char*> kHow{{drive::Fit::Binds, "binds by %1 mm"},
                                                            {drive::Fit::Skips, "skips, %1 mm apart"},
                                                            {drive::Fit::Aside, "misses by %1 mm"}};
        for (const auto& fault : m_net.faults) {
            const auto &a = ivrant::at(m_net.rings, fault.gearA), &b = ivrant::at(m_net.rings, fault.gearB);
            QPointF from, to;
            int found = 0;
            for (const Spot& spot : m_spots) {
                if (spot.gear->id.text == a.id) from = spot.at, ++found;
                if (spot.gear->id.text == b.id) to = spot.at, ++found;
            }
            if (found != 2) continue;
            m_painter.setPen(QPen(m_look.colours.ember, 2));
            m_painter.drawLine(px(from), px(to));
            label(
                px((from + to) / 2) + QPointF(0, -len(6) - 8),
                QString(kHow.at(fault.fit)).arg(QString::fromStdString(base::formatNumber(std::abs(fault.errorMm), 2))),
                m_look.colours.ember, true);
        }
    }
    void paintCursor() {
        m_painter.setPen(QPen(m_look.colours.brine, 1.5));
        const QPointF at = px(*m_look.cursor);
        m_painter.drawLine(at - QPointF(6, 0), at + QPointF(6, 0));
        m_painter.drawLine(at - QPointF(0, 6), at + QPointF(0, 6));
    }

    QPainter& m_painter;
    const QRectF m_area;
    const DriveState& m_state;
    const drive::DriveNet& m_net;
    const model::Board& m_board;
    const BoardView& m_view;
    const BoardLook& m_look;
    std::vector<Spot> m_spots;
    std::vector<QRectF> m_labels;
};

} // namespace

void paintBoard(QPainter& painter, const QRectF& area, const DriveState& state, const BoardView& view,
                const BoardLook& look) {
    Painting(painter, area, state, view, look).run();
}

} // namespace ivrant::print
