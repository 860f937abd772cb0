// The window: header, station rail, the station's sheet, the verdict slip, and the line at the foot.
#pragma once

#include <QButtonGroup>
#include <QLabel>
#include <QMainWindow>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>

#include "app/shell/ask_field.h"
#include "app/shell/jobs.h"
#include "app/shell/session.h"
#include "app/shell/station.h"
#include "app/shell/verdict_slip.h"

namespace ivrant::app {

/// Questions put to the person, replaceable in tests.
struct Prompts {
    std::function<QString(QWidget*)> openPath;
    std::function<QString(QWidget*, const QString&)> savePath;
    /// Save, discard or cancel unsaved work: 'y', 'n' or 'c'.
    std::function<char(QWidget*)> keepChanges;
    /// Restore unsaved work of an earlier run?
    std::function<bool(QWidget*, const QString&)> restore;
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
    [[nodiscard]] Station* station(int index) { return m_stations[static_cast<std::size_t>(index)]; }
    [[nodiscard]] int stationCount() const { return static_cast<int>(m_stations.size()); }
    [[nodiscard]] int currentStation() const { return m_stack->currentIndex(); }
    void goStation(int index);
    [[nodiscard]] int indexOf(verdict::Station kind) const; ///< of the station of that kind
    bool openFile(const QString& path);
    /// Offers what earlier runs left unsaved.
    void offerJournals();
    [[nodiscard]] QString message() const { return m_message->text(); }

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void makeHeader(QWidget* header);
    void makeRail(QWidget* rail);
    void makeLine(QWidget* line);
    void makeMenus();
    void showTitle();
    void showCounts();
    void showJobs();
    void showMessage(const QString& text, bool wrong);
    void setDark(bool dark);
    void setRules(model::BuildRules rules);
    bool mayDrop();
    bool save();
    bool saveAs();
    void rememberRecent(const QString& path);
    void fillRecent();
    void fillPlaces(std::vector<AskEntry>& entries);
    [[nodiscard]] std::vector<AskEntry> askEntries();

    Prompts m_prompts;
    Jobs m_jobs;
    Session m_session;
    std::vector<Station*> m_stations;
    std::vector<QPushButton*> m_railButtons;
    QStackedWidget* m_stack;
    VerdictSlip* m_slip;
    AskField* m_ask;
    QLabel* m_model;
    VariantChips* m_variants = nullptr;
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
};

} // namespace ivrant::app
