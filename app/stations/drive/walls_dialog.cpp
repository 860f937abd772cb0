// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/walls_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <map>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::app {

WallsDialog::WallsDialog(const model::Project& project, int board, Look look, QWidget* parent)
    : QDialog(parent), m_project(project), m_board(board), m_look(std::move(look)), m_heights(new QLineEdit(this)),
      m_walls(new QCheckBox("walls with a floor", this)), m_seats(new QCheckBox("seats under motors", this)),
      m_lid(new QCheckBox("a lid", this)), m_parts(new QTableWidget(this)), m_sum(new QLabel(this)),
      m_notes(new QLabel(this)), m_picture(new BoardWidget(this)) {
    setWindowTitle("Walls round the board");
    resize(scaled(760), scaled(480));
    QStringList heights;
    for (const std::int64_t height : drive::chooseWallHeights(project, *ivrant::at(project.boards, board)))
        heights << numberText(base::umToMm(height) / base::kPitchMm, 3);
    m_heights->setText(heights.join(" "));
    m_heights->setObjectName("wallHeights");
    m_heights->setAccessibleName("Heights of the walls");
    m_heights->setToolTip("Where the middles of the walls are, out of the board: in pitches, or with a unit");
    m_walls->setChecked(true);
    m_seats->setChecked(true);
    m_walls->setObjectName("wallWalls");
    m_seats->setObjectName("wallSeats");
    m_lid->setObjectName("wallLid");
    m_parts->setObjectName("wallParts");
    m_parts->setAccessibleName("Parts that would be put in");
    setUpTable(m_parts, "parts of the walls");
    m_notes->setObjectName("wallNotes");
    m_notes->setWordWrap(true);
    m_sum->setObjectName("wallSum");
    m_picture->setObjectName("wallPicture");
    m_picture->setEnabled(false);
    auto* layout = new QVBoxLayout(this);
    auto* middle = new QHBoxLayout;
    middle->addWidget(m_picture, 3);
    auto* side = new QVBoxLayout;
    auto* form = new QFormLayout;
    form->addRow("Walls at", m_heights);
    side->addLayout(form);
    for (QCheckBox* box : {m_walls, m_seats, m_lid}) side->addWidget(box);
    side->addWidget(m_parts, 1);
    side->addWidget(m_sum);
    middle->addLayout(side, 2);
    layout->addLayout(middle, 1);
    layout->addWidget(m_notes);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    m_put = buttons->button(QDialogButtonBox::Ok);
    m_put->setText("Put in");
    m_put->setObjectName("wallPut");
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_heights, &QLineEdit::textChanged, this, &WallsDialog::replan);
    for (QCheckBox* box : {m_walls, m_seats, m_lid}) connect(box, &QCheckBox::toggled, this, &WallsDialog::replan);
    replan();
}

void WallsDialog::replan() {
    drive::WallsWish wish;
    wish.walls = wish.floor = m_walls->isChecked();
    wish.seats = m_seats->isChecked();
    wish.lid = m_lid->isChecked();
    QString wrong;
    for (const QString& word : m_heights->text().split(' ', Qt::SkipEmptyParts)) {
        const auto mm = base::parseLengthMm(word.toStdString(), base::kPitchMm);
        if (!mm) wrong = qs(mm.error().message);
        if (mm) wish.heightsUm.push_back(base::mmToUm(*mm));
    }
    m_plan = {};
    const model::Board& board = *ivrant::at(m_project.boards, m_board);
    if (wrong.isEmpty()) {
        auto plan = drive::planWalls(m_project, board, wish);
        if (plan)
            m_plan = std::move(plan).value();
        else
            wrong = qs(plan.error().message);
    }
    auto trial = std::make_shared<const model::Project>(m_project);
    if (!m_plan.parts.empty())
        if (auto built = drive::addWalls(m_project, board, m_plan))
            trial = std::make_shared<const model::Project>(std::move(built).value());
    m_picture->show(nullptr, m_board); // another extent: it is fitted anew
    const DriveStatePtr state = m_look(trial);
    m_picture->show(state, m_board);
    if (state) m_picture->setSpeeds(drive::calcShownSpeeds(state->report));
    std::map<std::string, int> counts;
    double mass = 0;
    for (const model::NewPart& part : m_plan.parts) {
        ++counts[part.shape->name];
        mass += part.shape->massG;
    }
    std::vector<TableRow> rows;
    for (const auto& [name, count] : counts)
        rows.push_back({{QString::number(count), static_cast<double>(count)}, {qs(name), {}}});
    fillTable(m_parts, {"How many", "Part"}, rows, {});
    m_sum->setText(m_plan.parts.empty()
                       ? QString("nothing to put in")
                       : QString("%1 parts, %2 g (starting values)").arg(m_plan.parts.size()).arg(numberText(mass, 1)));
    QStringList notes;
    if (!wrong.isEmpty()) notes << wrong.left(1).toUpper() + wrong.mid(1);
    for (const std::string& note : m_plan.notes) notes << qs(note).left(1).toUpper() + qs(note).mid(1);
    m_notes->setText(notes.join("\n"));
    m_notes->setVisible(!notes.isEmpty());
    m_put->setEnabled(!m_plan.parts.empty());
}

} // namespace ivrant::app
