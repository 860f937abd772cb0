// SPDX-License-Identifier: GPL-3.0-or-later
// Is there quick proof that a placed model stands, while the exact answer is still on its way?
//
// Each column is a spring that yields at its limits (yielding_springs.h): a stud gives way under too much pull, a
// corner that lifts presses no more. Every force lies within its limits at all times and the balance closes at the end.
// It certifies "stands" only when no part lacks more than kBalanceN; else it says nothing: that is no "falls". Forces
// of an earlier certificate of nearly the same model are a better rest position of the springs than none: then, and
// after one round of all, only the parts near what is missing are looked at, all other forces kept. N, mm, N·mm.
// Source: docs/derivations/bond-equilibrium.md.
#pragma once

#include <array>
#include <cstdint>
#include <map>

#include "core/stand/equilibrium.h"

namespace ivrant::stand {

/// Forces by contact, known again by its middle in the world (hundredths of a mm) and its kind: whatever is renumbered
/// by an edit is found.
struct KeptForces {
    std::map<std::array<std::int64_t, 4>, std::vector<double>> values;
};

struct Certificate {
    bool stands = false;   ///< proven
    double residualN = 0;  ///< largest force left over
    double largestUse = 0; ///< of any limit, by these forces: λ is that or less
    int rounds = 0;
    KeptForces forces; ///< for the next time
};

struct CertificateRequest {
    int mostRounds = 12; ///< more are slower than the exact answer
    const KeptForces* start = nullptr;
    const base::Progress* progress = nullptr;
};

/// One factor and a solve a round: 6,000 hollow parts well under a second. Errors as calcEquilibrium.
base::Result<Certificate> calcCertificate(const BondNet& net, const std::vector<BodyLoad>& loads,
                                          const CertificateRequest& request = {});

} // namespace ivrant::stand
