// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/options_tab.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/shell/flow_layout.h"
#include "app/shell/station.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"

namespace ivrant::app {
namespace {

constexpr std::size_t kMostCombinations = 200;

QString countText(int count, const char* one, const char* many) {
    return QString::number(count) + " " + (count == 1 ? one : many);
}

int countParts(const std::vector<make::TrayLine>& lines) {
    int count = 0;
    for (const make::TrayLine& line : lines) count += line.count;
    return count;
}

/// Parts, and whole sections that hang on a joint, of what is selected.
struct Chosen {
    std::vector<model::PartId> parts;
    std::vector<model::SectionId> sections;
};
Chosen splitSelection(const Session& session) {
    Chosen chosen;
    const auto& selected = session.selection();
    const auto& project = session.project();
    for (std::size_t s = 0; s < project.sections.size(); ++s) {
        const auto& section = *project.sections[s];
        const auto isSelected = [&](const model::Part& part) { return selected.count(part.id) > 0; };
        if (!section.parts.empty() && session.tree().parent(static_cast<int>(s)) >= 0 &&
            std::all_of(section.parts.begin(), section.parts.end(), isSelected)) {
            chosen.sections.push_back(section.id);
            continue;
        }
        for (const model::Part& part : section.parts)
            if (isSelected(part)) chosen.parts.push_back(part.id);
    }
    return chosen;
}

/// A name that is not among those given: "Option 2".
std::string freeName(const QString& word, const std::vector<std::string>& taken) {
    for (int n = static_cast<int>(taken.size()) + 1;; ++n) {
        const std::string name = (word + " " + QString::number(n)).toStdString();
        if (std::find(taken.begin(), taken.end(), name) == taken.end()) return name;
    }
}

} // namespace

OptionsTab::OptionsTab(Session& session, QWidget* parent)
    : StationTab(session, parent), m_about(new QLabel(this)), m_tree(new QTreeWidget(this)),
      m_name(new QLineEdit(this)), m_text(new QLineEdit(this)), m_price(new QDoubleSpinBox(this)),
      m_rules(new OptionRules(session, this)), m_check(new QPushButton("Check all combinations", this)),
      m_takeRow(new QPushButton("Take the marked combination", this)), m_told(new QLabel(this)),
      m_matrix(new QTableWidget(this)), m_live(session.jobs()) {
    m_about->setObjectName("optionsAbout");
    m_about->setWordWrap(true);
    m_tree->setObjectName("optionTree");
    m_tree->setAccessibleName("Options and their alternatives");
    m_tree->setHeaderLabels({"Option", "Parts", "Price"});
    m_tree->setRootIsDecorated(true);
    m_tree->header()->setStretchLastSection(false);
    m_tree->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (const int column : {1, 2}) m_tree->header()->setSectionResizeMode(column, QHeaderView::ResizeToContents);
    m_name->setObjectName("optionName");
    m_name->setAccessibleName("Name");
    m_text->setObjectName("optionText");
    m_text->setAccessibleName("Text for the catalogue");
    m_text->setPlaceholderText("a sentence for the catalogue");
    m_price->setObjectName("optionPrice");
    m_price->setAccessibleName("Price");
    m_price->setRange(0, 1e6);
    m_check->setObjectName("optionCheck");
    m_check->setToolTip(
        "Every combination that the rules allow, as a model of its own; of more than 200 every pair once "
        "(Ctrl+Return)");
    m_takeRow->setObjectName("optionTake");
    m_told->setObjectName("optionTold");
    m_told->setWordWrap(true);
    m_matrix->setObjectName("optionMatrix");
    m_matrix->setAccessibleName("Combinations");
    setUpTable(m_matrix, "combinations");
    auto* left = new QWidget(this);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_tree, 1);
    auto* details = new QHBoxLayout;
    details->addWidget(m_name, 2);
    details->addWidget(m_price, 1);
    column->addLayout(details);
    column->addWidget(m_text);
    auto* buttons = new QWidget(left);
    auto* flow = new FlowLayout(buttons);
    flow->setContentsMargins(0, 0, 0, 0);
    const auto button = [&](const QString& text, const QString& name, const QString& hint, auto slot) {
        auto* b = new QPushButton(text, buttons);
        b->setObjectName(name);
        b->setToolTip(hint);
        connect(b, &QPushButton::clicked, this, slot);
        flow->addWidget(b);
    };
    button("New option", "optionNew", "What is selected in Shape becomes the first alternative of a new option",
           [this] { addOption(); });
    button("Further alternative", "optionAdd",
           "Empty at first: what is chosen now waits, then build and say that it belongs here",
           [this] { addAlternative(); });
    button("Choose", "optionChoose", "The marked alternative stands in the model (Enter)", [this] { choose(); });
    button("Belongs here", "optionAssign", "What is selected in Shape belongs to the chosen alternative",
           [this] { assign(); });
    button("Remove", "optionRemove", "The marked option or alternative goes; what stands in the model stays",
           [this] { remove(); });
    column->addWidget(buttons);
    column->addWidget(m_rules);
    auto* right = new QWidget(this);
    auto* matrix = new QVBoxLayout(right);
    matrix->setContentsMargins(8, 0, 0, 0);
    auto* bar = new QHBoxLayout;
    bar->addWidget(m_check);
    bar->addWidget(m_takeRow);
    bar->addStretch(1);
    matrix->addLayout(bar);
    matrix->addWidget(m_told);
    matrix->addWidget(m_matrix, 1);
    auto* halves = new QSplitter(this);
    halves->addWidget(left);
    halves->addWidget(right);
    halves->setStretchFactor(1, 1);
    halves->setSizes({scaled(290), scaled(600)});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    layout->addWidget(m_about);
    layout->addWidget(halves, 1);
    connect(m_tree, &QTreeWidget::currentItemChanged, this, &OptionsTab::showDetails);
    connect(m_tree, &QTreeWidget::itemActivated, this, &OptionsTab::choose);
    connect(m_name, &QLineEdit::editingFinished, this, &OptionsTab::takeDetails);
    connect(m_text, &QLineEdit::editingFinished, this, &OptionsTab::takeDetails);
    connect(m_price, &QDoubleSpinBox::editingFinished, this, &OptionsTab::takeDetails);
    connect(m_check, &QPushButton::clicked, this, &OptionsTab::check);
    connect(m_takeRow, &QPushButton::clicked, this, &OptionsTab::takeRow);
    connect(m_matrix, &QTableWidget::cellDoubleClicked, this, &OptionsTab::takeRow);
    addCommand(this, "Check all combinations", QKeySequence("Ctrl+Return"), [this] { check(); });
    connect(&session, &Session::projectChanged, this, [this] {
        m_live.cancel();
        m_found.reset(); // it was of another model
        outdate();
    });
}

void OptionsTab::refresh() {
    const auto& project = m_session.project();
    m_about->setText(project.options.list.empty()
                         ? "Hats, tools, stands: select the parts of one in Shape, then New option. Each further "
                           "alternative is built in its place, the others wait meanwhile."
                         : "");
    m_about->setVisible(project.options.list.empty());
    fillTree();
    m_rules->refresh();
    showMatrix();
}

void OptionsTab::fillTree() {
    const auto& project = m_session.project();
    const auto keep = marked();
    m_filling = true;
    m_tree->clear();
    for (std::size_t o = 0; o < project.options.list.size(); ++o) {
        const model::Option& option = project.options.list[o];
        auto* group = new QTreeWidgetItem(m_tree, {qs(option.name)});
        group->setData(0, Qt::UserRole, QPoint(static_cast<int>(o), -1));
        for (std::size_t a = 0; a < option.alternatives.size(); ++a) {
            const model::Alternative& alternative = option.alternatives[a];
            const model::AlternativeSpot spot{static_cast<int>(o), static_cast<int>(a)};
            const bool chosen = spot.alternative == option.chosen;
            auto* item =
                new QTreeWidgetItem(group, {(chosen ? "▸ " : "") + qs(alternative.name),
                                            QString::number(countParts(make::listAlternativeParts(project, spot))),
                                            alternative.price > 0 ? QString::number(alternative.price, 'f', 2) : ""});
            item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
            item->setTextAlignment(2, Qt::AlignRight | Qt::AlignVCenter);
            item->setToolTip(0, chosen ? "stands in the model" : "waits");
            QFont font = item->font(0);
            font.setBold(chosen);
            item->setFont(0, font);
            item->setData(0, Qt::UserRole, QPoint(spot.option, spot.alternative));
            if (spot == keep) m_tree->setCurrentItem(item);
        }
        if (keep.option == static_cast<int>(o) && keep.alternative < 0) m_tree->setCurrentItem(group);
    }
    m_tree->expandAll();
    m_filling = false;
    showDetails();
}

model::AlternativeSpot OptionsTab::marked() const {
    const auto* item = m_tree->currentItem();
    if (!item) return {};
    const QPoint spot = item->data(0, Qt::UserRole).toPoint();
    const auto& list = m_session.project().options.list;
    if (spot.x() >= static_cast<int>(list.size()) ||
        spot.y() >= static_cast<int>(at(list, spot.x()).alternatives.size()))
        return {};
    return {spot.x(), spot.y()};
}

void OptionsTab::showDetails() {
    if (m_filling) return;
    const auto spot = marked();
    m_filling = true;
    m_name->setEnabled(spot.option >= 0);
    m_text->setEnabled(spot.alternative >= 0);
    m_price->setEnabled(spot.alternative >= 0);
    m_name->clear();
    m_text->clear();
    m_price->setValue(0);
    if (spot.option >= 0) {
        const model::Option& option = at(m_session.project().options.list, spot.option);
        m_name->setText(qs(option.name));
        if (spot.alternative >= 0) {
            const model::Alternative& alternative = at(option.alternatives, spot.alternative);
            m_name->setText(qs(alternative.name));
            m_text->setText(qs(alternative.text));
            m_price->setValue(alternative.price);
        }
    }
    m_filling = false;
}

void OptionsTab::takeDetails() {
    const auto spot = marked();
    if (m_filling || spot.option < 0) return;
    const model::Option& option = at(m_session.project().options.list, spot.option);
    const std::string name = m_name->text().trimmed().toStdString();
    if (spot.alternative < 0) {
        if (name != option.name)
            m_session.apply("Rename an option",
                            [&, id = option.id](const model::Project& p) { return model::renameOption(p, id, name); });
        return;
    }
    const model::Alternative& old = at(option.alternatives, spot.alternative);
    const std::string text = m_text->text().toStdString();
    if (name == old.name && text == old.text && m_price->value() == old.price) return;
    m_session.apply("Describe an alternative", [&, id = old.id](const model::Project& p) {
        return model::describeAlternative(p, id, name, text, m_price->value());
    });
}

void OptionsTab::addOption() {
    const Chosen chosen = splitSelection(m_session);
    if (chosen.parts.empty() && chosen.sections.empty())
        return m_session.say("Select the parts of its first alternative in Shape first", true);
    std::vector<std::string> names;
    for (const model::Option& option : m_session.project().options.list) names.push_back(option.name);
    if (!m_session.apply("New option", [&](const model::Project& p) {
            return model::addOption(p, freeName("Option", names), "as built", chosen.parts, chosen.sections);
        }))
        return;
    m_tree->setCurrentItem(m_tree->topLevelItem(m_tree->topLevelItemCount() - 1));
    m_name->setFocus();
    m_name->selectAll();
}

void OptionsTab::addAlternative() {
    const auto spot = marked();
    if (spot.option < 0) return m_session.say("Mark an option first", true);
    const model::Option& option = at(m_session.project().options.list, spot.option);
    std::vector<std::string> names;
    for (const model::Alternative& alternative : option.alternatives) names.push_back(alternative.name);
    if (!m_session.apply("Further alternative", [&, id = option.id](const model::Project& p) {
            return model::addAlternative(p, id, freeName("alternative", names));
        }))
        return;
    if (auto* group = m_tree->topLevelItem(spot.option)) m_tree->setCurrentItem(group->child(group->childCount() - 1));
    m_name->setFocus();
    m_name->selectAll();
    m_session.say("Nothing stands there now: build it in Shape, select its parts, and say that they belong here");
}

void OptionsTab::choose() {
    const auto spot = marked();
    if (spot.alternative < 0) return m_session.say("Mark an alternative first", true);
    const auto id = at(at(m_session.project().options.list, spot.option).alternatives, spot.alternative).id;
    m_session.apply("Choose an alternative", [&](const model::Project& p) { return model::chooseAlternative(p, id); });
}

void OptionsTab::assign() {
    const auto spot = marked();
    const Chosen chosen = splitSelection(m_session);
    if (spot.option < 0 || (chosen.parts.empty() && chosen.sections.empty()))
        return m_session.say("Mark an option here, and select parts in Shape", true);
    const auto id = at(m_session.project().options.list, spot.option).id;
    m_session.apply("Belongs to an alternative", [&](const model::Project& p) {
        return model::assignToChosen(p, id, chosen.parts, chosen.sections);
    });
}

void OptionsTab::remove() {
    const auto spot = marked();
    if (spot.option < 0) return m_session.say("Mark an option or an alternative first", true);
    const model::Option option = at(m_session.project().options.list, spot.option);
    m_session.apply("Remove an option", [&](const model::Project& p) {
        return spot.alternative < 0 ? model::removeOption(p, option.id)
                                    : model::removeAlternative(p, at(option.alternatives, spot.alternative).id);
    });
}

void OptionsTab::check() {
    if (m_session.project().options.list.empty()) return m_session.say("There is nothing to choose yet", true);
    const auto report = m_session.isReportCurrent() ? m_session.report() : nullptr;
    const auto snapshot = std::make_shared<const model::Project>(m_session.project());
    m_told->setText("Looking at the combinations …");
    m_live.ask(
        "combinations",
        [report, snapshot](base::Progress& progress) -> std::optional<verdict::OptionMatrix> {
            if (report) return verdict::calcOptionMatrix(*report, kMostCombinations, &progress);
            const auto own = verdict::calcReport(snapshot, &progress);
            if (!own.complete) return {};
            return verdict::calcOptionMatrix(own, kMostCombinations, &progress);
        },
        [this](verdict::OptionMatrix matrix) {
            m_found = std::move(matrix);
            showMatrix();
            emit checked();
        });
}

void OptionsTab::showMatrix() {
    const model::Options& options = m_session.project().options;
    m_takeRow->setEnabled(m_found.has_value());
    m_check->setEnabled(!options.list.empty());
    QStringList heads;
    for (const model::Option& option : options.list) heads << qs(option.name);
    heads << "Passes"
          << "Parts"
          << "Weight g"
          << "Price"
          << "Missing"
          << "Tips at"
          << "Bonds"
          << "What fails";
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    if (!m_found) {
        m_told->setText(options.list.empty() ? "" : "Not looked at yet.");
        return fillTable(m_matrix, heads, rows, ids);
    }
    int fails = 0;
    for (std::size_t r = 0; r < m_found->rows.size(); ++r) {
        const verdict::CombinationRow& row = m_found->rows[r];
        TableRow cells;
        for (std::size_t o = 0; o < row.combination.size(); ++o)
            cells.push_back({qs(at(options.list[o].alternatives, row.combination[o]).name), {}});
        QStringList what;
        for (const auto& v : verdict::collapsePoses(row.fails)) what << qs(v.text);
        fails += row.passes() ? 0 : 1;
        cells.push_back({row.passes() ? "▲ yes" : "▼ no", row.passes() ? 1.0 : 0.0});
        cells.push_back(numberCell(row.parts, 0));
        cells.push_back(numberCell(row.massG, 1));
        cells.push_back(row.price > 0 ? TableCell{QString::number(row.price, 'f', 2), row.price} : TableCell{"", 0.0});
        cells.push_back(row.missing > 0 ? numberCell(row.missing, 0) : TableCell{"", 0.0});
        cells.push_back(row.tipDeg ? TableCell{number(*row.tipDeg, 1) + "°", *row.tipDeg} : TableCell{"", 0.0});
        cells.push_back(marginCell(row.bonds));
        cells.push_back({row.problem.empty() ? what.join("; ") : qs(row.problem), {}});
        rows.push_back(std::move(cells));
        ids.emplace_back(static_cast<int>(r));
    }
    fillTable(m_matrix, heads, rows, ids);
    QStringList always;
    for (const auto& v : verdict::collapsePoses(m_found->always)) always << qs(v.text);
    const int looked = static_cast<int>(m_found->rows.size());
    m_told->setText(countText(looked, "combination", "combinations") +
                    (m_found->combinations.all ? ", all that the rules allow"
                                               : " of " + number(m_found->combinations.count, 0) +
                                                     ", every pair of alternatives at least once") +
                    (m_found->complete ? ": " : " (stopped before the end): ") +
                    (fails == 0 ? "no choice makes anything fail." : countText(fails, "fails.", "fail.")) +
                    (always.isEmpty() ? "" : " Whatever is chosen: " + always.join("; ") + "."));
}

void OptionsTab::takeRow() {
    const QVariant id = chosenRowId(m_matrix);
    if (!m_found || !id.isValid()) return m_session.say("Mark a combination first", true);
    const make::Combination combination = at(m_found->rows, id.toInt()).combination;
    m_session.apply("Take a combination",
                    [&](const model::Project& p) { return make::takeCombination(p, combination); });
}

} // namespace ivrant::app
