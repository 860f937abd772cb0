// SPDX-License-Identifier: GPL-3.0-or-later
// Which heading of somebody's table stands for which of our columns?
#pragma once

#include <QDialog>
#include <optional>

#include "core/files/supplies_csv.h"

class QComboBox;
class QDialogButtonBox;

namespace ivrant::app {

class ColumnDialog : public QDialog {
    Q_OBJECT
public:
    /// `columns`: ours, the needed ones first; `needed`: how many of them must be matched.
    ColumnDialog(const QString& file, const std::vector<std::string>& headings, const std::vector<std::string>& columns,
                 std::size_t needed, QWidget* parent);
    [[nodiscard]] files::ColumnNames names() const;

private:
    void check();
    std::vector<std::string> m_columns;
    std::size_t m_needed;
    std::vector<QComboBox*> m_boxes;
    QDialogButtonBox* m_buttons;
};

} // namespace ivrant::app
