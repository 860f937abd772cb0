// Stand: weight and balance, what the bonds carry in each case, what falls, and a counterweight to try.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/charts/tip_rose.h"
#include "app/sheet3d/view_bar.h"
#include "app/shell/live.h"
#include "app/shell/station.h"
#include "app/stations/stand/moves_panel.h"
#include "core/files/results_stand.h"
#include "core/stand/firm_shell.h"
#include "core/study/hidden.h"
#include "core/study/support_check.h"

namespace ivrant::app {

class StandStation : public Station {
    Q_OBJECT
public:
    explicit StandStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Stand"; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Stand; }
    [[nodiscard]] int number() const override { return 5; }
    [[nodiscard]] QString keysText() const override {
        return "N next case · B next bond · C carried by what is chosen · K keep a case · P posts · M moves · S sections · H half-built · W counterweight, "
               "drag it · "
               "Enter puts it "
               "in";
    }
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override { return m_sheet; }
    [[nodiscard]] Sheet3d* sheet() { return m_sheet; }
    /// What is shown: null while it is worked out.
    [[nodiscard]] const files::SolvedCase* shown() const { return m_solved.get(); }

protected:
    void showEvent(QShowEvent* event) override;

private:
    struct Weight { ///< a counterweight that is tried
        bool on = false;
        double gram = 50;
        geometry::Vec3 at = geometry::Vec3::Zero(); ///< world
        int section = 0;
    };

    struct SupportRow { ///< a post that the project has, or a place for one
        QString text;
        geometry::Vec3 top; ///< world
        std::optional<model::PartSpot> part;
        model::SupportId kept; ///< empty: a place for one
    };
    [[nodiscard]] const SupportRow* chosenSupport() const;

    void makePanel(QWidget* panel);
    void makeStrip(QHBoxLayout* strip, QHBoxLayout* steps);
    void proposeCore();
    void keepCase();
    void dropCase();
    void openDesk();
    void designSupport();
    void showSupports();
    void chooseSupport();
    void keepPost();
    void dropPost();
    void leaveSupports();
    void makeFirm();
    void markHidden();
    void makeCommands();
    void makeHooks();
    void projectChanged();
    void reportChanged();
    void rebuildChips();
    void listPoses();
    void takePose(const model::PoseId& id);
    void choose(const QString& key);
    void solve(bool asked = false);
    void showSolved();
    void showRose();
    void nextBond();
    void carryChosen();
    void tryEveryStep();
    void showMoves(bool on);
    void showWeights();
    void findPath();
    void drawPath(QPainter& painter) const;
    void startWeight();
    void moveWeight(QPointF position);
    void putWeight();
    void smallestWeight();
    void bestWeight();
    void findStandings();
    [[nodiscard]] std::vector<geometry::Vec3> weightPlaces() const;
    [[nodiscard]] std::optional<stand::Tipping> tippingWithWeight(double gram) const;
    [[nodiscard]] QPointF weightOnScreen() const;
    void drawOverlay(QPainter& painter) const;
    void drawWeight(QPainter& painter) const;
    void drawSupports(QPainter& painter, const model::Placed& placed) const;
    [[nodiscard]] std::optional<stand::StandCase> findCase() const;

    Session& m_session;
    Sheet3d* m_sheet;
    ViewBar* m_views = nullptr;
    TipRose* m_rose;
    MovesPanel* m_moves;
    QPushButton* m_movesButton = nullptr;
    QTableWidget* m_bonds;
    QLabel *m_outcome, *m_balance;
    QWidget* m_chips;
    QComboBox* m_pose = nullptr;
    QSpinBox* m_step = nullptr;
    QWidget* m_weightRow = nullptr;
    QDoubleSpinBox* m_gram = nullptr;
    QLabel* m_weightText = nullptr;
    QString m_key = "standing";
    std::vector<geometry::Vec3> m_hands; ///< of the case "own": where it is carried
    std::shared_ptr<const files::SolvedCase> m_solved;
    std::map<model::PartId, double> m_useOf; ///< of m_solved: most used bond of each part; −1: falls
    std::vector<int> m_listed;               ///< contacts by row
    std::vector<int> m_path;                 ///< contacts that the load of the chosen part, or of the weakest bond, takes to the ground
    int m_pathFrom = -1;                     ///< the body it begins in
    bool m_weighing = false;                 ///< the sections' weights are shown in the place of the bonds
    Weight m_weight;
    std::vector<stand::Standing> m_standings; ///< now, and on the moves: while a counterweight is tried
    bool m_dragging = false;
    bool m_stale = true; ///< the project changed while nobody looked
    Live<files::SolvedCase> m_live;
    Live<QString> m_steps;
    Live<stand::CoreProposal> m_core;
    Live<study::SupportDesign> m_design;
    Live<stand::FirmProposal> m_firm;
    Live<study::Hidden> m_hidden;
    std::optional<study::SupportDesign> m_supports; ///< shown in the place of the bonds
    std::vector<SupportRow> m_supportRows;
    bool m_supporting = false; ///< posts are looked at, after each change again
    QWidget* m_postRow = nullptr;
    QPushButton *m_keepPost = nullptr, *m_dropPost = nullptr;
};

} // namespace ivrant::app
