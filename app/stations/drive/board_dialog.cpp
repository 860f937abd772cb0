// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/board_dialog.h"

#include <QDialogButtonBox>
#include <QFormLayout>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

using base::kPitchMm;
using base::umToMm;

struct Attitude {
    const char* text;
    geometry::Vec3 right, up; ///< the board's x and y in the section
};
const Attitude kAttitudes[] = {
    {"upright, seen from the front", {1, 0, 0}, {0, 0, 1}}, {"upright, seen from the back", {-1, 0, 0}, {0, 0, 1}},
    {"upright, seen from the right", {0, 1, 0}, {0, 0, 1}}, {"upright, seen from the left", {0, -1, 0}, {0, 0, 1}},
    {"flat, seen from above", {1, 0, 0}, {0, 1, 0}},        {"flat, seen from below", {1, 0, 0}, {0, -1, 0}},
};
int turnOf(const Attitude& attitude) {
    geometry::Mat3 r;
    r << attitude.right, attitude.up, attitude.right.cross(attitude.up);
    return geometry::findTurn(r).value();
}

QString pitchText(std::int64_t um) { return numberText(umToMm(um) / kPitchMm, 3); }

/// Lengths apart by blanks; without a unit in pitches.
base::Result<std::vector<std::int64_t>> readLengths(const QString& text) {
    std::vector<std::int64_t> lengths;
    for (const QString& word : text.split(' ', Qt::SkipEmptyParts)) {
        const auto mm = base::parseLengthMm(word.toStdString(), kPitchMm);
        if (!mm) return mm.error();
        lengths.push_back(base::mmToUm(*mm));
    }
    return lengths;
}

} // namespace

BoardDialog::BoardDialog(const model::Project& project, int board, QWidget* parent)
    : QDialog(parent), m_board(*ivrant::at(project.boards, board)), m_name(new QLineEdit(qs(m_board.name), this)),
      m_at(new QLineEdit(this)), m_walls(new QLineEdit(this)), m_section(new QComboBox(this)),
      m_attitude(new QComboBox(this)), m_carrier(new QComboBox(this)), m_colour(new QComboBox(this)),
      m_step(new QSpinBox(this)), m_wrong(new QLabel(this)) {
    setWindowTitle("Gear board");
    m_section->addItem("none: it lives by itself", "");
    for (const auto& section : project.sections) m_section->addItem(qs(section->name), qs(section->id.text));
    m_section->setCurrentIndex(std::max(0, m_section->findData(qs(m_board.section.text))));
    m_at->setText(pitchText(m_board.place.atUm[0]) + " " + pitchText(m_board.place.atUm[1]) + " " +
                  pitchText(m_board.place.atUm[2]));
    m_at->setToolTip("Where hole 0, 0 is in the section: right, away, up. In pitches, or with a unit: 24mm, 3p");
    fillAttitudes();
    m_carrier->addItem("nothing: it stands still", "");
    for (const auto& other : project.boards)
        for (const model::Gear& gear : other->gears)
            if (gear.kind == model::GearKind::Turntable && other->id != m_board.id)
                m_carrier->addItem("turntable " + QString::number(gear.teeth) + " on " + qs(other->name),
                                   qs(gear.id.text));
    if (!m_board.carrier.empty() && m_carrier->findData(qs(m_board.carrier.text)) < 0)
        m_carrier->addItem("wheel " + qs(m_board.carrier.text), qs(m_board.carrier.text));
    m_carrier->setCurrentIndex(std::max(0, m_carrier->findData(qs(m_board.carrier.text))));
    QStringList walls;
    for (const std::int64_t wall : m_board.wallsUm) walls << pitchText(wall);
    m_walls->setText(walls.join(" "));
    m_walls->setToolTip(
        "Heights of plates or beams with holes: a shaft through one is carried there. In pitches, or with a unit");
    m_step->setRange(0, 1'000'000);
    m_step->setSpecialValueText("after all steps of its section");
    m_step->setPrefix("after step ");
    m_step->setValue(m_board.step);
    for (const auto& colour : parts::getPalette()) m_colour->addItem(qs(colour.name));
    m_colour->setCurrentIndex(m_board.colour);
    m_wrong->setWordWrap(true);
    m_wrong->setObjectName("boardWrong");
    auto* form = new QFormLayout(this);
    const std::tuple<const char*, QWidget*, const char*> rows[] = {
        {"Name", m_name, "boardName"},
        {"Belongs to the section", m_section, "boardSection"},
        {"Its hole 0, 0 is at", m_at, "boardAt"},
        {"It stands", m_attitude, "boardAttitude"},
        {"It goes round with", m_carrier, "boardCarrier"},
        {"Walls with holes at", m_walls, "boardWalls"},
        {"It is built", m_step, "boardStep"},
        {"Colour of its parts", m_colour, "boardColour"}};
    for (const auto& [text, field, name] : rows) {
        form->addRow(text, field);
        field->setObjectName(name);
        field->setAccessibleName(text);
    }
    form->addRow(m_wrong);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
    form->addRow(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &BoardDialog::take);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

void BoardDialog::fillAttitudes() {
    const auto now = geometry::findTurn(m_board.place.frame().linear());
    for (const Attitude& attitude : kAttitudes) m_attitude->addItem(attitude.text, turnOf(attitude));
    int index = now ? m_attitude->findData(*now) : -1;
    if (index < 0) {
        m_attitude->addItem("as it is", -1);
        index = m_attitude->count() - 1;
    }
    m_attitude->setCurrentIndex(index);
}

void BoardDialog::take() {
    const auto wrong = [&](QWidget* field, const QString& text) {
        m_wrong->setText(text);
        field->setFocus();
    };
    const auto at = readLengths(m_at->text());
    if (!at || at->size() != 3)
        return wrong(m_at, at ? "Three lengths are expected: right, away, up" : qs(at.error().message));
    const auto walls = readLengths(m_walls->text());
    if (!walls) return wrong(m_walls, qs(walls.error().message));
    if (m_name->text().trimmed().isEmpty()) return wrong(m_name, "A board needs a name");
    m_board.name = m_name->text().trimmed().toStdString();
    m_board.section.text = m_section->currentData().toString().toStdString();
    std::copy(at->begin(), at->end(), m_board.place.atUm.begin());
    if (m_attitude->currentData().toInt() >= 0) m_board.place.attitude = m_attitude->currentData().toInt();
    m_board.carrier.text = m_carrier->currentData().toString().toStdString();
    m_board.wallsUm = *walls;
    m_board.step = m_step->value();
    m_board.colour = m_colour->currentIndex();
    accept();
}

} // namespace ivrant::app
