// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/make_station.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/shell/table_tools.h"
#include "app/shell/when_seen.h"
#include "core/files/atomic_file.h"
#include "core/files/parts_csv.h"
#include "core/files/project_file.h"
#include "core/files/sheet_content.h"
#include "core/make/parts_list.h"
#include "core/parts/palette.h"
#include "print/guide.h"
#include "print/lineup.h"

namespace ivrant::app {

MakeStation::MakeStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_tabs(new QTabWidget(this)), m_steps(new StepsTab(session, this, this)),
      m_parts(new QTableWidget(this)), m_stock(new StockTab(session, this)), m_orders(new OrdersTab(session, this)),
      m_time(new TimeTab(session, this)), m_options(new OptionsTab(session, this)),
      m_modules(new ModulesTab(session, this)), m_packing(new PackingTab(session, this)), m_cautions(new QLabel(this)) {
    m_parts->setObjectName("partsList");
    m_parts->setAccessibleName("Parts list");
    setUpTable(m_parts, "parts");
    m_tabs->setObjectName("makeTabs");
    m_tabs->addTab(m_steps, "Step");
    m_tabs->addTab(m_parts, "Parts list");
    m_tabs->addTab(m_stock, "Stock");
    m_tabs->addTab(m_orders, "Orders");
    m_tabs->addTab(m_time, "Time");
    m_tabs->addTab(m_options, "Options");
    m_tabs->addTab(m_modules, "Modules");
    m_tabs->addTab(m_packing, "Packing");
    connect(m_stock, &StockTab::stepWanted, this, &MakeStation::goToStep);
    for (int tab = 0; tab < m_tabs->count(); ++tab)
        addCommand(this, "Make: " + m_tabs->tabText(tab), QKeySequence("Alt+" + QString::number(tab + 1)), [this, tab] {
            m_tabs->setCurrentIndex(tab);
            (tab == 0 ? focusTarget() : m_tabs->currentWidget())->setFocus();
        });
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_tabs, 1);
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
    exportButton("Steps as pictures …", {}, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, "Folder for a picture of each step");
        if (!folder.isEmpty()) writePictures(folder);
    });
    exportButton("Parts list as CSV …", {}, [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Parts list", "parts.csv", "CSV (*.csv)");
        if (path.isEmpty()) return;
        const auto saved = files::writeFileAtomically(path.toStdString(), files::makePartsCsv(m_session.project()));
        saved ? m_session.say("Parts list written")
              : m_session.warn(QString::fromStdString("Parts list not written: " + saved.error().message));
    });
    for (const auto& [key, text] : {std::pair("sheets/letter", "Sheets on Letter instead of A4"),
                                    std::pair("sheets/across", "Sheets across: three steps beside each other")}) {
        auto* format = addCommand(this, text, {}, [] {});
        format->setCheckable(true);
        format->setChecked(QSettings().value(key, false).toBool());
        connect(format, &QAction::toggled, this, [key](bool on) { QSettings().setValue(key, on); });
    }
    addCommand(this, "This and other models to one scale …", {}, [this] {
        const QStringList files =
            QFileDialog::getOpenFileNames(this, "Other models to stand beside this one", {}, "Models (*.ivrant)");
        if (files.isEmpty()) return;
        const QString path =
            QFileDialog::getSaveFileName(this, "Models to one scale", "models.pdf", "PDF (*.pdf);;PNG (*.png)");
        if (!path.isEmpty()) writeLineup(files, path);
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
        if (isVisible()) showPartsList();
    });
}

void MakeStation::goTo(const verdict::Place& place) {
    if (!place.things.empty() && m_modules->mark(place.things.front())) return m_tabs->setCurrentWidget(m_modules);
    if (!m_session.report() || place.parts.empty()) return;
    if (m_steps->goToPart(model::PartIndex(m_session.project()).find(place.parts.front())))
        m_tabs->setCurrentWidget(m_steps);
}

void MakeStation::goToStep(int number) {
    m_tabs->setCurrentWidget(m_steps);
    m_steps->goToStep(number);
}

void MakeStation::showEvent(QShowEvent*) {
    if (m_stale) showPartsList();
}

void MakeStation::showPartsList() {
    m_stale = false;
    std::vector<TableRow> rows;
    for (const auto& line : make::listParts(m_session.project()))
        rows.push_back({numberCell(line.count, 0),
                        {QString::fromStdString(line.shape), {}},
                        {QString::fromStdString(parts::getColourName(line.colour)), {}},
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

void MakeStation::writePictures(const QString& folder) {
    writeInBackground("pictures of the steps", folder,
                      [folder](const verdict::Report& report, base::Progress& progress) {
                          return print::writeStepPictures(report, folder.toStdString(), &progress);
                      });
}

void MakeStation::writeLineup(const QStringList& others, const QString& path) {
    writeInBackground("models to one scale", path,
                      [others, path](const verdict::Report& report, base::Progress&) -> base::Status {
                          std::vector<verdict::Report> reports{report};
                          for (const QString& file : others) {
                              auto project = files::loadProject(file.toStdString());
                              if (!project) return project.error();
                              study::Wanted places;
                              places.facts = 0;
                              reports.push_back(verdict::calcReport(
                                  std::make_shared<const model::Project>(std::move(project).value()), nullptr, places));
                          }
                          return print::writeLineup(reports, path.toStdString());
                      });
}

void MakeStation::writeGuide(const QString& path) {
    const print::PageFormat format{QSettings().value("sheets/letter", false).toBool(),
                                   QSettings().value("sheets/across", false).toBool()};
    writeInBackground("sheets", path, [path, format](const verdict::Report& report, base::Progress& progress) {
        return path.endsWith(".html") ? print::writeGuideHtml(report, path.toStdString(), &progress)
                                      : print::writeGuidePdf(report, path.toStdString(), &progress, format);
    });
}

void MakeStation::writeInBackground(const QString& what, const QString& path,
                                    std::function<base::Status(const verdict::Report&, base::Progress&)> write) {
    const auto snapshot = std::make_shared<const model::Project>(m_session.project());
    const auto known = m_session.isReportCurrent() ? m_session.report() : nullptr;
    const auto outcome = std::make_shared<base::Status>();
    m_session.jobs().start(
        what,
        [snapshot, known, outcome, write = std::move(write)](base::Progress& progress) {
            const auto& report = known ? *known : verdict::calcReport(snapshot);
            *outcome = write(report, progress);
        },
        [this, outcome, what, path] {
            const QString name = what.left(1).toUpper() + what.mid(1);
            m_session.say(*outcome ? name + " written: " + path
                                   : name + " not written: " + QString::fromStdString(outcome->error().message),
                          !*outcome);
            emit guideWritten(path, outcome->ok());
        });
}

} // namespace ivrant::app
