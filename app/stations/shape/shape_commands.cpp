// SPDX-License-Identifier: GPL-3.0-or-later
// What Shape does to sections and selected parts: joining, copying, mirroring, moving between sections.
#include <cmath>

#include "app/stations/shape/own_shapes.h"
#include "app/stations/shape/shape_station.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/palette.h"
#include "core/pose/rings.h"

namespace ivrant::app {

using geometry::Frame;
using geometry::Vec3;

void ShapeStation::showOffers() {
    m_offers = bonds::listJointOffers(m_session.placed(), m_session.tree());
    m_offer->setVisible(!m_offers.empty());
    if (m_offers.empty()) return;
    const auto& o = m_offers.front();
    const auto name = [&](int s) { return QString::fromStdString(at(m_session.project().sections, s)->name); };
    m_offer->setText("Join " + name(o.toSection) + " to " + name(o.fromSection) + ": " +
                     QString::fromStdString(o.kind->name));
    m_offer->setToolTip("Two movable ports meet here; the joint lets " + name(o.toSection) + " move (Ctrl+J)");
}

/// Joins two sections by an offer. `asTheyStand`: the present attitude becomes the joint's value, as far as the joint
/// can have it; otherwise they come together at zero.
void ShapeStation::joinBy(const bonds::JointOffer& offer, bool asTheyStand) {
    model::Joint joint;
    joint.name = at(m_session.project().sections, offer.toSection)->name;
    joint.kind = offer.kind;
    joint.from = offer.from;
    joint.to = offer.to;
    joint.value.assign(static_cast<std::size_t>(offer.kind->freedomCount()), 0.0);
    if (asTheyStand) {
        const auto trial = model::addJoint(m_session.project(), joint);
        const auto& X_WS = m_session.placed().X_WS;
        if (trial) // the tree of a project that an edit has returned is whole
            joint.value =
                pose::calcValues(*trial, model::makeTree(*trial).value(), static_cast<int>(trial->joints.size()) - 1,
                                 at(X_WS, offer.fromSection).inverse() * at(X_WS, offer.toSection));
    }
    if (!m_session.apply(
            "Join " + QString::fromStdString(joint.name), [&](const model::Project& p) -> model::EditResult {
                const auto joined = model::addJoint(p, joint);
                if (!joined) return joined;
                const auto closed =
                    pose::poseJoints(*joined, {{joined->joints.back().id, joint.value}}); // a ring closes if it can
                return closed ? closed : joined;
            }))
        return;
    m_session.setCurrentJoint(m_session.project().joints.back().id);
    if (m_session.tree().isClosing(static_cast<int>(m_session.project().joints.size()) - 1))
        return m_session.say("This joint closes a ring: the other joints of the ring follow from now on");
    m_session.say("Joined by a " + QString::fromStdString(offer.kind->name) + ": its range is in Pose");
}

void ShapeStation::acceptOffer() {
    if (!m_offers.empty()) joinBy(bonds::JointOffer(m_offers.front()), true); // joining makes the offers anew
}

void ShapeStation::join() {
    if (m_session.selection().size() != 2) {
        if (m_offers.empty())
            m_session.say("Select the two parts to join (one in each section), or bring two movable ports together",
                          true);
        acceptOffer();
        return;
    }
    const model::PartIndex index(m_session.project());
    const auto ids = m_session.selectedParts();
    auto a = index.find(ids[0]), b = index.find(ids[1]);
    if (a.section > b.section) std::swap(a, b);
    auto offer = bonds::findJointBetween(m_session.placed(), m_session.tree(), a, b);
    if (!offer) offer = bonds::findJointBetween(m_session.placed(), m_session.tree(), b, a);
    if (offer)
        joinBy(*offer, false);
    else
        m_session.say(
            "These two parts have no ports that make a joint, or their sections are joined to each other already",
            true);
}

/// Through all parts, section by section, from the one that was reached last, or else from the selection's first.
void ShapeStation::selectNext(int way, bool keep) {
    std::vector<model::PartId> all;
    for (const auto& section : m_session.project().sections)
        for (const model::Part& part : section->parts) all.push_back(part.id);
    if (all.empty()) return m_session.say("There is no part yet: type one and press Enter");
    auto selection = m_session.selection();
    const model::PartId from =
        selection.contains(m_stepped) || selection.empty() ? m_stepped : m_session.selectedParts().front();
    const auto found = std::find(all.begin(), all.end(), from);
    const auto count = static_cast<int>(all.size());
    int next = way > 0 ? 0 : count - 1;
    if (found != all.end()) next = (static_cast<int>(found - all.begin()) + way + count) % count;
    m_stepped = at(all, next);
    if (!keep) selection.clear();
    selection.insert(m_stepped);
    m_session.select(std::move(selection));
    const auto spot = model::PartIndex(m_session.project()).find(m_stepped);
    m_session.say(QString::fromStdString(model::getPart(m_session.project(), spot).shape->name + ", in " +
                                         at(m_session.project().sections, spot.section)->name));
}

void ShapeStation::newSection() {
    const QString name = "Section " + QString::number(m_session.project().sections.size() + 1);
    if (!m_session.apply("New section",
                         [&](const model::Project& p) { return model::addSection(p, name.toStdString()); }))
        return;
    m_session.setCurrentSection(m_session.project().sections.back()->id);
    m_session.say("New section: type its name; what you place now goes there");
    m_tree->editName();
}

void ShapeStation::copySection(bool mirrored) {
    const auto id = m_session.currentSection();
    const bool done =
        m_session.apply(mirrored ? "Mirrored copy of section" : "Duplicate section", [&](const model::Project& p) {
            return model::duplicateSection(p, id, mirrored, at(m_session.placed().X_WS, p.findSection(id)));
        });
    if (!done) return;
    m_session.setCurrentSection(m_session.project().sections.back()->id);
    m_session.say("Copied beside it: join it where it belongs (select one part of each, Ctrl+J)");
}

void ShapeStation::removeSection() {
    const auto id = m_session.currentSection();
    m_session.apply("Remove section", [&](const model::Project& p) { return model::removeSection(p, id); });
}

void ShapeStation::moveHere() {
    const auto ids = m_session.selectedParts();
    const auto target = m_session.currentSection();
    const auto& X_WS = m_session.placed().X_WS;
    const Frame X_TW = at(X_WS, m_session.project().findSection(target)).inverse();
    m_session.apply("Move to section", [&](const model::Project& p) {
        return model::movePartsToSection(p, ids, target, [&](int s) { return Frame(X_TW * at(X_WS, s)); });
    });
}

void ShapeStation::showOwnShapes() {
    auto* dialog = new OwnShapes(m_session, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &OwnShapes::taken, this, [this](const QString& name) {
        m_line->setText(name);
        lineChanged(name);
        m_line->setFocus();
    });
    dialog->open();
}

void ShapeStation::duplicate() {
    const auto ids = m_session.selectedParts();
    std::vector<model::PartId> made;
    if (m_session.apply("Duplicate", [&](const model::Project& p) {
            return model::duplicateParts(
                p, ids, geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, base::kBrickMm}), &made);
        }))
        m_session.select({made.begin(), made.end()});
}

void ShapeStation::mirror(bool copy) {
    const auto ids = m_session.selectedParts();
    if (ids.empty()) return m_session.say("Select the parts to mirror first", true);
    // The plane: the right end of the selection for a copy beside it, its middle for mirroring in place.
    const model::PartIndex index(m_session.project());
    geometry::Bounds b;
    for (const auto& id : ids) {
        const auto& part = model::getPart(m_session.project(), index.find(id));
        for (const auto& solid : part.shape->drawn) b.include(geometry::calcBounds(solid, part.place.frame()));
    }
    const double plane = copy ? b.high.x() : b.centre().x();
    std::vector<model::PartId> made;
    if (m_session.apply(copy ? "Mirrored copy" : "Mirror",
                        [&](const model::Project& p) { return model::mirrorParts(p, ids, plane, copy, &made); }) &&
        copy)
        m_session.select({made.begin(), made.end()});
}

void ShapeStation::removeSelected() {
    const auto ids = m_session.selectedParts();
    if (!ids.empty())
        m_session.apply("Remove parts", [&](const model::Project& p) { return model::removeParts(p, ids); });
}

void ShapeStation::newStep() {
    m_nextStep = true;
    m_session.say("The next part begins a new step");
}

QString ShapeStation::describeLineCommand(const QString& text) const {
    const QString parts = QString::number(m_session.selection().size()) + " selected parts";
    if (text.startsWith("colour ")) return "Enter recolours " + parts + "; colours: slate, reed, kelp, sand, chalk …";
    if (text.startsWith("weighs "))
        return "Enter notes the weighed mass of each of " + parts +
               " in grams; \"weighs nothing\" goes back to the computed one";
    return {};
}

void ShapeStation::applyLine(const QString& name, const Edit& edit) {
    if (!m_session.apply(name, edit)) return;
    m_line->clear();
    lineChanged("");
}

bool ShapeStation::runLineCommand(const QString& text) {
    if (describeLineCommand(text).isEmpty()) return false;
    const auto ids = m_session.selectedParts();
    const QString rest = text.mid(7).trimmed();
    if (text.startsWith("colour ")) {
        const int colour = parts::findColour(rest.toStdString());
        if (colour < 0)
            m_session.say("There is no colour called '" + rest + "'", true);
        else
            applyLine("Recolour", [&](const model::Project& p) { return model::recolourParts(p, ids, colour); });
        return true;
    }
    std::optional<double> gram;
    if (rest != "nothing") {
        const auto number = base::parseNumber(QString(rest).remove('g').trimmed().toStdString());
        if (!number) {
            m_session.say("Weighs how many grams? " + QString::fromStdString(number.error().message), true);
            return true;
        }
        gram = *number;
    }
    applyLine("Weigh", [&](const model::Project& p) { return model::weighParts(p, ids, gram); });
    return true;
}

void ShapeStation::takeBallastOut() {
    const auto id = m_session.currentSection();
    m_session.apply("Take ballast out", [&](const model::Project& p) { return model::clearBallast(p, id); });
}

} // namespace ivrant::app
