// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/motor_fit.h"

#include <Eigen/Dense>
#include <cmath>
#include <sstream>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::trials {
namespace {

using base::Error;

constexpr double kLeastFallV = 0.01; ///< the last digit of a voltmeter

struct Line {
    double constant = 0, slope = 0, spread = 0;
};

double calcSpread(const Eigen::VectorXd& rest, Eigen::Index unknowns) {
    return rest.size() > unknowns ? std::sqrt(rest.squaredNorm() / static_cast<double>(rest.size() - unknowns)) : 0;
}

/// y = constant + slope·x; none when all x are alike.
std::optional<Line> fitLine(const Eigen::VectorXd& x, const Eigen::VectorXd& y) {
    const Eigen::VectorXd fromMean = x.array() - x.mean();
    const double width = fromMean.squaredNorm();
    if (!(width > 1e-12 * x.squaredNorm())) return std::nullopt;
    Line line;
    line.slope = fromMean.dot(y) / width;
    line.constant = y.mean() - line.slope * x.mean();
    line.spread =
        calcSpread(y - (line.slope * x).array().matrix() - Eigen::VectorXd::Constant(x.size(), line.constant), 2);
    return line;
}

} // namespace

base::Result<double> calcDrumTorque(double weightG, double drumMm) {
    if (!(drumMm > 0) || !std::isfinite(drumMm)) return Error{"motor.drum", "the drum needs a diameter above 0 mm", ""};
    if (!(weightG >= 0) || !std::isfinite(weightG))
        return Error{"motor.drum", "a weight of 0 g or more is expected", ""};
    return base::weightN(weightG) * drumMm / 2;
}

base::Result<MotorFit> fitMotor(const std::vector<model::MotorRun>& runs, double ratedV) {
    if (runs.size() < kFewestRuns)
        return Error{"motor.runs",
                     std::to_string(kFewestRuns) +
                         " runs under different weights are needed to tell a line, there are " +
                         std::to_string(runs.size()),
                     ""};
    if (!(ratedV > 0)) return Error{"motor.line", "the rated voltage must be above 0 V", ""};
    const auto count = static_cast<Eigen::Index>(runs.size());
    Eigen::VectorXd torque(count), rpm(count), current(count), voltage(count);
    for (Eigen::Index i = 0; i < count; ++i) {
        const model::MotorRun& run = at(runs, i);
        torque[i] = run.torqueNmm;
        rpm[i] = run.rpm;
        current[i] = run.currentA;
        voltage[i] = run.voltageV;
        if (!(run.voltageV > 0))
            return Error{"motor.line", "run " + std::to_string(i + 1) + " has no voltage", std::to_string(i)};
    }
    const double widest = torque.maxCoeff() - torque.minCoeff();
    if (!(widest > 0.05 * torque.maxCoeff()))
        return Error{"motor.spread", "all runs are at nearly the same torque: hang on other weights too", ""};

    Eigen::MatrixXd terms(count, 2);
    terms << voltage, -torque;
    const Eigen::Vector2d speed = terms.colPivHouseholderQr().solve(rpm);
    const auto amps = fitLine(torque, current);
    if (!(speed[0] > 0) || !(speed[1] > 0))
        return Error{"motor.line", "the speed does not fall with the torque: look at the readings again", ""};
    if (!amps || !(amps->slope > 0))
        return Error{"motor.line", "the current does not rise with the torque: look at the readings again", ""};

    MotorFit fit;
    fit.ratedV = ratedV;
    fit.runs = runs.size();
    fit.noLoadRpm = speed[0] * ratedV;
    fit.stallNmm = fit.noLoadRpm / speed[1];
    fit.noLoadA = std::max(0.0, amps->constant);
    fit.stallA = fit.noLoadA + amps->slope * fit.stallNmm;
    fit.spreadRpm = calcSpread(rpm - terms * speed, 2);
    fit.spreadA = amps->spread;
    const auto battery = fitLine(current, voltage);
    if (battery && -battery->slope * (current.maxCoeff() - current.minCoeff()) > kLeastFallV) {
        fit.openV = battery->constant;
        fit.innerOhm = -battery->slope;
    }
    return fit;
}

base::Result<model::MotorRun> parseMotorLine(const std::string& line, double drumMm) {
    model::MotorRun run;
    bool any = false;
    std::istringstream words(line);
    for (std::string word; words >> word;) {
        while (!word.empty() && (word.back() == ',' || word.back() == ';')) word.pop_back();
        if (word.empty()) continue;
        std::size_t used = word.find_first_not_of("0123456789.+-");
        std::string unit = used == std::string::npos ? "" : word.substr(used);
        if (unit.empty() && !(words >> unit))
            return Error{"instrument.text", "'" + word + "' has no unit: g, N·mm, rpm, A, mA or V", word};
        while (!unit.empty() && (unit.back() == ',' || unit.back() == ';')) unit.pop_back();
        const auto number = base::parseNumber(word.substr(0, used));
        if (!number || *number < 0) return Error{"instrument.text", "'" + word + "' is no number of 0 or more", word};
        any = true;
        if (unit == "g") {
            const auto torque = calcDrumTorque(*number, drumMm);
            if (!torque) return torque.error();
            run.torqueNmm = *torque;
        } else if (unit == "N·mm" || unit == "Nmm") {
            run.torqueNmm = *number;
        } else if (unit == "rpm") {
            run.rpm = *number;
        } else if (unit == "A") {
            run.currentA = *number;
        } else if (unit == "mA") {
            run.currentA = *number / 1000;
        } else if (unit == "V") {
            run.voltageV = *number;
        } else {
            return Error{"instrument.text", "'" + unit + "' is no unit of a motor run: g, N·mm, rpm, A, mA, V", unit};
        }
    }
    if (!any) return Error{"instrument.text", "type a run such as 40 g 312 rpm 0.21 A 8.74 V", ""};
    return run;
}

} // namespace ivrant::trials
