// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/moves_tab.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/sheet3d/plumb.h"
#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/stations/stand/posts_tab.h"
#include "core/base/at.h"
#include "core/study/asked_tip.h"

namespace ivrant::app {
namespace {

constexpr int kSteps = 100, kFrameMs = 40; ///< of the slider; between two of them while it plays

} // namespace

MovesTab::MovesTab(Session& session, QWidget* parent)
    : StandTab(session, parent), m_choice(new QComboBox(this)), m_chart(new TipWay(this)),
      m_way(new QSlider(Qt::Horizontal, this)), m_play(new QPushButton("play", this)), m_told(new QLabel(this)) {
    m_choice->setObjectName("moveChoice");
    m_choice->setAccessibleName("Move");
    m_choice->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_way->setObjectName("moveShare");
    m_way->setAccessibleName("Place on the way");
    m_way->setRange(0, kSteps);
    m_play->setObjectName("movePlay");
    m_play->setCheckable(true);
    m_play->setToolTip("Moves the model from start to end");
    makeMarkup(m_told)->setObjectName("moveTold");
    m_told->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->addWidget(m_choice);
    layout->addWidget(m_chart, 1);
    auto* row = new QHBoxLayout;
    row->addWidget(m_way, 1);
    row->addWidget(m_play);
    layout->addLayout(row);
    layout->addWidget(m_told);
    connect(m_choice, &QComboBox::activated, this, &MovesTab::choose);
    connect(m_way, &QSlider::valueChanged, this, [this](int value) { showAt(static_cast<double>(value) / kSteps); });
    connect(m_chart, &TipWay::askedFor, this, [this](double share) {
        m_play->setChecked(false);
        m_way->setValue(static_cast<int>(std::lround(share * kSteps)));
    });
    m_clock.setInterval(kFrameMs);
    connect(&m_clock, &QTimer::timeout, this, [this] {
        if (m_way->value() == kSteps) return m_play->setChecked(false);
        m_way->setValue(m_way->value() + 1);
    });
    connect(m_play, &QPushButton::toggled, this, [this](bool on) {
        if (on && m_way->value() == kSteps) m_way->setValue(0);
        if (on)
            m_clock.start();
        else
            m_clock.stop();
        m_play->setText(on ? "stop" : "play");
    });
}

void MovesTab::play() { m_play->toggle(); }

void MovesTab::hideEvent(QHideEvent* event) {
    m_play->setChecked(false);
    QWidget::hideEvent(event);
}

const study::MoveTip* MovesTab::chosen() const {
    const int index = m_choice->currentIndex();
    return m_report && index >= 0 && index < static_cast<int>(m_report->moves.size())
               ? &ivrant::at(m_report->moves, index)
               : nullptr;
}

void MovesTab::forget() { m_place.reset(); }

void MovesTab::refresh() {
    auto report = currentReport();
    if (!report) return;
    const QString before = m_choice->currentData().toString();
    m_report = std::move(report);
    const QSignalBlocker quiet(m_choice);
    m_choice->clear();
    int index = -1, least = -1;
    for (const study::MoveTip& move : m_report->moves) {
        m_choice->addItem(QString::fromStdString(move.name) + ": least " + numberText(move.leastDeg, 1) + "°",
                          QString::fromStdString(move.key));
        const int at = m_choice->count() - 1;
        if (m_choice->itemData(at).toString() == before) index = at;
        if (least < 0 || move.leastDeg < ivrant::at(m_report->moves, least).leastDeg) least = at;
    }
    m_choice->setEnabled(m_choice->count() > 0);
    m_way->setEnabled(m_choice->count() > 0);
    m_play->setEnabled(m_choice->count() > 0);
    if (const int asked = m_choice->findData(std::exchange(m_asked, {})); asked >= 0) {
        m_choice->setCurrentIndex(asked);
        choose(asked);
    } else if (index >= 0) {
        m_choice->setCurrentIndex(index);
        m_chart->show(m_report->moves, index, study::getAskedTipDeg(*m_report->project));
        showAt(static_cast<double>(m_way->value()) / kSteps);
    } else {
        m_choice->setCurrentIndex(least);
        choose(least);
    }
}

bool MovesTab::goTo(const std::string& key) {
    const auto report = currentReport();
    if (!report ||
        std::none_of(report->moves.begin(), report->moves.end(), [&](const auto& m) { return m.key == key; }))
        return false;
    m_asked = QString::fromStdString(key);
    outdate();
    return true;
}

/// Where it comes nearest to tipping.
void MovesTab::choose(int index) {
    m_play->setChecked(false);
    m_chart->show(m_report ? m_report->moves : std::vector<study::MoveTip>{}, index,
                  m_report ? study::getAskedTipDeg(*m_report->project) : study::kUsualTipDeg);
    const auto* move = chosen();
    const QSignalBlocker quiet(m_way);
    m_way->setValue(move ? static_cast<int>(std::lround(move->atShare * kSteps)) : 0);
    showAt(move ? move->atShare : 0);
}

void MovesTab::showAt(double share) {
    const auto* move = chosen();
    m_place = move ? study::calcPlaceOnWay(*m_report, *move, share) : std::nullopt;
    m_chart->setShare(share);
    QString told =
        "No move of a standing model is known: poses that stand on the same section, or a driven joint with a travel.";
    if (m_place)
        told = "<b>" + numberText(100 * share, 0) + " %</b> of the way: tips at " +
               numberText(m_place->tipping.angleDeg, 1) + "° towards " + numberText(m_place->tipping.towardDeg, 0) +
               "°" + (m_place->tipping.angleDeg < 0 ? ", it falls over" : "") + "; asked " +
               numberText(study::getAskedTipDeg(*m_report->project), 0) + "°";
    m_told->setText(told);
    emit overlayChanged();
}

/// Bonds and weights are those of the pose it stands in: here only the balance is told.
void MovesTab::drawOverlay(QPainter& painter, const Sheet3d& sheet) const {
    if (!m_place) return;
    drawPosts(painter, sheet, m_place->placed);
    drawPlumb(painter, sheet, m_place->tipping);
}

} // namespace ivrant::app
