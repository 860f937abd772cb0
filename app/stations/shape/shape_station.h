// SPDX-License-Identifier: GPL-3.0-or-later
// Shape: sections built from parts by typing and clicking; what holds to what is seen at once.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/sheet3d/view_bar.h"
#include "app/shell/station.h"
#include "app/stations/shape/hanging_part.h"
#include "app/stations/shape/section_tree.h"

namespace ivrant::app {

class ShapeStation : public Station {
    Q_OBJECT
public:
    explicit ShapeStation(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return "Shape"; }
    [[nodiscard]] verdict::Station kind() const override { return verdict::Station::Shape; }
    [[nodiscard]] int number() const override { return 2; }
    [[nodiscard]] QString keysText() const override;
    void goTo(const verdict::Place& place) override;
    [[nodiscard]] QWidget* focusTarget() override { return m_line; }
    [[nodiscard]] Sheet3d* sheet() { return m_sheet; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeCommands();
    void makeHooks();
    void lineChanged(const QString& text);
    void enterPressed();
    void putDown();
    void showHang();
    void showOffers();
    void acceptOffer();
    void joinBy(const bonds::JointOffer& offer, bool asTheyStand);
    bool handleKey(class QKeyEvent* event);
    void nudge(const geometry::Vec3& screenStep, bool vertical);
    [[nodiscard]] render::PartState stateOf(model::PartSpot spot, const model::Part& part) const;
    void drawOverlay(QPainter& painter) const;
    void findTroubles();
    /// What a line such as "colour reed" or "weighs 2.4" would do to the selected parts; empty when it is no command.
    [[nodiscard]] QString describeLineCommand(const QString& text) const;
    /// Does it; false when it is no command.
    bool runLineCommand(const QString& text);
    void applyLine(const QString& name, const Edit& edit);

    // Commands
    void newSection();
    void copySection(bool mirrored);
    void removeSection();
    void moveHere();
    void duplicate();
    void mirror(bool copy);
    void removeSelected();
    void join();
    void selectNext(int way, bool keep);
    void newStep();
    void takeBallastOut();
    void showOwnShapes();

    Session& m_session;
    HangingPart m_hang;
    SectionTree* m_tree;
    Sheet3d* m_sheet;
    ViewBar* m_views = nullptr;
    QLineEdit* m_line;
    QLabel* m_hint;
    QLabel* m_place;
    QPushButton* m_offer;
    QAction* m_isolate = nullptr;
    QAction* m_ghost = nullptr;
    model::PartId m_stepped; ///< last part that the keyboard went to
    std::vector<bonds::JointOffer> m_offers;
    std::map<model::PartSpot, QColor> m_troubles;
    QString m_suggestion;
    int m_usualColour = 0;
    bool m_nextStep = false;
};

} // namespace ivrant::app
