// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/selector_dialog.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/shell/text.h"

namespace ivrant::app {
SelectorDialog::SelectorDialog(const model::Project& project, model::Selector selector, QWidget* parent)
    : QDialog(parent), m_selector(std::move(selector)), m_name(new QLineEdit(qs(m_selector.name), this)),
      m_table(new QTableWidget(this)), m_wrong(new QLabel(this)) {
    setWindowTitle("Selector");
    QStringList heads{"Position"};
    for (const auto& board : project.boards)
        for (const model::Gear& gear : board->gears) {
            if (!gear.loose) continue;
            m_clutches.push_back(gear.id);
            QString shaft = qs(gear.shaft.text);
            for (const model::Shaft& s : board->shafts)
                if (s.id == gear.shaft && !s.name.empty()) shaft = qs(s.name);
            heads << QString::number(gear.teeth) + " on\n" + shaft;
        }
    m_table->setColumnCount(static_cast<int>(heads.size()));
    m_table->setHorizontalHeaderLabels(heads);
    m_table->verticalHeader()->hide();
    m_table->setTabKeyNavigation(false);
    m_table->setObjectName("selectorPositions");
    m_table->setAccessibleName("Positions and the clutch wheels that they engage");
    for (const auto& position : m_selector.positions) addPosition(position);
    m_name->setObjectName("selectorName");
    m_name->setAccessibleName("Name of the selector");
    m_wrong->setObjectName("selectorWrong");
    m_wrong->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    auto* first = new QHBoxLayout;
    first->addWidget(new QLabel("Name", this));
    first->addWidget(m_name, 1);
    layout->addLayout(first);
    layout->addWidget(new QLabel(
        "A tick fixes the clutch wheel to its shaft in that position. Names are changed by double click.", this));
    layout->addWidget(m_table, 1);
    auto* second = new QHBoxLayout;
    auto* add = new QPushButton("add a position", this);
    auto* drop = new QPushButton("remove the position", this);
    add->setObjectName("selectorAdd");
    drop->setObjectName("selectorDrop");
    for (QPushButton* button : {add, drop}) button->setAutoDefault(false);
    second->addWidget(add);
    second->addWidget(drop);
    second->addStretch(1);
    layout->addLayout(second);
    layout->addWidget(m_wrong);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    layout->addWidget(buttons);
    connect(add, &QPushButton::clicked, this, [this] {
        addPosition({"Position " + std::to_string(m_table->rowCount() + 1), {}});
    });
    connect(drop, &QPushButton::clicked, this, &SelectorDialog::removePosition);
    connect(buttons, &QDialogButtonBox::accepted, this, &SelectorDialog::take);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    m_table->resizeColumnsToContents();
    resize(560, 320);
}

void SelectorDialog::addPosition(const model::SelectorPosition& position) {
    const int row = m_table->rowCount();
    m_table->insertRow(row);
    m_table->setItem(row, 0, new QTableWidgetItem(qs(position.name)));
    for (std::size_t c = 0; c < m_clutches.size(); ++c) {
        auto* item = new QTableWidgetItem;
        item->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled | Qt::ItemIsSelectable);
        const bool on =
            std::find(position.engaged.begin(), position.engaged.end(), m_clutches[c]) != position.engaged.end();
        item->setCheckState(on ? Qt::Checked : Qt::Unchecked);
        m_table->setItem(row, static_cast<int>(c) + 1, item);
    }
}

void SelectorDialog::removePosition() {
    if (m_table->currentRow() >= 0) m_table->removeRow(m_table->currentRow());
}

void SelectorDialog::take() {
    if (m_table->rowCount() == 0) return m_wrong->setText("A selector needs a position");
    m_selector.name = m_name->text().trimmed().toStdString();
    if (m_selector.name.empty()) return m_wrong->setText("A selector needs a name");
    m_selector.positions.clear();
    for (int row = 0; row < m_table->rowCount(); ++row) {
        model::SelectorPosition position{m_table->item(row, 0)->text().trimmed().toStdString(), {}};
        if (position.name.empty()) return m_wrong->setText("Every position needs a name");
        for (std::size_t c = 0; c < m_clutches.size(); ++c)
            if (m_table->item(row, static_cast<int>(c) + 1)->checkState() == Qt::Checked)
                position.engaged.push_back(m_clutches[c]);
        m_selector.positions.push_back(std::move(position));
    }
    m_selector.at = std::clamp(m_selector.at, 0, m_table->rowCount() - 1);
    accept();
}

} // namespace ivrant::app
