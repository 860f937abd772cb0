// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/gl_context.h"

#include <epoxy/egl.h>
#include <epoxy/gl.h>

namespace ivrant::render {
namespace {

EGLDisplay openDisplay() {
    for (EGLenum platform : {EGL_PLATFORM_SURFACELESS_MESA, EGL_PLATFORM_DEVICE_EXT}) {
        const EGLDisplay display = eglGetPlatformDisplayEXT(platform, EGL_DEFAULT_DISPLAY, nullptr);
        if (display != EGL_NO_DISPLAY && eglInitialize(display, nullptr, nullptr)) return display;
    }
    return EGL_NO_DISPLAY;
}

} // namespace

base::Result<std::shared_ptr<GlContext>> GlContext::create() {
    static const EGLDisplay display = openDisplay();
    if (display == EGL_NO_DISPLAY)
        return base::Error{"render.context", "no OpenGL without a window: install libegl-mesa0 and libgl1-mesa-dri",
                           ""};
    const std::shared_ptr<GlContext> made(new GlContext);
    made->m_display = display;
    eglBindAPI(EGL_OPENGL_API);
    const EGLint wanted[] = {
        EGL_CONTEXT_MAJOR_VERSION,           3,       EGL_CONTEXT_MINOR_VERSION, 3, EGL_CONTEXT_OPENGL_PROFILE_MASK,
        EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT, EGL_NONE};
    made->m_context = eglCreateContext(display, EGL_NO_CONFIG_KHR, EGL_NO_CONTEXT, wanted);
    if (!made->m_context) return base::Error{"render.context", "OpenGL 3.3 is not available", ""};
    return made;
}

GlContext::~GlContext() {
    if (!m_context) return;
    eglMakeCurrent(m_display, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
    eglDestroyContext(m_display, m_context);
}

void GlContext::makeCurrent() const {
    if (!eglMakeCurrent(m_display, EGL_NO_SURFACE, EGL_NO_SURFACE, m_context))
        throw std::runtime_error("cannot use the OpenGL context");
}

void GlContext::release() const { eglMakeCurrent(m_display, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT); }

} // namespace ivrant::render
