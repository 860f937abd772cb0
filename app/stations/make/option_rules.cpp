// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/option_rules.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/shell/station.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/model/edits_options.h"

namespace ivrant::app {

OptionRules::OptionRules(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_list(new QListWidget(this)), m_first(new QComboBox(this)),
      m_how(new QComboBox(this)), m_second(new QComboBox(this)), m_add(new QPushButton("Add rule", this)),
      m_remove(new QPushButton("Remove rule", this)) {
    m_list->setObjectName("optionRules");
    m_list->setAccessibleName("Rules between choices");
    m_list->setMaximumHeight(scaled(84));
    m_first->setObjectName("ruleFirst");
    m_first->setAccessibleName("This choice");
    m_how->setObjectName("ruleHow");
    m_how->setAccessibleName("Excludes or needs");
    m_how->addItem("excludes", true);
    m_how->addItem("needs", false);
    m_second->setObjectName("ruleSecond");
    m_second->setAccessibleName("That choice");
    m_add->setObjectName("ruleAdd");
    m_remove->setObjectName("ruleRemove");
    for (QComboBox* box : {m_first, m_second}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(9);
    }
    auto* line = new QHBoxLayout;
    line->addWidget(m_first, 2);
    line->addWidget(m_how, 1);
    line->addWidget(m_second, 2);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_add);
    buttons->addWidget(m_remove);
    buttons->addStretch(1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_list);
    layout->addLayout(line);
    layout->addLayout(buttons);
    connect(m_add, &QPushButton::clicked, this, &OptionRules::add);
    connect(m_remove, &QPushButton::clicked, this, &OptionRules::remove);
    addCommand(m_list, "Remove rule", QKeySequence::Delete, [this] { remove(); });
}

QString OptionRules::nameOf(const model::AlternativeId& id) const {
    const model::Options& options = m_session.project().options;
    const auto spot = model::findAlternative(options, id);
    if (spot.option < 0) return qs(id.text);
    const model::Option& option = at(options.list, spot.option);
    return qs(option.name) + ": " + qs(at(option.alternatives, spot.alternative).name);
}

void OptionRules::refresh() {
    const model::Options& options = m_session.project().options;
    setVisible(options.list.size() > 1 || !options.rules.empty()); // choices of one option exclude each other anyhow
    const int keep = m_list->currentRow();
    m_list->clear();
    for (const model::OptionRule& rule : options.rules)
        m_list->addItem(nameOf(rule.first) + (rule.excludes ? " excludes " : " needs ") + nameOf(rule.second));
    m_list->setVisible(!options.rules.empty());
    m_remove->setVisible(!options.rules.empty());
    if (m_list->count() > 0) m_list->setCurrentRow(std::clamp(keep, 0, m_list->count() - 1));
    for (QComboBox* box : {m_first, m_second}) {
        const QVariant before = box->currentData();
        box->clear();
        for (const model::Option& option : options.list)
            for (const model::Alternative& alternative : option.alternatives)
                box->addItem(qs(option.name) + ": " + qs(alternative.name), qs(alternative.id.text));
        box->setCurrentIndex(std::max(0, box->findData(before)));
    }
}

void OptionRules::add() {
    model::OptionRule rule;
    rule.first.text = m_first->currentData().toString().toStdString();
    rule.second.text = m_second->currentData().toString().toStdString();
    rule.excludes = m_how->currentData().toBool();
    const auto& rules = m_session.project().options.rules;
    if (std::find(rules.begin(), rules.end(), rule) != rules.end())
        return m_session.say("That rule is there already", true);
    m_session.apply("Rule between choices", [&](const model::Project& p) { return model::putRule(p, rule); });
}

void OptionRules::remove() {
    const auto& rules = m_session.project().options.rules;
    const int row = m_list->currentRow();
    if (row < 0 || row >= static_cast<int>(rules.size())) return m_session.say("Mark a rule first", true);
    const model::OptionRule rule = at(rules, row);
    m_session.apply("Remove a rule", [&](const model::Project& p) { return model::removeRule(p, rule); });
}

} // namespace ivrant::app
