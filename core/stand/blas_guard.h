// SPDX-License-Identifier: GPL-3.0-or-later
// May several factors be computed at once with the BLAS that is installed?
//
// OpenBLAS comes in builds with and without threads. Those with threads may be called by many at once and are told to
// use one thread for each, as our blocks are small; the serial build hands the same buffer to all callers, so that two
// factors at once destroy each other. Source: OpenBLAS user manual, "usage", multi-threading; seen with
// libopenblas0-serial 0.3.21. For use inside core/stand.
#pragma once

#include <mutex>

namespace ivrant::stand {

/// Held while BLAS works: an empty lock where it may work for many, else the only one there is. Cheap.
[[nodiscard]] std::unique_lock<std::mutex> guardBlas();

} // namespace ivrant::stand
