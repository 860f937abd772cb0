// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/variant_chips.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QPushButton>

#include "core/base/at.h"
#include "core/model/variants.h"

namespace ivrant::app {

VariantChips::VariantChips(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(8, 0, 0, 0);
    layout->setSpacing(6);
    connect(&session, &Session::projectChanged, this, &VariantChips::rebuild);
    m_shown.emplace_back("?", false);
    rebuild();
}

void VariantChips::rebuild() {
    std::vector<std::pair<std::string, bool>> now;
    for (const auto& v : m_session.project().variants) now.emplace_back(v.id.text + v.name, !v.body);
    if (now == m_shown) return;
    m_shown = now;
    auto* box = static_cast<QHBoxLayout*>(layout());
    while (auto* item = box->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (const auto& v : m_session.project().variants) {
        auto* chip = new QPushButton(QString::fromStdString(v.name), this);
        chip->setObjectName("variant");
        chip->setProperty("chip", true);
        chip->setCheckable(true);
        chip->setChecked(!v.body);
        chip->setToolTip("Show this variant; right click renames or removes it");
        chip->setContextMenuPolicy(Qt::CustomContextMenu);
        const auto id = v.id;
        connect(chip, &QPushButton::clicked, this, [this, id, chip] {
            chip->setChecked(true);
            const int at = model::findVariant(m_session.project(), id);
            if (at >= 0 && ivrant::at(m_session.project().variants, at).body)
                m_session.apply("Show variant " + chip->text(),
                                [&](const model::Project& p) { return model::showVariant(p, id); });
        });
        connect(chip, &QPushButton::customContextMenuRequested, this,
                [this, id, chip](QPoint at) { menu(id, chip->mapToGlobal(at)); });
        box->addWidget(chip);
    }
    auto* add = new QPushButton("+", this);
    add->setObjectName("addVariant");
    add->setAccessibleName("New variant");
    add->setProperty("flat2", true);
    add->setToolTip("Make a variant: a copy that can be changed and compared (Ctrl+Alt+N)");
    connect(add, &QPushButton::clicked, this, &VariantChips::addNew);
    box->addWidget(add);
}

void VariantChips::addNew() {
    const QString letter(QChar(static_cast<char16_t>(
        'A' + std::min<std::size_t>(25, std::max<std::size_t>(1, m_session.project().variants.size())))));
    const QString name = QInputDialog::getText(this, "New variant", "Name of the copy", QLineEdit::Normal, letter);
    if (!name.isEmpty())
        m_session.apply("New variant " + name,
                        [&](const model::Project& p) { return model::addVariant(p, name.toStdString()); });
}

void VariantChips::menu(const model::VariantId& id, QPoint at) {
    QMenu menu(this);
    menu.addAction("Rename", [this, id] {
        const int v = model::findVariant(m_session.project(), id);
        if (v < 0) return;
        const QString old = QString::fromStdString(ivrant::at(m_session.project().variants, v).name);
        const QString name = QInputDialog::getText(this, "Rename variant", "Name", QLineEdit::Normal, old);
        if (!name.isEmpty())
            m_session.apply("Rename variant",
                            [&](const model::Project& p) { return model::renameVariant(p, id, name.toStdString()); });
    });
    menu.addAction("Remove", [this, id] {
        m_session.apply("Remove variant", [&](const model::Project& p) { return model::removeVariant(p, id); });
    });
    menu.exec(at);
}

} // namespace ivrant::app
