// SPDX-License-Identifier: GPL-3.0-or-later
// Shells and statues: the core left out, parts inside that make a shell firm, what is never seen, the statue desk.
#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/stations/stand/stand_tab.h"
#include "core/stand/core_removal.h"
#include "core/stand/firm_shell.h"
#include "core/study/hidden.h"

namespace ivrant::app {

class ShellTab : public StandTab {
    Q_OBJECT
public:
    ShellTab(Session& session, QWidget* parent);
    void forget() override;
    void leaveCoreOut();
    void makeFirm();
    /// Chooses what nobody sees in any pose, and says whose colour shows through gaps.
    void chooseHidden();
    void openDesk();
    void drawOverlay(QPainter& /*painter*/, const Sheet3d& /*sheet*/) const override {}

signals:
    void statueMade();

protected:
    void refresh() override;

private:
    QLabel* m_told;
    Live<stand::CoreProposal> m_core;
    Live<stand::FirmProposal> m_firm;
    Live<study::Hidden> m_hidden;
};

} // namespace ivrant::app
