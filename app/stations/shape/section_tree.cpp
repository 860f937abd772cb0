// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/shape/section_tree.h"

#include <QAbstractItemDelegate>
#include <QHeaderView>
#include <QLabel>
#include <QVBoxLayout>

#include "app/shell/plain_labels.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"

#include "core/base/at.h"

namespace ivrant::app {
namespace {
constexpr int kIdRole = Qt::UserRole;

/// One word for the narrow column; the tooltip has the whole name.
QString shortKind(const parts::JointKind& kind) {
    for (const char* word : {"hinge", "ball", "clip", "turntable", "swivel", "pin", "axle"})
        if (QString::fromStdString(kind.name).contains(word)) return word;
    return QString::fromStdString(kind.name);
}
} // namespace

SectionTree::SectionTree(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_tree(new QTreeWidget(this)), m_steps(new QListWidget(this)),
      m_stepsTitle(new QLabel(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto* title = makeMarkup(new QLabel("<b>Sections</b>", this));
    makeMarkup(m_stepsTitle);
    title->setMargin(8);
    layout->addWidget(title);
    layout->addWidget(m_tree, 3);
    m_stepsTitle->setMargin(8);
    layout->addWidget(m_stepsTitle);
    layout->addWidget(m_steps, 2);
    m_tree->setObjectName("sections");
    m_tree->setAccessibleName("Sections");
    m_tree->setColumnCount(3);
    m_tree->setHeaderHidden(true);
    m_tree->setIndentation(9);
    m_tree->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
    m_tree->header()->setStretchLastSection(false);
    m_tree->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_tree->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_tree->header()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    m_steps->setObjectName("stepsOfSection");
    m_steps->setWordWrap(true);
    m_steps->setAccessibleName("Steps of the section");
    connect(&session, &Session::projectChanged, this, whenSeen(this, [this] { rebuild(); }));
    connect(&session, &Session::selectionChanged, this, whenSeen(this, [this] { showCurrent(); }));
    connect(m_tree, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
        if (item && !m_filling) m_session.setCurrentSection({item->data(0, kIdRole).toString().toStdString()});
    });
    connect(m_tree, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item, int column) {
        if (column != 2) return; // a click on the count selects the parts
        const auto& section = *at(m_session.project().sections,
                                  m_session.project().findSection({item->data(0, kIdRole).toString().toStdString()}));
        std::set<model::PartId> ids;
        for (const auto& part : section.parts) ids.insert(part.id);
        m_session.select(ids);
    });
    connect(m_tree, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item, int column) {
        if (m_filling || column != 0) return;
        const model::SectionId id{item->data(0, kIdRole).toString().toStdString()};
        const std::string name = item->text(0).trimmed().toStdString();
        QMetaObject::invokeMethod(
            this,
            [this, id, name] {
                if (!m_session.apply("Rename section",
                                     [&](const model::Project& p) { return model::renameSection(p, id, name); }))
                    rebuild();
            },
            Qt::QueuedConnection);
    });
    connect(m_steps, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const int step = item->data(kIdRole).toInt();
        std::set<model::PartId> ids;
        for (const auto& part :
             at(m_session.project().sections, m_session.project().findSection(m_session.currentSection()))->parts)
            if (part.step == step) ids.insert(part.id);
        m_session.select(ids);
    });
    connect(m_tree->itemDelegate(), &QAbstractItemDelegate::closeEditor, this, &SectionTree::nameTyped,
            Qt::QueuedConnection);
    rebuild();
}

void SectionTree::editName() {
    if (auto* item = m_tree->currentItem()) m_tree->editItem(item, 0);
}

int SectionTree::currentStep() const {
    return m_steps->currentItem() ? m_steps->currentItem()->data(kIdRole).toInt() : 0;
}

void SectionTree::rebuild() {
    m_filling = true;
    const model::Project& project = m_session.project();
    m_tree->clear();
    std::vector<QTreeWidgetItem*> items(project.sections.size(), nullptr);
    for (int s : m_session.tree().order) {
        const auto i = static_cast<std::size_t>(s);
        const int up = m_session.tree().parent(s);
        auto* item = up >= 0 ? new QTreeWidgetItem(at(items, up)) : new QTreeWidgetItem(m_tree);
        item->setText(0, QString::fromStdString(project.sections[i]->name));
        item->setData(0, kIdRole, QString::fromStdString(project.sections[i]->id.text));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        const int joint = m_session.tree().carrier[i];
        if (joint >= 0) {
            const auto& j = at(project.joints, joint);
            item->setText(1, shortKind(*j.kind));
            item->setToolTip(1, QString::fromStdString(j.name + ": " + j.kind->name));
        }
        item->setForeground(1, theme().quiet);
        item->setText(2, QString::number(project.sections[i]->parts.size()));
        item->setToolTip(2, "click: select the parts");
        item->setTextAlignment(2, Qt::AlignRight);
        items[i] = item;
    }
    for (const int c :
         m_session.tree().closing) { // it carries nothing; it is told at the section that it holds as well
        const auto k = static_cast<std::size_t>(c);
        auto* item = at(items, m_session.tree().to[k].section);
        const auto& from = at(project.sections, m_session.tree().from[k].section)->name;
        item->setText(1, item->text(1) + " + ring");
        item->setToolTip(1, item->toolTip(1) + "\n" +
                                QString::fromStdString(project.joints[k].name + ": " + project.joints[k].kind->name +
                                                       " from " + from + ", closes a ring"));
    }
    m_tree->expandAll();
    m_filling = false;
    showCurrent();
}

void SectionTree::showCurrent() {
    m_filling = true;
    for (QTreeWidgetItemIterator it(m_tree); *it; ++it) {
        const bool current = (*it)->data(0, kIdRole).toString().toStdString() == m_session.currentSection().text;
        QFont font = m_tree->font();
        font.setBold(current);
        (*it)->setFont(0, font);
        if (current && m_tree->currentItem() != *it) m_tree->setCurrentItem(*it);
    }
    m_filling = false;
    showSteps();
}

void SectionTree::showSteps() {
    const int s = m_session.project().findSection(m_session.currentSection());
    const auto& section = *at(m_session.project().sections, s);
    double ballast = 0;
    for (const auto& b : section.ballast) ballast += b.massG;
    m_stepsTitle->setText("<b>" + QString::fromStdString(section.name).toHtmlEscaped() + ", steps</b>" +
                          (ballast > 0 ? QString(" · %1 g ballast").arg(ballast) : QString()));
    std::map<int, int> counts;
    for (const auto& part : section.parts) ++counts[part.step];
    const int keep = currentStep();
    m_steps->clear();
    for (const auto& [step, count] : counts) {
        auto* item = new QListWidgetItem("step " + QString::number(step) + "   " + QString::number(count) +
                                             (count == 1 ? " part" : " parts"),
                                         m_steps);
        item->setData(kIdRole, step);
        if (step == keep) m_steps->setCurrentItem(item);
    }
    if (counts.empty()) {
        auto* item = new QListWidgetItem("no parts yet: type one below", m_steps);
        item->setFlags(Qt::NoItemFlags);
    }
}

} // namespace ivrant::app
