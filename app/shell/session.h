// SPDX-License-Identifier: GPL-3.0-or-later
// What is being worked on, and what is known about it?
//
// The session holds the history of one project, what is selected, and runs the analyses in the background: every edit
// starts them anew, results of older snapshots are dropped. Stations and the verdict slip only show what it publishes.
#pragma once

#include <QLockFile>
#include <QObject>
#include <QString>
#include <QTimer>
#include <functional>
#include <memory>
#include <set>

#include "app/shell/jobs.h"
#include "app/shell/supply_files.h"
#include "core/base/units.h"
#include "core/files/journal.h"
#include "core/model/history.h"
#include "core/model/look.h"
#include "core/verdict/report.h"

namespace ivrant::app {

using ReportPtr = std::shared_ptr<const verdict::Report>;
using Edit = std::function<model::EditResult(const model::Project&)>;

class Session : public QObject {
    Q_OBJECT
public:
    /// `journalFolder`: where unsaved work is kept.
    Session(Jobs& jobs, const QString& journalFolder, QObject* parent = nullptr);
    ~Session() override;

    // The project
    /// As it is seen: in the joint values that are looked at, if any are.
    [[nodiscard]] const model::Project& project() const { return m_seen ? *m_seen : m_history.current(); }
    /// As it is set: what is saved.
    [[nodiscard]] const model::Project& asSet() const { return m_history.current(); }
    [[nodiscard]] const model::History& history() const { return m_history; }
    [[nodiscard]] QString path() const { return m_path; }
    [[nodiscard]] bool isModified() const { return m_modified; }
    /// Applies an edit under a name for the undo list. False, with a message published, when it is refused.
    bool apply(const QString& name, const Edit& edit);
    /// Like apply, but successive calls of one drag become one entry of the undo list.
    bool applyLive(const QString& name, const Edit& edit);
    /// Adds a series to the person's own library, which counts in every project. False, with a message, when it cannot
    /// be written.
    bool keepInWorkshop(const model::Series& series);
    void undo();
    void redo();

    // Looking at the model in other joint values than its own changes nothing of it. An edit that moves a joint is
    // meant as it is seen and ends the look; any other leaves the joints as they are set.
    void look(const model::PoseId& pose);
    void look(const QString& name, const model::ValuesByJoint& values);
    void lookAway();
    /// What is looked at, by name; empty: the model as set.
    [[nodiscard]] QString looksAt() const { return m_seen ? m_look.name : QString(); }
    /// The joints are set as they are seen.
    void setAsSeen();

    /// `folder`: from where it names its tables, if not from that of `path`; `known`: they are read already.
    void reset(model::Project project, const QString& path, bool modified, const QString& folder = {},
               const SupplyFiles* known = nullptr);
    /// The tables that the project names, as they are on the disk now.
    void readSupplies();
    /// Other tables (stockFiles, priceFiles, columns of `files`), and what they hold.
    void setSupplyFiles(const QString& name, const model::Making& files);
    /// From where tables are named; empty: they are named by their whole path.
    [[nodiscard]] const QString& supplyFolder() const { return m_supplyFiles.folder(); }
    /// Reads a file in the background; returns when it is there, refused or given up (cancelOpening). The window goes
    /// on painting meanwhile.
    [[nodiscard]] bool load(const QString& path);
    void cancelOpening();
    [[nodiscard]] bool save(const QString& path);
    /// Opens what an earlier run left unsaved, as a model of its own that is nowhere saved yet.
    void restore(const files::JournalEntry& entry);
    /// Where the restored model was saved once; empty: never, or not restored.
    [[nodiscard]] const QString& origin() const { return m_origin; }
    /// Somebody else wrote the project's file since it was read or saved here (its content differs).
    [[nodiscard]] bool isChangedOnDisk() const;
    /// Who else has the project's file open; empty: nobody that is known.
    [[nodiscard]] QString openElsewhere() const { return m_openElsewhere; }
    /// How a project file is read; tests make it slow.
    std::function<base::Result<std::string>(const std::string& path)> readProjectFile;

    // Where things are now
    [[nodiscard]] const model::SectionTree& tree() const { return m_tree; }
    [[nodiscard]] const model::Placed& placed() const { return m_placed; } ///< present joint values, as it stands
    [[nodiscard]] const std::vector<bonds::SectionBondsPtr>& bonds() const { return m_bonds; }
    [[nodiscard]] ReportPtr report() const { return m_report; } ///< may be of an older snapshot; may be null
    /// What is known so far: while an edit is looked at, its first verdicts with the older ones, marked as stale, of
    /// what follows. Null as report().
    [[nodiscard]] ReportPtr shown() const { return m_stage ? m_stage : m_report; }
    [[nodiscard]] bool isReportCurrent() const { return m_reportRevision == m_revision; }

    // Selection
    [[nodiscard]] const std::set<model::PartId>& selection() const { return m_selection; }
    [[nodiscard]] std::vector<model::PartId> selectedParts() const { return {m_selection.begin(), m_selection.end()}; }
    void select(std::set<model::PartId> parts);
    [[nodiscard]] const model::SectionId& currentSection() const { return m_section; }
    void setCurrentSection(const model::SectionId& id);
    [[nodiscard]] const model::JointId& currentJoint() const { return m_joint; }
    void setCurrentJoint(const model::JointId& id);
    /// Parts that the selected verdict is about.
    [[nodiscard]] const std::set<model::PartId>& marked() const { return m_marked; }
    void setMarked(std::set<model::PartId> parts);

    [[nodiscard]] base::LengthUnit unit() const { return m_unit; }
    void setUnit(base::LengthUnit unit);
    /// Everything shown is drawn anew, as after a change of theme.
    void refreshViews();
    void say(const QString& message, bool wrong = false) { emit said(message, wrong); }
    /// A failure that stays on the screen until it is answered.
    void warn(const QString& message) { emit warned(message); }
    [[nodiscard]] Jobs& jobs() { return m_jobs; }
    [[nodiscard]] const QString& journalFolder() const { return m_journalFolder; }
    /// Keeps a copy of unsaved work now instead of in a moment. False, with a message published, when it cannot be
    /// written.
    bool keepCopyNow();
    /// Ends the copy of unsaved work for good, when the window closes in order.
    void dropJournal() { m_journal->close(); }

signals:
    void projectOpened(); ///< another project takes the place of the one before; projectChanged follows
    void projectChanged();
    void reportChanged(); ///< all verdicts of the present snapshot are there
    void stageChanged();  ///< some of them are: shown()
    void selectionChanged();
    void unitChanged();
    void savedChanged();
    void said(const QString& message, bool wrong);
    void warned(const QString& message);
    void openingSlowly(const QString& path); ///< until openingEnded; cancelOpening gives it up
    void openingEnded();

private:
    struct Look {
        QString name;
        model::PoseId pose;          ///< empty: values of no pose
        model::ValuesByJoint values; ///< of no pose
    };
    struct EndedLook { ///< by an edit that moved a joint: taking it back leads to the look again
        Look look;
        QString edit;
        pose::JointValues set; ///< before it
    };
    bool accept(const QString& name, const Edit& edit, bool live);
    [[nodiscard]] model::EditResult editSeen(const QString& name, const Edit& edit);
    void refresh(bool opened = false);
    void see();
    void stepHistory(const std::function<void()>& step);
    void startAnalysis();
    void addQuickBonds(const ReportPtr& report, quint64 revision);
    void addBonds(const ReportPtr& report, quint64 revision);
    void writeJournal();
    [[nodiscard]] std::string journalPath() const;
    void setFile(const QString& path, const QByteArray& content);
    void loadWorkshop();
    void writeSupplies();

    Jobs& m_jobs;
    model::History m_history;
    Look m_look;
    std::optional<EndedLook> m_endedLook; ///< the last one
    std::optional<model::Project> m_seen; ///< the newest snapshot as m_look tells; none: as set
    QString m_path, m_origin, m_journalFolder, m_openElsewhere;
    SupplyFiles m_supplyFiles;
    QByteArray m_savedHash;                ///< of the file's content as read or saved here
    std::unique_ptr<QLockFile> m_fileLock; ///< beside the project's file, where the folder lets us
    std::function<void()> m_endWaiting;
    bool m_openingCancelled = false;
    bool m_modified = false, m_saidForgotten = false;
    std::shared_ptr<const std::vector<model::Series>> m_workshop; ///< the person's own library
    model::SectionTree m_tree;
    model::Placed m_placed;
    std::vector<bonds::SectionBondsPtr> m_bonds;
    ReportPtr m_report, m_stage;      ///< complete; in between
    stand::KeptForces m_provenForces; ///< where the next quick proof starts
    quint64 m_revision = 0, m_reportRevision = 0;
    std::shared_ptr<base::Progress> m_analysis;
    std::set<model::PartId> m_selection, m_marked;
    model::SectionId m_section;
    model::JointId m_joint;
    base::LengthUnit m_unit = base::LengthUnit::Studs;
    std::shared_ptr<files::Journal> m_journal; ///< shared with writes on their way
    QTimer m_journalTimer;
};

} // namespace ivrant::app
