// SPDX-License-Identifier: GPL-3.0-or-later
// What the tab of steps shows: pictures, faults, hands. Part of steps_tab.h.
#include <QPainter>
#include <algorithm>
#include <set>

#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/make/steps_tab.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/body_box.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/study/assembly.h"
#include "print/pictures.h"

namespace ivrant::app {
namespace {
constexpr int kTrayPixels = 64;
constexpr double kArrowMm = 26;
constexpr render::Turn kBeginTurn{-2.2, 0.5}; ///< from the corner
constexpr std::size_t kMostStripIcons = 4000;

QString colourName(int colour) { return QString::fromStdString(parts::getColourName(colour)); }
QString partsText(const make::Step& step) {
    int count = 0;
    for (const auto& line : step.tray) count += line.count;
    return QString::number(count) + (count == 1 ? " part" : " parts");
}

} // namespace

/// What the verdicts say of parts of this step.
QStringList StepsTab::listFaults(const make::Step& step) const {
    QStringList lines;
    const auto report = m_session.report();
    if (!report || step.section < 0 || step.section >= static_cast<int>(m_session.project().sections.size()))
        return lines;
    const auto& parts = at(m_session.project().sections, step.section)->parts;
    std::set<model::PartId> here;
    for (const int p : step.added)
        if (p < static_cast<int>(parts.size())) here.insert(at(parts, p).id);
    for (const auto& v : report->verdicts)
        if (v.check.starts_with("order") && v.state != verdict::State::Good && !v.place.parts.empty() &&
            here.count(v.place.parts.front()) > 0)
            lines << QString::fromStdString(v.text + ": " + v.detail);
    return lines;
}

/// Steps with something that cannot go in are marked, in words as well.
void StepsTab::markFaults() {
    for (int row = 0; row < m_steps->count() && row < static_cast<int>(m_list.size()); ++row) {
        auto* item = m_steps->item(row);
        const QStringList faults = listFaults(at(m_list, row));
        const QString plain = item->data(Qt::UserRole).toString();
        item->setText(plain + (faults.isEmpty() ? "" : "\ndoes not go in"));
        item->setForeground(faults.isEmpty() ? QBrush() : QBrush(theme().ember));
        item->setToolTip(faults.join("\n"));
    }
    const auto* step = current();
    const QStringList faults = step ? listFaults(*step) : QStringList();
    showHolds();
    m_faults->setText(faults.join("\n"));
    m_faults->setVisible(!faults.isEmpty());
    QPalette palette = m_faults->palette();
    palette.setColor(QPalette::WindowText, theme().ember);
    m_faults->setPalette(palette);
}

/// Found once for the section of the step, in the background.
void StepsTab::showHolds() {
    m_holds->clear();
    m_holds->hide();
    const auto* step = current();
    const auto report = m_session.report();
    if (!step || step->section < 0 || step->board >= 0 || step->after >= 0 || !report || !m_session.isReportCurrent())
        return;
    const auto& section = at(m_session.project().sections, step->section);
    if (m_holdsOf.lock() != section) {
        m_holdsSought.ask(
            "hands",
            [report, s = step->section](base::Progress& progress) -> std::optional<std::vector<study::HoldHint>> {
                auto hints = study::calcHolds(*report, s, &progress);
                if (progress.stopped()) return {};
                return hints;
            },
            [this, of = std::weak_ptr<const model::Section>(section)](std::vector<study::HoldHint> hints) {
                m_holdHints = std::move(hints);
                m_holdsOf = of;
                showHolds();
            });
        return;
    }
    std::map<QString, QStringList> pressed; ///< by what is held
    for (const study::HoldHint& hint : m_holdHints) {
        if (std::find(step->added.begin(), step->added.end(), hint.part) == step->added.end()) continue;
        QStringList under;
        for (const int p : hint.under) under << QString::fromStdString(at(section->parts, p).shape->name);
        under.removeDuplicates();
        pressed[under.join(", ")] << QString::fromStdString(at(section->parts, hint.part).shape->name);
    }
    QStringList lines;
    for (auto& [under, parts] : pressed) {
        parts.removeDuplicates();
        lines << "Hold " + under + " from below while pressing on " + parts.join(", ") + ".";
    }
    m_holds->setText(lines.join(" "));
    m_holds->setVisible(!lines.isEmpty());
}

const make::Step* StepsTab::current() const {
    const int row = m_steps->currentRow();
    if (row < 0 || row >= static_cast<int>(m_list.size())) return nullptr;
    const make::Step& step = at(m_list, row);
    // The list follows an edit a moment later: a step that names what is gone is no step.
    const auto& project = m_session.project();
    if (step.section >= static_cast<int>(project.sections.size()) ||
        step.board >= static_cast<int>(project.boards.size()))
        return nullptr;
    if (step.section < 0 || step.added.empty()) return step.section >= 0 || step.board >= 0 ? &step : nullptr;
    const auto parts = static_cast<int>(at(project.sections, step.section)->parts.size());
    return *std::max_element(step.added.begin(), step.added.end()) < parts ? &step : nullptr;
}

void StepsTab::rebuild() {
    m_stale = false;
    const int keep = std::max(0, m_steps->currentRow());
    m_list = make::listSteps(m_session.project(), m_session.tree());
    {
        const QSignalBlocker blocker(m_steps);
        m_steps->clear();
        for (const auto& step : m_list) {
            m_steps->addItem(QString::number(step.number) + "   " +
                             QString::fromStdString(make::getStepName(m_session.project(), step)) + "   " +
                             partsText(step));
            m_steps->item(m_steps->count() - 1)->setData(Qt::UserRole, m_steps->item(m_steps->count() - 1)->text());
        }
        m_steps->setCurrentRow(std::min(keep, m_steps->count() - 1));
    }
    if (m_stripIcons.size() > kMostStripIcons) m_stripIcons.clear();
    m_stripTimer.start();
    showStep();
}

void StepsTab::showStep() {
    if (const auto* next = current(); !next || noteOf(*next).part != m_noteOf) keepTyped();
    m_tray->clear();
    const auto* step = current();
    if (!step || !m_renderer) {
        m_title->setText("No steps yet: parts placed in Shape become steps here, in the order of placing.");
        m_shown = {-1, -1};
        m_picture->clear();
        m_note->clear();
        m_noteOf = {};
        m_note->setEnabled(false);
        m_keepView->setEnabled(false);
        return;
    }
    QString title = "<b>" + QString::number(step->number) + "</b> · " +
                    QString::fromStdString(make::getStepName(m_session.project(), *step)).toHtmlEscaped() + " · " +
                    (step->board >= 0 ? "gear board, " : "") + partsText(*step);
    if (step->joint >= 0)
        title += " · then hang it on: " +
                 QString::fromStdString(at(m_session.project().joints, step->joint).name).toHtmlEscaped();
    m_title->setText(title);
    if (step->board >= 0)
        for (const auto& line : step->tray)
            new QListWidgetItem(iconOf(parts::makeShape(line.shape).value(), line.colour),
                                QString::number(line.count) + "x " + QString::fromStdString(line.shape) + "\n" +
                                    colourName(line.colour),
                                m_tray);
    for (int p : step->added) {
        const auto& part = at(at(m_session.project().sections, step->section)->parts, p);
        auto* item =
            new QListWidgetItem(iconOf(part.shape, part.colour),
                                QString::fromStdString(part.shape->name) + "\n" + colourName(part.colour), m_tray);
        item->setData(Qt::UserRole, QString::fromStdString(part.id.text));
    }
    const model::StepNote note = noteOf(*step);
    m_note->setEnabled(!note.part.empty());
    m_keepView->setEnabled(!note.part.empty());
    if (!m_note->isModified() || note.part != m_noteOf) m_note->setText(qs(note.text));
    m_noteOf = note.part;
    m_keepView->setChecked(note.viewDeg.has_value());
    markFaults();
    m_pictureTimer.start();
}

const QIcon& StepsTab::iconOf(const parts::ShapePtr& shape, int colour) {
    auto& icon = m_icons[{shape->name, colour}];
    if (icon.isNull())
        icon = QIcon(QPixmap::fromImage(
            print::toQImage(render::drawPart(*m_renderer, shape, colour, kTrayPixels * 2, kTrayPixels * 2))));
    return icon;
}

void StepsTab::drawPicture() {
    const auto* step = current();
    if (!step || m_stale || !isVisible()) return;
    render::PictureRequest request;
    request.showStep(*step, m_session.project(), m_session.tree());
    const model::StepNote note = noteOf(*step);
    const std::pair<int, int> shown{step->section, step->number};
    if (note.viewDeg)
        request.turn = render::Turn{base::degToRad((*note.viewDeg)[0]), base::degToRad((*note.viewDeg)[1])};
    else if (shown != m_shown)
        request.turn = kBeginTurn;
    m_shown = shown;
    m_picture->show(std::move(request));
}

/// Ways in that are not from above.
void StepsTab::paintWays(QPainter& painter) const {
    const auto* step = current();
    const auto report = m_session.report();
    if (!step || step->section < 0 || !report || !m_session.isReportCurrent() || !report->assembly) return;
    const auto& parts = at(m_session.project().sections, step->section)->parts;
    std::map<std::string, std::pair<make::Way, geometry::Bounds>> ways;
    for (const int p : step->added) {
        make::Way way;
        geometry::Frame X = at(parts, p).place.frame();
        if (step->after >= 0) {
            const auto waiting = report->assembly->waitingWays.find({step->section, p});
            if (waiting == report->assembly->waitingWays.end()) continue;
            way = waiting->second;
            X = m_session.placed().X_WP({step->section, p});
        } else {
            way = at(at(report->assembly->sections, step->section)->check.ways, p);
        }
        if (way.off.z() > make::kSameWay && way.lift == geometry::Vec3::Zero()) continue;
        auto& [known, box] = ways[make::describeWayIn(way)];
        known = way;
        box.include(parts::calcBodyBox(*at(parts, p).shape, X));
    }
    for (const auto& [text, of] : ways) {
        const auto& [way, box] = of;
        const geometry::Vec3 tip = box.centre() + way.off * (0.5 * box.size().dot(way.off.cwiseAbs()) + 2);
        print::paintArrow(painter, m_picture->toScreen(tip + kArrowMm * way.off), m_picture->toScreen(tip), scaled(5));
    }
}

/// One small picture at a time, those that can be seen first.
void StepsTab::drawStripIcon() {
    if (!m_renderer || m_stale || !isVisible() || m_list.size() != static_cast<std::size_t>(m_steps->count()))
        return m_stripTimer.stop();
    const QRect seen = m_steps->viewport()->rect();
    for (int row = 0; row < m_steps->count(); ++row) {
        auto* item = m_steps->item(row);
        if (!item->icon().isNull() || !m_steps->visualItemRect(item).intersects(seen)) continue;
        const make::Step& step = at(m_list, row);
        const model::SectionPtr section = step.section >= 0 ? at(m_session.project().sections, step.section) : nullptr;
        // What waited is shown in the whole, which may change without its section.
        const bool keeps = section && step.after < 0 && step.board < 0;
        const std::tuple key(section.get(), step.stepInSection, step.after);
        if (const auto known = m_stripIcons.find(key); keeps && known != m_stripIcons.end()) {
            item->setIcon(known->second.icon);
            continue;
        }
        render::PictureRequest request;
        const QSize size = m_steps->iconSize() * devicePixelRatioF();
        request.width = size.width();
        request.height = size.height();
        request.showStep(step, m_session.project(), m_session.tree());
        const model::StepNote note = noteOf(step);
        if (note.viewDeg)
            request.turn = render::Turn{base::degToRad((*note.viewDeg)[0]), base::degToRad((*note.viewDeg)[1])};
        const QColor c = theme().paper;
        request.background = {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                              static_cast<std::uint8_t>(c.blue()), 255};
        const QIcon icon(QPixmap::fromImage(
            print::toQImage(m_renderer->draw(render::makeScene(m_session.placed(), m_session.bonds(), request)))));
        if (keeps) m_stripIcons[key] = {section, icon};
        item->setIcon(icon);
        return; // the others after what else there is to do
    }
    m_stripTimer.stop();
}

} // namespace ivrant::app
