// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/blas_guard.h"

#include <dlfcn.h>

namespace ivrant::stand {
namespace {

/// Tells a library with threads to use one for each caller. True when it can serve only one caller.
bool prepare() {
    if (auto* one = reinterpret_cast<void (*)(int)>(dlsym(RTLD_DEFAULT, "openblas_set_num_threads"))) one(1);
    auto* kind = reinterpret_cast<int (*)()>(dlsym(RTLD_DEFAULT, "openblas_get_parallel"));
    return kind && kind() == 0; // other libraries have no such buffer
}

} // namespace

std::unique_lock<std::mutex> guardBlas() {
    static const bool alone = prepare();
    static std::mutex mutex;
    return alone ? std::unique_lock(mutex) : std::unique_lock<std::mutex>();
}

} // namespace ivrant::stand
