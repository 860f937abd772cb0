// SPDX-License-Identifier: GPL-3.0-or-later
// Modules: what lifts off by hand and how, and what must be within reach.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

#include "app/sheet3d/scene_picture.h"
#include "app/shell/station_tab.h"
#include "core/study/modules.h"

namespace ivrant::app {

class ModulesTab : public StationTab {
    Q_OBJECT
public:
    ModulesTab(Session& session, QWidget* parent);
    /// What is selected becomes a module; it is named in place.
    void addModule();
    /// What is chosen for each option that has none becomes one.
    void addFromOptions();
    /// The selected part must be within reach.
    void addReach();
    /// What is selected belongs to the marked module, or is what the marked reach is of.
    void assign();
    void remove();
    /// Marks the module or reach with this id, if there is one.
    bool mark(const std::string& id);

protected:
    void refresh() override;

private:
    struct Marked {
        int module = -1, reach = -1;
    };
    [[nodiscard]] Marked marked() const;
    void fillTables();
    void fillModules(const verdict::Report* report);
    void fillReaches(const verdict::Report* report);
    void showMarked();
    void tellModule(const verdict::Report& report, const study::LiftModule& one);
    void tellReach(const verdict::Report& report, const study::ReachWay& way);
    void showPicture(const verdict::Report* report);
    void takeDetails();

    QLabel *m_about, *m_told;
    QTableWidget *m_modules, *m_reaches;
    QLineEdit* m_name;
    QComboBox *m_pose, *m_side, *m_with;
    QSpinBox* m_most;
    ScenePicture* m_picture;
    bool m_filling = false, m_ofReach = false;
};

} // namespace ivrant::app
