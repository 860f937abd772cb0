// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/verdict_slip.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStyledItemDelegate>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/base/words.h"
#include "core/verdict/mends.h"

namespace ivrant::app {
namespace {

using verdict::State;
using verdict::Verdict;

QColor colourOf(State s) {
    return s == State::Fail   ? theme().ember
           : s == State::Thin ? theme().straw
           : s == State::Good ? theme().moss
                              : theme().quiet;
}

constexpr int kIndent = 14, kMarkLeft = 14;

/// Length of the margin bar: linear to the notch at 1.0 (40 % of the width), then growing like a logarithm.
double barLength(double margin) {
    if (margin <= 1) return 0.4 * std::max(0.0, margin);
    return std::min(1.0, 0.4 + 0.6 * std::log(margin) / std::log(10.0));
}

/// What is still to come of the verdicts; `waiting`: lines of the snapshot before.
QString describeProgress(unsigned toCome, int waiting) {
    if (toCome == 0) return "worst first";
    if (waiting == 0) return "more being looked at …";
    return QString("%1 being looked at …").arg(waiting);
}

class VerdictDelegate : public QStyledItemDelegate {
public:
    VerdictDelegate(const std::vector<SlipRow>& rows, QObject* parent) : QStyledItemDelegate(parent), m_rows(rows) {}

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        if (index.row() >= static_cast<int>(m_rows.size())) return {200, scaled(26)};
        const SlipRow& row = ivrant::at(m_rows, index.row());
        return {200, scaled(hasDetail(row) ? 42 : 26)};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        if (index.row() >= static_cast<int>(m_rows.size())) return;
        const SlipRow& row = ivrant::at(m_rows, index.row());
        const Verdict& v = row.verdict;
        const Theme& t = theme();
        const QRectF r = QRectF(option.rect).adjusted(4 + kIndent * row.depth, 1, -4, -1);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        if (option.state & QStyle::State_Selected) {
            p->setBrush(t.sheet);
            p->setPen(QPen(t.brine, 1.5));
            p->drawRoundedRect(r, 5, 5);
        }
        const QColor c = v.stale ? t.quiet : colourOf(v.state); // what is being looked at anew steps back
        drawMark(p, QPointF(r.left() + kMarkLeft, r.top() + scaled(12)), v.state, c);
        QFont bold = option.font;
        bold.setBold(isDue(row));
        p->setFont(bold);
        p->setPen(!v.stale && (isDue(row) || row.kind == SlipRow::Kind::Single) ? t.ink : t.quiet);
        const bool opens = row.count > 1 || row.kind == SlipRow::Kind::Bundle;
        const double number = v.margin ? scaled(44) : 0, chevron = opens ? scaled(40) : 0, line = scaled(20);
        const QRectF line1(r.left() + 28, r.top() + 2, r.width() - 32 - number - chevron, line);
        p->drawText(line1, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(QString::fromStdString(v.text), Qt::ElideRight,
                                                static_cast<int>(line1.width())));
        p->setFont(option.font);
        if (opens) {
            p->setPen(t.brine);
            p->drawText(QRectF(line1.right(), r.top() + 2, chevron, line), Qt::AlignRight | Qt::AlignVCenter,
                        QString::number(row.count) + (row.open ? QString(" ▾") : QString(" ▸")));
        }
        if (v.margin) {
            p->setFont(bold);
            p->setPen(v.state == State::Good ? t.ink : c);
            p->drawText(QRectF(r.right() - scaled(52), r.top() + 2, scaled(48), line),
                        Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(base::formatMargin(*v.margin)));
            p->setFont(option.font);
        }
        if (hasDetail(row)) {
            p->setPen(t.quiet);
            const QRectF line2(r.left() + 28, r.top() + scaled(18), r.width() - 32, scaled(18));
            p->drawText(line2, Qt::AlignVCenter,
                        p->fontMetrics().elidedText(QString::fromStdString(v.detail), Qt::ElideRight,
                                                    static_cast<int>(line2.width())));
        }
        if (isDue(row) && v.margin)
            drawBar(p, QRectF(r.left() + 28, r.bottom() - 4, r.width() - 34, 3), *v.margin, v.state, c);
        p->restore();
    }

private:
    static bool isDue(const SlipRow& row) {
        return row.kind == SlipRow::Kind::Group &&
               (row.verdict.state == State::Fail || row.verdict.state == State::Thin);
    }
    /// What fails has its detail below; everything else is one line, so that what there is fits one screen.
    static bool hasDetail(const SlipRow& row) {
        return row.kind == SlipRow::Kind::Group && row.verdict.state == State::Fail;
    }
    static void drawMark(QPainter* p, QPointF m, State state, const QColor& c) {
        QPolygonF mark;
        if (state == State::Fail)
            mark << m + QPointF(-6, -5) << m + QPointF(6, -5) << m + QPointF(0, 6);
        else if (state == State::Good)
            mark << m + QPointF(-5, 4) << m + QPointF(5, 4) << m + QPointF(0, -5);
        else if (state == State::Thin)
            mark << m + QPointF(-5, -5) << m + QPointF(5, -5) << m + QPointF(5, 5) << m + QPointF(-5, 5);
        else
            mark << m + QPointF(-4, -1) << m + QPointF(4, -1) << m + QPointF(4, 1) << m + QPointF(-4, 1);
        p->setPen(Qt::NoPen);
        p->setBrush(c);
        p->drawPolygon(mark);
    }
    static void drawBar(QPainter* p, const QRectF& bar, double margin, State state, const QColor& c) {
        const Theme& t = theme();
        p->setPen(Qt::NoPen);
        p->setBrush(t.rule);
        p->drawRoundedRect(bar, 2, 2);
        QRectF filled = bar;
        filled.setWidth(std::max(2.0, bar.width() * barLength(margin)));
        p->setBrush(c);
        p->drawRoundedRect(filled, 2, 2);
        if (state == State::Fail) {
            p->setBrush(QBrush(t.panel, Qt::BDiagPattern));
            p->drawRoundedRect(filled, 2, 2);
        }
        const double notch = bar.left() + bar.width() * 0.4;
        p->setPen(QPen(t.ink, 1.5));
        p->drawLine(QPointF(notch, bar.top() - 1), QPointF(notch, bar.bottom() + 1));
    }
    const std::vector<SlipRow>& m_rows;
};

} // namespace

VerdictSlip::VerdictSlip(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_state(new QLabel(this)), m_list(new QListWidget(this)),
      m_detail(new QLabel(this)), m_mendTitle(new QLabel(this)), m_mends(new QWidget(this)),
      m_mendLayout(new QVBoxLayout(m_mends)), m_summary(new QLabel(this)) {
    setObjectName("slip");
    setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 8, 6, 8);
    layout->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = makeMarkup(new QLabel("<b>Verdicts</b>", this));
    title->setMargin(4);
    head->addWidget(title);
    head->addStretch(1);
    m_state->setObjectName("slipState");
    m_state->setMargin(4);
    head->addWidget(m_state);
    layout->addLayout(head);
    m_list->setObjectName("verdicts");
    m_list->setAccessibleName("Verdicts");
    m_list->setItemDelegate(new VerdictDelegate(m_rows, m_list));
    m_list->setStyleSheet("QListWidget { background: transparent; }");
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_list, 3);
    m_detail->setObjectName("verdictDetail");
    m_detail->setWordWrap(true);
    m_detail->setMargin(4);
    m_detail->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(m_detail);
    makeMarkup(m_mendTitle)->setMargin(4);
    layout->addWidget(m_mendTitle);
    m_mendLayout->setContentsMargins(2, 0, 2, 0);
    m_mendLayout->setSpacing(6);
    m_mends->setObjectName("mends");
    layout->addWidget(m_mends);
    m_summary->setObjectName("verdictSummary");
    m_summary->setMargin(4);
    layout->addWidget(m_summary);
    connect(&session, &Session::reportChanged, this, &VerdictSlip::showReport);
    connect(&session, &Session::stageChanged, this, &VerdictSlip::showReport);
    connect(&session, &Session::projectChanged, this, [this] { m_state->setText("working …"); });
    connect(m_list, &QListWidget::currentRowChanged, this, [this](int row) {
        showMends();
        if (row >= 0 && m_list->hasFocus() && !m_entering && current()) emit picked(*current());
    });
    connect(m_list, &QListWidget::itemClicked, this, [this] {
        if (current()) emit picked(*current());
    });
    connect(m_list, &QListWidget::itemDoubleClicked, this, [this] {
        if (!isBundle(m_list->currentRow()))
            setOpen(m_list->currentRow(), std::nullopt); // that one opens with the first click
    });
    m_list->installEventFilter(this);
    m_list->viewport()->installEventFilter(this);
}

bool VerdictSlip::isBundle(int row) const {
    return row >= 0 && row < static_cast<int>(m_rows.size()) && ivrant::at(m_rows, row).kind == SlipRow::Kind::Bundle;
}

/// Right and left open and close a line, as does a click on its count; a line that only gathers others opens wherever
/// it is clicked.
bool VerdictSlip::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_list && event->type() == QEvent::FocusIn && m_list->currentRow() < 0) {
        m_entering = true; // who comes by on the way elsewhere goes to no place; arrows and Enter do
        m_list->setCurrentRow(0);
        m_entering = false;
    }
    if (watched == m_list && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if ((key == Qt::Key_Return || key == Qt::Key_Enter) && current()) emit picked(verdict::Verdict(*current()));
        if (key == Qt::Key_Right || key == Qt::Key_Left) {
            setOpen(m_list->currentRow(), key == Qt::Key_Right);
            return true;
        }
    }
    if (watched == m_list->viewport() && event->type() == QEvent::MouseButtonPress) {
        const QPoint at = static_cast<QMouseEvent*>(event)->pos();
        const int row = m_list->row(m_list->itemAt(at));
        const bool margin = row >= 0 && ivrant::at(m_rows, row).verdict.margin;
        const int right = m_list->viewport()->width() - 8 - (margin ? 44 : 0);
        if (isBundle(row) || (row >= 0 && opens(row) && at.x() > right - 44 && at.x() <= right)) {
            setOpen(row, std::nullopt);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

bool VerdictSlip::opens(int row) const {
    const SlipRow& r = ivrant::at(m_rows, row);
    return r.count > 1 || r.kind == SlipRow::Kind::Bundle;
}

void VerdictSlip::setOpen(int row, std::optional<bool> open) {
    if (row < 0 || row >= static_cast<int>(m_rows.size()) || !opens(row)) return;
    const std::string key = ivrant::at(m_rows, row).key;
    const bool wanted = open.value_or(m_open.count(key) == 0);
    wanted ? (void)m_open.insert(key) : (void)m_open.erase(key);
    fillRows(key);
}

const SlipRow* VerdictSlip::currentRow() const {
    const int row = m_list->currentRow();
    return row >= 0 && row < static_cast<int>(m_rows.size()) ? &ivrant::at(m_rows, row) : nullptr;
}

const Verdict* VerdictSlip::current() const {
    const SlipRow* row = currentRow();
    return row && row->kind != SlipRow::Kind::Bundle ? &row->verdict : nullptr;
}

std::vector<Verdict> VerdictSlip::shown() const {
    std::vector<Verdict> verdicts;
    for (const SlipRow& row : m_rows) verdicts.push_back(row.verdict);
    return verdicts;
}

int VerdictSlip::countFails(verdict::Station station) const {
    return static_cast<int>(std::count_if(m_groups.begin(), m_groups.end(), [&](const verdict::Group& group) {
        return group.members.front().station == station && group.state == State::Fail;
    }));
}

void VerdictSlip::showReport() {
    const std::string keep = currentRow() ? currentRow()->key : "";
    const auto report = m_session.shown();
    m_groups = verdict::groupVerdicts(report->verdicts, *report->project);
    fillRows(keep);
    const auto sum = verdict::countGroups(m_groups);
    m_summary->setText(QString("%1 fail · %2 thin · %3 good%4")
                           .arg(sum.fail)
                           .arg(sum.thin)
                           .arg(sum.good)
                           .arg(sum.note > 0 ? " · " + QString::fromStdString(base::countText(
                                                           static_cast<std::size_t>(sum.note), "note", "notes"))
                                             : QString()));
    m_summary->setToolTip(QString("%1 single verdicts").arg(sum.singles));
    const auto waiting =
        std::count_if(m_groups.begin(), m_groups.end(), [](const auto& group) { return group.members.front().stale; });
    m_state->setText(describeProgress(report->toCome, static_cast<int>(waiting)));
    emit counted();
}

void VerdictSlip::fillRows(const std::string& keep) {
    m_rows = makeSlipRows(m_groups, m_open);
    const QSignalBlocker blocker(m_list);
    m_list->clear();
    int chosen = -1;
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const Verdict& v = m_rows[i].verdict;
        auto* item = new QListWidgetItem(
            QString(verdict::getStateName(v.state)) + ": " + QString::fromStdString(v.text), m_list);
        item->setToolTip(QString::fromStdString(
            v.text + "\n" + v.detail + "\nbasis: " +
            (v.basis == verdict::Basis::Starting ? "starting value, not measured" : verdict::getBasisName(v.basis)) +
            (m_rows[i].count > 1 ? "\n" + std::to_string(m_rows[i].count) +
                                       " of them: the right arrow, or a click on the number, opens the line"
                                 : "")));
        if (m_rows[i].key == keep) chosen = static_cast<int>(i);
    }
    m_list->setCurrentRow(chosen);
    showMends();
}

void VerdictSlip::clearMends() {
    while (auto* item = m_mendLayout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
}

void VerdictSlip::showMends() {
    if (m_seeking) m_seeking->stop();
    ++m_seekingTurn;
    clearMends();
    const Verdict* v = current();
    m_detail->setText(
        v ? QString::fromStdString(v->detail + (v->basis == verdict::Basis::Starting ? " · basis: not measured" : ""))
          : QString());
    m_detail->setVisible(v);
    const bool mendable = v && v->state != State::Note;
    m_mendTitle->setText(mendable ? "<b>What would mend it</b>" : "");
    if (!mendable) return;
    if (!m_session.isReportCurrent()) { // mends are tried against all verdicts
        m_mendLayout->addWidget(new QLabel("when everything has been looked at", m_mends));
        return;
    }
    if (v->state == State::Good && !v->check.starts_with("hold")) {
        m_mendLayout->addWidget(new QLabel("nothing to mend", m_mends));
        return;
    }
    auto* wait = new QLabel("trying what would help …", m_mends);
    m_mendLayout->addWidget(wait);
    // The worst of a group is what its mends are for, in the words of its own verdict.
    const SlipRow* row = currentRow();
    Verdict asked = *v;
    for (const auto& group : m_groups)
        if (row->kind == SlipRow::Kind::Group && group.key == row->key) asked = group.members.front();
    const auto report = m_session.report();
    const auto found = std::make_shared<std::vector<verdict::Mend>>();
    const auto isAsked = [this, report, key = row->key] {
        return report == m_session.report() && m_session.isReportCurrent() && currentRow() && currentRow()->key == key;
    };
    const auto onMend = [this, isAsked, turn = m_seekingTurn](const verdict::Mend& mend) { // on the job's thread
        QMetaObject::invokeMethod(
            &m_session.jobs(),
            [this, isAsked, turn, mend] {
                if (turn == m_seekingTurn && isAsked())
                    m_mendLayout->insertWidget(m_mendLayout->count() - 1, makeMendButton(mend)); // above "trying"
            },
            Qt::QueuedConnection);
        return true;
    };
    m_seeking = m_session.jobs().start(
        "mends",
        [report, asked, found, onMend](base::Progress& progress) {
            *found = verdict::listMends(*report, asked, &progress, nullptr, onMend);
        },
        [this, found, isAsked, turn = m_seekingTurn] {
            if (turn != m_seekingTurn || !isAsked()) return;
            ++m_seekingTurn; // what is still on its way comes with the list
            offerMends(*found);
        });
}

QPushButton* VerdictSlip::makeMendButton(const verdict::Mend& mend) {
    auto* button = new QPushButton(buttonText(QString::fromStdString(mend.text)), m_mends);
    button->setObjectName("mend");
    button->setToolTip("Shows first what it would change");
    connect(button, &QPushButton::clicked, this, [this, mend] { preview(mend); });
    return button;
}

void VerdictSlip::offerMends(const std::vector<verdict::Mend>& mends) {
    clearMends();
    for (const auto& mend : mends) m_mendLayout->addWidget(makeMendButton(mend));
    if (mends.empty()) {
        const bool good = current() && current()->state == State::Good;
        m_mendLayout->addWidget(
            new QLabel(good ? "nothing to mend" : "by hand: nothing that the program can try alone mends it", m_mends));
    }
}

void VerdictSlip::preview(const verdict::Mend& mend) {
    if (m_seeking) m_seeking->stop();
    ++m_seekingTurn;
    const auto report = m_session.report();
    const auto result = std::make_shared<std::optional<base::Result<verdict::MendPreview>>>();
    m_session.jobs().start(
        "preview", [report, mend, result](base::Progress&) { result->emplace(verdict::previewMend(*report, mend)); },
        [this, mend, result] {
            if (!m_session.isReportCurrent()) return;
            const auto& preview = **result;
            if (!preview) return m_session.say(QString::fromStdString(preview.error().message), true);
            clearMends();
            QString text = "<b>" + QString::fromStdString(mend.text).toHtmlEscaped() + "</b>";
            int lines = 0;
            for (const auto& change : preview->changes)
                if (++lines <= 6) text += "<br>" + QString::fromStdString(change).toHtmlEscaped();
            if (lines > 6) text += QString("<br>and %1 more").arg(lines - 6);
            text += QString("<br>%1 fail, %2 thin → <b>%3 fail, %4 thin</b>")
                        .arg(preview->before.fail)
                        .arg(preview->before.thin)
                        .arg(preview->after.fail)
                        .arg(preview->after.thin);
            if (!mend.caution.empty())
                text += "<br><i>Caution: " + QString::fromStdString(mend.caution).toHtmlEscaped() + "</i>";
            auto* label = makeMarkup(new QLabel(text, m_mends));
            label->setObjectName("mendPreview");
            label->setWordWrap(true);
            m_mendLayout->addWidget(label);
            auto* row = new QHBoxLayout;
            auto* apply = new QPushButton("Do it", m_mends);
            apply->setObjectName("mendApply");
            auto* back = new QPushButton("Back", m_mends);
            auto* holder = new QWidget(m_mends);
            holder->setLayout(row);
            row->setContentsMargins(0, 0, 0, 0);
            row->addWidget(apply);
            row->addWidget(back);
            row->addStretch(1);
            m_mendLayout->addWidget(holder);
            connect(apply, &QPushButton::clicked, this,
                    [this, mend] { m_session.apply(QString::fromStdString(mend.text), mend.apply); });
            connect(back, &QPushButton::clicked, this, &VerdictSlip::showMends);
            apply->setFocus();
        });
}

} // namespace ivrant::app
