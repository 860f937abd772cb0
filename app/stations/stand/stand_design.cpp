// What Stand changes in the model or keeps with it: own cases, statues, parts that make a shell firm, the core left out.
#include <QHeaderView>
#include <QPainter>
#include <cmath>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/stand/case_dialog.h"
#include "app/stations/stand/stand_station.h"
#include "app/stations/stand/statue_desk.h"
#include "core/base/units.h"
#include "core/base/words.h"
#include "core/verdict/stand/size_desk.h"

namespace ivrant::app {
namespace {

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

} // namespace

void StandStation::keepCase() {
    model::OwnCase own;
    for (const model::OwnCase& kept : m_session.project().cases)
        if (m_key.toStdString() == kept.id.text) own = kept;
    if (own.id.empty() && m_solved) { // starts from the case that is looked at
        const auto& of = m_solved->of;
        const double across = std::hypot(of.accelerationG.x(), of.accelerationG.y());
        const auto& way = across > 1e-9 ? of.accelerationG : of.pushN;
        own.towardDeg = std::round(base::radToDeg(std::atan2(way.y(), way.x())));
        own.strapped = of.strapped;
        own.pushN = of.pushN.norm();
        if (of.kind == stand::CaseKind::Slope) own.slopeDeg = std::round(base::radToDeg(std::atan2(across, -of.accelerationG.z())) * 10) / 10;
        if (of.kind == stand::CaseKind::Bumped) {
            own.asideG = across;
            own.downG = -of.accelerationG.z();
        }
    }
    CaseDialog dialog(m_session.project(), own, m_session.selectedParts(), this);
    if (dialog.exec() != QDialog::Accepted) return;
    const auto kept = dialog.ownCase();
    if (!m_session.apply((own.id.empty() ? "Case " : "Change case ") + qs(kept.name), [&](const model::Project& p) { return model::putCase(p, kept); })) return;
    m_key = qs(own.id.empty() ? m_session.project().cases.back().id.text : own.id.text);
    rebuildChips();
}

void StandStation::dropCase() {
    for (const model::OwnCase& kept : m_session.project().cases) {
        if (m_key.toStdString() != kept.id.text) continue;
        const auto id = kept.id;
        const QString name = qs(kept.name);
        m_key = "standing";
        m_session.apply("Remove case " + name, [&](const model::Project& p) { return model::removeCase(p, id); });
        return rebuildChips();
    }
    m_session.say("Choose a case of your own first", true);
}

void StandStation::openDesk() {
    StatueDesk desk(m_session.jobs(), this);
    if (desk.exec() != QDialog::Accepted || !desk.made()) return;
    double aside = 0;
    for (const auto& section : m_session.project().sections)
        for (const model::Part& part : section->parts)
            for (const auto& solid : part.shape->solids)
                aside = std::max(aside, geometry::calcBounds(solid.solid, m_session.placed().X_WS[0] * part.place.pose()).high.x() + 40);
    const auto& statue = *desk.made();
    if (m_session.apply("Statue of " + QString::number(statue.partCount()) + " parts", [&](const model::Project& p) { return addStatue(p, statue, aside); }))
        m_sheet->fitAgain();
}

void StandStation::proposeCore() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || report->present.tipping == std::nullopt) return m_session.say("There is nothing to hollow yet", true);
    m_outcome->setText("Looking for what can be left out …");
    m_core.ask(
        "Core",
        [report](base::Progress& progress) -> std::optional<stand::CoreProposal> {
            auto core = study::calcCore(*report, report->present, &progress);
            if (!core) return std::nullopt;
            return std::move(core).value();
        },
        [this](const stand::CoreProposal& core) {
            if (core.leaveOut.empty()) return m_outcome->setText("<b>Core</b>: nothing can be left out; " + qs(core.why).toHtmlEscaped());
            const QString what = QString::number(core.leaveOut.size()) + " parts, " + numberText(core.massG, 0) + " g, " +
                                 numberText(static_cast<double>(core.leaveOut.size()) / verdict::kUsualPartsPerHour, 1) + " h of laying at " +
                                 numberText(verdict::kUsualPartsPerHour, 0) + " parts an hour (starting value)";
            if (!m_session.apply("Leave out the core", [&](const model::Project& p) { return study::leaveOutCore(p, core.leaveOut); })) return;
            m_session.say("Left out " + what + " in the variant hollow; the solid one is kept beside it");
        });
}

/// Marks what nobody sees in any pose, and says whose colour shows through gaps.
void StandStation::markHidden() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent()) return;
    m_outcome->setText("Looking for what is never seen …");
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
            QString line = "<b>Never seen</b>, in any pose: " + QString::fromStdString(base::countText(marked.size(), "part", "parts")) + ", " +
                           numberText(hidden.massG, 0) + " g; any colour will do for them";
            if (!hidden.showing.empty())
                line += "<br>seen through gaps in a colour of their own: " + QString::fromStdString(base::countText(hidden.showing.size(), "part", "parts")) +
                        ", such as a " + qs(model::getPart(m_session.project(), hidden.showing.front().part).shape->name).toHtmlEscaped();
            m_outcome->setText(line);
            m_session.setMarked(marked);
            m_session.select(std::move(marked)); // to be recoloured in Shape at once
        });
}

void StandStation::makeFirm() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || !report->present.tipping) return m_session.say("There is nothing to make firm yet", true);
    m_outcome->setText("Looking where parts inside help most …");
    m_firm.ask(
        "Make firm",
        [report](base::Progress& progress) -> std::optional<stand::FirmProposal> {
            auto firm = stand::proposeFirm(report->present.placed, study::calcBondLimits(*report), {}, &progress);
            if (!firm) return std::nullopt;
            return std::move(firm).value();
        },
        [this](const stand::FirmProposal& firm) {
            if (firm.parts.empty()) return m_outcome->setText("<b>Make firm</b>: nothing goes in; " + qs(firm.why).toHtmlEscaped());
            const auto id = m_session.project().sections[static_cast<std::size_t>(firm.section)]->id;
            const auto lambda = [](const std::optional<double>& value) {
                return !value || std::isinf(*value) ? QString("falling") : "λ " + numberText(*value, 2);
            };
            if (!m_session.apply("Parts inside", [&](const model::Project& p) { return model::addParts(p, id, firm.parts); })) return;
            m_session.say(QString::number(firm.parts.size()) + " parts, " + numberText(firm.massG, 0) + " g, went inside: " + lambda(firm.before) + " → " +
                          lambda(firm.after) + (firm.holds ? QString() : "; that is all that helps"));
        });
}

} // namespace ivrant::app
