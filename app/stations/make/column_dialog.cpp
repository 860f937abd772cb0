// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/column_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>

#include "app/shell/text.h"

namespace ivrant::app {

ColumnDialog::ColumnDialog(const QString& file, const std::vector<std::string>& headings,
                           const std::vector<std::string>& columns, std::size_t needed, QWidget* parent)
    : QDialog(parent), m_columns(columns), m_needed(needed),
      m_buttons(new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this)) {
    setWindowTitle("Columns of " + file);
    auto* form = new QFormLayout(this);
    auto* about = new QLabel("Which heading stands for what? The answer is kept with the model.", this);
    about->setWordWrap(true);
    form->addRow(about);
    for (std::size_t c = 0; c < columns.size(); ++c) {
        auto* box = new QComboBox(this);
        box->setObjectName("column " + qs(columns[c]));
        box->setAccessibleName("Heading for " + qs(columns[c]));
        box->addItem(c < needed ? "choose …" : "none");
        for (const std::string& heading : headings) {
            box->addItem(qs(heading));
            if (QString::compare(qs(heading), qs(columns[c]), Qt::CaseInsensitive) == 0)
                box->setCurrentIndex(box->count() - 1);
        }
        connect(box, &QComboBox::currentIndexChanged, this, &ColumnDialog::check);
        m_boxes.push_back(box);
        form->addRow(qs(columns[c]) + (c < needed ? "" : " (may be missing)"), box);
    }
    form->addRow(m_buttons);
    connect(m_buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(m_buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    check();
}

void ColumnDialog::check() {
    bool all = true;
    for (std::size_t c = 0; c < m_needed; ++c) all = all && m_boxes[c]->currentIndex() > 0;
    m_buttons->button(QDialogButtonBox::Ok)->setEnabled(all);
}

files::ColumnNames ColumnDialog::names() const {
    files::ColumnNames names;
    for (std::size_t c = 0; c < m_columns.size(); ++c)
        if (m_boxes[c]->currentIndex() > 0) names[m_columns[c]] = m_boxes[c]->currentText().toStdString();
    return names;
}

} // namespace ivrant::app
