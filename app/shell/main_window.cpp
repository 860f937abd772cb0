// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenuBar>
#include <QScreen>
#include <QSettings>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/shell/focus_mark.h"
#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/shell/variant_chips.h"

#include "core/base/at.h"

namespace ivrant::app {
namespace {
constexpr int kMessageMs = 9000;
constexpr int kMessageWidth = 720;
constexpr QSize kUsualSize{1280, 800}, kLeastSize{1100, 700};
constexpr QSize kFrameSize{4, 34}; ///< about what window managers add
} // namespace

MainWindow::MainWindow(Prompts prompts, const QString& journalFolder, const StationMaker& makeStations)
    : m_session(m_jobs, journalFolder), m_documents(new Documents(m_session, std::move(prompts), this)),
      m_stack(new QStackedWidget(this)), m_slip(nullptr), m_notice(new NoticeBar(this)), m_commands(nullptr),
      m_model(new QLabel(this)), m_look(new QPushButton(this)), m_saved(new QLabel(this)),
      m_unit(new QPushButton(this)), m_keys(new QLabel(this)), m_message(new QLabel(this)), m_jobName(new QLabel(this)),
      m_progress(new QProgressBar(this)), m_stop(new QPushButton("stop", this)) {
    new FocusMark(this);
    setMinimumSize(kLeastSize);
    resizeToScreen();
    auto* centre = new QWidget(this);
    auto* column = new QVBoxLayout(centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* header = new QWidget(centre);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    m_rail = new QWidget(centre);
    m_line = new QWidget(centre);
    m_slip = new VerdictSlip(m_session, centre);
    m_stations = makeStations(m_session, m_stack);
    for (auto* station : m_stations) m_stack->addWidget(station);
    column->addWidget(header);
    column->addWidget(m_notice);
    column->addLayout(middle, 1);
    column->addWidget(m_line);
    middle->addWidget(m_rail);
    m_start = new StartSheet(m_jobs, centre);
    middle->addWidget(m_start, 1);
    middle->addWidget(m_stack, 1);
    middle->addWidget(m_slip);
    setCentralWidget(centre);
    makeHeader(header);
    makeRail(m_rail);
    makeLine(m_line);
    makeMenus();
    applySizes();
    connect(&m_session, &Session::said, this, &MainWindow::showMessage);
    connect(&m_session, &Session::warned, this,
            [this](const QString& text) { m_notice->show(text, text.startsWith("Not saved")); });
    connect(&m_jobs, &Jobs::failed, this, [this](const QString& name, const QString& what) {
        m_session.warn("'" + name + "' was given up: something went wrong inside the program (" + what +
                       "). The model is untouched; what was known before stays.");
    });
    connect(m_documents, &Documents::begun, this, [this] { goStation(indexOf(verdict::Station::Shape)); });
    connect(m_documents, &Documents::startWanted, this, &MainWindow::showStart);
    connect(m_start, &StartSheet::newAsked, m_documents, &Documents::newModel);
    connect(m_start, &StartSheet::openAsked, m_documents, &Documents::openAsked);
    connect(m_start, &StartSheet::fileChosen, m_documents, &Documents::openFile);
    connect(m_start, &StartSheet::templateChosen, m_documents, &Documents::beginFrom);
    connect(&m_session, &Session::projectChanged, this, [this] { showStart(false); });
    connect(m_notice, &NoticeBar::saveElsewhere, m_documents, &Documents::saveAs);
    connect(&m_session, &Session::openingSlowly, this, &MainWindow::showOpening);
    connect(&m_session, &Session::openingEnded, this, [this] { delete m_opening; });
    connect(&m_session, &Session::projectChanged, this, &MainWindow::showTitle);
    connect(&m_session, &Session::savedChanged, this, &MainWindow::showTitle);
    connect(&m_jobs, &Jobs::changed, this, &MainWindow::showJobs);
    connect(m_slip, &VerdictSlip::counted, this, &MainWindow::showCounts);
    connect(m_slip, &VerdictSlip::picked, this, [this](const verdict::Verdict& v) {
        for (int i = 0; i < stationCount(); ++i)
            if (at(m_stations, i)->kind() == v.station) {
                const verdict::Place place = v.place; // going there may change the list
                if (currentStation() != i) goStation(i);
                at(m_stations, i)->goTo(place);
                break;
            }
    });
    for (auto* station : m_stations)
        connect(station, &Station::keysChanged, this, [this, station] {
            if (m_stack->currentWidget() == station && m_stack->isVisible()) showKeys(station->keysText());
        });
    m_messageTimer.setSingleShot(true);
    connect(&m_messageTimer, &QTimer::timeout, this, [this] { showMessage({}, false); });
    showTitle();
    goStation(indexOf(verdict::Station::Shape));
}

/// The usual size, or what the screen has room for with the frame that a window manager adds.
void MainWindow::resizeToScreen() {
    const QSize free = screen() ? screen()->availableSize() - kFrameSize : kUsualSize;
    resize(kUsualSize.boundedTo(free).expandedTo(kLeastSize));
}

int MainWindow::indexOf(verdict::Station kind) const {
    for (std::size_t i = 0; i < m_stations.size(); ++i)
        if (m_stations[i]->kind() == kind) return static_cast<int>(i);
    return 0;
}

MainWindow::~MainWindow() {
    m_jobs.stopAll();
    delete takeCentralWidget(); // the stations use the session, which goes with the members
}

void MainWindow::makeHeader(QWidget* header) {
    header->setObjectName("header");
    header->setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QHBoxLayout(header);
    layout->setContentsMargins(16, 6, 16, 6);
    makeMarkup(m_model)->setObjectName("modelName");
    layout->addWidget(m_model);
    m_variants = new VariantChips(m_session, header);
    layout->addWidget(m_variants);
    m_look->setObjectName("look");
    m_look->setProperty("flat2", true);
    m_look->setToolTip("The model is only looked at so: its joints stay as they are set. Click: back to that (Ctrl+.)");
    connect(m_look, &QPushButton::clicked, &m_session, &Session::lookAway);
    layout->addWidget(m_look);
    layout->addStretch(1);
    m_commands = new CommandField([this] { return commandEntries(); }, centralWidget());
    layout->addWidget(m_commands, 4);
    layout->addStretch(1);
    m_unit->setObjectName("unitSwitch");
    m_unit->setProperty("flat2", true);
    m_unit->setAccessibleName("Units");
    m_unit->setToolTip("Studs and plates, or millimetres (F9)");
    m_unit->setText("studs");
    connect(m_unit, &QPushButton::clicked, this, [this] {
        const bool studs = m_session.unit() == base::LengthUnit::Studs;
        m_session.setUnit(studs ? base::LengthUnit::Millimetres : base::LengthUnit::Studs);
        m_unit->setText(studs ? "mm" : "studs");
    });
    layout->addWidget(m_unit);
    m_saved->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    layout->addWidget(m_saved);
}

void MainWindow::makeRail(QWidget* rail) {
    rail->setObjectName("rail");
    rail->setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QVBoxLayout(rail);
    layout->setContentsMargins(6, 12, 6, 12);
    layout->setSpacing(6);
    m_railGroup = new QButtonGroup(this);
    for (int i = 0; i < stationCount(); ++i) {
        auto* button = new QPushButton(rail);
        button->setObjectName("rail" + at(m_stations, i)->title());
        button->setCheckable(true);
        button->setProperty("flat2", false);
        button->setStyleSheet("text-align: left; padding: 8px 8px;");
        button->setToolTip(at(m_stations, i)->title() + QString(" (Ctrl+%1)").arg(at(m_stations, i)->number()));
        m_railGroup->addButton(button);
        m_railButtons.push_back(button);
        connect(button, &QPushButton::clicked, this, [this, i] { goStation(i); });
        layout->addWidget(button);
    }
    layout->addStretch(1);
    showCounts();
}

void MainWindow::makeLine(QWidget* line) {
    line->setObjectName("line");
    line->setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(14, 0, 14, 0);
    m_keys->setObjectName("keys");
    m_keys->installEventFilter(this); // its width changes with what is told beside it
    m_keys->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    layout->addWidget(m_keys, 1);
    m_message->setObjectName("message");
    m_message->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    layout->addWidget(m_message);
    layout->addWidget(m_jobName);
    m_progress->setFixedSize(90, 10);
    m_progress->setTextVisible(false);
    layout->addWidget(m_progress);
    m_stop->setObjectName("stopJob");
    m_stop->setToolTip("Stop this background work");
    connect(m_stop, &QPushButton::clicked, this, [this] { m_jobs.stopShown(); });
    layout->addWidget(m_stop);
    showJobs();
}

void MainWindow::setRules(model::BuildRules rules) {
    m_session.apply("Build rules", [&](const model::Project& p) { return model::setRules(p, rules); });
}

void MainWindow::goStation(int index) {
    showStart(false);
    m_stack->setCurrentIndex(index);
    auto* station = at(m_stations, index);
    at(m_railButtons, index)->setChecked(true);
    showKeys(station->keysText());
    m_stationMenu->clear();
    m_stationMenu->addActions(station->commands());
    station->focusTarget()->setFocus();
}

void MainWindow::showCounts() {
    for (int i = 0; i < static_cast<int>(m_railButtons.size()); ++i) {
        const auto* station = at(m_stations, i);
        const int fails = m_slip ? m_slip->countFails(station->kind()) : 0;
        at(m_railButtons, i)
            ->setText(QString("%1 %2").arg(station->number()).arg(station->title()) +
                      (fails > 0 ? QString("  ▼%1").arg(fails) : QString()));
        at(m_railButtons, i)
            ->setAccessibleName(station->title() + (fails > 0 ? QString(", %1 failing").arg(fails) : QString()));
    }
}

void MainWindow::showTitle() {
    const QString name = QString::fromStdString(m_session.project().name);
    m_model->setText("<b>" + name.toHtmlEscaped() + "</b>");
    m_look->setText("seen: " + buttonText(m_session.looksAt()) + "  ×");
    m_look->setVisible(!m_session.looksAt().isEmpty());
    setWindowTitle(name + (m_session.isModified() ? " *" : "") + " – Ivrant");
    if (m_session.isModified())
        m_saved->setText(m_session.path().isEmpty() ? "not saved yet" : "unsaved changes");
    else
        m_saved->setText(
            m_session.path().isEmpty() ? "" : "saved " + QFileInfo(m_session.path()).lastModified().toString("HH:mm"));
}

void MainWindow::showJobs() {
    const QString name = m_jobs.shownName();
    m_jobName->setText(name);
    m_progress->setValue(static_cast<int>(m_jobs.shownFraction() * 100));
    for (QWidget* w :
         {static_cast<QWidget*>(m_jobName), static_cast<QWidget*>(m_progress), static_cast<QWidget*>(m_stop)})
        w->setVisible(!name.isEmpty());
}

void MainWindow::showMessage(const QString& text, bool wrong) {
    m_message->setToolTip(text.isEmpty() ? QString() : (wrong ? "▼ " : "") + text);
    m_message->setStyleSheet(wrong ? "color: #FFB59A; font-weight: 600;" : "");
    fitMessage();
    m_messageTimer.stop();
    if (!wrong && !text.isEmpty())
        m_messageTimer.start(kMessageMs); // what went wrong stays until something else is said
}

void MainWindow::showKeys(const QString& text) {
    m_keys->setToolTip(text);
    fitKeys();
}

/// As much of it as fits, its beginning first; all of it is in the tool tip.
void MainWindow::fitKeys() {
    m_keys->setText(m_keys->fontMetrics().elidedText(m_keys->toolTip(), Qt::ElideRight, m_keys->width()));
}

void MainWindow::fitMessage() {
    m_message->setText(m_message->fontMetrics().elidedText(m_message->toolTip(), Qt::ElideRight,
                                                           std::min(scaled(kMessageWidth), width() / 2)));
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    fitMessage();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_keys && event->type() == QEvent::Resize) fitKeys();
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::showOpening(const QString& path) {
    m_opening = new QProgressDialog("Opening " + path, "Cancel", 0, 0, this);
    m_opening->setObjectName("opening");
    m_opening->setWindowModality(Qt::ApplicationModal);
    m_opening->setMinimumDuration(0);
    connect(m_opening, &QProgressDialog::canceled, &m_session, &Session::cancelOpening);
    m_opening->show();
}

/// What is measured by the text.
void MainWindow::applySizes() {
    m_commands->setMinimumWidth(scaled(200));
    m_commands->setMaximumWidth(scaled(340));
    m_rail->setFixedWidth(scaled(112));
    m_line->setFixedHeight(scaled(26));
    m_stop->setFixedHeight(scaled(20));
    m_slip->setFixedWidth(scaled(328));
    for (auto* table : findChildren<QTableWidget*>()) table->verticalHeader()->setDefaultSectionSize(scaled(kTableRow));
    fitMessage();
}

void MainWindow::setTextScale(double scale) {
    applyTheme(*qApp, theme().dark, scale);
    QSettings().setValue("textScale", theme().scale);
    applySizes();
    m_session.refreshViews();
}

void MainWindow::setDark(bool dark) {
    applyTheme(*qApp, dark, theme().scale);
    QSettings().setValue("dark", dark);
    m_session.refreshViews();
}

void MainWindow::tellFailure(const QString& what) {
    const bool kept = m_session.isModified() && m_session.keepCopyNow();
    m_notice->show("Something went wrong inside the program (" + what + "). The model is still there" +
                       (kept ? ", a copy of what is unsaved is kept" : "") +
                       ". Look at what was done last, and save under another name if in doubt.",
                   true);
}

void MainWindow::endNow() {
    if (m_session.isModified()) (void)m_session.keepCopyNow();
    m_jobs.stopAll();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!m_documents->mayDrop()) return event->ignore();
    m_session.dropJournal();
    m_jobs.stopAll();
    event->accept();
}

} // namespace ivrant::app
