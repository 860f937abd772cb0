// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/statue_desk.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/units.h"
#include "core/files/layer_pictures.h"
#include "core/files/mesh_import.h"
#include "core/make/proposal.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

/// "2x4, 2x2": numbers of cells, the smaller first.
base::Result<std::vector<std::array<int, 2>>> parseSizes(const QString& text) {
    std::vector<std::array<int, 2>> sizes;
    for (const QString& word : text.split(',', Qt::SkipEmptyParts)) {
        const auto pair = word.trimmed().split('x');
        bool first = false, second = false;
        const int a = pair.value(0).toInt(&first), b = pair.value(1).toInt(&second);
        if (pair.size() != 2 || !first || !second || a < 1 || b < a || b > 16)
            return base::Error{
                "desk.sizes",
                "'" + word.trimmed().toStdString() + "' is no size of brick such as 2x4, the smaller number first", ""};
        sizes.push_back({a, b});
    }
    if (sizes.empty()) return stand::getUsualSizes();
    return sizes;
}

} // namespace

StatueDesk::StatueDesk(Jobs& jobs, QWidget* parent)
    : QDialog(parent),
      m_what(new QLabel("No shape yet: open a closed mesh, or a folder with a picture of each layer.", this)),
      m_state(new QLabel(this)), m_unit(new QDoubleSpinBox(this)),
      m_yUp(new QCheckBox("y points up in the file", this)),
      m_plates(new QCheckBox("plates for a finer surface", this)), m_slopes(new QCheckBox("slopes on its steps", this)),
      m_heights(new QLineEdit("240mm 480mm 780mm", this)), m_sizes(new QLineEdit("2x4, 2x3, 2x2, 1x4, 1x3, 1x2", this)),
      m_shell(new QSpinBox(this)), m_colour(new QComboBox(this)), m_price(new QDoubleSpinBox(this)),
      m_rate(new QDoubleSpinBox(this)), m_calc(new QPushButton("compare", this)),
      m_lay(new QPushButton("lay the chosen one", this)), m_table(new QTableWidget(this)), m_live(jobs) {
    makeMarkup(m_state);
    setWindowTitle("Statue desk");
    auto* layout = new QVBoxLayout(this);
    makeSource(layout);
    makeWishes(layout);
    m_table->setObjectName("deskRows");
    m_table->setAccessibleName("Sizes side by side");
    setUpTable(m_table, "sizes");
    layout->addWidget(m_table, 1);
    m_state->setObjectName("deskState");
    m_state->setWordWrap(true);
    layout->addWidget(m_state);
    auto* foot = new QHBoxLayout;
    auto* close = new QPushButton("close", this);
    m_calc->setObjectName("deskCompare");
    m_lay->setObjectName("deskLay");
    m_lay->setToolTip("Becomes a section of the open project, beside what is there; undo takes it away again");
    for (QPushButton* button : {m_calc, m_lay, close}) button->setAutoDefault(false);
    m_calc->setDefault(true);
    foot->addStretch(1);
    for (QPushButton* button : {m_calc, m_lay, close}) foot->addWidget(button);
    layout->addLayout(foot);
    m_calc->setEnabled(false);
    m_lay->setEnabled(false);
    connect(m_calc, &QPushButton::clicked, this, &StatueDesk::calc);
    connect(m_lay, &QPushButton::clicked, this, &StatueDesk::lay);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_table, &QTableWidget::itemSelectionChanged, this,
            [this] { m_lay->setEnabled(!m_table->selectionModel()->selectedRows().isEmpty()); });
    m_heights->setFocus();
    resize(940, 500);
}

void StatueDesk::makeSource(QVBoxLayout* layout) {
    auto* row = new QHBoxLayout;
    auto* mesh = new QPushButton("mesh …", this);
    auto* pictures = new QPushButton("pictures of layers …", this);
    mesh->setObjectName("deskMesh");
    pictures->setObjectName("deskPictures");
    for (QPushButton* button : {mesh, pictures}) button->setAutoDefault(false);
    m_what->setObjectName("deskWhat");
    m_what->setWordWrap(true);
    m_colourMap = new QPushButton(this);
    m_colourMap->setObjectName("deskColours");
    m_colourMap->setAutoDefault(false);
    m_colourMap->setToolTip("A picture laid over the mesh from the front: each cell takes the nearest colour");
    row->addWidget(mesh);
    row->addWidget(m_colourMap);
    row->addWidget(pictures);
    row->addWidget(m_what, 1);
    layout->addLayout(row);
    connect(mesh, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, "Closed mesh", {}, "Meshes (*.stl *.obj *.gltf *.glb *.ply)");
        if (!path.isEmpty()) load(path);
    });
    connect(m_colourMap, &QPushButton::clicked, this, [this] {
        if (m_colours) return static_cast<void>(loadColours({}));
        const QString path = QFileDialog::getOpenFileName(this, "Picture from the front", {}, "Pictures (*.png)");
        if (!path.isEmpty()) loadColours(path);
    });
    offerColours();
    connect(pictures, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getExistingDirectory(this, "Folder with one PNG for each layer, from below");
        if (!path.isEmpty()) load(path);
    });
}

void StatueDesk::makeWishes(QVBoxLayout* layout) {
    const auto number = [&](QDoubleSpinBox* box, const char* name, double least, double most, int decimals,
                            double value, const QString& suffix, const QString& tip) {
        box->setObjectName(name);
        box->setAccessibleName(tip);
        box->setRange(least, most);
        box->setDecimals(decimals);
        box->setValue(value);
        box->setSuffix(suffix);
        box->setMinimumWidth(scaled(130));
        box->setToolTip(tip);
    };
    number(m_unit, "deskUnit", 0.001, 100'000, 3, 1, " mm", "Length of a unit of the mesh file");
    number(m_price, "deskPrice", 0, 1000, 3, verdict::kUsualPrice, " a part",
           "Price of a part in your own money (starting value)");
    number(m_rate, "deskRate", 1, 100'000, 0, verdict::kUsualPartsPerHour, " parts/h",
           "Parts laid in an hour (starting value)");
    m_heights->setObjectName("deskHeights");
    m_heights->setToolTip("Heights to compare, such as 480mm 60s");
    m_sizes->setObjectName("deskSizes");
    m_sizes->setToolTip("Bricks to use; 1x1 where nothing else fits. Empty: all usual ones");
    m_plates->setObjectName("deskPlates");
    m_slopes->setObjectName("deskSlopes");
    m_yUp->setObjectName("deskYUp");
    m_shell->setObjectName("deskShell");
    m_shell->setRange(0, 100);
    m_shell->setSpecialValueText("solid");
    m_shell->setSuffix(" cells of wall");
    m_shell->setMinimumWidth(scaled(150));
    for (const auto& colour : parts::getPalette()) m_colour->addItem(qs(colour.name));
    m_colour->setToolTip("Of what has no colour of its own");
    auto* columns = new QHBoxLayout;
    auto* left = new QFormLayout;
    auto* right = new QFormLayout;
    left->addRow("Heights", m_heights);
    left->addRow("Bricks", m_sizes);
    left->addRow("Walls", m_shell);
    auto* surface = new QHBoxLayout;
    surface->addWidget(m_plates);
    surface->addWidget(m_slopes);
    left->addRow("", surface);
    right->addRow("Unit of the mesh", m_unit);
    right->addRow("", m_yUp);
    right->addRow("Colour", m_colour);
    auto* costs = new QHBoxLayout;
    costs->addWidget(m_price);
    costs->addWidget(m_rate);
    right->addRow("Counted with", costs);
    columns->addLayout(left, 1);
    columns->addLayout(right, 1);
    layout->addLayout(columns);
    connect(m_unit, &QDoubleSpinBox::valueChanged, this, [this] { readMesh(m_path); });
    connect(m_yUp, &QCheckBox::toggled, this, [this] { readMesh(m_path); });
}

void StatueDesk::complain(const QString& what) { m_state->setText("<b>" + what.toHtmlEscaped() + "</b>"); }

bool StatueDesk::load(const QString& path) {
    m_path = path;
    m_body.reset();
    m_grid.reset();
    m_state->clear();
    if (QFileInfo(path).isDir()) {
        const auto paths = files::listLayerPictures(path.toStdString());
        auto grid = paths ? files::loadLayerPictures(*paths) : base::Result<stand::CellGrid>(paths.error());
        if (grid) {
            m_grid = std::make_shared<const stand::CellGrid>(std::move(grid).value());
            m_what->setText(QString("%1 layers of %2 × %3 cells, %4 filled")
                                .arg(m_grid->nz)
                                .arg(m_grid->nx)
                                .arg(m_grid->ny)
                                .arg(m_grid->count()));
        } else {
            complain(qs(grid.error().message));
        }
    } else {
        const auto usual = files::getUsualImport(path.toStdString());
        const QSignalBlocker quietUnit(m_unit), quietUp(m_yUp);
        m_unit->setValue(usual.mmPerUnit);
        m_yUp->setChecked(usual.yUp);
        readMesh(path);
    }
    for (QWidget* widget : {static_cast<QWidget*>(m_heights), static_cast<QWidget*>(m_plates),
                            static_cast<QWidget*>(m_unit), static_cast<QWidget*>(m_yUp)})
        widget->setEnabled(!m_grid); // pictures say their own size
    m_calc->setEnabled(m_body || m_grid);
    offerColours();
    return m_body || m_grid;
}

void StatueDesk::offerColours() {
    m_colourMap->setText(m_colours ? "drop colours" : "colours …");
    m_colourMap->setEnabled(m_body != nullptr);
}

bool StatueDesk::loadColours(const QString& path) {
    m_colours.reset();
    m_state->clear();
    if (!path.isEmpty()) {
        auto map = files::loadColourMap(path.toStdString());
        if (map) {
            m_colours = std::make_shared<const stand::ColourMap>(std::move(map).value());
            m_state->setText("Colours of " + QFileInfo(path).fileName().toHtmlEscaped() +
                             QString(", %1 × %2 pixels").arg(m_colours->width).arg(m_colours->height));
        } else {
            complain(qs(map.error().message));
        }
    }
    offerColours();
    return path.isEmpty() || m_colours;
}

void StatueDesk::readMesh(const QString& path) {
    if (path.isEmpty() || m_grid) return;
    m_body.reset();
    const auto body = files::loadMesh(path.toStdString(), {m_unit->value(), m_yUp->isChecked()});
    if (!body) return complain(qs(body.error().message));
    m_body = std::make_shared<const geometry::MeshBody>(*body);
    geometry::Bounds bounds;
    for (const auto& p : m_body->mesh.points) bounds.include(p);
    const auto size = bounds.size();
    m_what->setText(QFileInfo(path).fileName() +
                    QString(": %1 triangles, %2 × %3 × %4 mm as it is in the file")
                        .arg(m_body->mesh.triangles.size())
                        .arg(numberText(size.x(), 0), numberText(size.y(), 0), numberText(size.z(), 0)));
}

std::optional<verdict::DeskWish> StatueDesk::readWish() {
    verdict::DeskWish wish;
    const auto sizes = parseSizes(m_sizes->text());
    if (!sizes) return complain(qs(sizes.error().message)), std::nullopt;
    wish.layers.sizes = *sizes;
    wish.layers.shell = m_shell->value();
    wish.layers.plates = m_plates->isChecked();
    wish.layers.slopes = m_slopes->isChecked();
    wish.layers.colours = m_colours;
    wish.pricePerPart = m_price->value();
    wish.partsPerHour = m_rate->value();
    return wish;
}

void StatueDesk::calc() {
    const auto wish = readWish();
    if (!wish) return;
    std::vector<double> heights;
    for (const QString& word : m_heights->text().split(' ', Qt::SkipEmptyParts)) {
        const auto height = base::parseLengthMm(word.toStdString(), 1);
        if (!height) return complain(qs(height.error().message));
        heights.push_back(*height);
    }
    if (m_grid) heights = {0};
    if (heights.empty()) return complain("Say at least one height, such as 480mm");
    m_state->setText("Laying bricks …");
    m_lay->setEnabled(false);
    m_live.ask(
        "Sizes",
        [wish = *wish, heights, body = m_body,
         grid = m_grid](base::Progress& progress) -> std::optional<base::Result<std::vector<verdict::DeskRow>>> {
            std::vector<verdict::DeskRow> rows;
            for (const double height : heights) {
                verdict::DeskWish own = wish;
                own.layers.heightMm = height;
                auto row =
                    grid ? verdict::calcDeskRow(*grid, own, &progress) : verdict::calcDeskRow(*body, own, &progress);
                if (progress.stopped()) return std::nullopt;
                if (!row) return base::Result<std::vector<verdict::DeskRow>>(row.error());
                rows.push_back(std::move(row).value());
            }
            return base::Result<std::vector<verdict::DeskRow>>(std::move(rows));
        },
        [this](base::Result<std::vector<verdict::DeskRow>> rows) {
            if (!rows) return complain(qs(rows.error().message));
            showRows(std::move(rows).value());
        });
}

void StatueDesk::showRows(std::vector<verdict::DeskRow> rows) {
    m_rows = std::move(rows);
    std::vector<TableRow> cells;
    for (const verdict::DeskRow& row : m_rows)
        cells.push_back({numberCell(row.size.heightMm, 0),
                         numberCell(static_cast<double>(row.size.parts), 0),
                         numberCell(row.size.massG / 1000, 2),
                         numberCell(row.cost, 0),
                         numberCell(row.hours, 1),
                         numberCell(100 * row.size.smallestShare, 1),
                         numberCell(row.size.overhangMm, 0),
                         numberCell(static_cast<double>(row.size.openSeams), 0),
                         {QString(verdict::getStateName(row.state)) + ": " + qs(row.outcome), {}}});
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < m_rows.size(); ++i) ids.emplace_back(static_cast<int>(i));
    fillTable(m_table, {"mm high", "parts", "kg", "cost", "hours", "least %", "overhang", "seams", "does it stand?"},
              cells, ids);
    for (int column = 0; column < m_table->columnCount(); ++column)
        m_table->horizontalHeaderItem(column)->setToolTip(QStringList{
            "Height", "Bricks and plates", "Mass, not weighed", "Parts × price", "Parts ÷ parts an hour",
            "Smallest feature kept, in % of the height", "Farthest that a layer reaches beyond what carries it, mm",
            "Joints between neighbours that no brick bridges", "Tipping and bonds, with starting values"}
                                                              .value(column));
    m_table->resizeColumnsToContents();
    m_table->horizontalHeader()->setStretchLastSection(true);
    if (m_table->rowCount() > 0) m_table->selectRow(0);
    m_lay->setEnabled(m_table->rowCount() > 0); // the same row may have been chosen before
    std::size_t hanging = 0;
    for (const auto& row : m_rows) hanging += row.size.hanging;
    m_state->setText("Cost and hours are counted with the values above. " +
                     (hanging > 0 ? QString::number(hanging) + (hanging == 1 ? " brick" : " bricks") +
                                        " that nothing joins to the ground, such as " + firstDropped() +
                                        (hanging == 1 ? ", is left out." : ", are left out.")
                                  : QString()));
}

/// "brick 1x1 at cell 3, 4, 12 plates up".
QString StatueDesk::firstDropped() const {
    for (const auto& row : m_rows)
        for (const auto& brick : row.size.layers.dropped)
            return qs(stand::nameOf(brick)) + QString(" at cell %1, %2, %3 plates up at %4 mm")
                                                  .arg(brick.x)
                                                  .arg(brick.y)
                                                  .arg(brick.z)
                                                  .arg(numberText(row.size.heightMm, 0));
    return {};
}

void StatueDesk::lay() {
    const QVariant id = chosenRowId(m_table);
    if (!id.isValid()) return;
    const auto& row = m_rows.at(static_cast<std::size_t>(id.toInt()));
    auto statue = stand::makeStatue(QFileInfo(m_path).completeBaseName().toStdString(), row.size.layers,
                                    m_colour->currentIndex());
    if (!statue) return complain(qs(statue.error().message));
    const auto ordered = make::takeProposals(*statue, make::Take::Moves); // what hangs comes with its carriers
    m_made = ordered ? *ordered : std::move(statue).value();
    accept();
}

} // namespace ivrant::app
