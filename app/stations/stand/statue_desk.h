// SPDX-License-Identifier: GPL-3.0-or-later
// Statue desk: a closed mesh or pictures of its layers, at several sizes side by side, and the chosen one laid in
// bricks.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/shell/live.h"
#include "core/geometry/pieces.h"
#include "core/verdict/stand/size_desk.h"

namespace ivrant::app {

class StatueDesk : public QDialog {
    Q_OBJECT
public:
    explicit StatueDesk(Jobs& jobs, QWidget* parent = nullptr);

    /// A mesh file, or a folder with one PNG for each layer. False, with the reason shown, when it cannot be read.
    bool load(const QString& path);
    /// A picture that is laid over the mesh from the front; an empty path takes it away. False as load.
    bool loadColours(const QString& path);
    /// The statue that was chosen; empty until then.
    [[nodiscard]] const std::optional<model::Project>& made() const { return m_made; }

private:
    void makeSource(QVBoxLayout* layout);
    void makeWishes(QVBoxLayout* layout);
    void readMesh(const QString& path);
    void offerColours();
    void calc();
    void showRows(std::vector<verdict::DeskRow> rows);
    [[nodiscard]] QString firstDropped() const;
    void lay();
    [[nodiscard]] std::optional<verdict::DeskWish> readWish();
    void complain(const QString& what);

    QString m_path;
    std::shared_ptr<const geometry::MeshBody> m_body;
    std::shared_ptr<const stand::CellGrid> m_grid;
    std::shared_ptr<const stand::ColourMap> m_colours; ///< laid over the mesh; null: one colour
    QLabel *m_what, *m_state;
    QPushButton* m_colourMap = nullptr;
    QDoubleSpinBox* m_unit;
    QCheckBox *m_yUp, *m_plates, *m_slopes;
    QLineEdit *m_heights, *m_sizes;
    QSpinBox* m_shell;
    QComboBox* m_colour;
    QDoubleSpinBox *m_price, *m_rate;
    QPushButton *m_calc, *m_lay;
    QTableWidget* m_table;
    std::vector<verdict::DeskRow> m_rows;
    std::optional<model::Project> m_made;
    Live<base::Result<std::vector<verdict::DeskRow>>> m_live;
};

} // namespace ivrant::app
