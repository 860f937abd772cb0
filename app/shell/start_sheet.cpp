// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/start_sheet.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/words.h"
#include "core/bonds/section_bonds.h"
#include "core/files/project_file.h"
#include "core/pose/kinematics.h"
#include "core/pose/stance.h"
#include "render/picture.h"

namespace ivrant::app {
namespace {

constexpr int kWidth = 176, kHeight = 124; ///< of a picture
constexpr int kTextLines = 2;

} // namespace

StartSheet::StartSheet(Jobs& jobs, QWidget* parent) : QWidget(parent), m_live(jobs) {
    setObjectName("startSheet");
    auto* inside = new QWidget(this);
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(28, 20, 28, 20);
    auto* title = new QLabel("Begin with", inside);
    title->setObjectName("startTitle");
    column->addWidget(title);
    auto* row = new QHBoxLayout;
    const auto add = [&](const char* name, const QString& caption, const QString& tip, auto signal) {
        auto* button = new QPushButton(caption, inside);
        button->setObjectName(name);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, signal);
        row->addWidget(button);
    };
    add("startNew", "an empty model", "Type parts in Shape: \"plate 4x4 slate\" (Ctrl+N)", &StartSheet::newAsked);
    add("startOpen", "a file …", "Open a project (Ctrl+O)", &StartSheet::openAsked);
    row->addStretch(1);
    column->addLayout(row);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(inside);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scroll);
    m_recent = addList("what you worked on last", "startRecent");
    m_templates = addList("a frame to build on", "startTemplates");
    m_demos = addList("the demo, the winter show of a pier museum", "startDemos");
    column->addStretch(1);
}

QListWidget* StartSheet::addList(const QString& title, const QString& name) {
    auto* inside = findChild<QScrollArea*>()->widget();
    auto* label = new QLabel(title, inside);
    auto* list = new QListWidget(inside);
    list->setObjectName(name);
    list->setAccessibleName(title);
    list->setViewMode(QListView::IconMode);
    list->setIconSize({kWidth, kHeight});
    list->setMovement(QListView::Static);
    list->setResizeMode(QListView::Adjust);
    list->setWordWrap(true);
    list->setTextElideMode(Qt::ElideRight);
    list->setFrameShape(QFrame::NoFrame);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    label->setBuddy(list);
    inside->layout()->addWidget(label);
    inside->layout()->addWidget(list);
    connect(list, &QListWidget::itemActivated, this, [this, list](QListWidgetItem* item) {
        const QString path = item->data(Qt::UserRole).toString();
        list == m_templates ? emit templateChosen(path) : emit fileChosen(path);
    });
    connect(list, &QListWidget::itemClicked, list, &QListWidget::itemActivated); // one click is enough
    return list;
}

void StartSheet::fill(const QStringList& recent, const QStringList& templates, const QStringList& demos) {
    m_live.cancel();
    m_waiting.clear();
    addFiles(m_recent, recent);
    addFiles(m_templates, templates);
    addFiles(m_demos, demos);
    drawNext();
}

void StartSheet::addFiles(QListWidget* list, const QStringList& paths) {
    list->clear();
    list->setGridSize({kWidth + 20, kHeight + (kTextLines + 1) * list->fontMetrics().height()});
    QPixmap blank(kWidth, kHeight);
    blank.fill(theme().ground);
    for (const QString& path : paths) {
        auto* item = new QListWidgetItem(QIcon(blank), QFileInfo(path).completeBaseName(), list);
        item->setData(Qt::UserRole, path);
        item->setToolTip(path);
        m_waiting.push_back(item);
    }
    // As many lines of pictures as a usual window needs; narrower ones scroll.
    const int rows = list == m_demos ? (list->count() + 4) / 5 : 1;
    list->setFixedHeight(rows * list->gridSize().height() + 8);
    for (auto* label : findChildren<QLabel*>())
        if (label->buddy() == list) label->setVisible(!paths.isEmpty());
    list->setVisible(!paths.isEmpty());
}

std::optional<StartSheet::Preview> StartSheet::makePreview(const QString& path) {
    const auto project = files::loadProject(path.toStdString());
    if (!project) return Preview{QFileInfo(path).completeBaseName(), qs(project.error().message), {}};
    const auto tree = model::makeTree(*project).value(); // a project that was read is valid
    auto placed = pose::calcPlaced(*project, tree, pose::getValues(*project, nullptr));
    pose::applyStance(placed, pose::getDefaultStance(*project, tree));
    render::PictureRequest request;
    request.width = 2 * kWidth;
    request.height = 2 * kHeight;
    const QColor paper = theme().ground;
    request.background = {static_cast<std::uint8_t>(paper.red()), static_cast<std::uint8_t>(paper.green()),
                          static_cast<std::uint8_t>(paper.blue()), 255};
    Preview preview{qs(project->name), qs(base::countText(project->partCount(), "part", "parts")), {}};
    if (const auto image = render::renderPicture(placed, bonds::calcBonds(*project), request))
        preview.picture = QImage(image->rgba.data(), image->width, image->height, QImage::Format_RGBA8888)
                              .copy()
                              .scaled(kWidth, kHeight, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    return preview;
}

void StartSheet::drawNext() {
    if (m_waiting.empty()) return;
    auto* item = m_waiting.front();
    m_waiting.pop_front();
    const QString path = item->data(Qt::UserRole).toString();
    m_live.ask(
        "pictures of models", [path](base::Progress&) { return makePreview(path); },
        [this, item](const Preview& preview) {
            item->setText(preview.name + "\n" + preview.about);
            if (!preview.picture.isNull()) item->setIcon(QIcon(QPixmap::fromImage(preview.picture)));
            drawNext();
        });
}

void StartSheet::hideEvent(QHideEvent* event) {
    m_live.cancel();
    m_waiting.clear();
    QWidget::hideEvent(event);
}

} // namespace ivrant::app
