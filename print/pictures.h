// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures for the sheets, as QImage, drawn once and shared. Used by the guide files only.
#pragma once

#include <QImage>
#include <map>
#include <memory>

#include "core/files/sheet_carry.h"
#include "core/files/sheet_steps.h"
#include "core/verdict/report.h"
#include "print/step_views.h"
#include "render/picture.h"

class QCoreApplication;
class QPainter;

namespace ivrant::print {

/// Makes an offscreen QGuiApplication when the program has none yet (painting text needs one).
class GuiGuard {
public:
    GuiGuard();
    ~GuiGuard();

private:
    std::unique_ptr<QCoreApplication> m_own;
};

class Pictures {
public:
    static base::Result<std::unique_ptr<Pictures>> create(const verdict::Report& report);

    [[nodiscard]] QImage cover(int width, int height);
    /// Where to lift (green), where not (red), weak points (yellow).
    [[nodiscard]] QImage carrying(const files::CarryPlan& plan, int width, int height);
    /// As far as it is built, what is new in full colour, with arrows where it does not come from above and an inset of
    /// what is put together first; of joining what is there and the new section on its way to it.
    [[nodiscard]] QImage step(const files::SheetStep& step, const StepView& view, int width, int height);
    /// From where each step is looked at (step_views.h).
    [[nodiscard]] std::vector<StepView> chooseViews(const std::vector<files::SheetStep>& steps,
                                                    base::Progress* progress = nullptr);
    /// Eight places of a motion with its paths (motion_strip.h).
    [[nodiscard]] QImage motion(int study, int width);
    /// The model pale, one of its lines in ink with its guides numbered.
    [[nodiscard]] QImage threading(int study, int width, int height);
    /// Cached by shape and colour.
    [[nodiscard]] const QImage& part(const std::string& shape, int colour, int size);

private:
    void drawInset(QImage& image, const files::SheetStep& step, const render::Turn& view);
    void drawArrows(QImage& image, const render::Camera& camera, const files::SheetStep& step,
                    const StepView& view) const;
    explicit Pictures(const verdict::Report& report) : m_report(report) {}
    const verdict::Report& m_report;
    std::shared_ptr<render::Renderer> m_renderer;
    std::map<std::pair<std::string, int>, QImage> m_parts;
};

[[nodiscard]] QImage toQImage(const render::Image& image);
/// Filled, with an edge that shows on dark and on pale parts; nothing when it is seen from its end.
void paintArrow(QPainter& painter, const QPointF& from, const QPointF& to, double width);

} // namespace ivrant::print
