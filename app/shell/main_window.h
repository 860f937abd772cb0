// SPDX-License-Identifier: GPL-3.0-or-later
// The window: header, station rail, the station's sheet, the verdict slip, and the line at the foot.
#pragma once

#include <QButtonGroup>
#include <QLabel>
#include <QMainWindow>
#include <QPointer>
#include <QProgressBar>
#include <QProgressDialog>
#include <QPushButton>
#include <QStackedWidget>

#include "app/shell/command_field.h"
#include "app/shell/documents.h"
#include "app/shell/jobs.h"
#include "app/shell/notice_bar.h"
#include "app/shell/session.h"
#include "app/shell/start_sheet.h"
#include "app/shell/station.h"
#include "app/shell/verdict_slip.h"

#include "core/base/at.h"

namespace ivrant::app {

class VariantChips;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    /// `makeStations` builds the stations for the session, in rail order.
    using StationMaker = std::function<std::vector<Station*>(Session&, QWidget*)>;
    MainWindow(Prompts prompts, const QString& journalFolder, const StationMaker& makeStations);

    ~MainWindow() override;

    [[nodiscard]] Session& session() { return m_session; }
    [[nodiscard]] Jobs& jobs() { return m_jobs; }
    [[nodiscard]] VerdictSlip* slip() { return m_slip; }
    /// In the place of the stations until something is opened or a station is chosen.
    void showStart(bool on);
    [[nodiscard]] Station* station(int index) { return at(m_stations, index); }
    [[nodiscard]] int stationCount() const { return static_cast<int>(m_stations.size()); }
    [[nodiscard]] int currentStation() const { return m_stack->currentIndex(); }
    void goStation(int index);
    [[nodiscard]] int indexOf(verdict::Station kind) const; ///< of the station of that kind
    // As of Documents.
    bool openFile(const QString& path) { return m_documents->openFile(path); }
    void begin(const QString& path) { m_documents->begin(path); }
    bool offerJournals() { return m_documents->offerJournals(); }
    /// Says that an action failed inside, keeps a copy of what is unsaved and offers to save.
    void tellFailure(const QString& what);
    /// The system ends the program: unsaved work is kept for the next start, nothing is asked.
    void endNow();
    /// The newest message, a failure that waits for an answer first.
    [[nodiscard]] QString message() const {
        return m_notice->text().isEmpty() ? m_message->toolTip() : m_notice->text();
    }

protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void resizeToScreen();
    void makeHeader(QWidget* header);
    void makeRail(QWidget* rail);
    void makeLine(QWidget* line);
    void makeMenus();
    void showTitle();
    void showCounts();
    void showJobs();
    void showMessage(const QString& text, bool wrong);
    void fitMessage();
    void showKeys(const QString& text);
    void fitKeys();
    void setDark(bool dark);
    void setTextScale(double scale);
    void applySizes();
    void setRules(model::BuildRules rules);
    void showOpening(const QString& path);
    void fillRecent();
    void fillPlaces(std::vector<CommandEntry>& entries);
    [[nodiscard]] std::vector<CommandEntry> commandEntries();

    Jobs m_jobs;
    Session m_session;
    Documents* m_documents;
    std::vector<Station*> m_stations;
    QWidget *m_rail = nullptr, *m_line = nullptr;
    std::vector<QPushButton*> m_railButtons;
    QButtonGroup* m_railGroup = nullptr;
    QStackedWidget* m_stack;
    StartSheet* m_start = nullptr;
    VerdictSlip* m_slip;
    NoticeBar* m_notice;
    CommandField* m_commands;
    QLabel* m_model;
    VariantChips* m_variants = nullptr;
    QPushButton* m_look; ///< what is looked at; a click looks away
    QLabel* m_saved;
    QPushButton* m_unit;
    QLabel* m_keys;
    QLabel* m_message;
    QLabel* m_jobName;
    QProgressBar* m_progress;
    QPushButton* m_stop;
    QMenu* m_recent = nullptr;
    QMenu* m_stationMenu = nullptr;
    QTimer m_messageTimer;
    QPointer<QProgressDialog> m_opening;
};

} // namespace ivrant::app
