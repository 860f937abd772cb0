// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/test_panel.h"

#include <QDate>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/model/edits.h"

namespace ivrant::app {

TestPanel::TestPanel(Session& session, Words words, QWidget* parent)
    : QWidget(parent), m_session(session), m_typed(new QLineEdit(this)), m_add(new QPushButton("add", this)),
      m_take(new QPushButton(words.take, this)), m_steps(new QLabel(this)), m_words(std::move(words)),
      m_form(new QGridLayout), m_says(new QLabel(this)), m_note(new QLineEdit(this)),
      m_drop(new QPushButton("remove", this)), m_keep(new QPushButton("keep in this project", this)),
      m_share(new QPushButton("keep in my library", this)), m_table(new QTableWidget(this)) {
    const QString& prefix = m_words.prefix;
    m_typed->setObjectName(prefix + "Typed");
    m_typed->setAccessibleName(m_words.typed);
    m_typed->setMinimumWidth(scaled(80));
    m_add->setObjectName(prefix + "Add");
    m_take->setObjectName(prefix + "Take");
    m_note->setObjectName(prefix + "Note");
    m_note->setAccessibleName("Note");
    m_note->setPlaceholderText(m_words.note);
    m_drop->setObjectName(prefix + "Drop");
    m_keep->setObjectName(prefix + "Keep");
    m_keep->setToolTip(m_words.keepTip);
    m_share->setObjectName(prefix + "KeepWorkshop");
    m_share->setToolTip(m_words.shareTip);
    m_steps->setObjectName(prefix + "Steps");
    m_steps->setWordWrap(true);
    m_steps->setAlignment(Qt::AlignTop);
    m_says->setObjectName(prefix + "Says");
    m_says->setWordWrap(true);
    m_says->setTextFormat(Qt::RichText);
    m_table->setObjectName(m_words.table);
    m_table->setAccessibleName(m_words.results);
    setUpTable(m_table, m_words.results.toLower());
    m_table->horizontalHeader()->setStretchLastSection(true);
    m_form->setVerticalSpacing(6);
    connect(m_typed, &QLineEdit::returnPressed, this, [this] { addTyped(); });
    connect(m_add, &QPushButton::clicked, this, [this] { addTyped(); });
    connect(m_take, &QPushButton::clicked, this, [this] { take(); });
    connect(m_drop, &QPushButton::clicked, this, &TestPanel::removeChosen);
    connect(m_keep, &QPushButton::clicked, this, [this] { keep(false); });
    connect(m_share, &QPushButton::clicked, this, [this] { keep(true); });
}

void TestPanel::addField(QLabel* label, QWidget* field) {
    label->setBuddy(field);
    m_form->addWidget(label, m_rows, 0);
    m_form->addWidget(field, m_rows++, 1);
}

void TestPanel::layOut(QLabel* label, QWidget* unit, QWidget* chart) {
    auto* typed = new QHBoxLayout;
    typed->setSpacing(6);
    typed->addWidget(m_typed, 1);
    if (unit) typed->addWidget(unit);
    typed->addWidget(m_add);
    typed->addWidget(m_take);
    m_form->addWidget(label, m_rows, 0);
    m_form->addLayout(typed, m_rows, 1);
    m_form->setColumnStretch(1, 1);
    auto* left = new QVBoxLayout;
    left->setSpacing(12);
    left->addLayout(m_form);
    left->addWidget(m_steps);
    left->addStretch(1);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    right->addWidget(m_table, 1);
    auto* drop = new QHBoxLayout;
    drop->addStretch(1);
    drop->addWidget(m_drop);
    right->addLayout(drop);
    if (chart) right->addWidget(chart, 1);
    right->addWidget(m_says);
    right->addWidget(m_note);
    auto* keeps = new FlowLayout;
    keeps->addWidget(m_keep);
    keeps->addWidget(m_share);
    right->addLayout(keeps);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 10);
    layout->setSpacing(24);
    layout->addLayout(left, 1);
    layout->addLayout(right, 1);
}

void TestPanel::fillResults(const QStringList& heads, std::vector<TableRow> rows) {
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        rows[i].insert(rows[i].begin(), numberCell(static_cast<double>(i + 1), 0));
        ids.emplace_back(static_cast<int>(i));
    }
    fillTable(m_table, QStringList{""} + heads, rows, ids);
}

void TestPanel::showButtons(bool any, bool mayKeep, bool mayShare) {
    m_drop->setEnabled(any);
    m_keep->setEnabled(mayKeep);
    m_share->setEnabled(mayShare);
}

void TestPanel::sayResults(QString text) {
    if (m_simulated)
        text += "<br>▼ Some " + m_words.results.toLower() + " came from the <b>simulated</b> " + m_words.standIn + ".";
    m_says->setText(text);
}

void TestPanel::removeChosen() {
    const QVariant id = chosenRowId(m_table);
    if (id.isValid()) removeResult(id.toInt());
}

void TestPanel::keep(bool workshop) {
    model::Series series = makeSeries();
    const std::size_t count = std::max(series.readings.size(), series.runs.size());
    series.date = QDate::currentDate().toString("yyyy-MM-dd").toStdString();
    series.note = m_note->text().trimmed().toStdString();
    if (m_simulated) series.note = "simulated" + (series.note.empty() ? std::string() : "; " + series.note);
    const bool kept = workshop ? m_session.keepInWorkshop(series)
                               : m_session.apply(m_words.keepLabel,
                                                 [&](const model::Project& p) { return model::putSeries(p, series); });
    if (!kept) return;
    m_session.say(QString::number(count) + " " + m_words.results.toLower() +
                  (workshop ? " kept in the workshop's library" : " kept in this project"));
    m_note->clear();
    startAnew();
}

} // namespace ivrant::app
