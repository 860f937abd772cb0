// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/session.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDate>
#include <QDir>
#include <QEventLoop>
#include <QFileInfo>
#include <QStandardPaths>
#include <QSysInfo>
#include <QUuid>
#include <atomic>
#include <thread>

#include "app/shell/text.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/brief_file.h"
#include "core/files/project_file.h"
#include "core/model/texts.h"
#include "core/pose/stance.h"
#include "render/bake.h"

namespace ivrant::app {
namespace {
constexpr int kJournalDelayMs = 1000;
constexpr std::size_t kLargeParts = 2000;
constexpr int kAfterPaintMs = 60;
constexpr int kLookMs = 5, kSlowOpeningMs = 500;

QString workshopPath() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/workshop.json"; }

model::Project withWorkshop(model::Project project, std::shared_ptr<const std::vector<model::Series>> workshop) {
    project.workshop = std::move(workshop);
    project.today = QDate::currentDate().toString("yyyy-MM-dd").toStdString();
    return project;
}
} // namespace

Session::Session(Jobs& jobs, const QString& journalFolder, QObject* parent)
    : QObject(parent), m_jobs(jobs), m_history(model::makeEmptyProject("New model")), m_journalFolder(journalFolder),
      m_journal(std::make_shared<files::Journal>(journalFolder.toStdString(),
                                                 QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString())) {
    readProjectFile = [](const std::string& path) { return files::readFile(path, files::kMaxFileBytes); };
    m_journalTimer.setSingleShot(true);
    m_journalTimer.setInterval(kJournalDelayMs);
    connect(&m_journalTimer, &QTimer::timeout, this, &Session::writeJournal);
    loadWorkshop();
    m_history = model::History(withWorkshop(project(), m_workshop));
    refresh();
}

Session::~Session() {
    if (m_analysis) m_analysis->stop();
}

/// What the edit of what is seen means for the model as set.
model::EditResult Session::editSeen(const QString& name, const Edit& edit) {
    auto result = edit(project());
    if (!result || !m_seen) return result;
    if (model::changesVariants(*m_seen, *result)) {
        m_seen.reset();
        return edit(asSet());
    }
    auto settled = model::settle(asSet(), *m_seen, std::move(result).value());
    if (settled.moved) {
        m_endedLook = EndedLook{m_look, name, pose::getValues(asSet(), nullptr)};
        m_seen.reset();
    }
    return std::move(settled.project);
}

bool Session::accept(const QString& name, const Edit& edit, bool live) {
    const auto seen = m_seen;
    auto result = editSeen(name, edit);
    if (!result) {
        m_seen = seen; // what is refused ends no look
        say(QString::fromStdString(result.error().message), true);
        return false;
    }
    if (auto texts = model::checkTexts(*result); !texts) { // what is taken in can be written and read again
        m_seen = seen;
        say(QString::fromStdString("Not taken over: " + texts.error().message), true);
        return false;
    }
    if (live)
        m_history.pushOrReplace(name.toStdString(), std::move(result).value());
    else
        m_history.push(name.toStdString(), std::move(result).value());
    if (m_history.forgotten() > 0 && !m_saidForgotten) {
        m_saidForgotten = true;
        say("Undo reaches far back, but no further: from here on the oldest steps are forgotten to keep memory "
            "bounded");
    }
    m_modified = true;
    refresh();
    writeSupplies();
    return true;
}

bool Session::apply(const QString& name, const Edit& edit) { return accept(name, edit, false); }
bool Session::applyLive(const QString& name, const Edit& edit) { return accept(name, edit, true); }

void Session::loadWorkshop() {
    if (!QFileInfo::exists(workshopPath())) return;
    auto measured = files::loadWorkshop(workshopPath().toStdString());
    if (!measured) { // it stays on the disk as it is; the program goes on without it
        QTimer::singleShot(0, this, [this, e = measured.error()] {
            say(QString::fromStdString("The workshop's library was not read: " + e.message + " (at " + e.place + ")"),
                true);
        });
        return;
    }
    m_workshop = std::make_shared<const std::vector<model::Series>>(std::move(measured).value());
}

bool Session::keepInWorkshop(const model::Series& series) {
    auto all = m_workshop ? *m_workshop : std::vector<model::Series>();
    if (all.empty() && QFileInfo::exists(workshopPath()) && !files::loadWorkshop(workshopPath().toStdString())) {
        say("Not kept: the library at " + workshopPath() + " cannot be read, and would be lost", true);
        return false;
    }
    all.push_back(series);
    QDir().mkpath(QFileInfo(workshopPath()).path());
    if (auto saved = files::writeFileAtomically(workshopPath().toStdString(), files::writeWorkshop(all)); !saved) {
        warn(QString::fromStdString("Not kept: " + saved.error().message));
        return false;
    }
    m_workshop = std::make_shared<const std::vector<model::Series>>(std::move(all));
    return apply("Keep in the workshop's library",
                 [&](const model::Project& p) -> model::EditResult { return withWorkshop(p, m_workshop); });
}

void Session::look(const model::PoseId& pose) {
    const int q = asSet().findPose(pose);
    if (q < 0) return;
    const auto values = pose::getValues(asSet(), &ivrant::at(asSet().poses, q));
    if (values == pose::getValues(project(), nullptr)) return; // it stands so already
    m_look = {qs(ivrant::at(asSet().poses, q).name), pose, {}};
    m_seen.emplace();
    refresh();
}

void Session::look(const QString& name, const model::ValuesByJoint& values) {
    m_look = {name, {}, values};
    m_seen.emplace();
    refresh();
}

void Session::lookAway() {
    if (!m_seen) return;
    m_seen.reset();
    refresh();
}

void Session::setAsSeen() {
    if (!m_seen) return;
    const QString name = "Set the joints as in " + m_look.name;
    m_endedLook = EndedLook{m_look, name, pose::getValues(asSet(), nullptr)};
    auto seen = std::move(*m_seen);
    m_seen.reset();
    apply(name, [&](const model::Project&) -> model::EditResult { return std::move(seen); });
}

/// The newest snapshot as it is looked at; a pose that is gone ends the look, and so does one it stands in anyhow.
void Session::see() {
    if (!m_seen) return;
    const model::Project& set = asSet();
    const int q = m_look.pose.empty() ? -1 : set.findPose(m_look.pose);
    if (q >= 0) m_look.name = qs(ivrant::at(set.poses, q).name);
    const auto& values = q >= 0 ? ivrant::at(set.poses, q).values : m_look.values;
    m_seen = model::lookAt(set, values);
    const auto alike = [](const model::Joint& l, const model::Joint& r) { return l.value == r.value; };
    if (std::equal(set.joints.begin(), set.joints.end(), m_seen->joints.begin(), alike)) m_seen.reset();
}

/// What undo and redo do to the joints is to be seen.
void Session::stepHistory(const std::function<void()>& step) {
    const auto before = pose::getValues(asSet(), nullptr);
    step();
    if (before != pose::getValues(asSet(), nullptr)) m_seen.reset();
}

void Session::undo() {
    if (!m_history.canUndo()) return;
    const QString name = QString::fromStdString(m_history.undoName());
    stepHistory([this] { m_history.undo(); });
    if (m_endedLook && m_endedLook->edit == name && m_endedLook->set == pose::getValues(asSet(), nullptr)) {
        m_look = m_endedLook->look;
        m_seen.emplace();
    }
    m_modified = true;
    refresh();
    writeSupplies();
    say("Taken back: " + name);
}

void Session::redo() {
    if (!m_history.canRedo()) return;
    stepHistory([this] { m_history.redo(); });
    m_modified = true;
    refresh();
    writeSupplies();
    say("Done again: " + QString::fromStdString(m_history.undoName()));
}

void Session::writeSupplies() {
    if (const QString wrong = m_supplyFiles.write(asSet()); !wrong.isEmpty()) warn(wrong);
}

void Session::readSupplies() {
    model::Project read = asSet();
    m_supplyFiles.read(read, m_supplyFiles.folder());
    apply("Read the tables again", [&](const model::Project& p) { return model::setSupplies(p, read.supplies); });
}

void Session::setSupplyFiles(const QString& name, const model::Making& files) {
    auto next = model::setSupplyFiles(asSet(), files.stockFiles, files.priceFiles, files.columns);
    if (!next) return say(QString::fromStdString(next.error().message), true);
    m_supplyFiles.read(next.value(), m_supplyFiles.folder());
    apply(name, [&](const model::Project& p) -> model::EditResult {
        auto changed = model::setSupplyFiles(p, files.stockFiles, files.priceFiles, files.columns);
        return changed ? model::setSupplies(*changed, next->supplies) : changed;
    });
}

void Session::reset(model::Project project, const QString& path, bool modified, const QString& folder,
                    const SupplyFiles* known) {
    const QString from = !folder.isEmpty() ? folder : path.isEmpty() ? QString() : QFileInfo(path).absolutePath();
    if (known)
        m_supplyFiles = *known;
    else
        m_supplyFiles.read(project, from);
    if (path.isEmpty() && !from.isEmpty()) { // it lies nowhere: its tables are named wherever they are
        project = m_supplyFiles.moved(std::move(project), "");
        m_supplyFiles.read(project, "");
    }
    m_seen.reset();
    m_endedLook.reset();
    m_history = model::History(withWorkshop(std::move(project), m_workshop));
    m_saidForgotten = false;
    m_origin.clear();
    setFile("", {});
    m_path = path;
    m_modified = modified;
    m_selection.clear();
    m_marked.clear();
    m_section = {};
    m_joint = {};
    m_report.reset();
    m_stage.reset();
    if (!modified) m_journal->clear();
    refresh(true);
    emit savedChanged();
}

void Session::restore(const files::JournalEntry& entry) {
    const QFileInfo origin(QString::fromStdString(entry.projectPath));
    reset(entry.project, "", true, entry.projectPath.empty() ? QString() : origin.absolutePath());
    m_origin = QString::fromStdString(entry.projectPath);
}

void Session::setFile(const QString& path, const QByteArray& content) {
    m_savedHash = QCryptographicHash::hash(content, QCryptographicHash::Sha256);
    if (path == m_path && m_fileLock) return;
    m_path = path;
    m_origin.clear();
    m_openElsewhere.clear();
    m_fileLock.reset();
    if (path.isEmpty()) return;
    const QFileInfo info(path);
    m_fileLock = std::make_unique<QLockFile>(info.absolutePath() + "/." + info.fileName() + ".lock");
    m_fileLock->setStaleLockTime(0); // only a process that is gone loses it
    if (m_fileLock->tryLock(0) || m_fileLock->error() != QLockFile::LockFailedError) return;
    qint64 process = 0;
    QString host, program;
    m_openElsewhere = m_fileLock->getLockInfo(&process, &host, &program)
                          ? QString("process %1 on %2")
                                .arg(process)
                                .arg(host == QSysInfo::machineHostName() ? QString("this machine") : host)
                          : QString("another window");
    m_fileLock.reset();
    warn("'" + info.fileName() + "' is open elsewhere too (" + m_openElsewhere +
         "). Whoever saves second is asked which one to keep.");
}

bool Session::isChangedOnDisk() const {
    if (m_path.isEmpty()) return false;
    const auto content = files::readFile(m_path.toStdString(), files::kMaxFileBytes);
    if (!content) return QFileInfo::exists(m_path); // something else is there now
    return QCryptographicHash::hash(QByteArray::fromRawData(content->data(), static_cast<qsizetype>(content->size())),
                                    QCryptographicHash::Sha256) != m_savedHash;
}

void Session::cancelOpening() {
    m_openingCancelled = true;
    if (m_endWaiting) m_endWaiting();
}

bool Session::load(const QString& path) {
    // A thread of its own: what hangs on a dead disk can be left behind, and keeps nothing else waiting.
    struct Opening {
        std::optional<base::Result<model::Project>> project;
        QByteArray content;
        SupplyFiles supplies;
        std::atomic<bool> done = false;
    };
    const auto opening = std::make_shared<Opening>();
    std::thread([opening, path = path.toStdString(), read = readProjectFile] {
        const auto text = read(path);
        opening->project.emplace(text ? files::parseProject(*text) : base::Result<model::Project>(text.error()));
        if (*opening->project) {
            opening->content = QByteArray::fromStdString(*text);
            opening->supplies.read(opening->project->value(), QFileInfo(QString::fromStdString(path)).absolutePath());
            // What the window will ask for at once, so that it does not have to wait for it.
            const model::Project& project = opening->project->value();
            const auto bonds = bonds::calcBonds(project);
            for (std::size_t s = 0; s < bonds.size(); ++s) render::bakeAhead(project.sections[s], bonds[s]);
        }
        opening->done = true;
    }).detach();
    QEventLoop waiting;
    QTimer look, slow;
    m_openingCancelled = false;
    m_endWaiting = [&waiting] { waiting.quit(); };
    connect(&look, &QTimer::timeout, &waiting, [&] {
        if (opening->done) waiting.quit();
    });
    look.start(kLookMs);
    slow.setSingleShot(true);
    connect(&slow, &QTimer::timeout, &waiting, &QEventLoop::quit);
    slow.start(kSlowOpeningMs);
    waiting.exec(QEventLoop::ExcludeUserInputEvents); // nothing may change under the file that is coming
    if (!opening->done) {
        emit openingSlowly(path); // the window lets nothing but its Cancel through
        waiting.exec();
        emit openingEnded();
    }
    m_endWaiting = nullptr;
    if (!opening->done) {
        say("Given up: " + path + " was not opened");
        return false;
    }
    if (!*opening->project) {
        const auto& e = opening->project->error();
        const std::string at = e.place.empty() || e.place == path.toStdString() ? "" : " (at " + e.place + ")";
        warn(QString::fromStdString("Not opened: " + base::printable(e.message + at)));
        return false;
    }
    reset(opening->project->value(), path, false, {}, &opening->supplies);
    setFile(path, opening->content);
    emit savedChanged();
    return true;
}

bool Session::save(const QString& path) {
    const QString folder = QFileInfo(path).absolutePath();
    if (const auto& making = asSet().making;
        folder != m_supplyFiles.folder() && (!making.stockFiles.empty() || !making.priceFiles.empty())) {
        model::Project moved = m_supplyFiles.moved(asSet(), folder);
        m_supplyFiles.read(moved, folder);
        apply("Name the tables from the new folder", [&](const model::Project& p) -> model::EditResult {
            model::Project next = p;
            next.making = moved.making;
            next.supplies = moved.supplies;
            return next;
        });
    } else {
        m_supplyFiles.setFolder(folder);
    }
    const std::string content = files::writeProject(asSet());
    if (auto saved = files::writeFileAtomically(path.toStdString(), content); !saved) {
        warn(QString::fromStdString("Not saved: " + saved.error().message));
        return false;
    }
    setFile(path, QByteArray::fromStdString(content));
    m_modified = false;
    m_journalTimer.stop();
    m_journal->clear();
    emit savedChanged();
    return true;
}

void Session::refresh(bool opened) {
    ++m_revision;
    see();
    const model::Project& p = project();
    m_tree = model::makeTree(p).value(); // edits return valid projects only
    m_bonds = bonds::calcBonds(p);
    m_placed = pose::calcPlaced(p, m_tree, pose::getValues(p, nullptr));
    pose::applyStance(m_placed, pose::getDefaultStance(p, m_tree));
    const model::PartIndex index(p);
    for (auto* set : {&m_selection, &m_marked})
        std::erase_if(*set, [&](const model::PartId& id) { return index.find(id).section < 0; });
    if (p.findSection(m_section) < 0) m_section = p.sections.front()->id;
    if (p.findJoint(m_joint) < 0) m_joint = p.joints.empty() ? model::JointId{} : p.joints.front().id;
    if (m_modified && !m_journalTimer.isActive()) m_journalTimer.start(); // not put off by further edits
    if (m_analysis) m_analysis->stop();
    // A large model is drawn first: its picture and its analysis at once would each take twice as long.
    const bool large = p.partCount() > kLargeParts;
    if (!large) startAnalysis();
    if (opened) emit projectOpened(); // who hears it finds the new model, whatever it asks
    emit projectChanged();
    if (!large) return;
    QTimer::singleShot(kAfterPaintMs, this, [this, revision = m_revision] {
        if (revision == m_revision) startAnalysis();
    });
}

void Session::startAnalysis() {
    const auto revision = m_revision;
    const auto snapshot = std::make_shared<const model::Project>(project());
    const auto result = std::make_shared<ReportPtr>();
    const auto onStage = [this, revision, before = shown()](const verdict::Report& stage) { // on the job's thread
        auto known = std::make_shared<const verdict::Report>(before ? verdict::keepOlder(stage, *before) : stage);
        QMetaObject::invokeMethod(
            &m_jobs,
            [this, revision, known = std::move(known)] {
                if (revision != m_revision || m_reportRevision == m_revision) return; // stale
                m_stage = known;
                emit stageChanged();
            },
            Qt::QueuedConnection);
    };
    m_analysis = m_jobs.start(
        "verdicts",
        [snapshot, result, onStage, before = m_report](base::Progress& progress) {
            auto report = verdict::calcReport(snapshot, &progress, {}, onStage, before.get());
            if (report.complete) *result = std::make_shared<const verdict::Report>(std::move(report));
        },
        [this, result, revision] {
            if (!*result || revision != m_revision) return; // stale
            m_report = *result;
            m_stage.reset();
            m_reportRevision = revision;
            emit reportChanged();
            if (study::lacksBonds(*m_report)) addQuickBonds(m_report, revision);
        });
}

/// Large models: quick proof that it stands, if there is one, then the exact answer.
void Session::addQuickBonds(const ReportPtr& report, quint64 revision) {
    const auto result = std::make_shared<ReportPtr>();
    const auto kept = std::make_shared<stand::KeptForces>(m_provenForces);
    m_analysis = m_jobs.start(
        "quick proof",
        [report, result, kept](base::Progress& progress) {
            *result = std::make_shared<const verdict::Report>(verdict::addQuickBonds(*report, *kept, &progress));
        },
        [this, result, kept, revision] {
            if (revision != m_revision) return; // stale
            if ((*result)->poses.front().provenUse) {
                m_provenForces = std::move(*kept);
                m_report = *result;
                emit reportChanged();
            }
            addBonds(m_report, revision);
        });
}

void Session::addBonds(const ReportPtr& report, quint64 revision) {
    const auto result = std::make_shared<ReportPtr>();
    m_analysis = m_jobs.start(
        "bonds",
        [report, result](base::Progress& progress) {
            *result = std::make_shared<const verdict::Report>(verdict::addBonds(*report, &progress));
        },
        [this, result, revision] {
            if (revision != m_revision || study::lacksBonds(**result)) return; // stale, or stopped
            m_report = *result;
            emit reportChanged();
        });
}

std::string Session::journalPath() const { return (m_path.isEmpty() ? m_origin : m_path).toStdString(); }

void Session::writeJournal() {
    if (!m_modified) return;
    const auto snapshot = std::make_shared<const model::Project>(asSet());
    const auto outcome = std::make_shared<base::Status>();
    m_jobs.start(
        "keeping a copy",
        [snapshot, outcome, journal = m_journal, path = journalPath(), revision = m_revision](base::Progress&) {
            *outcome = journal->write(*snapshot, path, revision);
        },
        [this, outcome] {
            if (!m_modified) m_journal->clear(); // saved meanwhile
            if (!*outcome)
                warn(QString::fromStdString("No copy of the unsaved work could be kept: " + outcome->error().message));
        });
}

bool Session::keepCopyNow() {
    const auto kept = m_journal->write(asSet(), journalPath(), m_revision);
    if (!kept) warn(QString::fromStdString("No copy of the unsaved work could be kept: " + kept.error().message));
    return kept.ok();
}

void Session::select(std::set<model::PartId> parts) {
    m_selection = std::move(parts);
    emit selectionChanged();
}

void Session::setCurrentSection(const model::SectionId& id) {
    if (m_section == id) return;
    m_section = id;
    emit selectionChanged();
}

void Session::setCurrentJoint(const model::JointId& id) {
    if (m_joint == id) return;
    m_joint = id;
    emit selectionChanged();
}

void Session::setMarked(std::set<model::PartId> parts) {
    m_marked = std::move(parts);
    emit selectionChanged();
}

void Session::refreshViews() {
    emit projectChanged();
    if (m_report) emit reportChanged();
}

void Session::setUnit(base::LengthUnit unit) {
    m_unit = unit;
    emit unitChanged();
}

} // namespace ivrant::app
