// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/shell_tab.h"

#include <QGridLayout>
#include <QScrollArea>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/stations/stand/statue_desk.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/base/words.h"
#include "core/study/stand_cases.h"
#include "core/verdict/stand/size_desk.h"

namespace ivrant::app {
namespace {

constexpr double kGapMm = 40; ///< between a new statue and what stands there

/// The statue as a section: of an empty project its own, else beside what is there.
model::EditResult addStatue(const model::Project& project, const model::Project& statue, double asideMm) {
    const auto& from = *statue.sections.front();
    std::vector<model::NewPart> parts;
    parts.reserve(from.parts.size());
    for (const model::Part& part : from.parts) parts.push_back({part.shape, part.colour, part.place, part.step});
    if (project.partCount() == 0) {
        auto renamed = model::renameSection(project, project.sections.front()->id, statue.name);
        return renamed ? model::addParts(*renamed, project.sections.front()->id, parts) : renamed;
    }
    model::Place place;
    place.atUm[0] = base::mmToUm(std::ceil(asideMm / base::kPitchMm) * base::kPitchMm);
    auto added = model::addSection(project, statue.name, place);
    return added ? model::addParts(*added, added->sections.back()->id, parts) : added;
}

QString lambdaText(const std::optional<double>& lambda) {
    return !lambda || std::isinf(*lambda) ? QString("falling") : "λ " + numberText(*lambda, 2);
}

QString countedParts(std::size_t count) { return qs(base::countText(count, "part", "parts")); }

} // namespace

ShellTab::ShellTab(Session& session, QWidget* parent)
    : StandTab(session, parent), m_told(makeMarkup(new QLabel(this))), m_core(session.jobs()), m_firm(session.jobs()),
      m_hidden(session.jobs()) {
    auto* scroll = new QScrollArea(this);
    auto* inside = new QWidget(scroll);
    auto* grid = new QGridLayout(inside);
    grid->setContentsMargins(0, 6, 0, 0);
    scroll->setWidget(inside);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scroll);
    const auto add = [&](const char* name, const QString& caption, const QString& tip, auto slot) {
        const int row = grid->rowCount();
        auto* button = new QPushButton(caption, inside);
        button->setObjectName(name);
        button->setToolTip(tip);
        auto* about = new QLabel(tip, inside);
        about->setWordWrap(true);
        grid->addWidget(button, row, 0);
        grid->addWidget(about, row, 1);
        connect(button, &QPushButton::clicked, this, slot);
    };
    add("leaveOutCore", "leave core out",
        "Looks for parts deep inside that carry nothing; what is left is a variant of its own",
        &ShellTab::leaveCoreOut);
    add("makeFirm", "make firm", "Looks where parts inside the hollow help the bonds most, and puts them in",
        &ShellTab::makeFirm);
    add("neverSeen", "never seen", "Chooses the parts that nobody sees in any pose: any colour will do for them",
        &ShellTab::chooseHidden);
    add("statueDesk", "statue …", "A closed mesh or pictures of layers, at several sizes side by side, laid in bricks",
        &ShellTab::openDesk);
    m_told->setObjectName("shellText");
    m_told->setWordWrap(true);
    m_told->setAlignment(Qt::AlignTop);
    grid->addWidget(m_told, grid->rowCount(), 0, 1, 2);
    grid->setRowStretch(grid->rowCount() - 1, 1);
    grid->setColumnStretch(1, 1);
}

void ShellTab::forget() {
    m_core.cancel();
    m_firm.cancel();
    m_hidden.cancel();
    m_told->clear();
}

void ShellTab::refresh() {}

void ShellTab::leaveCoreOut() {
    const auto report = weightyReport("There is nothing to hollow yet");
    if (!report) return;
    m_told->setText("Looking for what can be left out …");
    m_core.ask(
        "Core",
        [report](base::Progress& progress) -> std::optional<stand::CoreProposal> {
            auto core = study::calcCore(*report, report->present, &progress);
            if (!core) return std::nullopt;
            return std::move(core).value();
        },
        [this](const stand::CoreProposal& core) {
            if (core.leaveOut.empty())
                return m_told->setText("<b>Core</b>: nothing can be left out; " + qs(core.why).toHtmlEscaped());
            const QString what =
                countedParts(core.leaveOut.size()) + ", " + numberText(core.massG, 0) + " g, " +
                numberText(static_cast<double>(core.leaveOut.size()) / verdict::kUsualPartsPerHour, 1) +
                " h of laying at " + numberText(verdict::kUsualPartsPerHour, 0) + " parts an hour (starting value)";
            if (m_session.apply("Leave out the core",
                                [&](const model::Project& p) { return study::leaveOutCore(p, core.leaveOut); }))
                m_session.say("Left out " + what + " in the variant hollow; the solid one is kept beside it");
        });
}

void ShellTab::makeFirm() {
    const auto report = weightyReport("There is nothing to make firm yet");
    if (!report) return;
    m_told->setText("Looking where parts inside help most …");
    m_firm.ask(
        "Make firm",
        [report](base::Progress& progress) -> std::optional<stand::FirmProposal> {
            auto firm = stand::proposeFirm(report->present.placed, study::calcBondLimits(*report), {}, &progress);
            if (!firm) return std::nullopt;
            return std::move(firm).value();
        },
        [this](const stand::FirmProposal& firm) {
            if (firm.parts.empty())
                return m_told->setText("<b>Make firm</b>: nothing goes in; " + qs(firm.why).toHtmlEscaped());
            const auto id = at(m_session.project().sections, firm.section)->id;
            if (!m_session.apply("Parts inside",
                                 [&](const model::Project& p) { return model::addParts(p, id, firm.parts); }))
                return;
            m_session.say(countedParts(firm.parts.size()) + ", " + numberText(firm.massG, 0) +
                          " g, went inside: " + lambdaText(firm.before) + " → " + lambdaText(firm.after) +
                          (firm.holds ? QString() : "; that is all that helps"));
        });
}

void ShellTab::chooseHidden() {
    const auto report = currentReport();
    if (!report) return;
    m_told->setText("Looking for what is never seen …");
    m_hidden.ask(
        "Never seen",
        [report](base::Progress& progress) -> std::optional<study::Hidden> {
            auto hidden = study::calcHidden(*report, &progress);
            if (!hidden) return std::nullopt;
            return std::move(hidden).value();
        },
        [this](const study::Hidden& hidden) {
            std::set<model::PartId> marked;
            for (const model::PartSpot spot : hidden.parts) marked.insert(model::getPart(m_session.project(), spot).id);
            QString line = "<b>Never seen</b>, in any pose: " + countedParts(marked.size()) + ", " +
                           numberText(hidden.massG, 0) + " g; any colour will do for them";
            if (!hidden.showing.empty())
                line +=
                    "<br>seen through gaps in a colour of their own: " + countedParts(hidden.showing.size()) +
                    ", such as a " +
                    qs(model::getPart(m_session.project(), hidden.showing.front().part).shape->name).toHtmlEscaped();
            m_told->setText(line);
            m_session.setMarked(marked);
            m_session.select(std::move(marked)); // to be recoloured in Shape at once
        });
}

void ShellTab::openDesk() {
    StatueDesk desk(m_session.jobs(), this);
    if (desk.exec() != QDialog::Accepted || !desk.made()) return;
    double aside = 0;
    for (const auto& section : m_session.project().sections)
        for (const model::Part& part : section->parts)
            for (const auto& solid : part.shape->solids)
                aside = std::max(
                    aside, geometry::calcBounds(solid.solid, m_session.placed().X_WS[0] * part.place.frame()).high.x() +
                               kGapMm);
    const auto& statue = *desk.made();
    if (m_session.apply("Statue of " + countedParts(statue.partCount()),
                        [&](const model::Project& p) { return addStatue(p, statue, aside); }))
        emit statueMade();
}

} // namespace ivrant::app
