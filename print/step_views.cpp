// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/step_views.h"

#include <algorithm>
#include <array>
#include <map>
#include <numbers>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/section_body.h"
#include "core/parts/body_box.h"

namespace ivrant::print {
namespace {

using geometry::Vec3;
using render::Turn;

constexpr int kWidth = 180, kHeight = 130; ///< of the pictures that are counted
constexpr double kYaw = -0.9, kPitch = 0.45;
constexpr double kApartMm = 8; ///< between what is there and a part that is drawn away from it
constexpr double kTurnCost = 0.5, kBehindCost = 0.2, kBelowCost = 0.4;
constexpr std::size_t kColours = 6, kMostSingly = 24; ///< with more new parts they are counted as one

std::vector<Turn> listTurns() {
    std::vector<Turn> turns;
    for (const double pitch : {kPitch, -kPitch})
        for (const int quarter : {0, 3, 1, 2}) turns.push_back({kYaw + quarter * std::numbers::pi / 2, pitch});
    return turns;
}
double calcCost(std::size_t turn) { return (turn % 4 >= 2 ? kBehindCost : 0) + (turn >= 4 ? kBelowCost : 0); }

/// Pixels by colour number: shades of one colour count alike.
std::array<int, kColours> countColours(const render::Image& image) {
    std::array<int, kColours> counts{};
    for (std::size_t i = 0; i + 3 < image.rgba.size(); i += 4) {
        const int r = image.rgba[i], g = image.rgba[i + 1], b = image.rgba[i + 2];
        const int most = std::max({r, g, b});
        if (most < 48) continue; // what is there, ink, background
        const int bits = (2 * r > most ? 1 : 0) + (2 * g > most ? 2 : 0) + (2 * b > most ? 4 : 0);
        if (bits >= 1 && bits <= 6) ++counts[static_cast<std::size_t>(bits - 1)];
    }
    return counts;
}

render::PartState colourState(std::size_t number) {
    const auto bits = static_cast<unsigned>(number + 1);
    const auto channel = [&](unsigned bit) { return static_cast<std::uint8_t>((bits & bit) != 0 ? 255 : 0); };
    return {channel(1), channel(2), channel(4), 255};
}

class ViewChooser {
public:
    ViewChooser(render::Renderer& renderer, const verdict::Report& report) : m_renderer(renderer), m_report(report) {}

    std::vector<StepView> run(const std::vector<files::SheetStep>& steps, base::Progress* progress) {
        static const std::vector<Turn> turns = listTurns();
        std::vector<StepView> views;
        std::size_t now = 0;
        Turn last; // that the step before was seen from
        int section = -2;
        for (const files::SheetStep& step : steps) {
            StepView view;
            const bool begins = step.joins || step.step.section != section;
            section = step.joins ? -2 : step.step.section;
            if (begins) now = 0;
            if (step.step.board >= 0 || step.step.section < 0 || (progress && progress->stopped())) {
                view.turn = turns[0];
                views.push_back(view);
                continue;
            }
            prepare(step);
            if (step.viewDeg) { // as the builder wants it
                view.turn = {base::degToRad((*step.viewDeg)[0]), base::degToRad((*step.viewDeg)[1])};
                view.hidden = countHidden(view.turn);
                view.turned = !begins && !(view.turn == last);
                last = view.turn;
                views.push_back(view);
                continue;
            }
            int hidden = countHidden(turns[now]);
            if (hidden > 0) {
                double best = hidden + calcCost(now);
                std::size_t chosen = now;
                for (std::size_t t = 0; t < turns.size(); ++t) {
                    if (t == now) continue;
                    const int there = countHidden(turns[t]);
                    const double cost = there + calcCost(t) + (begins ? 0 : kTurnCost);
                    if (cost >= best) continue;
                    best = cost;
                    chosen = t;
                    hidden = there;
                }
                now = chosen;
            }
            if (hidden > 0 && !step.joins) hidden = explode(step, view, now, begins);
            view.turn = turns[now];
            view.turned = !begins && !(view.turn == last);
            last = view.turn;
            view.hidden = hidden;
            views.push_back(view);
        }
        return views;
    }

private:
    /// Moves what is hidden out on its way and looks again; returns what is hidden even then.
    int explode(const files::SheetStep& step, StepView& view, std::size_t& now, bool begins) {
        static const std::vector<Turn> turns = listTurns();
        const int hidden = countHidden(turns[now]);
        const auto away = calcAway(step);
        if (away.empty()) return hidden;
        prepare(step, away);
        int left = hidden;
        double best = hidden;
        const std::size_t was = now;
        for (std::size_t t = 0; t < turns.size(); ++t) {
            const int there = countHidden(turns[t]);
            const double cost = there + calcCost(t) + (begins || t == was ? 0 : kTurnCost);
            if (there >= hidden || cost >= best) continue;
            best = cost;
            left = there;
            now = t;
            view.away = away;
        }
        return left;
    }

    /// How far each part that was hidden goes out, with those that go in with it: until it is beyond what is there.
    [[nodiscard]] std::map<model::PartSpot, Vec3> calcAway(const files::SheetStep& step) const {
        std::map<model::PartSpot, Vec3> away;
        std::map<model::PartId, geometry::Bounds> boxes;
        std::vector<Vec3> corners; // of all that is there
        for (const auto& section : m_scene.sections)
            for (const model::Part& part : section.section->parts) {
                const auto box = parts::calcBodyBox(*part.shape, section.X_WS * part.place.frame());
                boxes[part.id] = box;
                corners.push_back(box.low);
                corners.push_back(box.high);
            }
        const auto& parts = at(m_report.project->sections, step.step.section)->parts;
        const auto move = [&](const std::vector<int>& together, const make::Way& way) {
            double far = -1e30, near = 1e30; // along the way: the farthest of all, the nearest of these
            for (const Vec3& corner : corners) far = std::max(far, corner.dot(way.off));
            for (const int p : together)
                for (const Vec3& corner : {boxes[at(parts, p).id].low, boxes[at(parts, p).id].high})
                    near = std::min(near, corner.dot(way.off));
            for (const int p : together)
                away[{step.step.section, p}] = way.lift + (std::max(0.0, far - near) + kApartMm) * way.off;
        };
        for (const std::size_t h : m_hidden) {
            const auto& id = m_scene.sections[m_new[h].first].section->parts[m_new[h].second].id;
            for (std::size_t i = 0; i < step.step.added.size() && i < step.ways.size(); ++i) {
                const int p = step.step.added[i];
                if (at(parts, p).id != id || away.count({step.step.section, p}) > 0) continue;
                const auto group = std::find_if(step.groups.begin(), step.groups.end(), [&](const auto& g) {
                    return std::find(g.parts.begin(), g.parts.end(), p) != g.parts.end();
                });
                if (group == step.groups.end())
                    move({p}, step.ways[i]);
                else
                    move(group->parts, group->way);
            }
        }
        return away;
    }

    void prepare(const files::SheetStep& step, std::map<model::PartSpot, Vec3> away = {}) {
        render::PictureRequest request = makeStepRequest(m_report, step);
        request.moved = std::move(away);
        request.width = kWidth;
        request.height = kHeight;
        m_scene = render::makeScene(findStepPlaced(m_report, step), m_report.bonds, request);
        m_scene.refined = false;
        m_scene.background = {0, 0, 0, 255};
        m_scene.ink = {0, 0, 0};
        m_new.clear();
        const auto& parts = at(m_report.project->sections, step.step.section)->parts;
        for (std::size_t d = 0; d < m_scene.sections.size(); ++d) {
            const auto& drawn = *m_scene.sections[d].section;
            for (std::size_t p = 0; p < drawn.parts.size(); ++p) {
                const bool fresh = step.joins ? drawn.id == at(m_report.project->sections, step.step.section)->id
                                              : std::any_of(step.step.added.begin(), step.step.added.end(), [&](int a) {
                                                    return at(parts, a).id == drawn.parts[p].id;
                                                });
                if (fresh) m_new.emplace_back(d, p);
            }
        }
        m_asOne = step.joins || m_new.size() > kMostSingly;
    }

    /// How many of the new parts that view does not show.
    int countHidden(const Turn& turn) {
        m_hidden.clear();
        m_scene.camera.yaw = turn.yaw;
        m_scene.camera.pitch = turn.pitch;
        int hidden = 0;
        const std::size_t batch = m_asOne ? m_new.size() : kColours;
        for (std::size_t first = 0; first < m_new.size(); first += batch) {
            const std::size_t last = std::min(m_new.size(), first + batch);
            const auto draw = [&](bool alone) {
                for (auto& section : m_scene.sections)
                    for (auto& state : section.states) state = {0, 0, 0, static_cast<std::uint8_t>(alone ? 0 : 255)};
                for (std::size_t i = first; i < last; ++i)
                    m_scene.sections[m_new[i].first].states[m_new[i].second] = colourState(m_asOne ? 0 : i - first);
                return countColours(m_renderer.draw(m_scene));
            };
            const auto seen = draw(false), all = draw(true);
            for (std::size_t colour = 0; colour < (m_asOne ? 1 : last - first); ++colour)
                if (seen[colour] < kSeenShare * all[colour] || all[colour] == 0) {
                    ++hidden;
                    if (!m_asOne) m_hidden.push_back(first + colour);
                }
        }
        return hidden;
    }

    render::Renderer& m_renderer;
    const verdict::Report& m_report;
    render::Scene m_scene;
    std::vector<std::pair<std::size_t, std::size_t>> m_new; ///< drawn section and part
    std::vector<std::size_t> m_hidden; ///< of m_new, in the view counted last, unless they are counted as one
    bool m_asOne = false;
};

} // namespace

render::PictureRequest makeStepRequest(const verdict::Report& report, const files::SheetStep& step) {
    render::PictureRequest request;
    if (!step.joins) {
        request.showStep(step.step, *report.project, report.tree);
        return request;
    }
    const model::Project& project = *report.project;
    const auto rank = make::rankSections(report.tree);
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (const model::Part& part : project.sections[s]->parts)
            if (const int after = make::findAfter(project, rank, static_cast<int>(s), part);
                after >= 0 && at(rank, after) >= at(rank, step.step.section))
                request.absentParts.insert(part.id.text);
    request.sections = step.before;
    request.sections.push_back(step.step.section);
    request.fresh = step.step.section;
    request.shift = calcJoinShift(report, step);
    request.focus = {step.step.section, report.tree.parent(step.step.section)};
    return request;
}

const model::Placed& findStepPlaced(const verdict::Report& report, const files::SheetStep& step) {
    for (const study::PoseFacts& pose : report.poses)
        if (!step.pose.empty() && pose.name == step.pose) return pose.placed;
    return report.present.placed;
}

Vec3 calcJoinShift(const verdict::Report& report, const files::SheetStep& step) {
    constexpr double kLeastMm = 16, kShare = 0.3;
    const auto body = model::getSectionBody(at(report.project->sections, step.step.section));
    const Vec3 off = step.way.off;
    const geometry::Frame X = at(findStepPlaced(report, step).X_WS, step.step.section);
    const double size = body->bounds.empty() ? 0 : (X.linear().cwiseAbs() * body->bounds.size()).dot(off.cwiseAbs());
    return step.way.lift + (kLeastMm + kShare * size) * off;
}

std::vector<StepView> chooseStepViews(render::Renderer& renderer, const verdict::Report& report,
                                      const std::vector<files::SheetStep>& steps, base::Progress* progress) {
    return ViewChooser(renderer, report).run(steps, progress);
}

} // namespace ivrant::print
