// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/travel_panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/base/units.h"
#include "core/drive/mesh_fit.h"
#include "core/drive/travel_finder.h"

namespace ivrant::app {

TravelPanel::TravelPanel(QWidget* parent)
    : QWidget(parent), m_travel(new QLineEdit("40mm", this)), m_seconds(new QLineEdit(this)),
      m_force(new QLineEdit("0", this)), m_pair(new QLineEdit("24 20", this)), m_travelText(new QLabel(this)),
      m_fitText(new QLabel(this)), m_travels(new QTableWidget(this)), m_fits(new QTableWidget(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(4, 4, 4, 4);
    auto* first = new QHBoxLayout;
    const std::tuple<const char*, QLineEdit*, const char*, const char*> fields[] = {
        {"travel", m_travel, "travel", "How far: 40mm, 5s, 12p"},
        {"in s", m_seconds, "travelSeconds", "Wanted time; empty: any"},
        {"against N", m_force, "travelForce", "Force against it"}};
    for (const auto& [text, edit, name, tip] : fields) {
        first->addWidget(new QLabel(text, this));
        first->addWidget(edit, 1);
        edit->setMinimumWidth(scaled(48));
        edit->setObjectName(name);
        edit->setAccessibleName(text);
        edit->setToolTip(tip);
        connect(edit, &QLineEdit::textEdited, this, &TravelPanel::listTravels);
    }
    layout->addLayout(first);
    m_travelText->setObjectName("travelText");
    m_travelText->setWordWrap(true);
    layout->addWidget(m_travelText);
    m_travels->setObjectName("travels");
    m_travels->setAccessibleName("Racks and screws for the travel");
    setUpTable(m_travels, "travels");
    layout->addWidget(m_travels, 2);
    auto* second = new QHBoxLayout;
    second->addWidget(new QLabel("where mesh", this));
    m_pair->setObjectName("fitPair");
    m_pair->setAccessibleName("Two tooth counts");
    m_pair->setToolTip("Two tooth counts, such as 24 20");
    second->addWidget(m_pair, 1);
    layout->addLayout(second);
    m_fitText->setObjectName("fitText");
    m_fitText->setWordWrap(true);
    layout->addWidget(m_fitText);
    m_fits->setObjectName("fits");
    m_fits->setAccessibleName("Offsets that mesh");
    setUpTable(m_fits, "fits");
    layout->addWidget(m_fits, 2);
    connect(m_pair, &QLineEdit::textEdited, this, &TravelPanel::listFits);
    listTravels();
    listFits();
}

void TravelPanel::listTravels() {
    drive::TravelWish wish;
    std::vector<TableRow> rows;
    const auto travel = base::parseLengthMm(m_travel->text().trimmed().toStdString(), 1);
    const auto force = base::parseNumber(m_force->text().toStdString());
    const bool timed = !m_seconds->text().trimmed().isEmpty();
    const auto seconds = base::parseNumber(m_seconds->text().toStdString());
    if (!travel || !force || (timed && !seconds)) {
        m_travelText->setText("A travel such as 40mm, a time in seconds or none, and a force in N are expected.");
    } else {
        wish.travelMm = *travel;
        wish.forceN = *force;
        if (timed) wish.seconds = *seconds;
        const auto options = drive::listTravels(wish);
        if (!options) m_travelText->setText(QString::fromStdString(options.error().message));
        if (options) {
            m_travelText->setText("What its shaft has to do; screws and losses are starting values, not measured.");
            for (const auto& option : *options)
                rows.push_back({{QString::fromStdString(option.name), {}},
                                numberCell(option.turns, 2),
                                option.rpm ? numberCell(*option.rpm, 1) : TableCell{"", 0},
                                numberCell(option.torqueNmm, 1),
                                numberCell(option.lengthMm, 0),
                                {option.holds ? "yes" : "no", {}}});
        }
    }
    m_travels->setSortingEnabled(false);
    m_travels->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
    fillTable(m_travels, {"With", "Turns", "rpm", "N·mm", "mm", "Holds"}, rows);
    constexpr int kWidths[] = {132, 46, 44, 46, 40, 42};
    for (int c = 0; c < 6; ++c) m_travels->setColumnWidth(c, kWidths[c]);
}

void TravelPanel::listFits() {
    QStringList words = m_pair->text().split(' ', Qt::SkipEmptyParts);
    bool good = words.size() == 2;
    int teeth[2] = {0, 0};
    for (int i = 0; good && i < 2; ++i) teeth[i] = words[i].toInt(&good);
    std::vector<TableRow> rows;
    if (!good || teeth[0] < 4 || teeth[1] < 4 || teeth[0] > 200 || teeth[1] > 200) {
        m_fitText->setText("Two tooth counts from 4 to 200 are expected, such as 24 20.");
    } else {
        const double right = drive::calcOutsideMm(teeth[0], teeth[1]);
        const auto fits = drive::listFits(right);
        for (const auto& fit : fits)
            rows.push_back({numberCell(base::umToMm(fit.dxUm) / base::kPitchMm, 2),
                            fit.step == drive::GridStep::Plates
                                ? TableCell{numberText(base::umToMm(fit.dyUm) / base::kPlateMm, 0) + " plates",
                                            base::umToMm(fit.dyUm) / base::kPitchMm}
                                : numberCell(base::umToMm(fit.dyUm) / base::kPitchMm, 2),
                            numberCell(fit.errorMm, 2),
                            {drive::getGridStepName(fit.step), {}}});
        m_fitText->setText(numberText(right, 1) + " mm apart" + (fits.empty() ? ": no place on the grid fits" : ""));
    }
    m_fits->setSortingEnabled(false);
    fillTable(m_fits, {"Across", "Up", "Off mm", "In"}, rows);
    m_fits->resizeColumnsToContents();
}

} // namespace ivrant::app
