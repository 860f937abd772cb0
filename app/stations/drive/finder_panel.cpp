#include "app/stations/drive/finder_panel.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/table_tools.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

constexpr int kRowRole = Qt::UserRole + 1;

/// "1:105", "0.2": turns out for turns in.
std::optional<double> readRatio(const QString& text) {
    const QStringList sides = text.split(':');
    const auto out = base::parseNumber(sides[0].toStdString());
    if (!out || sides.size() > 2) return std::nullopt;
    if (sides.size() == 1) return *out;
    const auto in = base::parseNumber(sides[1].toStdString());
    if (!in || *in == 0) return std::nullopt;
    return *out / *in;
}

QString describe(const drive::FoundTrain& train) {
    QString text;
    for (const auto& stage : train.stages) {
        if (!text.isEmpty()) text += " · ";
        text += stage.worm ? QString("worm %1").arg(stage.driven) : QString("%1:%2").arg(stage.driver).arg(stage.driven);
    }
    return text;
}

QString percent(double error) { return std::abs(error) < 1e-12 ? "exact" : (error > 0 ? "+" : "") + numberText(error * 100, 2) + " %"; }

} // namespace

FinderPanel::FinderPanel(QWidget* parent)
    : QWidget(parent), m_ratio(new QLineEdit("1:15", this)), m_tolerance(new QLineEdit("2", this)), m_pair(new QLineEdit("24 20", this)),
      m_stages(new QComboBox(this)), m_hold(new QComboBox(this)), m_sense(new QComboBox(this)), m_holes(new QCheckBox("holes only", this)),
      m_found(new QLabel(this)), m_fitText(new QLabel(this)), m_trains(new QTableWidget(this)), m_fits(new QTableWidget(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(4, 4, 4, 4);
    m_ratio->setObjectName("ratio");
    m_ratio->setAccessibleName("Wanted ratio, turns out for turns in");
    m_tolerance->setObjectName("ratioTolerance");
    m_tolerance->setAccessibleName("Tolerance in percent");
    m_tolerance->setMaximumWidth(48);
    m_stages->setAccessibleName("Most stages");
    for (int i = 1; i <= 4; ++i) m_stages->addItem(QString("%1 stages").arg(i).replace("1 stages", "1 stage"), i);
    m_stages->setCurrentIndex(2);
    m_hold->setAccessibleName("Holding without power");
    m_hold->addItems({"holds or not", "must hold", "no worm"});
    m_sense->setAccessibleName("Sense");
    m_sense->addItems({"any sense", "same sense", "reversed"});
    auto* first = new QHBoxLayout;
    first->addWidget(new QLabel("ratio", this));
    first->addWidget(m_ratio, 1);
    first->addWidget(new QLabel("± %", this));
    first->addWidget(m_tolerance);
    first->addWidget(m_stages);
    layout->addLayout(first);
    auto* second = new QHBoxLayout;
    second->addWidget(m_hold);
    second->addWidget(m_sense);
    second->addWidget(m_holes, 1);
    layout->addLayout(second);
    m_found->setObjectName("ratioFound");
    m_found->setWordWrap(true);
    layout->addWidget(m_found);
    m_trains->setObjectName("trains");
    m_trains->setAccessibleName("Trains found");
    setUpTable(m_trains, "trains");
    layout->addWidget(m_trains, 3);
    auto* put = new QPushButton("place it on the board", this);
    put->setObjectName("placeTrain");
    put->setToolTip("Puts the chosen train on the board, from the chosen shaft or the cursor to the right");
    layout->addWidget(put);
    auto* third = new QHBoxLayout;
    third->addWidget(new QLabel("where mesh", this));
    m_pair->setObjectName("fitPair");
    m_pair->setAccessibleName("Two tooth counts");
    m_pair->setToolTip("Two tooth counts, such as 24 20");
    third->addWidget(m_pair, 1);
    layout->addLayout(third);
    m_fitText->setObjectName("fitText");
    m_fitText->setWordWrap(true);
    layout->addWidget(m_fitText);
    m_fits->setObjectName("fits");
    m_fits->setAccessibleName("Offsets that mesh");
    setUpTable(m_fits, "fits");
    layout->addWidget(m_fits, 2);
    for (QLineEdit* edit : {m_ratio, m_tolerance}) connect(edit, &QLineEdit::textEdited, this, &FinderPanel::search);
    for (QComboBox* box : {m_stages, m_hold, m_sense}) connect(box, &QComboBox::currentIndexChanged, this, &FinderPanel::search);
    connect(m_holes, &QCheckBox::toggled, this, &FinderPanel::search);
    connect(m_pair, &QLineEdit::textEdited, this, &FinderPanel::listFits);
    connect(put, &QPushButton::clicked, this, &FinderPanel::place);
    connect(m_trains, &QTableWidget::cellDoubleClicked, this, &FinderPanel::place);
    search();
    listFits();
}

void FinderPanel::look(const QString& ratio) {
    m_ratio->setText(ratio);
    search();
}

void FinderPanel::search() {
    m_rows.clear();
    std::vector<TableRow> rows;
    const auto ratio = readRatio(m_ratio->text());
    const auto tolerance = base::parseNumber(m_tolerance->text().toStdString());
    if (!ratio || *ratio == 0 || !tolerance) {
        m_found->setText("A ratio is turns out for turns in: 1:15, 3:5 or 0.2; the tolerance a number of percent.");
    } else {
        drive::RatioWish wish;
        wish.ratio = std::abs(*ratio);
        wish.tolerance = *tolerance / 100;
        wish.mostStages = m_stages->currentData().toInt();
        if (m_hold->currentIndex() > 0) wish.holds = m_hold->currentIndex() == 1;
        if (m_sense->currentIndex() > 0) wish.reversed = m_sense->currentIndex() == 2;
        if (m_holes->isChecked()) wish.coarsest = drive::GridStep::Holes;
        const auto found = drive::searchRatios(wish);
        if (!found) {
            m_found->setText(QString::fromStdString(found.error().message));
        } else {
            const bool none = found->groups.empty();
            const auto add = [&](const drive::RatioGroup& group) {
                for (const auto& train : group.trains) {
                    rows.push_back({{QString::fromStdString(drive::formatRatio(group.ratio)), group.ratio.get_d()},
                                    {percent(group.error), std::abs(group.error)},
                                    {describe(train), {}},
                                    numberCell(train.lengthMm / base::kPitchMm, 1)});
                    m_rows.push_back(train);
                }
            };
            for (const auto& group : found->groups) add(group);
            if (none) add(found->nearest);
            m_found->setText(none && m_rows.empty() ? "No train can be built so."
                             : none                 ? "No train comes within the tolerance; this is the nearest there is."
                                    : QString("%1 ratios, the nearest first").arg(found->groups.size()).replace("1 ratios, the nearest first", "1 ratio"));
        }
    }
    m_trains->setSortingEnabled(false);
    m_trains->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder);
    fillTable(m_trains, {"Ratio", "Off", "Train", "Long"}, rows);
    for (int r = 0; r < m_trains->rowCount(); ++r) m_trains->item(r, 0)->setData(kRowRole, r);
    m_trains->resizeColumnsToContents();
    m_trains->setColumnWidth(2, 132);
    m_trains->setColumnWidth(3, 44);
    if (m_trains->rowCount() > 0) m_trains->selectRow(0);
}

void FinderPanel::listFits() {
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
                                ? TableCell{numberText(base::umToMm(fit.dyUm) / base::kPlateMm, 0) + " plates", base::umToMm(fit.dyUm) / base::kPitchMm}
                                : numberCell(base::umToMm(fit.dyUm) / base::kPitchMm, 2),
                            numberCell(fit.errorMm, 2),
                            {drive::getGridStepName(fit.step), {}}});
        m_fitText->setText(numberText(right, 1) + " mm apart" + (fits.empty() ? ": no place on the grid fits" : ""));
    }
    m_fits->setSortingEnabled(false);
    fillTable(m_fits, {"Across", "Up", "Off mm", "In"}, rows);
    m_fits->resizeColumnsToContents();
}

void FinderPanel::place() {
    const int row = m_trains->currentRow();
    if (row < 0 || !m_trains->item(row, 0)) return;
    bool good = false;
    const int index = m_trains->item(row, 0)->data(kRowRole).toInt(&good);
    if (good && index < static_cast<int>(m_rows.size())) emit placeAsked(m_rows[static_cast<std::size_t>(index)]);
}

} // namespace ivrant::app
