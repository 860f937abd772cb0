// SPDX-License-Identifier: GPL-3.0-or-later
// The strip of steps with small pictures, the marked step as it will print, its parts, and what the builder says of it.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTimer>
#include <map>

#include "app/sheet3d/scene_picture.h"
#include "app/shell/live.h"
#include "core/make/proposal.h"
#include "core/make/steps.h"
#include "core/study/hands.h"
#include "render/renderer.h"

namespace ivrant::app {

class StepsTab : public QWidget {
    Q_OBJECT
public:
    /// Commands go to `owner`, the station.
    StepsTab(Session& session, QWidget* owner, QWidget* parent);
    /// The step that the part goes in at; false: there is none.
    bool goToPart(model::PartSpot spot);
    /// By its number through the model.
    void goToStep(int number);
    [[nodiscard]] QListWidget* strip() { return m_steps; }
    /// The chosen parts of the tray go to the step of that row.
    void dropParts(int row);
    /// The marked step goes before or after that of the row, as far as it has to.
    void dropStep(int row);

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeStrip(QWidget* left, QWidget* owner);
    void makePage(QWidget* page);
    void rebuild();
    void showStep();
    void drawPicture();
    void paintWays(QPainter& painter) const;
    void drawStripIcon();
    [[nodiscard]] const QIcon& iconOf(const parts::ShapePtr& shape, int colour);
    void changeStep(const char* name,
                    const std::function<model::EditResult(const model::Project&, const model::SectionId&, int)>& edit);
    void moveStep(int by);
    void moveParts(int by);
    void takeOrder(make::Take take);
    [[nodiscard]] std::vector<model::PartId> chosenParts() const;
    /// The part that notes of the step hang on, with what is noted already.
    [[nodiscard]] model::StepNote noteOf(const make::Step& step) const;
    void takeView();
    /// What is typed belongs to the step that it was typed at.
    void keepTyped();
    [[nodiscard]] QStringList listFaults(const make::Step& step) const;
    void markFaults();
    void showHolds();
    [[nodiscard]] const make::Step* current() const;

    Session& m_session;
    std::shared_ptr<render::Renderer> m_renderer;
    std::vector<make::Step> m_list;
    QListWidget* m_steps;
    QListWidget* m_tray;
    ScenePicture* m_picture;
    QLabel* m_title;
    QLabel* m_faults; ///< what cannot go in at the step that is shown
    QLabel* m_holds;  ///< what is to be held from below at that step
    QLineEdit* m_note;
    model::PartId m_noteOf; ///< what the text in it hangs on
    QPushButton* m_keepView;
    struct StripIcon {
        model::SectionPtr of; ///< kept, so that its address means nothing else meanwhile
        QIcon icon;
    };
    std::map<std::pair<std::string, int>, QIcon> m_icons;                          ///< by shape and colour
    std::map<std::tuple<const model::Section*, int, int>, StripIcon> m_stripIcons; ///< by section, step and `after`
    QTimer m_pictureTimer, m_stripTimer; ///< draw once the person stops leafing; one small picture after the other
    Live<std::vector<study::HoldHint>> m_holdsSought;
    std::weak_ptr<const model::Section> m_holdsOf; ///< section that m_holdHints are of
    std::vector<study::HoldHint> m_holdHints;
    std::pair<int, int> m_shown{-1, -1}; ///< section and step that the picture shows
    bool m_stale = true;
};

} // namespace ivrant::app
