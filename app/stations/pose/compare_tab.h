// SPDX-License-Identifier: GPL-3.0-or-later
// A against B: what differs between the shown variant and another, in figures, joints, lengths and parts; the other's
// pose can lie over the sheet.
#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QTableWidget>

#include "app/stations/pose/pose_tab.h"
#include "core/verdict/compare.h"

namespace ivrant::app {

class CompareTab : public PoseTab {
    Q_OBJECT
public:
    CompareTab(Session& session, QWidget* parent);
    /// The other variant as it stands in its present pose, to draw over the sheet; null when it is not wanted.
    [[nodiscard]] std::shared_ptr<const verdict::Report> overlaid() const {
        return m_over->isChecked() && isVisible() ? m_other : nullptr;
    }

protected:
    void refresh() override;
    void hideEvent(QHideEvent* event) override;

private:
    struct Result {
        std::shared_ptr<const verdict::Report> other;
        verdict::Comparison comparison;
    };
    void show(const verdict::Comparison& c);
    void saveSheet();
    QComboBox* m_with;
    QCheckBox *m_over, *m_same;
    QLabel* m_text;
    QTableWidget* m_table;
    Live<Result> m_live;
    std::shared_ptr<const verdict::Report> m_other;
    std::optional<verdict::Comparison> m_comparison;
};

} // namespace ivrant::app
