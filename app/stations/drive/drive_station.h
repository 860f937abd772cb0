// SPDX-License-Identifier: GPL-3.0-or-later
// Drive: the gear board with its typed line, what every function does in each position of the selector, the motor's
// working point, trains for a ratio.
#pragma once

#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QTabBar>
#include <QTabWidget>
#include <QTableWidget>
#include <QTimer>

#include "app/charts/motor_chart.h"
#include "app/shell/station.h"
#include "app/stations/drive/board_widget.h"
#include "app/stations/drive/finder_panel.h"
#include "app/stations/drive/travel_panel.h"
#include "core/drive/board_line.h"

namespace ivrant::app {

class DriveStation : public Station {
    Q_OBJECT
public:
    explicit DriveStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Drive"; }
    [[nodiscard]] int number() const override { return 4; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Drive; }
    [[nodiscard]] QString keysText() const override {
        return "type 24, clutch 24, bevel 12, motor medium, function lift, walls … · drag or arrows move, Shift half "
               "pitch · PgUp PgDn layer · F5 plays";
    }
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override { return m_widget; }
    [[nodiscard]] DriveStatePtr state() const { return m_state; }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void makeCommands();
    QWidget* makeSide();
    QWidget* makeStrip();
    void rebuild();
    void showTabs();
    void showLayers();
    void showFunctions();
    void showMotor();
    void showSelector();
    void showSelectorPage();
    void showPositions();
    void showComparison();
    void showMotors();
    void runLine();
    void place(const drive::FoundTrain& train);
    void moveChosen(const std::vector<std::string>& ids, std::int64_t dxUm, std::int64_t dyUm, std::int64_t dzUm,
                    bool done);
    void removeChosen();
    void takeOff();
    void renameChosen();
    void changeFunction();
    void changeBoard();
    void changeSelector();
    void buildWalls();
    void convertBoards();
    void stepLayer(int by);
    void play();
    void tick();
    void setSelector(const QString& id, int position);
    [[nodiscard]] QString trainText() const;
    [[nodiscard]] drive::BoardHand hand() const;
    [[nodiscard]] std::optional<model::BoardId> boardId() const;

    static constexpr int kSelectorTab = 2;

    Session& m_session;
    DriveStatePtr m_state;
    int m_board = 0;
    BoardWidget* m_widget;
    std::vector<std::string> m_dragged; ///< ids
    QTabBar* m_boards;
    QComboBox* m_layer;
    QLineEdit* m_line;
    QTabWidget* m_side;
    QLabel* m_train;
    QTableWidget* m_functions;
    QTableWidget* m_table; ///< function by position of the selectors
    QLabel* m_tableText;
    QTableWidget* m_compare; ///< selector against one motor for each function
    QLabel* m_compareText;
    MotorChart* m_chart;
    FinderPanel* m_finder;
    TravelPanel* m_travel;
    QWidget* m_positions;
    QPushButton* m_play;
    QSlider* m_time;
    QLabel* m_timeText;
    QTimer m_clock;
    std::int64_t m_lastX = 0, m_lastY = 0, m_lastZ = 0;
    bool m_elevation = true;
    bool m_dragging = false, m_stale = true, m_selectorStale = true;
};

} // namespace ivrant::app
