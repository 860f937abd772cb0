// SPDX-License-Identifier: GPL-3.0-or-later
// A run of joints as one: total bend, radius, play, how it sags joint by joint, what to make firm first.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/stations/pose/pose_tab.h"
#include "core/pose/chain.h"

namespace ivrant::app {

class ChainTab : public PoseTab {
    Q_OBJECT
public:
    ChainTab(Session& session, QWidget* parent);

protected:
    void refresh() override;

private:
    struct Result {
        std::string trouble;
        pose::ChainStudy study;
        pose::SagStudy sag;
        std::vector<pose::FirmAdvice> firm;
        std::vector<pose::JointLoad> loads;
    };
    void show(const Result& result);
    QComboBox *m_first, *m_last;
    void showText(const QString& text);
    QLabel* m_text;
    QTableWidget* m_table;
    QPushButton *m_low, *m_high, *m_sagged;
    Live<Result> m_live;
    Result m_result;
    bool m_chosen = false;
};

} // namespace ivrant::app
