// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/statistics.h"

#include <algorithm>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <map>
#include <mutex>
#include <numeric>
#include <tuple>

namespace ivrant::trials {
namespace {

constexpr double kOutlierLevel = 0.05;

double calcFactor(int n, double coverage, double confidence) {
    const double root = std::sqrt(static_cast<double>(n));
    const double z = boost::math::quantile(boost::math::normal(), coverage);
    const boost::math::non_central_t t(n - 1, z * root);
    return boost::math::quantile(t, confidence) / root;
}

} // namespace

double calcToleranceFactor(int n, double coverage, double confidence) {
    if (n < 2) throw std::invalid_argument("a tolerance factor needs at least two readings");
    if (!(coverage > 0 && coverage < 1 && confidence > 0 && confidence < 1))
        throw std::invalid_argument("shares must lie between 0 and 1");
    // The quantile of the noncentral t costs about a millisecond; the same few n are asked for at every edit.
    static std::mutex mutex;
    static std::map<std::tuple<int, double, double>, double> known;
    const std::lock_guard lock(mutex);
    const auto key = std::tuple(n, coverage, confidence);
    const auto found = known.find(key);
    if (found != known.end()) return found->second;
    return known[key] = calcFactor(n, coverage, confidence);
}

double calcGrubbsLimit(int n) {
    if (n < 3) throw std::invalid_argument("Grubbs' test needs at least three readings");
    const double count = n;
    const boost::math::students_t t(count - 2);
    const double q = boost::math::quantile(boost::math::complement(t, kOutlierLevel / (2 * count)));
    return (count - 1) / std::sqrt(count) * std::sqrt(q * q / (count - 2 + q * q));
}

base::Result<Statistics> calcStatistics(const std::vector<double>& readings) {
    if (readings.empty()) return base::Error{"series.empty", "there is no reading", ""};
    for (std::size_t i = 0; i < readings.size(); ++i)
        if (!std::isfinite(readings[i]) || readings[i] <= 0)
            return base::Error{"series.reading", "reading " + std::to_string(i + 1) + " is not above 0",
                               std::to_string(i)};
    Statistics result;
    result.count = static_cast<int>(readings.size());
    result.mean = std::accumulate(readings.begin(), readings.end(), 0.0) / result.count;
    double squares = 0;
    for (double r : readings) squares += (r - result.mean) * (r - result.mean);
    if (result.count > 1) result.spread = std::sqrt(squares / (result.count - 1));
    if (result.count < kFewestForBound) {
        result.lowerBound = kFewFactor * result.mean;
        return result;
    }
    result.factor = calcToleranceFactor(result.count);
    result.lowerBound = std::max(0.0, result.mean - *result.factor * result.spread);
    if (result.spread > 0)
        for (std::size_t i = 0; i < readings.size(); ++i)
            if (std::abs(readings[i] - result.mean) / result.spread > calcGrubbsLimit(result.count))
                result.outliers.push_back(static_cast<int>(i));
    return result;
}

std::optional<double> calcLossPer100(const std::vector<double>& moves, const std::vector<double>& readings) {
    const std::size_t n = std::min(moves.size(), readings.size());
    if (n < 3) return std::nullopt;
    double meanX = 0, meanY = 0;
    for (std::size_t i = 0; i < n; ++i) {
        if (!(readings[i] > 0)) return std::nullopt;
        meanX += moves[i] / static_cast<double>(n);
        meanY += std::log(readings[i]) / static_cast<double>(n);
    }
    double xx = 0, xy = 0;
    for (std::size_t i = 0; i < n; ++i) {
        xx += (moves[i] - meanX) * (moves[i] - meanX);
        xy += (moves[i] - meanX) * (std::log(readings[i]) - meanY);
    }
    if (xx <= 0) return std::nullopt;
    return std::max(0.0, 1 - std::exp(100 * xy / xx));
}

} // namespace ivrant::trials
