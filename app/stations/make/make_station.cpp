// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/make_station.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/parts_csv.h"
#include "core/files/sheet_content.h"
#include "core/make/parts_list.h"
#include "core/model/edits_boards.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "print/guide.h"
#include "print/pictures.h"

namespace ivrant::app {
namespace {
constexpr int kPartPixels = 64;
constexpr int kPictureDelayMs = 120;

QString colourName(int colour) { return QString::fromStdString(parts::getColourName(colour)); }
QString countText(const make::Step& step) {
    int count = 0;
    for (const auto& line : step.tray) count += line.count;
    return QString::number(count) + (count == 1 ? " part" : " parts");
}

} // namespace

MakeStation::MakeStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_steps(new QListWidget(this)), m_tray(new QListWidget(this)),
      m_picture(new QLabel(this)), m_title(new QLabel(this)), m_faults(new QLabel(this)), m_holds(new QLabel(this)),
      m_tabs(new QTabWidget(this)), m_parts(new QTableWidget(this)), m_stock(new StockTab(session, this)),
      m_orders(new OrdersTab(session, this)), m_time(new TimeTab(session, this)),
      m_options(new OptionsTab(session, this)), m_cautions(new QLabel(this)), m_holdsSought(session.jobs()) {
    if (auto made = render::Renderer::create()) m_renderer = *made;
    m_pictureTimer.setSingleShot(true);
    m_pictureTimer.setInterval(kPictureDelayMs);
    connect(&m_pictureTimer, &QTimer::timeout, this, &MakeStation::drawPicture);
    m_steps->setObjectName("makeSteps");
    m_steps->setWordWrap(true);
    m_steps->setAccessibleName("Steps");
    m_tray->setObjectName("tray");
    m_tray->setAccessibleName("Parts of the step");
    m_tray->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_tray->setViewMode(QListView::IconMode);
    m_tray->setIconSize({kPartPixels, kPartPixels});
    m_tray->setGridSize({132, kPartPixels + 52});
    m_tray->setWordWrap(true);
    m_tray->setMovement(QListView::Static);
    m_tray->setResizeMode(QListView::Adjust);
    m_tray->setMinimumHeight(kPartPixels + 64);
    m_picture->setObjectName("stepPicture");
    m_picture->setAlignment(Qt::AlignCenter);
    m_picture->setMinimumSize(200, 150);
    m_picture->setAccessibleName("Picture of the step");
    m_parts->setObjectName("partsList");
    m_parts->setAccessibleName("Parts list");
    setUpTable(m_parts, "parts");

    auto* stepPage = new QWidget(this);
    auto* page = new QVBoxLayout(stepPage);
    page->setContentsMargins(12, 8, 12, 8);
    makeMarkup(m_title)->setObjectName("stepTitle");
    m_title->setWordWrap(true);
    page->addWidget(m_title);
    m_faults->setObjectName("stepFaults");
    m_faults->setWordWrap(true);
    m_faults->setTextFormat(Qt::PlainText);
    m_faults->setTextInteractionFlags(Qt::TextSelectableByMouse);
    page->addWidget(m_faults);
    m_holds->setObjectName("stepHolds");
    m_holds->setWordWrap(true);
    m_holds->setTextFormat(Qt::PlainText);
    page->addWidget(m_holds);
    page->addWidget(m_picture, 1);
    page->addWidget(m_tray);
    m_tabs->setObjectName("makeTabs");
    m_tabs->addTab(stepPage, "Step");
    m_tabs->addTab(m_parts, "Parts list");
    m_tabs->addTab(m_stock, "Stock");
    m_tabs->addTab(m_orders, "Orders");
    m_tabs->addTab(m_time, "Time");
    m_tabs->addTab(m_options, "Options");
    connect(m_stock, &StockTab::stepWanted, this, &MakeStation::goToStep);
    auto* left = new QWidget(this);
    // The strip of steps belongs to their tab; the others have the width to themselves.
    connect(m_tabs, &QTabWidget::currentChanged, left, [left](int tab) { left->setVisible(tab == 0); });
    for (int tab = 0; tab < m_tabs->count(); ++tab)
        addCommand(this, "Make: " + m_tabs->tabText(tab), QKeySequence("Alt+" + QString::number(tab + 1)), [this, tab] {
            m_tabs->setCurrentIndex(tab);
            m_tabs->currentWidget()->setFocus();
        });
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = makeMarkup(new QLabel("<b>Steps</b>", left));
    head->setMargin(8);
    column->addWidget(head);
    column->addWidget(m_steps, 1);
    auto* bar = new QHBoxLayout;
    const auto button = [&](QAction* action, const QString& text) {
        auto* b = new QPushButton(text, this);
        b->setToolTip(action->toolTip());
        b->setAccessibleName(action->text());
        connect(b, &QPushButton::clicked, action, &QAction::trigger);
        bar->addWidget(b);
    };
    auto* up = addCommand(this, "Move step up", QKeySequence("Alt+Up"), [this] { moveStep(-1); });
    auto* down = addCommand(this, "Move step down", QKeySequence("Alt+Down"), [this] { moveStep(1); });
    auto* split = addCommand(this, "Split step: chosen parts go later", QKeySequence("Ctrl+B"), [this] {
        std::vector<model::PartId> later;
        for (auto* item : m_tray->selectedItems()) later.push_back({item->data(Qt::UserRole).toString().toStdString()});
        changeStep("Split step", [later](const model::Project& p, const model::SectionId& section, int step) {
            return model::splitStep(p, section, step, later);
        });
    });
    auto* join = addCommand(this, "Join with the next step", QKeySequence("Ctrl+J"), [this] {
        changeStep("Join steps", [](const model::Project& p, const model::SectionId& section, int step) {
            return model::joinStep(p, section, step);
        });
    });
    button(up, "↑");
    button(down, "↓");
    button(split, "split");
    button(join, "join");
    column->addLayout(bar);
    addCommand(this, "Chosen parts one step earlier", QKeySequence("Alt+Left"), [this] { moveParts(-1); });
    addCommand(this, "Chosen parts one step later", QKeySequence("Alt+Right"), [this] { moveParts(1); });
    auto* orders = new QHBoxLayout;
    const auto order = [&](const QString& name, const QString& text, const QKeySequence& keys, const QString& hint,
                           make::Take take) {
        auto* action = addCommand(this, text, keys, [this, take] { takeOrder(take); });
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setToolTip(hint + " (" + action->shortcut().toString() + ")");
        connect(b, &QPushButton::clicked, action, &QAction::trigger);
        orders->addWidget(b);
    };
    order("mendOrder", "Mend the order", QKeySequence("Ctrl+M"),
          "Moves as few parts as possible to steps at which they can go in", make::Take::Moves);
    order("planOrder", "Work out", QKeySequence("Ctrl+Shift+M"),
          "Gives the section of this step an order that is worked out, eight parts a step at most", make::Take::Plan);
    column->addLayout(orders);
    auto* splitter = new QSplitter(this);
    splitter->addWidget(left);
    splitter->addWidget(m_tabs);
    splitter->setStretchFactor(1, 1);
    splitter->setSizes({230, 640});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(splitter, 1);
    auto* exports = new QHBoxLayout;
    exports->setContentsMargins(12, 4, 12, 8);
    exports->addStretch(1);
    const auto exportButton = [&](const QString& text, const QKeySequence& keys, auto slot) {
        auto* action = addCommand(this, text, keys, slot);
        auto* b = new QPushButton(text, this);
        b->setToolTip(action->toolTip());
        connect(b, &QPushButton::clicked, action, &QAction::trigger);
        exports->addWidget(b);
    };
    exportButton("Sheets as PDF …", QKeySequence("Ctrl+P"), [this] { printGuide("pdf"); });
    exportButton("Sheets as HTML …", QKeySequence("Ctrl+Shift+P"), [this] { printGuide("html"); });
    exportButton("Parts list as CSV …", {}, [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Parts list", "parts.csv", "CSV (*.csv)");
        if (path.isEmpty()) return;
        const auto saved = files::writeFileAtomically(path.toStdString(), files::makePartsCsv(m_session.project()));
        saved ? m_session.say("Parts list written")
              : m_session.warn(QString::fromStdString("Parts list not written: " + saved.error().message));
    });
    m_cautions->setObjectName("cautions");
    m_cautions->setWordWrap(true);
    m_cautions->setContentsMargins(12, 2, 12, 2);
    layout->addWidget(m_cautions);
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] {
        const auto report = m_session.report(); // another model may have been opened meanwhile
        if (!report) return m_cautions->clear();
        QStringList lines;
        for (const auto& caution : files::listCautions(*report)) lines << "Caution. " + QString::fromStdString(caution);
        m_cautions->setText(lines.join("\n"));
    }));
    layout->addLayout(exports);
    connect(&session, &Session::projectChanged, this, [this] {
        m_stale = true;
        if (isVisible()) rebuild();
    });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { markFaults(); }));
    connect(m_steps, &QListWidget::currentRowChanged, this, &MakeStation::showStep);
}

void MakeStation::goTo(const verdict::Place& place) {
    const auto report = m_session.report();
    if (!report || place.parts.empty()) return;
    const auto spot = model::PartIndex(m_session.project()).find(place.parts.front());
    for (const make::Step& step : m_list)
        if (step.section == spot.section &&
            std::find(step.added.begin(), step.added.end(), spot.part) != step.added.end())
            return goToStep(step.number);
}

void MakeStation::goToStep(int number) {
    m_tabs->setCurrentIndex(0);
    for (std::size_t i = 0; i < m_list.size(); ++i)
        if (m_list[i].number == number) m_steps->setCurrentRow(static_cast<int>(i));
}

void MakeStation::showEvent(QShowEvent*) {
    if (m_stale)
        rebuild();
    else
        showStep();
}

void MakeStation::resizeEvent(QResizeEvent*) {
    if (isVisible() && !m_stale) showStep();
}

void MakeStation::changeStep(
    const char* name,
    const std::function<model::EditResult(const model::Project&, const model::SectionId&, int)>& edit) {
    const auto* step = current();
    if (!step) return;
    if (step->board >= 0) return m_session.say("A gear board is one step: its shafts and wheels go in together", true);
    const auto id = at(m_session.project().sections, step->section)->id;
    m_session.apply(name, [&, n = step->stepInSection](const model::Project& p) { return edit(p, id, n); });
}

/// A board moves between the steps of its section by the step that it names.
void MakeStation::moveStep(int by) {
    const auto* step = current();
    if (!step || step->board < 0)
        return changeStep("Move step", [by](const model::Project& p, const model::SectionId& section, int number) {
            return model::moveStep(p, section, number, by);
        });
    if (step->section < 0) return m_session.say("A board that belongs to no section is built first", true);
    model::Board board = *at(m_session.project().boards, step->board);
    int last = 0;
    for (const auto& part : at(m_session.project().sections, step->section)->parts) last = std::max(last, part.step);
    const int next = (board.step == 0 || board.step > last ? last : board.step) + by;
    board.step = next >= last ? 0 : std::max(1, next);
    m_session.apply("Move step", [&](const model::Project& p) { return model::changeBoardHead(p, board); });
}

/// The chosen parts of the tray go to the step before or after; beyond the last a new one begins.
void MakeStation::moveParts(int by) {
    const auto* step = current();
    std::vector<model::PartId> chosen;
    for (auto* item : m_tray->selectedItems())
        if (const QString id = item->data(Qt::UserRole).toString(); !id.isEmpty()) chosen.push_back({id.toStdString()});
    if (!step || step->section < 0 || chosen.empty())
        return m_session.say("Choose parts in the tray first: they go to the step before or after", true);
    if (step->after >= 0) {
        if (by > 0) return m_session.say("These wait until a section is on: they come last", true);
        m_session.apply("Put parts on with their own section",
                        [&](const model::Project& p) { return model::setAfter(p, chosen, {}); });
        return;
    }
    std::set<int> numbers;
    for (const auto& part : at(m_session.project().sections, step->section)->parts) numbers.insert(part.step);
    const auto here = numbers.find(step->stepInSection);
    if (by < 0 && here == numbers.begin()) return m_session.say("This is the section's first step", true);
    const int to = by < 0                             ? *std::prev(here)
                   : std::next(here) == numbers.end() ? step->stepInSection + 1
                                                      : *std::next(here);
    m_session.apply("Move parts to another step",
                    [&](const model::Project& p) { return model::setStep(p, chosen, to); });
}

/// Moves: in all sections; a plan: in that of the step.
void MakeStation::takeOrder(make::Take take) {
    const auto* step = current();
    const int section = take == make::Take::Moves ? -1 : step ? step->section : -1;
    if (take == make::Take::Plan && section < 0) return m_session.say("Choose a step of a section first", true);
    const auto before = m_session.project();
    const auto steps = [](const model::Project& p) {
        std::vector<std::vector<int>> all;
        for (const auto& each : p.sections) all.push_back(make::listPartSteps(*each));
        return all;
    };
    const auto next = make::takeProposals(before, take, section);
    if (!next) return m_session.warn(QString::fromStdString(next.error().message));
    const auto was = steps(before), now = steps(*next);
    int moved = 0;
    for (std::size_t s = 0; s < was.size(); ++s)
        for (std::size_t p = 0; p < was[s].size(); ++p) moved += was[s][p] != now[s][p] ? 1 : 0;
    if (moved == 0)
        return m_session.say(take == make::Take::Plan
                                 ? "These are the steps that are worked out already"
                                 : "Nothing to move: every part has a way in, or no few moves help");
    m_session.apply(take == make::Take::Plan ? "Work the order out" : "Mend the order",
                    [&](const model::Project&) -> model::EditResult { return *next; });
    m_session.say(QString::number(moved) +
                  (moved == 1 ? " part moved to another step" : " parts moved to other steps"));
}

/// What the verdicts say of parts of this step.
QStringList MakeStation::listFaults(const make::Step& step) const {
    QStringList lines;
    const auto report = m_session.report();
    if (!report || step.section < 0 || step.section >= static_cast<int>(m_session.project().sections.size()))
        return lines;
    const auto& parts = at(m_session.project().sections, step.section)->parts;
    std::set<model::PartId> here;
    for (const int p : step.added)
        if (p < static_cast<int>(parts.size())) here.insert(at(parts, p).id);
    for (const auto& v : report->verdicts)
        if (v.check.starts_with("order") && v.state != verdict::State::Good && !v.place.parts.empty() &&
            here.count(v.place.parts.front()) > 0)
            lines << QString::fromStdString(v.text + ": " + v.detail);
    return lines;
}

/// Steps with something that cannot go in are marked, in words as well.
void MakeStation::markFaults() {
    for (int row = 0; row < m_steps->count() && row < static_cast<int>(m_list.size()); ++row) {
        auto* item = m_steps->item(row);
        const QStringList faults = listFaults(at(m_list, row));
        const QString plain = item->data(Qt::UserRole).toString();
        item->setText(plain + (faults.isEmpty() ? "" : "\ndoes not go in"));
        item->setForeground(faults.isEmpty() ? QBrush() : QBrush(theme().ember));
        item->setToolTip(faults.join("\n"));
    }
    const auto* step = current();
    const QStringList faults = step ? listFaults(*step) : QStringList();
    showHolds();
    m_faults->setText(faults.join("\n"));
    m_faults->setVisible(!faults.isEmpty());
    QPalette palette = m_faults->palette();
    palette.setColor(QPalette::WindowText, theme().ember);
    m_faults->setPalette(palette);
}

/// Found once for the section of the step, in the background.
void MakeStation::showHolds() {
    m_holds->clear();
    m_holds->hide();
    const auto* step = current();
    const auto report = m_session.report();
    if (!step || step->section < 0 || step->board >= 0 || step->after >= 0 || !report || !m_session.isReportCurrent())
        return;
    const auto& section = at(m_session.project().sections, step->section);
    if (m_holdsOf.lock() != section) {
        m_holdsSought.ask(
            "hands",
            [report, s = step->section](base::Progress& progress) -> std::optional<std::vector<study::HoldHint>> {
                auto hints = study::calcHolds(*report, s, &progress);
                if (progress.stopped()) return {};
                return hints;
            },
            [this, of = std::weak_ptr<const model::Section>(section)](std::vector<study::HoldHint> hints) {
                m_holdHints = std::move(hints);
                m_holdsOf = of;
                showHolds();
            });
        return;
    }
    std::map<QString, QStringList> pressed; ///< by what is held
    for (const study::HoldHint& hint : m_holdHints) {
        if (std::find(step->added.begin(), step->added.end(), hint.part) == step->added.end()) continue;
        QStringList under;
        for (const int p : hint.under) under << QString::fromStdString(at(section->parts, p).shape->name);
        under.removeDuplicates();
        pressed[under.join(", ")] << QString::fromStdString(at(section->parts, hint.part).shape->name);
    }
    QStringList lines;
    for (auto& [under, parts] : pressed) {
        parts.removeDuplicates();
        lines << "Hold " + under + " from below while pressing on " + parts.join(", ") + ".";
    }
    m_holds->setText(lines.join(" "));
    m_holds->setVisible(!lines.isEmpty());
}

const make::Step* MakeStation::current() const {
    const int row = m_steps->currentRow();
    if (row < 0 || row >= static_cast<int>(m_list.size())) return nullptr;
    const make::Step& step = at(m_list, row);
    // The list follows an edit a moment later: a step that names what is gone is no step.
    const auto& project = m_session.project();
    if (step.section >= static_cast<int>(project.sections.size()) ||
        step.board >= static_cast<int>(project.boards.size()))
        return nullptr;
    if (step.section < 0 || step.added.empty()) return step.section >= 0 || step.board >= 0 ? &step : nullptr;
    const auto parts = static_cast<int>(at(project.sections, step.section)->parts.size());
    return *std::max_element(step.added.begin(), step.added.end()) < parts ? &step : nullptr;
}

void MakeStation::rebuild() {
    m_stale = false;
    const int keep = std::max(0, m_steps->currentRow());
    m_list = make::listSteps(m_session.project(), m_session.tree());
    {
        const QSignalBlocker blocker(m_steps);
        m_steps->clear();
        for (const auto& step : m_list) {
            m_steps->addItem(QString::number(step.number) + "   " +
                             QString::fromStdString(make::getStepName(m_session.project(), step)) + "   " +
                             countText(step));
            m_steps->item(m_steps->count() - 1)->setData(Qt::UserRole, m_steps->item(m_steps->count() - 1)->text());
        }
        m_steps->setCurrentRow(std::min(keep, m_steps->count() - 1));
    }
    showStep();
    showPartsList();
}

void MakeStation::showStep() {
    m_tray->clear();
    const auto* step = current();
    if (!step || !m_renderer) {
        m_title->setText("No steps yet: parts placed in Shape become steps here, in the order of placing.");
        m_picture->clear();
        return;
    }
    QString title = "<b>" + QString::number(step->number) + "</b> · " +
                    QString::fromStdString(make::getStepName(m_session.project(), *step)).toHtmlEscaped() + " · " +
                    (step->board >= 0 ? "gear board, " : "") + countText(*step);
    if (step->joint >= 0)
        title += " · then hang it on: " +
                 QString::fromStdString(at(m_session.project().joints, step->joint).name).toHtmlEscaped();
    m_title->setText(title);
    if (step->board >= 0)
        for (const auto& line : step->tray)
            new QListWidgetItem(iconOf(parts::makeShape(line.shape).value(), line.colour),
                                QString::number(line.count) + "x " + QString::fromStdString(line.shape) + "\n" +
                                    colourName(line.colour),
                                m_tray);
    for (int p : step->added) {
        const auto& part = at(at(m_session.project().sections, step->section)->parts, p);
        auto* item =
            new QListWidgetItem(iconOf(part.shape, part.colour),
                                QString::fromStdString(part.shape->name) + "\n" + colourName(part.colour), m_tray);
        item->setData(Qt::UserRole, QString::fromStdString(part.id.text));
    }
    markFaults();
    m_pictureTimer.start();
}

const QIcon& MakeStation::iconOf(const parts::ShapePtr& shape, int colour) {
    auto& icon = m_icons[{shape->name, colour}];
    if (icon.isNull())
        icon = QIcon(QPixmap::fromImage(
            print::toQImage(render::drawPart(*m_renderer, shape, colour, kPartPixels * 2, kPartPixels * 2))));
    return icon;
}

void MakeStation::drawPicture() {
    const auto* step = current();
    if (!step || !m_renderer || m_stale || !isVisible()) return;
    render::PictureRequest request;
    request.width = std::max(200, m_picture->width());
    request.height = std::max(150, m_picture->height());
    request.showStep(*step, m_session.project(), m_session.tree());
    const QColor c = theme().paper;
    request.background = {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                          static_cast<std::uint8_t>(c.blue()), 255};
    m_picture->setPixmap(QPixmap::fromImage(
        print::toQImage(m_renderer->draw(render::makeScene(m_session.placed(), m_session.bonds(), request)))));
}

void MakeStation::showPartsList() {
    std::vector<TableRow> rows;
    for (const auto& line : make::listParts(m_session.project()))
        rows.push_back({numberCell(line.count, 0),
                        {QString::fromStdString(line.shape), {}},
                        {colourName(line.colour), {}},
                        numberCell(line.eachG, 2),
                        numberCell(line.eachG * line.count, 1),
                        {line.weighed ? "measured" : "starting value", {}}});
    for (const auto& line : make::listBallast(m_session.project()))
        rows.push_back({numberCell(1, 0),
                        {"ballast in " + QString::fromStdString(line.section), {}},
                        {"-", {}},
                        numberCell(line.massG, 1),
                        numberCell(line.massG, 1),
                        {"as entered", {}}});
    fillTable(m_parts, {"Count", "Part", "Colour", "Each g", "Together g", "Mass basis"}, rows);
}

void MakeStation::printGuide(const QString& ending) {
    const QString name = QString::fromStdString(m_session.project().name) + "." + ending;
    const QString path = QFileDialog::getSaveFileName(this, "Sheets", name, ending.toUpper() + " (*." + ending + ")");
    if (!path.isEmpty()) writeGuide(path);
}

void MakeStation::writeGuide(const QString& path) {
    const auto snapshot = std::make_shared<const model::Project>(m_session.project());
    const auto known = m_session.isReportCurrent() ? m_session.report() : nullptr;
    const auto outcome = std::make_shared<base::Status>();
    m_session.jobs().start(
        "sheets",
        [snapshot, known, outcome, path](base::Progress& progress) {
            const auto& report = known ? *known : verdict::calcReport(snapshot);
            *outcome = path.endsWith(".html") ? print::writeGuideHtml(report, path.toStdString(), &progress)
                                              : print::writeGuidePdf(report, path.toStdString(), &progress);
        },
        [this, outcome, path] {
            m_session.say(*outcome ? "Sheets written: " + path
                                   : QString::fromStdString("Sheets not written: " + outcome->error().message),
                          !*outcome);
            emit guideWritten(path, outcome->ok());
        });
}

} // namespace ivrant::app
