#include "app/shell/verdict_slip.h"

#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStyledItemDelegate>
#include <cmath>

#include "app/shell/theme.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

using verdict::State;
using verdict::Verdict;

QColor colourOf(State s) { return s == State::Fail ? theme().ember : s == State::Thin ? theme().straw : theme().moss; }

/// Length of the margin bar: linear to the notch at 1.0 (40 % of the width), then growing like a logarithm.
double barLength(double margin) {
    if (margin <= 1) return 0.4 * std::max(0.0, margin);
    return std::min(1.0, 0.4 + 0.6 * std::log(margin) / std::log(10.0));
}

class VerdictDelegate : public QStyledItemDelegate {
public:
    VerdictDelegate(const std::vector<Verdict>& verdicts, QObject* parent) : QStyledItemDelegate(parent), m_verdicts(verdicts) {}

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        if (index.row() >= static_cast<int>(m_verdicts.size())) return {200, 50};
        return {200, m_verdicts[static_cast<std::size_t>(index.row())].margin ? 60 : 50};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        if (index.row() >= static_cast<int>(m_verdicts.size())) return;
        const Verdict& v = m_verdicts[static_cast<std::size_t>(index.row())];
        const Theme& t = theme();
        const QRectF r = QRectF(option.rect).adjusted(4, 2, -4, -2);
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        if (option.state & QStyle::State_Selected) {
            p->setBrush(t.sheet);
            p->setPen(QPen(t.brine, 1.5));
            p->drawRoundedRect(r, 5, 5);
        }
        const QColor c = colourOf(v.state);
        const QPointF m(r.left() + 14, r.top() + 15);
        QPolygonF mark;
        if (v.state == State::Fail)
            mark << m + QPointF(-6, -5) << m + QPointF(6, -5) << m + QPointF(0, 6);
        else if (v.state == State::Good)
            mark << m + QPointF(-6, 5) << m + QPointF(6, 5) << m + QPointF(0, -6);
        else
            mark << m + QPointF(-5, -5) << m + QPointF(5, -5) << m + QPointF(5, 5) << m + QPointF(-5, 5);
        p->setPen(Qt::NoPen);
        p->setBrush(c);
        p->drawPolygon(mark);
        QFont bold = option.font;
        bold.setBold(true);
        p->setFont(bold);
        p->setPen(t.ink);
        const double number = v.margin ? 44 : 0;
        const QRectF line1(r.left() + 28, r.top() + 4, r.width() - 32 - number, 20), line2(r.left() + 28, r.top() + 24, r.width() - 32, 20);
        p->drawText(line1, Qt::AlignVCenter, p->fontMetrics().elidedText(QString::fromStdString(v.text), Qt::ElideRight, static_cast<int>(line1.width())));
        if (v.margin) {
            p->setPen(v.state == State::Good ? t.ink : c);
            p->drawText(QRectF(r.right() - 52, r.top() + 4, 48, 20), Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(base::formatMargin(*v.margin)));
        }
        p->setFont(option.font);
        p->setPen(t.quiet);
        p->drawText(line2, Qt::AlignVCenter, p->fontMetrics().elidedText(QString::fromStdString(v.detail), Qt::ElideRight, static_cast<int>(line2.width())));
        if (v.margin) drawBar(p, QRectF(r.left() + 28, r.top() + 47, r.width() - 34, 5), *v.margin, v.state, c);
        p->restore();
    }

private:
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
        p->drawLine(QPointF(notch, bar.top() - 4), QPointF(notch, bar.bottom() + 1));
    }
    const std::vector<Verdict>& m_verdicts;
};

} // namespace

VerdictSlip::VerdictSlip(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_state(new QLabel(this)), m_list(new QListWidget(this)), m_detail(new QLabel(this)), m_mendTitle(new QLabel(this)),
      m_mends(new QWidget(this)), m_mendLayout(new QVBoxLayout(m_mends)), m_summary(new QLabel(this)) {
    setObjectName("slip");
    setAttribute(Qt::WA_StyledBackground);
    setFixedWidth(328);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(6, 8, 6, 8);
    layout->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel("<b>Verdicts</b>", this);
    title->setMargin(4);
    head->addWidget(title);
    head->addStretch(1);
    m_state->setText("worst first");
    head->addWidget(m_state);
    layout->addLayout(head);
    m_list->setObjectName("verdicts");
    m_list->setAccessibleName("Verdicts");
    m_list->setItemDelegate(new VerdictDelegate(m_verdicts, m_list));
    m_list->setStyleSheet("QListWidget { background: transparent; }");
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_list, 3);
    m_detail->setObjectName("verdictDetail");
    m_detail->setWordWrap(true);
    m_detail->setMargin(4);
    m_detail->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(m_detail);
    m_mendTitle->setMargin(4);
    layout->addWidget(m_mendTitle);
    m_mendLayout->setContentsMargins(2, 0, 2, 0);
    m_mendLayout->setSpacing(6);
    m_mends->setObjectName("mends");
    layout->addWidget(m_mends);
    m_summary->setObjectName("verdictSummary");
    m_summary->setMargin(4);
    layout->addWidget(m_summary);
    connect(&session, &Session::reportChanged, this, &VerdictSlip::showReport);
    connect(&session, &Session::projectChanged, this, [this] { m_state->setText("working …"); });
    connect(m_list, &QListWidget::currentRowChanged, this, [this](int row) {
        showMends();
        if (row >= 0 && m_list->hasFocus()) emit picked(m_verdicts[static_cast<std::size_t>(row)]);
    });
    connect(m_list, &QListWidget::itemClicked, this, [this] {
        if (current()) emit picked(*current());
    });
}

const Verdict* VerdictSlip::current() const {
    const int row = m_list->currentRow();
    return row >= 0 && row < static_cast<int>(m_verdicts.size()) ? &m_verdicts[static_cast<std::size_t>(row)] : nullptr;
}

int VerdictSlip::countFails(verdict::Station station) const {
    return static_cast<int>(
        std::count_if(m_verdicts.begin(), m_verdicts.end(), [&](const Verdict& v) { return v.station == station && v.state == State::Fail; }));
}

void VerdictSlip::showReport() {
    const std::string keep = current() ? current()->id : "";
    m_verdicts = verdict::collapsePoses(m_session.report()->verdicts);
    const QSignalBlocker blocker(m_list);
    m_list->clear();
    int row = -1;
    for (std::size_t i = 0; i < m_verdicts.size(); ++i) {
        const Verdict& v = m_verdicts[i];
        const QString state = verdict::getStateName(v.state);
        auto* item = new QListWidgetItem(state + ": " + QString::fromStdString(v.text), m_list);
        item->setToolTip(QString::fromStdString(
            v.text + "\n" + v.detail + "\nbasis: " + (v.basis == verdict::Basis::Starting ? "starting value, not measured" : verdict::getBasisName(v.basis))));
        if (v.id == keep) row = static_cast<int>(i);
    }
    m_list->setCurrentRow(row);
    const auto sum = verdict::countStates(m_verdicts);
    m_summary->setText(QString("%1 fail · %2 thin · %3 good").arg(sum.fail).arg(sum.thin).arg(sum.good));
    m_state->setText("worst first");
    showMends();
    emit counted();
}

void VerdictSlip::showMends() {
    while (auto* item = m_mendLayout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    const Verdict* v = current();
    m_detail->setText(v ? QString::fromStdString(v->detail + (v->basis == verdict::Basis::Starting ? " · basis: not measured" : "")) : QString());
    m_detail->setVisible(v);
    m_mendTitle->setText(v ? "<b>What would mend it</b>" : "");
    if (!v || !m_session.isReportCurrent()) return;
    const auto mends = verdict::listMends(*m_session.report(), *v);
    for (const auto& mend : mends) {
        auto* button = new QPushButton(QString::fromStdString(mend.text), m_mends);
        button->setObjectName("mend");
        button->setToolTip("Shows first what it would change");
        connect(button, &QPushButton::clicked, this, [this, mend] { preview(mend); });
        m_mendLayout->addWidget(button);
    }
    if (mends.empty()) m_mendLayout->addWidget(new QLabel(v->state == State::Good ? "nothing to mend" : "by hand: the program has no proposal", m_mends));
}

void VerdictSlip::preview(const verdict::Mend& mend) {
    const auto report = m_session.report();
    const auto result = std::make_shared<std::optional<base::Result<verdict::MendPreview>>>();
    m_session.jobs().start(
        "preview", [report, mend, result](base::Progress&) { result->emplace(verdict::previewMend(*report, mend)); },
        [this, mend, result] {
            if (!m_session.isReportCurrent()) return;
            const auto& preview = **result;
            if (!preview) return m_session.say(QString::fromStdString(preview.error().message), true);
            while (auto* item = m_mendLayout->takeAt(0)) {
                if (item->widget()) item->widget()->deleteLater();
                delete item;
            }
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
            if (!mend.caution.empty()) text += "<br><i>Caution: " + QString::fromStdString(mend.caution).toHtmlEscaped() + "</i>";
            auto* label = new QLabel(text, m_mends);
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
            connect(apply, &QPushButton::clicked, this, [this, mend] { m_session.apply(QString::fromStdString(mend.text), mend.apply); });
            connect(back, &QPushButton::clicked, this, &VerdictSlip::showMends);
            apply->setFocus();
        });
}

} // namespace ivrant::app
