// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/plan_chart.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

#include "app/charts/drawing.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

QBrush brushOf(make::Phase phase) {
    switch (phase) {
    case make::Phase::Build: return theme().brine;
    case make::Phase::Trials: return theme().moss;
    case make::Phase::Pack: return theme().straw;
    case make::Phase::Travel: return theme().rule;
    case make::Phase::Show: return theme().ink;
    }
    return theme().ink;
}

QString daysText(const make::PhaseSpan& span) {
    const QString from = qs(base::describeDay(span.from));
    return span.from == span.to ? from : from + " to " + qs(base::describeDay(span.to));
}

} // namespace

PlanChart::PlanChart(QWidget* parent) : QWidget(parent) {
    setObjectName("planChart");
    setAccessibleName("Calendar back from the day it must stand there");
    setMinimumSize(240, 120);
    setMouseTracking(true);
}

void PlanChart::show(std::optional<make::Plan> plan, base::Day today) {
    m_plan = std::move(plan);
    m_today = today;
    update();
}

bool PlanChart::saveChart(const QString& path) const {
    return saveDrawing(path, size(), "Calendar", [this](QPainter& painter) { paintChart(painter, QRectF(rect())); });
}

std::pair<base::Day, base::Day> PlanChart::findSpan() const {
    base::Day from = m_today, to = std::max(m_today, *m_plan->due);
    for (const auto* spans : {&m_plan->latest, &m_plan->forward})
        for (const make::PhaseSpan& span : *spans) {
            from = std::min(from, span.from);
            to = std::max(to, span.to);
        }
    return {from, to};
}

QRectF PlanChart::plotIn(const QRectF& area) const {
    return area.adjusted(scaled(96), scaled(10), -scaled(16), -scaled(30));
}

QString PlanChart::describe(QPointF position) const {
    if (!m_plan || !m_plan->due) return {};
    const QRectF plot = plotIn(QRectF(rect()));
    if (!plot.contains(position)) return {};
    const auto [from, to] = findSpan();
    const int count = base::countDays(from, to) + 1;
    const base::Day day =
        from + std::chrono::days(static_cast<int>((position.x() - plot.left()) / plot.width() * count));
    QStringList lines{qs(base::describeDay(day)) + (day == m_today ? " (today)" : "")};
    const auto add = [&](const std::vector<make::PhaseSpan>& spans, const QString& when) {
        for (const make::PhaseSpan& span : spans)
            if (span.from <= day && day <= span.to)
                lines << QString(make::getPhaseName(span.phase)) + when + ": " + daysText(span) +
                             (span.hours > 0 ? ", " + number(span.hours, 1) + " h" : "");
    };
    add(m_plan->latest, " at the latest");
    add(m_plan->forward, " when begun today");
    for (const make::Wait& wait : m_plan->waits)
        if (wait.neededBy == day)
            lines << QString::number(wait.count) + "× " + qs(wait.shape + " " + parts::getColourName(wait.colour)) +
                         " must be there";
    return lines.join("\n");
}

void PlanChart::mouseMoveEvent(QMouseEvent* event) {
    const QString text = describe(event->position());
    if (text.isEmpty())
        QToolTip::hideText();
    else
        QToolTip::showText(event->globalPosition().toPoint(), text, this);
}

void PlanChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    paintChart(painter, QRectF(rect()));
}

void PlanChart::paintChart(QPainter& painter, const QRectF& area) const {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(area, theme().sheet);
    if (!m_plan || !m_plan->due) {
        painter.setPen(theme().quiet);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         "Name the day it must stand there, and the hours you have:\nthe calendar is worked out "
                         "backwards from it.");
        return;
    }
    const auto [from, to] = findSpan();
    const int count = base::countDays(from, to) + 1;
    const QRectF plot = plotIn(area);
    const auto x = [&, from = from](base::Day day, double after = 0) {
        return plot.left() + (base::countDays(from, day) + after) / count * plot.width();
    };
    const QFontMetricsF metrics(painter.font());
    const double row = plot.height() / 2, bar = std::min(row * 0.62, metrics.height() * 1.7);
    painter.setPen(QPen(theme().rule, 1));
    const double labelWidth = metrics.horizontalAdvance("28 Dec") + 12;
    const int every = std::max(1, static_cast<int>(std::ceil(labelWidth / (plot.width() / count))));
    for (int d = 0; d < count; ++d) {
        const base::Day day = from + std::chrono::days(d);
        if (base::getWeekday(day) >= 5) {
            QColor pale = theme().rule;
            pale.setAlpha(90);
            painter.fillRect(QRectF(x(day), plot.top(), plot.width() / count, plot.height()), pale);
        }
        if (d % every != 0) continue;
        painter.setPen(theme().quiet);
        const QStringList words = qs(base::describeDay(day)).split(' ');
        painter.drawText(QRectF(x(day, 0.5) - labelWidth / 2, plot.bottom() + 4, labelWidth, metrics.height()),
                         Qt::AlignHCenter, words.value(1) + " " + words.value(2));
    }
    const auto drawSpans = [&](const std::vector<make::PhaseSpan>& spans, double middle, const QString& name) {
        painter.setPen(theme().ink);
        painter.drawText(
            QRectF(area.left() + 6, middle - metrics.height(), plot.left() - area.left() - 12, 2 * metrics.height()),
            Qt::AlignRight | Qt::AlignVCenter | Qt::TextWordWrap, name);
        bool below = false;
        for (const make::PhaseSpan& span : spans) {
            const QRectF box(QPointF(x(span.from), middle - bar / 2), QPointF(x(span.to, 1), middle + bar / 2));
            painter.fillRect(box.adjusted(1, 0, -1, 0), theme().sheet);
            painter.setPen(QPen(theme().ink, 1));
            painter.setBrush(brushOf(span.phase));
            painter.drawRect(box.adjusted(1, 0, -1, 0));
            const QString text = make::getPhaseName(span.phase);
            if (metrics.horizontalAdvance(text) + 8 > box.width()) { // beside it, turn by turn below and above
                below = !below;
                const double y = below ? box.bottom() + 1 : box.top() - metrics.height() - 1;
                painter.setPen(theme().ink);
                painter.drawText(QRectF(box.center().x() - 60, y, 120, metrics.height()), Qt::AlignCenter, text);
                continue;
            }
            const bool solid = span.phase != make::Phase::Travel;
            painter.setPen(solid ? theme().onBrine : theme().ink);
            painter.drawText(box, Qt::AlignCenter, text);
        }
    };
    drawSpans(m_plan->latest, plot.top() + row * 0.5, "at the latest");
    drawSpans(m_plan->forward, plot.top() + row * 1.5, "begun today");
    painter.setPen(QPen(theme().ember, 1.6, Qt::DashLine));
    painter.drawLine(QPointF(x(m_today), plot.top() - 4), QPointF(x(m_today), plot.bottom()));
    painter.drawLine(QPointF(x(*m_plan->due), plot.top() - 4), QPointF(x(*m_plan->due), plot.bottom()));
}

} // namespace ivrant::app
