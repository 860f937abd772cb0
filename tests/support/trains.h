// SPDX-License-Identifier: GPL-3.0-or-later
// Trains for the tests: random ones, and a second route through floating-point linear algebra.
#pragma once

#include <Eigen/Dense>
#include <random>

#include "core/base/at.h"
#include "core/drive/train.h"

namespace ivrant::test {

/// One row for each relation.
inline Eigen::MatrixXd makeMatrix(const drive::Train& train, const std::vector<int>& only) {
    Eigen::MatrixXd matrix = Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(only.size()), train.things);
    for (std::size_t r = 0; r < only.size(); ++r)
        for (const drive::Term& term : at(train.relations, only[r]).terms) {
            matrix(static_cast<Eigen::Index>(r), term.thing) += term.factor.get_d();
            if (term.carrier >= 0) matrix(static_cast<Eigen::Index>(r), term.carrier) -= term.factor.get_d();
        }
    return matrix;
}

inline Eigen::MatrixXd makeMatrix(const drive::Train& train) {
    std::vector<int> all(train.relations.size());
    for (std::size_t r = 0; r < all.size(); ++r) all[r] = static_cast<int>(r);
    return makeMatrix(train, all);
}

inline int calcRank(const Eigen::MatrixXd& matrix) {
    if (matrix.rows() == 0) return 0;
    Eigen::FullPivLU<Eigen::MatrixXd> lu(matrix);
    lu.setThreshold(1e-9);
    return static_cast<int>(lu.rank());
}

/// Do these relations by themselves stop `thing`? Its unit vector is then in their span.
inline bool stops(const drive::Train& train, const std::vector<int>& only, int thing) {
    const Eigen::MatrixXd matrix = makeMatrix(train, only);
    Eigen::MatrixXd more(matrix.rows() + 1, matrix.cols());
    more << matrix, Eigen::RowVectorXd::Unit(matrix.cols(), thing);
    return calcRank(more) == calcRank(matrix);
}

inline drive::Train makeRandomTrain(std::mt19937& random, int things, int relations) {
    const std::vector<long> teeth{8, 12, 16, 20, 24, 28, 36, 40, 56, 60};
    const auto thing = [&] { return std::uniform_int_distribution<int>(0, things - 1)(random); };
    const auto z = [&] { return teeth[std::uniform_int_distribution<std::size_t>(0, teeth.size() - 1)(random)]; };
    drive::Train train{things, {}};
    while (static_cast<int>(train.relations.size()) < relations) {
        const int a = thing(), b = thing(), c = thing();
        if (a == b || b == c || a == c) continue;
        switch (std::uniform_int_distribution<int>(0, 5)(random)) {
        case 0: train.relations.push_back(drive::makeChain(a, z(), b, z())); break;
        case 1: train.relations.push_back(drive::makeDifferential(a, b, c)); break;
        case 2: train.relations.push_back(drive::makeCarried(drive::makeSpur(a, z(), b, z()), c)); break;
        default: train.relations.push_back(drive::makeSpur(a, z(), b, z()));
        }
    }
    return train;
}

} // namespace ivrant::test
