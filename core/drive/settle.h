// SPDX-License-Identifier: GPL-3.0-or-later
// Motors leave some of a train's freedoms open, a differential's two sides for instance: which of the loaded things
// move and which rest?
//
// What asks least goes: a thing rests as long as the torque that the train passes to it stays below what it resists,
// else it goes and another one rests. Things that ask alike go alike: of all speeds those with the least Σ ω².
// Quasi-static, Coulomb friction; a weight that is not lifted lies on its stop. Derivation: docs/derivations/drive.md.
#pragma once

#include "core/drive/train_load.h"

namespace ivrant::drive {

struct Resistance {
    int rotor = 0;
    double nmm = 0;     ///< ≥ 0: torque that moves it, as that of an ordinary thing
    bool rests = false; ///< by friction: it stays where it is when no motor moves it
};

struct Settled {
    Train train;              ///< as given, then one relation for each thing that goes as others do
    TrainMotion motion;       ///< of that train
    std::vector<int> drivers; ///< motors, then what rests
    std::vector<int> alike;   ///< things that share evenly because they ask alike
};

/// `motors`: rotors, most important first. Without anything open between loaded things: the train as it is.
/// O(all²) small systems at worst.
[[nodiscard]] Settled settleTrain(const Train& train, const std::vector<int>& motors,
                                  const std::vector<Resistance>& all, const std::vector<Efficiency>& efficiency);

} // namespace ivrant::drive
