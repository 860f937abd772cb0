// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/charts/turn_plots.h"

#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QSvgGenerator>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <qcustomplot.h>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"

namespace ivrant::app {
namespace {

constexpr int kColumns = 2;

void styleAxis(QCPAxis* axis) {
    const Theme& t = theme();
    axis->setBasePen(QPen(t.rule, 1));
    axis->setTickPen(QPen(t.rule, 1));
    axis->setSubTicks(false);
    axis->setTickLabelColor(t.quiet);
    axis->grid()->setPen(QPen(t.rule, 1, Qt::DotLine));
    axis->grid()->setZeroLinePen(QPen(t.quiet, 1));
    axis->ticker()->setTickCount(3);
    QFont font = axis->tickLabelFont();
    font.setPointSizeF(8 * t.scale);
    axis->setTickLabelFont(font);
}

} // namespace

TurnPlots::TurnPlots(QWidget* parent) : QWidget(parent), m_plot(new QCustomPlot(this)) {
    setObjectName("turnPlots");
    setAccessibleName("Values over the turn");
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Click or drag to go to a place; the arrow keys step");
    setMinimumSize(scaled(240), scaled(70));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_plot);
    m_plot->setMouseTracking(true);
    m_plot->setFocusPolicy(Qt::NoFocus);
    m_plot->setContextMenuPolicy(Qt::NoContextMenu);
    m_plot->installEventFilter(this);
    m_plot->plotLayout()->clear();
}

void TurnPlots::show(std::vector<double> x, const QString& unit, std::vector<TurnPlot> plots) {
    m_x = std::move(x);
    m_unit = unit;
    m_plots = std::move(plots);
    m_pointed = -1;
    m_place = std::clamp(m_place, 0, std::max(0, static_cast<int>(m_x.size()) - 1));
    build();
}

void TurnPlots::build() {
    m_plot->clearItems();
    m_plot->clearPlottables();
    m_plot->plotLayout()->clear();
    m_rects.clear();
    m_heads.clear();
    m_marks.clear();
    m_plot->setBackground(theme().sheet);
    m_plot->plotLayout()->setRowSpacing(0);
    if (m_x.empty()) return m_plot->replot();
    const auto [low, high] = std::minmax_element(m_x.begin(), m_x.end());
    for (std::size_t k = 0; k < m_plots.size(); ++k) {
        const TurnPlot& one = m_plots[k];
        const int row = static_cast<int>(k) / kColumns * 2, column = static_cast<int>(k) % kColumns;
        QFont font = this->font();
        font.setPointSizeF(8.5 * theme().scale);
        auto* head = new QCPTextElement(m_plot, QString(), font);
        head->setTextColor(theme().ink);
        head->setTextFlags(Qt::AlignLeft | Qt::AlignVCenter);
        head->setMargins({6, 2, 2, 0});
        auto* rect = new QCPAxisRect(m_plot);
        rect->setMinimumMargins({4, 2, 8, 2});
        rect->setAutoMargins(QCP::msAll);
        m_plot->plotLayout()->addElement(row, column, head);
        m_plot->plotLayout()->addElement(row + 1, column, rect);
        QCPAxis *across = rect->axis(QCPAxis::atBottom), *up = rect->axis(QCPAxis::atLeft);
        styleAxis(across);
        styleAxis(up);
        across->setRange(*low, *high);
        auto* graph = m_plot->addGraph(across, up);
        graph->setPen(QPen(theme().brine, 1.8));
        graph->setData(QVector<double>(m_x.begin(), m_x.end()), QVector<double>(one.y.begin(), one.y.end()));
        double least = one.y.empty() ? 0 : *std::min_element(one.y.begin(), one.y.end());
        double most = one.y.empty() ? 1 : *std::max_element(one.y.begin(), one.y.end());
        for (const double limit : one.limits) {
            least = std::min(least, limit);
            most = std::max(most, limit);
            auto* line = new QCPItemStraightLine(m_plot);
            line->point1->setAxes(across, up);
            line->point2->setAxes(across, up);
            line->setClipAxisRect(rect);
            line->setPen(QPen(theme().ember, 1, Qt::DashLine));
            line->point1->setCoords(*low, limit);
            line->point2->setCoords(*low + 1, limit);
        }
        const double margin = std::max(0.08 * (most - least), 1e-3);
        up->setRange(least - margin, most + margin);
        auto* mark = new QCPItemStraightLine(m_plot);
        mark->point1->setAxes(across, up);
        mark->point2->setAxes(across, up);
        mark->setClipAxisRect(rect);
        mark->setPen(QPen(theme().ink, 1.4));
        m_rects.push_back(rect);
        m_heads.push_back(head);
        m_marks.push_back(mark);
    }
    for (int c = 0; c < m_plot->plotLayout()->columnCount(); ++c) m_plot->plotLayout()->setColumnStretchFactor(c, 1);
    setPlace(m_place);
}

void TurnPlots::setPlace(int place) {
    m_place = place;
    if (place < 0 || place >= static_cast<int>(m_x.size())) return;
    for (QCPItemStraightLine* mark : m_marks) {
        mark->point1->setCoords(at(m_x, place), 0);
        mark->point2->setCoords(at(m_x, place), 1);
    }
    writeHeads();
    m_plot->replot(QCustomPlot::rpQueuedReplot);
}

QString TurnPlots::headOf(std::size_t plot) const {
    if (plot >= m_plots.size() || m_x.empty()) return {};
    const TurnPlot& one = m_plots[plot];
    const int place = m_pointed >= 0 ? m_pointed : m_place;
    if (place >= static_cast<int>(one.y.size())) return one.title;
    return one.title + ": " + number(at(one.y, place), one.decimals) + one.unit + " at " + number(at(m_x, place), 1) +
           m_unit;
}

void TurnPlots::writeHeads() {
    for (std::size_t k = 0; k < m_heads.size(); ++k) m_heads[k]->setText(headOf(k));
}

int TurnPlots::placeAt(const QPointF& position) const {
    for (QCPAxisRect* rect : m_rects) {
        if (!rect->outerRect().contains(position.toPoint())) continue;
        const double x = rect->axis(QCPAxis::atBottom)->pixelToCoord(position.x());
        const auto nearest = std::min_element(m_x.begin(), m_x.end(),
                                              [&](double l, double r) { return std::abs(l - x) < std::abs(r - x); });
        return nearest == m_x.end() ? -1 : static_cast<int>(nearest - m_x.begin());
    }
    return -1;
}

bool TurnPlots::eventFilter(QObject* watched, QEvent* event) {
    if (watched != m_plot) return false;
    switch (event->type()) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseMove: {
        const auto* mouse = static_cast<QMouseEvent*>(event);
        const int place = placeAt(mouse->position());
        if (event->type() == QEvent::MouseButtonPress && mouse->button() == Qt::LeftButton) m_dragging = place >= 0;
        if (m_dragging && place >= 0) {
            setPlace(place);
            setFocus(Qt::MouseFocusReason);
            emit placeChosen(place);
        } else if (!m_dragging && place != m_pointed) {
            m_pointed = place;
            writeHeads();
            m_plot->replot(QCustomPlot::rpQueuedReplot);
        }
        return m_dragging;
    }
    case QEvent::MouseButtonRelease: m_dragging = false; return false;
    case QEvent::Leave:
        m_pointed = -1;
        writeHeads();
        m_plot->replot(QCustomPlot::rpQueuedReplot);
        return false;
    default: return false;
    }
}

void TurnPlots::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(m_x.size()) - 1;
    int place = m_place;
    switch (event->key()) {
    case Qt::Key_Left: place = std::max(0, place - 1); break;
    case Qt::Key_Right: place = std::min(last, place + 1); break;
    case Qt::Key_Home: place = 0; break;
    case Qt::Key_End: place = last; break;
    default: QWidget::keyPressEvent(event); return;
    }
    if (place < 0 || place == m_place) return;
    setPlace(place);
    emit placeChosen(place);
}

void TurnPlots::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    menu.addAction("Copy the values as text", this, [this] {
        QString text = "at" + m_unit;
        for (const TurnPlot& one : m_plots) text += "\t" + one.title + one.unit;
        for (std::size_t k = 0; k < m_x.size(); ++k) {
            text += "\n" + number(m_x[k], 3);
            for (const TurnPlot& one : m_plots) text += "\t" + (k < one.y.size() ? number(one.y[k], 3) : QString());
        }
        copyText(text);
    });
    menu.addAction("Save the plots …", this, [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Plots", "motion.svg", "SVG (*.svg);;PNG (*.png)");
        if (!path.isEmpty()) (void)saveChart(path);
    });
    menu.exec(event->globalPos());
}

bool TurnPlots::saveChart(const QString& path) const {
    if (!path.endsWith(".svg", Qt::CaseInsensitive)) return m_plot->savePng(path, 0, 0, 2);
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize(m_plot->size());
    svg.setViewBox(QRect(QPoint(0, 0), m_plot->size()));
    QCPPainter painter;
    if (!painter.begin(&svg)) return false;
    painter.setMode(QCPPainter::pmVectorized);
    painter.setMode(QCPPainter::pmNoCaching);
    m_plot->toPainter(&painter, m_plot->width(), m_plot->height());
    return painter.end();
}

} // namespace ivrant::app
