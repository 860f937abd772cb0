// SPDX-License-Identifier: GPL-3.0-or-later
// Where does drawing happen? An OpenGL 3.3 core context of our own, without any window or display server.
#pragma once

#include <memory>

#include "core/base/result.h"

namespace ivrant::render {

class GlContext {
public:
    /// Error "render.context" when there is no usable OpenGL.
    static base::Result<std::shared_ptr<GlContext>> create();
    ~GlContext();
    GlContext(const GlContext&) = delete;
    GlContext& operator=(const GlContext&) = delete;
    void makeCurrent() const;
    /// Lets another thread use the context.
    void release() const;

private:
    GlContext() = default;
    void* m_display = nullptr;
    void* m_context = nullptr;
};

} // namespace ivrant::render
