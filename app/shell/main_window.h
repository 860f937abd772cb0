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

#include "app/shell/ask_field.h"
#include "app/shell/jobs.h"
#include "app/shell/notice_bar.h"
#include "app/shell/session.h"
#include "app/shell/start_sheet.h"
#include "app/shell/station.h"
#include "app/shell/verdict_slip.h"

namespace ivrant::app {

/// What the person wants of the copies of unsaved work: open or discard the one in a row, or leave all for later.
struct CopyAnswer {
    enum class What { Open, Discard, Later } what = What::Later;
    int row = 0;
};

/// Questions put to the person, replaceable in tests.
struct Prompts {
    std::function<QString(QWidget*)> openPath;
    std::function<QString(QWidget*, const QString&)> savePath;
    /// Save, discard or cancel unsaved work: 'y', 'n' or 'c'.
    std::function<char(QWidget*)> keepChanges;
    /// What to do with the copies of unsaved work that earlier runs left, told one a line.
    std::function<CopyAnswer(QWidget*, const QStringList&)> copies;
    /// The file is another one than was read: 'o' overwrites it, 'k' keeps both, 'c' cancels.
    std::function<char(QWidget*, const QString&)> changedOnDisk;
    /// A question with yes and no.
    std::function<bool(QWidget*, const QString&)> sure;
};
[[nodiscard]] Prompts makeDialogPrompts();

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
    [[nodiscard]] Station* station(int index) { return m_stations[static_cast<std::size_t>(index)]; }
    [[nodiscard]] int stationCount() const { return static_cast<int>(m_stations.size()); }
    [[nodiscard]] int currentStation() const { return m_stack->currentIndex(); }
    void goStation(int index);
    [[nodiscard]] int indexOf(verdict::Station kind) const; ///< of the station of that kind
    /// Asks for unsaved changes first. A copy of an earlier run that was taken up is unsaved work like any other.
    bool openFile(const QString& path);
    /// How the program begins: offers what earlier runs left unsaved, then opens the file named, if any.
    void begin(const QString& path);
    /// Offers what earlier runs left unsaved; true when one of them was opened.
    bool offerJournals();
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
    bool mayDrop();
    bool save();
    bool saveAs();
    bool saveBoth();
    void showOpening(const QString& path);
    void rememberRecent(const QString& path);
    void fillRecent();
    void newModel();
    void beginFrom(const QString& path);
    void fillPlaces(std::vector<AskEntry>& entries);
    [[nodiscard]] std::vector<AskEntry> askEntries();

    Prompts m_prompts;
    Jobs m_jobs;
    Session m_session;
    std::vector<Station*> m_stations;
    QWidget *m_rail = nullptr, *m_line = nullptr;
    std::vector<QPushButton*> m_railButtons;
    QButtonGroup* m_railGroup = nullptr;
    QStackedWidget* m_stack;
    StartSheet* m_start = nullptr;
    VerdictSlip* m_slip;
    NoticeBar* m_notice;
    AskField* m_ask;
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
