// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/brief/brief_station.h"

#include <QCompleter>
#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/shell/flow_layout.h"
#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/units.h"
#include "core/brief/measures.h"
#include "core/files/atomic_file.h"
#include "core/files/brief_file.h"
#include "core/parts/family.h"
#include "core/verdict/asks/asks.h"

namespace ivrant::app {
namespace {

QString fromView(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }

/// "holding margin of {joint}" → "holding margin of …"
QString plainWords(const brief::Measure& m) {
    QString words = fromView(m.words);
    for (const char* place : {"{joint}", "{other}", "{shape}", "{function}"}) words.replace(place, "…");
    return words;
}

std::string textOf(const QComboBox* box) {
    const int at = box->findText(box->currentText());
    if (at >= 0 && box->itemText(at) == box->currentText()) return box->itemData(at).toString().toStdString();
    return box->currentText().trimmed().toStdString(); // a name or a pattern, as typed
}

} // namespace

BriefStation::BriefStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_measure(new QComboBox(this)), m_joint(new QComboBox(this)),
      m_other(new QComboBox(this)), m_section(new QComboBox(this)), m_pose(new QComboBox(this)),
      m_function(new QComboBox(this)), m_compare(new QComboBox(this)), m_must(new QComboBox(this)),
      m_value(new QLineEdit(this)), m_shape(new QLineEdit(this)), m_unit(new QLabel(this)),
      m_sentence(new QLabel(this)), m_empty(new QLabel(this)), m_add(new QPushButton("add this ask", this)),
      m_change(new QPushButton("change the chosen one", this)), m_remove(new QPushButton("remove", this)),
      m_asks(new QTableWidget(this)), m_shown(new QCheckBox("Shown to the person who asked, on", this)),
      m_shownOn(new QLineEdit(this)), m_pairs(new QTableWidget(this)), m_scale(new QLabel(this)),
      m_real(new QLineEdit(this)), m_offset(new QLineEdit(this)), m_ways(new QTableWidget(this)) {
    auto* left = new QVBoxLayout;
    makeComposer(left);
    auto* right = new QVBoxLayout;
    right->setContentsMargins(0, 0, 0, 0);
    makeDesks(right);
    auto* rightBox = new QWidget(this);
    rightBox->setLayout(right);
    rightBox->setFixedWidth(scaled(250));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 6);
    layout->setSpacing(16);
    layout->addLayout(left, 1);
    layout->addWidget(rightBox);
    makeCommands();
    connect(&session, &Session::projectChanged, this, whenSeen(this, [this] { showProject(); }));
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { showAsks(); }));
    fillPlaces();
    showFields();
    showProject();
}

void BriefStation::makeComposer(QVBoxLayout* column) {
    auto* head = makeMarkup(new QLabel("<b>What was asked for</b>", this));
    column->addWidget(head);
    const auto name = [](QWidget* w, const char* object, const char* spoken, const char* tip) {
        w->setObjectName(object);
        w->setAccessibleName(spoken);
        w->setToolTip(tip);
    };
    name(m_measure, "askMeasure", "Measure", "What is measured");
    for (const auto& m : brief::getMeasures()) {
        m_measure->addItem(plainWords(m), fromView(m.key));
        m_measure->setItemData(m_measure->count() - 1, fromView(m.about), Qt::ToolTipRole);
    }
    m_measure->setMaxVisibleItems(20);
    name(m_joint, "askJoint", "Joint", "Which joint; * stands for any run of letters: Neck*");
    name(m_other, "askOther", "Second joint", "To which joint");
    name(m_section, "askSection", "Section", "Which section; empty: the whole model");
    name(m_pose, "askPose", "Pose", "In which pose; empty: in every pose");
    for (QComboBox* box : {m_joint, m_other, m_section, m_pose}) {
        box->setEditable(true);
        box->setInsertPolicy(QComboBox::NoInsert);
        box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
        box->setMinimumWidth(scaled(110));
    }
    name(m_compare, "askCompare", "Comparison", "How it is compared");
    for (const auto c : {model::Comparison::AtLeast, model::Comparison::AtMost, model::Comparison::Equal})
        m_compare->addItem(model::getComparisonName(c));
    name(m_value, "askValue", "Value", "A number; lengths may have a unit: 12s, 30p, 420mm");
    m_value->setMaximumWidth(scaled(110));
    m_value->setMinimumWidth(scaled(80));
    name(m_function, "askFunction", "Function", "A function of the gear boards; * stands for any run of letters");
    m_function->setEditable(true);
    name(m_shape, "askShape", "Shape", "A shape as typed in Shape: plate 2x4");
    name(m_must, "askMust", "Must or wish", "A must fails when it is not met; a wish is only thin");
    m_must->addItems({"must", "wish"});
    name(m_add, "askAdd", "Add this ask", "Add the sentence below to the list (Enter)");
    name(m_change, "askChange", "Change the chosen ask", "Put the sentence in the place of the chosen ask");
    name(m_remove, "askRemove", "Remove the chosen ask", "Remove the chosen ask (Delete)");
    auto* first = new FlowLayout;
    first->addWidget(m_measure);
    for (QWidget* w :
         {static_cast<QWidget*>(m_joint), static_cast<QWidget*>(m_other), static_cast<QWidget*>(m_section),
          static_cast<QWidget*>(m_function), static_cast<QWidget*>(m_shape), static_cast<QWidget*>(m_pose)})
        first->addWidget(w);
    auto* second = new FlowLayout;
    for (QWidget* w : {static_cast<QWidget*>(m_compare), static_cast<QWidget*>(m_value), static_cast<QWidget*>(m_unit),
                       static_cast<QWidget*>(m_must)})
        second->addWidget(w);
    second->addWidget(m_add);
    column->addLayout(first);
    column->addLayout(second);
    makeMarkup(m_sentence)->setObjectName("askSentence");
    m_sentence->setWordWrap(true);
    column->addWidget(m_sentence);
    m_asks->setObjectName("asks");
    m_asks->setAccessibleName("Asks");
    m_asks->setSelectionMode(QAbstractItemView::SingleSelection);
    setUpTable(m_asks, "asks");
    m_asks->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_empty->setText(
        "Nothing asked yet. Pick a measure above, say how much of it, and add it: each ask becomes a verdict.");
    m_empty->setWordWrap(true);
    column->addWidget(m_empty);
    column->addWidget(m_asks, 1);
    auto* foot = new FlowLayout;
    name(m_shown, "shownBox", "Shown to the person who asked",
         "Show a sketch or a part early: starting without that is a verdict");
    name(m_shownOn, "shownOn", "Shown on", "Date, year-month-day");
    m_shownOn->setMaximumWidth(scaled(110));
    auto* chosenRow = new QHBoxLayout;
    chosenRow->addStretch(1);
    chosenRow->addWidget(m_change);
    chosenRow->addWidget(m_remove);
    column->addLayout(chosenRow);
    foot->addWidget(m_shown);
    foot->addWidget(m_shownOn);
    column->addLayout(foot);

    connect(m_measure, &QComboBox::currentIndexChanged, this, &BriefStation::showFields);
    for (QComboBox* box : {m_joint, m_other, m_section, m_pose, m_function})
        connect(box, &QComboBox::editTextChanged, this, &BriefStation::showSentence);
    for (QComboBox* box : {m_compare, m_must})
        connect(box, &QComboBox::currentIndexChanged, this, &BriefStation::showSentence);
    for (QLineEdit* line : {m_value, m_shape}) {
        connect(line, &QLineEdit::textChanged, this, &BriefStation::showSentence);
        connect(line, &QLineEdit::returnPressed, this, [this] { put(false); });
    }
    connect(m_add, &QPushButton::clicked, this, [this] { put(false); });
    connect(m_change, &QPushButton::clicked, this, [this] { put(true); });
    connect(m_remove, &QPushButton::clicked, this, &BriefStation::removeChosen);
    connect(m_asks, &QTableWidget::itemSelectionChanged, this, &BriefStation::loadChosen);
    const auto setShown = [this](const QString& date) {
        if (date.toStdString() != m_session.project().shownOn)
            m_session.apply("Shown to the person who asked",
                            [&](const model::Project& p) { return model::setShownOn(p, date.toStdString()); });
        showProject();
    };
    connect(m_shown, &QCheckBox::clicked, this,
            [setShown](bool on) { setShown(on ? QDate::currentDate().toString("yyyy-MM-dd") : QString()); });
    connect(m_shownOn, &QLineEdit::editingFinished, this, [this, setShown] { setShown(m_shownOn->text().trimmed()); });
}

void BriefStation::makeDesks(QVBoxLayout* column) {
    column->addWidget(makeMarkup(new QLabel("<b>Scale desk</b>", this)));
    auto* about = new QLabel("Lengths of the real thing and of the model; one unit for all real ones.", this);
    about->setWordWrap(true);
    column->addWidget(about);
    m_pairs->setTabKeyNavigation(false);
    m_pairs->setObjectName("scalePairs");
    m_pairs->setAccessibleName("Pairs of real and model lengths");
    m_pairs->setColumnCount(2);
    m_pairs->setRowCount(4);
    m_pairs->setHorizontalHeaderLabels({"Real", "Model mm, 12s, 30p"});
    m_pairs->horizontalHeaderItem(1)->setToolTip("Model mm, 12s, 30p");
    m_pairs->verticalHeader()->hide();
    m_pairs->horizontalHeader()->setStretchLastSection(true);
    m_pairs->setFixedHeight(scaled(150));
    column->addWidget(m_pairs);
    m_real->setObjectName("scaleReal");
    m_real->setAccessibleName("Another real length");
    m_real->setPlaceholderText("another real length");
    column->addWidget(m_real);
    m_scale->setObjectName("scaleText");
    m_scale->setWordWrap(true);
    column->addWidget(m_scale);
    column->addSpacing(10);
    column->addWidget(makeMarkup(new QLabel("<b>Offset finder</b>", this)));
    m_offset->setObjectName("offset");
    m_offset->setAccessibleName("Wanted offset");
    m_offset->setPlaceholderText("wanted offset: 5.6mm, 0.5s, 1p");
    m_offset->setToolTip("Which half pitches, sideways plates and leaves make this offset");
    column->addWidget(m_offset);
    m_ways->setObjectName("offsetWays");
    m_ways->setAccessibleName("Ways to make the offset");
    m_ways->setColumnCount(2);
    m_ways->setHorizontalHeaderLabels({"By", "Off mm"});
    setUpTable(m_ways, "offsets");
    m_ways->horizontalHeader()->setStretchLastSection(false);
    m_ways->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_ways->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    column->addWidget(m_ways, 1);
    connect(m_pairs, &QTableWidget::cellChanged, this, &BriefStation::showScale);
    connect(m_real, &QLineEdit::textChanged, this, &BriefStation::showScale);
    connect(m_offset, &QLineEdit::textChanged, this, &BriefStation::showOffsets);
    showScale();
}

void BriefStation::makeCommands() {
    addCommand(this, "Remove the chosen ask", QKeySequence(Qt::Key_Delete), [this] { removeChosen(); });
    addCommand(this, "Add asks of a shared brief …", {}, [this] { importBrief(); });
    addCommand(this, "Save the asks as a shared brief …", {}, [this] { exportBrief(); });
}

void BriefStation::fillPlaces() {
    const auto fill = [](QComboBox* box, const QString& none, auto each) {
        const QSignalBlocker quiet(box);
        const QString kept = box->currentText();
        box->clear();
        if (!none.isNull()) box->addItem(none, "");
        each(box);
        box->setCurrentIndex(kept.isEmpty() && !none.isNull() ? 0 : box->findText(kept));
        if (box->currentIndex() < 0) box->setEditText(kept);
    };
    const auto& project = m_session.project();
    const auto add = [](QComboBox* box, const std::string& name, const std::string& id) {
        box->addItem(QString::fromStdString(name), QString::fromStdString(id));
    };
    for (QComboBox* box : {m_joint, m_other})
        fill(box, QString(), [&](QComboBox* b) {
            for (const auto& j : project.joints) add(b, j.name, j.id.text);
        });
    fill(m_function, QString(), [&](QComboBox* b) {
        for (const auto& board : project.boards)
            for (const auto& f : board->functions) add(b, f.name, f.id.text);
    });
    fill(m_section, "the whole", [&](QComboBox* b) {
        for (const auto& s : project.sections) add(b, s->name, s->id.text);
    });
    fill(m_pose, "every pose", [&](QComboBox* b) {
        for (const auto& q : project.poses) add(b, q.name, q.id.text);
    });
}

void BriefStation::showFields() {
    const auto* measure = brief::findMeasure(m_measure->currentData().toString().toStdString());
    if (!measure) return;
    const auto show = [](QWidget* w, brief::Need need) { w->setVisible(need != brief::Need::No); };
    show(m_joint, measure->joint);
    show(m_other, measure->other);
    show(m_section, measure->section);
    show(m_pose, measure->pose);
    show(m_shape, measure->shape);
    show(m_function, measure->function);
    m_compare->setVisible(!measure->ofWord);
    m_unit->setText(measure->unit == "deg" ? "°" : fromView(measure->unit));
    m_value->setPlaceholderText(!measure->ofWord                         ? ""
                                : measure->function == brief::Need::Must ? "holds"
                                                                         : "stepped hinge*");
    if (measure->function == brief::Need::Must && m_function->currentText().isEmpty()) m_function->setCurrentIndex(0);
    if (measure->joint == brief::Need::Must && m_joint->currentText().isEmpty()) m_joint->setCurrentIndex(0);
    if (measure->other == brief::Need::Must && m_other->currentText().isEmpty())
        m_other->setCurrentIndex(m_other->count() - 1);
    showSentence();
}

base::Result<model::Ask> BriefStation::composed() const {
    model::Ask ask;
    ask.measure = m_measure->currentData().toString().toStdString();
    const auto& measure = *brief::findMeasure(ask.measure);
    const auto take = [&](brief::Need need, const QComboBox* box) {
        return need == brief::Need::No ? std::string() : textOf(box);
    };
    ask.joint = take(measure.joint, m_joint);
    ask.other = take(measure.other, m_other);
    ask.section = take(measure.section, m_section);
    ask.pose = take(measure.pose, m_pose);
    ask.function = take(measure.function, m_function);
    if (measure.shape != brief::Need::No) ask.shape = m_shape->text().trimmed().toStdString();
    ask.must = m_must->currentIndex() == 0;
    ask.comparison = *model::findComparison(m_compare->currentText().toStdString());
    const std::string typed = m_value->text().trimmed().toStdString();
    if (measure.ofWord) {
        ask.word = typed;
    } else {
        const auto value = measure.unit == "mm" ? base::parseLengthMm(typed, 1) : base::parseNumber(typed);
        if (!value) return value.error();
        ask.value = *value;
    }
    if (auto st = brief::checkAsk(ask); !st) return st.error();
    return ask;
}

void BriefStation::showSentence() {
    const auto ask = composed();
    m_add->setEnabled(ask.ok());
    m_change->setEnabled(ask.ok() && chosen());
    m_remove->setEnabled(chosen().has_value());
    m_sentence->setText(
        ask ? "<i>" + QString::fromStdString(verdict::composeSentence(m_session.project(), *ask)).toHtmlEscaped() +
                  "</i>"
            : QString::fromStdString(m_value->text().isEmpty() ? std::string("Type a value to compare with.")
                                                               : ask.error().message)
                  .toHtmlEscaped());
}

std::optional<model::Ask> BriefStation::chosen() const {
    const int row = m_asks->currentRow();
    if (row < 0 || !m_asks->item(row, 1) || m_asks->selectedItems().isEmpty()) return std::nullopt;
    const std::string id = rowId(m_asks, row).toString().toStdString();
    for (const auto& ask : m_session.project().asks)
        if (ask.id.text == id) return ask;
    return std::nullopt;
}

void BriefStation::put(bool change) {
    auto ask = composed();
    if (!ask) return m_session.say(QString::fromStdString(ask.error().message), true);
    model::Ask entry = *ask;
    if (change) {
        const auto old = chosen();
        if (!old) return;
        entry.id = old->id;
        entry.extra = old->extra;
    }
    m_session.apply(change ? "Change ask" : "Add ask",
                    [&](const model::Project& p) { return model::putAsk(p, entry); });
}

void BriefStation::removeChosen() {
    if (const auto ask = chosen())
        m_session.apply("Remove ask", [&](const model::Project& p) { return model::removeAsk(p, ask->id); });
}

void BriefStation::loadChosen() {
    const auto ask = chosen();
    if (ask) {
        m_measure->setCurrentIndex(m_measure->findData(QString::fromStdString(ask->measure)));
        const auto put = [](QComboBox* box, const std::string& text) {
            const int at = box->findData(QString::fromStdString(text));
            if (at >= 0)
                box->setCurrentIndex(at);
            else
                box->setEditText(QString::fromStdString(text));
        };
        put(m_joint, ask->joint);
        put(m_other, ask->other);
        put(m_section, ask->section);
        put(m_pose, ask->pose);
        put(m_function, ask->function);
        m_shape->setText(QString::fromStdString(ask->shape));
        m_compare->setCurrentText(model::getComparisonName(ask->comparison));
        m_must->setCurrentIndex(ask->must ? 0 : 1);
        m_value->setText(QString::fromStdString(ask->word.empty() ? base::formatNumber(ask->value, 3) : ask->word));
    }
    showSentence();
}

void BriefStation::showProject() {
    fillPlaces();
    const auto& project = m_session.project();
    m_shown->setChecked(!project.shownOn.empty());
    if (!m_shownOn->hasFocus()) m_shownOn->setText(QString::fromStdString(project.shownOn));
    m_empty->setVisible(project.asks.empty());
    m_asks->setVisible(!project.asks.empty());
    showAsks();
    showSentence();
}

void BriefStation::showAsks() {
    const auto report = m_session.report();
    const auto& project = m_session.project();
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    for (const auto& ask : project.asks) {
        const QString sentence = QString::fromStdString(verdict::composeSentence(project, ask));
        bool any = false;
        if (report)
            for (const auto& v : report->verdicts) {
                const std::string prefix = "ask/" + ask.id.text;
                if (v.check != "ask" || (v.id != prefix && !v.id.starts_with(prefix + "/"))) continue;
                const bool wish = !ask.must;
                rows.push_back({{v.state == verdict::State::Good   ? "▲ met"
                                 : v.state == verdict::State::Fail ? "▼ not met"
                                                                   : "■ not met",
                                 {}},
                                {QString::fromStdString(v.text), {}},
                                {QString::fromStdString(v.detail), {}},
                                marginCell(v.margin),
                                {wish ? "wish" : "must", {}}});
                ids.emplace_back(QString::fromStdString(ask.id.text));
                any = true;
            }
        if (any) continue;
        rows.push_back({{"…", {}}, {sentence, {}}, {"", {}}, {"-", 1e9}, {ask.must ? "must" : "wish", {}}});
        ids.emplace_back(QString::fromStdString(ask.id.text));
    }
    const QSignalBlocker quiet(m_asks);
    fillTable(m_asks, {"", "Asked", "It is", "Margin", ""}, rows, ids);
    for (int r = 0; r < m_asks->rowCount(); ++r) {
        const QString state = m_asks->item(r, 0)->text();
        m_asks->item(r, 0)->setForeground(state.startsWith("▼")   ? theme().ember
                                          : state.startsWith("■") ? theme().straw
                                                                  : theme().moss);
    }
    m_asks->setColumnWidth(2, std::min(m_asks->columnWidth(2), 130));
    m_asks->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
}

void BriefStation::goTo(const verdict::Place& place) {
    (void)place; // the list shows all asks
    m_asks->setFocus();
}

void BriefStation::importBrief() {
    const QString path = QFileDialog::getOpenFileName(this, "Shared brief", QString(), "Brief (*.json)");
    if (path.isEmpty()) return;
    const auto loaded = files::loadBrief(path.toStdString());
    if (!loaded)
        return m_session.say("Not added: " +
                                 QString::fromStdString(loaded.error().message + " (at " + loaded.error().place + ")"),
                             true);
    m_session.apply("Add asks of " + QString::fromStdString(loaded->name),
                    [&](const model::Project& p) -> model::EditResult {
                        model::EditResult next(p);
                        for (model::Ask ask : loaded->asks) {
                            ask.id = {};
                            next = model::putAsk(*next, std::move(ask));
                            if (!next) return next;
                        }
                        return next;
                    });
}

void BriefStation::exportBrief() {
    const QString path = QFileDialog::getSaveFileName(this, "Shared brief", "brief.json", "Brief (*.json)");
    if (path.isEmpty()) return;
    files::Brief brief{m_session.project().name, m_session.project().asks};
    const auto saved = files::writeFileAtomically(path.toStdString(), files::writeBrief(brief));
    saved ? m_session.say("Brief written: " + path)
          : m_session.warn(QString::fromStdString("Brief not written: " + saved.error().message));
}

} // namespace ivrant::app
