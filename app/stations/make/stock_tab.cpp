// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/stock_tab.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenu>
#include <QVBoxLayout>

#include "app/shell/plain_labels.h"
#include "app/shell/station.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "app/stations/make/column_dialog.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/results_supply.h"
#include "core/parts/palette.h"

namespace ivrant::app {
namespace {

constexpr std::size_t kMostCurves = 4, kMostTableBytes = 512u << 20;

const std::vector<std::string> kStockColumns{"shape", "colour", "count", "drawer", "kept for"};
const std::vector<std::string> kPriceColumns{"seller", "shape", "colour",      "price",   "count",
                                             "pack",   "days",  "least order", "shipping"};
constexpr std::size_t kNeededOfStock = 3, kNeededOfPrices = 4;

std::optional<files::ColumnNames> askInDialog(QWidget* over, const QString& file,
                                              const std::vector<std::string>& headings, bool prices) {
    ColumnDialog dialog(file, headings, prices ? kPriceColumns : kStockColumns,
                        prices ? kNeededOfPrices : kNeededOfStock, over);
    if (dialog.exec() != QDialog::Accepted) return {};
    return dialog.names();
}

} // namespace

StockTab::StockTab(Session& session, QWidget* parent)
    : StationTab(session, parent), askColumns(askInDialog), m_head(new QLabel(this)), m_files(new QLabel(this)),
      m_chart(new TideChart(this)), m_table(new QTableWidget(this)), m_editName(new QLabel(this)),
      m_count(new QSpinBox(this)), m_drawer(new QLineEdit(this)), m_set(new QPushButton("set", this)) {
    m_head->setObjectName("stockHead");
    m_head->setWordWrap(true);
    m_files->setObjectName("stockFiles");
    m_files->setWordWrap(true);
    m_table->setObjectName("stockTable");
    m_table->setAccessibleName("Parts against the drawers");
    setUpTable(m_table, "stock");
    m_count->setObjectName("stockCount");
    m_count->setAccessibleName("Pieces in this drawer");
    m_count->setRange(0, model::kMostPieces);
    m_drawer->setObjectName("stockDrawer");
    m_drawer->setAccessibleName("Drawer");
    m_drawer->setPlaceholderText("drawer");
    m_drawer->setMaximumWidth(scaled(120));
    m_set->setObjectName("stockSet");
    m_set->setToolTip("Writes the count into the stock (Enter)");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    layout->addWidget(m_head);
    layout->addWidget(m_chart, 2);
    layout->addWidget(m_table, 3);
    auto* edit = new QHBoxLayout;
    edit->addWidget(m_editName, 1);
    edit->addWidget(m_count);
    edit->addWidget(m_drawer);
    edit->addWidget(m_set);
    layout->addLayout(edit);
    layout->addWidget(m_files);
    auto* bar = new QHBoxLayout;
    makeButtons(bar);
    layout->addLayout(bar);
    connect(m_table, &QTableWidget::itemSelectionChanged, this, &StockTab::showChosen);
    connect(m_set, &QPushButton::clicked, this, &StockTab::setCount);
    connect(m_drawer, &QLineEdit::returnPressed, this, &StockTab::setCount);
    connect(m_chart, &TideChart::stepPicked, this, &StockTab::stepWanted);
    connect(&session, &Session::projectChanged, this, [this] { outdate(); });
}

void StockTab::makeButtons(QHBoxLayout* bar) {
    const auto button = [&](const QString& text, const QString& name, const QString& hint, auto slot) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setToolTip(hint);
        connect(b, &QPushButton::clicked, this, slot);
        bar->addWidget(b);
    };
    auto* tables = new QPushButton("Tables", this);
    tables->setObjectName("supplyTables");
    tables->setToolTip("Stocks and price lists (CSV) that the model looks into");
    auto* menu = new QMenu(tables);
    tables->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        menu->addAction("Add a stock …", this, [this] { askTables(false); });
        menu->addAction("Add a price list …", this, [this] { askTables(true); });
        menu->addAction("Read again", this, [this] { m_session.readSupplies(); });
        menu->addSeparator();
        const auto& making = m_session.project().making;
        for (const auto* list : {&making.stockFiles, &making.priceFiles})
            for (const std::string& file : *list)
                menu->addAction("Leave out " + buttonText(qs(file)), this, [this, file] { removeTable(qs(file)); });
    });
    bar->addWidget(tables);
    button("Keep for this model", "keepParts",
           "Writes into the stocks that what this model needs is kept for it: other models no longer count it",
           [this] { keep(true); });
    button("Let go", "releaseParts", "Writes into the stocks that nothing is kept for this model any more",
           [this] { keep(false); });
    bar->addStretch(1);
    button("Picks by step …", "pickSteps", "A list of trays counted out for each step (CSV)", [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Picks by step", "picks by step.csv", "CSV (*.csv)");
        if (!path.isEmpty()) writePicks(path, false);
    });
    button("Picks by drawer …", "pickDrawers", "A list that opens every drawer once (CSV)", [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, "Picks by drawer", "picks by drawer.csv", "CSV (*.csv)");
        if (!path.isEmpty()) writePicks(path, true);
    });
}

void StockTab::askTables(bool prices) {
    const QStringList paths = QFileDialog::getOpenFileNames(this, prices ? "Price lists" : "Stocks",
                                                            m_session.supplyFolder(), "Tables (*.csv *.tsv *.txt)");
    for (const QString& path : paths)
        if (!addTable(path, prices)) return;
}

bool StockTab::addTable(const QString& path, bool prices) {
    const auto text = files::readFile(path.toStdString(), kMostTableBytes);
    if (!text) {
        m_session.warn("Not added: " + qs(text.error().message));
        return false;
    }
    model::Making making = m_session.asSet().making;
    const auto read = [&]() -> base::Status {
        if (prices) {
            auto list = files::parsePriceList(*text, making.columns);
            return list ? base::Status() : base::Status(list.error());
        }
        auto stock = files::parseStock(*text, making.columns);
        return stock ? base::Status() : base::Status(stock.error());
    };
    base::Status done = read();
    if (!done && done.error().code == "csv.column") {
        const auto headings = files::listHeadings(*text);
        const auto names =
            headings.empty() ? std::nullopt : askColumns(this, QFileInfo(path).fileName(), headings, prices);
        if (names) {
            for (const auto& [column, heading] : *names) making.columns[column] = heading;
            done = read();
        }
    }
    if (!done) {
        m_session.warn("Not added: " + QFileInfo(path).fileName() + ": " + qs(done.error().message));
        return false;
    }
    const QString folder = m_session.supplyFolder();
    const QString absolute = QFileInfo(path).absoluteFilePath();
    const std::string name = (folder.isEmpty() ? absolute : QDir(folder).relativeFilePath(absolute)).toStdString();
    auto& list = prices ? making.priceFiles : making.stockFiles;
    if (std::find(list.begin(), list.end(), name) != list.end()) {
        m_session.say(qs(name) + " is among them already", true);
        return false;
    }
    list.push_back(name);
    m_session.setSupplyFiles(prices ? "Add a price list" : "Add a stock", making);
    return true;
}

void StockTab::removeTable(const QString& name) {
    model::Making making = m_session.asSet().making;
    std::erase(making.stockFiles, name.toStdString());
    std::erase(making.priceFiles, name.toStdString());
    m_session.setSupplyFiles("Leave out " + name, making);
}

void StockTab::keep(bool on) {
    const auto& project = m_session.project();
    auto kept = on ? make::keepForModel(project, make::calcTide(project, m_session.tree()))
                   : base::Result<std::shared_ptr<const model::Supplies>>(make::releaseModel(project));
    if (!kept) return m_session.say(qs(kept.error().message), true);
    if (!*kept) return m_session.say("No stock is named: add the table of what lies in the drawers first", true);
    m_session.apply(on ? "Keep the parts for this model" : "Let the kept parts go",
                    [&](const model::Project& p) { return model::setSupplies(p, *kept); });
}

void StockTab::writePicks(const QString& path, bool byDrawers) {
    const auto& project = m_session.project();
    const auto trays =
        byDrawers ? make::pickByDrawers(project, m_session.tree()) : make::pickBySteps(project, m_session.tree());
    const auto saved = files::writeFileAtomically(path.toStdString(), files::makePickCsv(trays));
    saved ? m_session.say("Written: " + path) : m_session.warn("Not written: " + qs(saved.error().message));
}

void StockTab::refresh() {
    const auto& project = m_session.project();
    m_tide = make::calcTide(project, m_session.tree());
    int kinds = 0, pieces = 0, first = 0;
    for (const make::TideLine& line : m_tide.lines) {
        if (line.missing() == 0) continue;
        ++kinds;
        pieces += line.missing();
        if (first == 0 || line.lacksAt < first) first = line.lacksAt;
    }
    if (m_tide.lines.empty())
        m_head->setText("No parts yet: what is placed in Shape is counted here.");
    else if (!m_tide.isStocked)
        m_head->setText(QString::number(m_tide.lines.size()) +
                        " kinds of parts are needed. Nothing says what lies in your drawers yet.");
    else if (kinds == 0)
        m_head->setText("All " + QString::number(m_tide.lines.size()) + " kinds of parts are there or on the way.");
    else
        m_head->setText(QString::number(pieces) + (pieces == 1 ? " part of " : " parts of ") + QString::number(kinds) +
                        (kinds == 1 ? " kind is missing" : " kinds are missing") + ", the first at step " +
                        QString::number(first) + ".");
    QStringList names;
    if (project.supplies) {
        for (const auto& stock : project.supplies->stocks)
            names << qs(stock->file) + " (" + QString::number(stock->lines.size()) + " lines" +
                         (stock->problems.empty()
                              ? ")"
                              : ", " + QString::number(stock->problems.size()) + " cannot be read)");
        for (const auto& list : project.supplies->prices)
            names << qs(list->file) + " (" + QString::number(list->offers.size()) + " offers" +
                         (list->problems.empty() ? ")"
                                                 : ", " + QString::number(list->problems.size()) + " cannot be read)");
    }
    m_files->setText(names.isEmpty() ? "" : "Looks into " + names.join(", "));
    m_files->setVisible(!names.isEmpty());
    fillTable_();
    showChosen();
}

void StockTab::fillTable_() {
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (std::size_t i = 0; i < m_tide.lines.size(); ++i) {
        const make::TideLine& line = m_tide.lines[i];
        QStringList drawers;
        for (const std::string& drawer : line.drawers) drawers << qs(drawer);
        const auto blank = [](int value) { return value == 0 ? TableCell{"", 0.0} : numberCell(value, 0); };
        TableCell end = line.runsOutAt > 0 ? numberCell(line.runsOutAt, 0) : TableCell{"", 1e9};
        rows.push_back({{qs(line.shape), {}},
                        {qs(parts::getColourName(line.colour)), {}},
                        numberCell(line.need, 0),
                        numberCell(line.have, 0),
                        blank(line.arrived),
                        blank(line.onTheWay),
                        blank(line.missing()),
                        end,
                        {drawers.join(", "), {}}});
        ids.emplace_back(qs(line.shape + "/" + parts::getColourName(line.colour)));
    }
    const QSignalBlocker quiet(m_table);
    fillTable(m_table, {"Part", "Colour", "Need", "Have", "Arrived", "Coming", "Missing", "Out at", "Drawers"}, rows,
              ids);
}

int StockTab::chosenLine() const {
    const QVariant id = chosenRowId(m_table);
    if (!id.isValid()) return -1;
    for (std::size_t i = 0; i < m_tide.lines.size(); ++i)
        if (id.toString() == qs(m_tide.lines[i].shape + "/" + parts::getColourName(m_tide.lines[i].colour)))
            return static_cast<int>(i);
    return -1;
}

void StockTab::showChosen() {
    const int chosen = chosenLine();
    std::vector<int> lines;
    if (chosen >= 0) lines.push_back(chosen);
    for (std::size_t i = 0; i < m_tide.lines.size() && lines.size() < kMostCurves; ++i)
        if (m_tide.isStocked && m_tide.lines[i].runsOutAt > 0 && static_cast<int>(i) != chosen)
            lines.push_back(static_cast<int>(i));
    m_chart->show(m_tide, lines, chosen);
    const bool may = chosen >= 0 && m_tide.isStocked;
    for (QWidget* widget :
         {static_cast<QWidget*>(m_count), static_cast<QWidget*>(m_drawer), static_cast<QWidget*>(m_set)})
        widget->setEnabled(may);
    if (!may) {
        m_editName->setText(m_tide.isStocked ? "Choose a part to say how many lie in which drawer." : "");
        return;
    }
    const make::TideLine& line = at(m_tide.lines, chosen);
    m_editName->setText(qs(line.shape + " " + parts::getColourName(line.colour)) + " in the drawers:");
    m_count->setValue(line.have);
    m_drawer->setText(line.drawers.empty() ? "" : qs(line.drawers.front()));
}

/// What is free for this model becomes so many, all of it in that drawer when it lay in one.
void StockTab::setCount() {
    const int chosen = chosenLine();
    const auto& supplies = m_session.project().supplies;
    if (chosen < 0 || !supplies || supplies->stocks.empty()) return;
    const make::TideLine line = at(m_tide.lines, chosen);
    const std::string drawer = m_drawer->text().trimmed().toStdString();
    auto next = std::make_shared<model::Supplies>(*supplies);
    int left = m_count->value();
    bool placed = false;
    for (model::StockPtr& stock : next->stocks) {
        auto copy = std::make_shared<model::Stock>(*stock);
        for (model::StockLine& held : copy->lines) {
            const bool own = held.isKnown && held.shape == line.shape && held.colour == line.colour &&
                             (held.keptFor.empty() || held.keptFor == m_session.project().name);
            if (!own) continue;
            // The first line takes what the others do not hold.
            const int others = line.have - held.count;
            held.count = placed ? std::min(held.count, left) : std::max(0, m_count->value() - others);
            left -= held.count;
            if (!placed && !drawer.empty()) held.drawer = drawer;
            placed = true;
        }
        stock = std::move(copy);
    }
    if (!placed) {
        auto copy = std::make_shared<model::Stock>(*next->stocks.front());
        copy->lines.push_back({line.shape, line.colour, m_count->value(), drawer, ""});
        next->stocks.front() = std::move(copy);
    }
    m_session.apply("Count a drawer", [&](const model::Project& p) { return model::setSupplies(p, next); });
}

} // namespace ivrant::app
