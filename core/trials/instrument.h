// SPDX-License-Identifier: GPL-3.0-or-later
// How are readings taken from a scale?
//
// One small interface, two implementations: a serial instrument that writes one reading a line, and the simulated scale
// that ships with the program. Readings are forces in N (a scale that shows grams is converted with standard gravity).
#pragma once

#include <chrono>
#include <memory>
#include <random>
#include <string>

#include "core/base/result.h"

namespace ivrant::trials {

class Instrument {
public:
    virtual ~Instrument() = default;
    [[nodiscard]] virtual std::string name() const = 0;
    /// The first force told after the call, in N; waits for at most `patience`. What was sent before, and half a line,
    /// does not count. Errors "instrument.silent" (nothing came in time), "instrument.gone" (it was unplugged),
    /// "instrument.text" (what came is no reading; the line is quoted).
    virtual base::Result<double> read(std::chrono::milliseconds patience) = 0;
};

/// A scale that does not exist, with a true value of its own and noise: for trying the whole way without an instrument.
/// What it says is marked as simulated wherever it shows.
class SimulatedScale : public Instrument {
public:
    /// `trueN` is hidden from the person; `spreadN` the standard deviation of its noise. After `lasts` readings it is
    /// gone (0: never), as if unplugged.
    SimulatedScale(double trueN, double spreadN, unsigned seed, int lasts = 0);
    [[nodiscard]] std::string name() const override { return "simulated scale"; }
    base::Result<double> read(std::chrono::milliseconds patience) override;

private:
    double m_trueN;
    std::mt19937 m_random;
    std::normal_distribution<double> m_noise;
    int m_left;
    bool m_lasts;
};

/// Opens a serial device (or a pseudo terminal) that writes lines such as "12.5 g", "0.123 N", "ST,+  12.5 g". Error
/// "instrument.open".
base::Result<std::unique_ptr<Instrument>> openSerialInstrument(const std::string& device, int baud = 9600);

/// The force in a line of text: a number and a unit (g, kg, mg, N, mN, cN, kN), before it at most what scales say of a
/// reading (ST, US, GS, NT, net, gross, weight, force). A bare number is grams; a decimal comma is understood, the
/// locale does not count. Error "instrument.text".
base::Result<double> parseForceLine(const std::string& line);

} // namespace ivrant::trials
