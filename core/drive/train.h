// SPDX-License-Identifier: GPL-3.0-or-later
// What does every shaft of a train do when some are driven, and if nothing can turn: why not?
//
// A train is a list of turning things (shafts, loose wheels, cases, carriers, racks) with one unknown speed each, and
// of relations between them: Σ cᵢ·ωᵢ = 0 with exact coefficients. A spur mesh is z₁ω₁ + z₂ω₂ = 0, a differential
// (ω_left − ω_case) + (ω_right − ω_case) = 0, a sun with a planet on a turning carrier z₁(ω₁ − ω_c) + z₂ω₂ = 0, the
// planet's speed told relative to its carrier. Speeds may be in any one unit; a rack's is in teeth for each turn of the
// others. All results are exact.
//
// Method: each relation that holds one unknown more than is known gives it; when none does, something becomes
// independent (driven things first). What is left over must hold between independent things only: a row of a small
// system. Every result is a combination of independent relations that can be told (proveZero), so that a lock is
// explained by a smallest set. Source: Müller, Epicyclic Drive Trains (1982), ch. 2; linear algebra;
// docs/derivations/drive.md.
#pragma once

#include <map>
#include <vector>

#include "core/base/at.h"
#include "core/drive/rational.h"

namespace ivrant::drive {

struct Term {
    int thing = 0;
    Rational factor;
    int carrier = -1; ///< the speed counts less that of this thing; −1: as it is
    int sense = 1;    ///< −1: the carrier's axis is told the other way, its speed counts with the other sign
};

/// Σ factor·(speed − sense·carrier's) = 0. Things may be named more than once; their factors add up.
struct Relation {
    std::vector<Term> terms;
};

struct Train {
    int things = 0; ///< numbered from 0
    std::vector<Relation> relations;
};

// The relations that occur. Senses are seen from one end of the parallel axes; `z` tooth counts > 0.
[[nodiscard]] Relation makeSpur(int a, long zA, int b, long zB); ///< outside on outside: opposite senses
[[nodiscard]] Relation makeChain(int a, long zA, int b,
                                 long zB); ///< chain, belt, or a ring with a wheel inside it: same sense
[[nodiscard]] Relation makeBevel(int a, long zA, int b, long zB,
                                 bool sameSense); ///< crown wheels too; the sense follows from how they lie
[[nodiscard]] Relation makeWorm(int worm, long starts, int wheel, long z,
                                bool rightHand); ///< right-handed: both positive about their own axes
[[nodiscard]] Relation makeDifferential(int housing, int left, int right);
[[nodiscard]] Relation makeTogether(int a, int b); ///< fixed to each other
[[nodiscard]] Relation makeHeld(int thing);        ///< does not turn
/// The same relation seen from a turning carrier: speeds count less the carrier's, but for `onCarrier`, things whose
/// bearings it carries and whose speeds are therefore told relative to it already (planets, shafts of a slewing part).
[[nodiscard]] Relation makeCarried(const Relation& relation, int carrier, const std::vector<int>& onCarrier = {});

/// Speeds as combinations of the independent things' speeds, by thing number; no entry: zero.
using Motion = std::map<int, Rational>;

struct TrainMotion {
    std::vector<Motion> motions;  ///< by thing; in terms of independent things
    std::vector<int> independent; ///< their count is the freedom of the train; driven ones first
    std::vector<int> redundant;   ///< relations that say nothing new: closed loops that run
    std::vector<int>
        opposed; ///< driven things whose speed the ones before them already give: they fight, or cannot turn

    [[nodiscard]] int freedom() const { return static_cast<int>(independent.size()); }
    /// Nothing can turn it.
    [[nodiscard]] bool isLocked(int thing) const { return at(motions, thing).empty(); }
    /// Turns of `output` for one of `input`, everything else that is independent at rest; 0 when it does not follow it.
    [[nodiscard]] Rational ratio(int output, int input) const;
    /// Speeds of all for given speeds of the independent things (others 0), in the unit given.
    [[nodiscard]] std::vector<double> speeds(const std::map<int, double>& given) const;
    /// Things whose speed is not settled by the driven ones.
    [[nodiscard]] std::vector<int> listLoose(const std::vector<int>& driven) const;
};

/// `driven`: things that motors or hands turn, most important first. Bad thing numbers: std::out_of_range.
/// About O(things + relations) and the cube of the closing relations; 500 shafts in some ms.
[[nodiscard]] TrainMotion solveTrain(const Train& train, const std::vector<int>& driven = {});

struct Share {
    int relation = 0;
    Rational factor;
};
/// Why a combination of speeds vanishes: Σ factor·relation = it, with no relation that the others could spare. Empty
/// when it does not vanish. The set is minimal: without any one of them it would not follow.
[[nodiscard]] std::vector<Share> proveZero(const Train& train, const Motion& combination);

/// The smallest set found by proveZero for one thing standing still.
[[nodiscard]] std::vector<int> explainLock(const Train& train, int thing);

} // namespace ivrant::drive
