// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/loops.h"

#include <Eigen/QR>
#include <Eigen/SVD>
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using geometry::Vec3;
using parts::JointMotion;
using Matrix = Eigen::MatrixXd;
using Vector = Eigen::VectorXd;

constexpr int kMostNewton = 40;
constexpr double kStepDone = 1e-11;        ///< rad
constexpr double kMostCorrection = 0.06;   ///< rad: a first correction larger than this may be another branch
constexpr double kMostAhead = 0.11;        ///< rad of the driver at once
constexpr double kChangeStep = 1e-3;       ///< rad: a determinant that flips within this has a change point
constexpr double kChangeCorrection = 1e-3; ///< rad
constexpr double kLeastStep = 1e-7;        ///< rad: none smaller is tried
constexpr double kTakenOver = 3e-4;        ///< of pivots: rates are taken over from the place before there
constexpr double kSingular = 1e-6;         ///< of pivots: what is smaller is free
constexpr double kRankLoose = 1e-9;
constexpr double kLimitSlack = 0.02; ///< degrees or mm
constexpr int kMostSteps = 20'000;
constexpr double kParallel = 1e-6;
constexpr double kRoundingMm = 0.002; ///< places are written in whole µm
constexpr double kNoSign = 1e-4;      ///< of a determinant of unit columns: it has none
constexpr double kSamePoint = 0.2;    ///< degrees or mm: one change point

Screw bracket(const Screw& a, const Screw& b) {
    const Vec3 wa = a.head<3>(), va = a.tail<3>(), wb = b.head<3>(), vb = b.tail<3>();
    Screw s;
    s << wa.cross(wb), wa.cross(vb) + va.cross(wb);
    return s;
}
/// Rows in mm: turns at kLoopArmMm.
Screw scaleRows(Screw s) {
    s.head<3>() *= kLoopArmMm;
    return s;
}

bool slides(const model::Project& project, FreedomRef f) {
    return at(project.joints, f.joint).kind->freedomUnit(f.freedom) == "mm";
}

/// Adds a small change (rad, mm; balls: a rotation vector) to the values of a joint.
void addChange(const parts::JointKind& kind, std::vector<double>& values, const Vec3& change) {
    switch (kind.motion) {
    case JointMotion::Turn: values[0] += base::radToDeg(change[0]); return;
    case JointMotion::TurnSlide:
        values[0] += base::radToDeg(change[0]);
        values[1] += change[1];
        return;
    case JointMotion::Universal:
        values[0] += base::radToDeg(change[0]);
        values[1] += base::radToDeg(change[1]);
        return;
    case JointMotion::Ball: {
        geometry::Frame moved = calcMotion(kind, values);
        moved.linear() = geometry::expMap(change) * moved.linear();
        values = calcMotionValues(kind, moved);
        return;
    }
    }
}

} // namespace

LoopFollower::LoopFollower(const Kinematics& kinematics, LoopPlan plan)
    : m_kinematics(kinematics), m_plan(std::move(plan)),
      m_driverUnit(slides(kinematics.project(), m_plan.driver) ? 1 : base::degToRad(1)) {}

LoopFollower::Solved LoopFollower::solveBlock(const LoopBlock& block, JointValues& values) const {
    const model::Project& project = m_kinematics.project();
    const auto n = static_cast<Eigen::Index>(block.unknown.size());
    Solved solved;
    Matrix J(static_cast<Eigen::Index>(6 * block.cycles.size()), n);
    Vector r(J.rows());
    thread_local LoopTerms terms;
    for (int round = 0; round <= kMostNewton; ++round) {
        J.setZero();
        solved.gapMm = solved.turnDeg = 0;
        for (std::size_t c = 0; c < block.cycles.size(); ++c) {
            const auto row = static_cast<Eigen::Index>(6 * c);
            const LoopCycle& cycle = block.cycles[c];
            evaluateCycle(m_kinematics, cycle, values, terms);
            for (const LoopTerm& term : terms.terms) {
                const auto found = std::lower_bound(block.unknown.begin(), block.unknown.end(), term.freedom);
                if (found == block.unknown.end() || *found != term.freedom) continue;
                J.block<6, 1>(row, found - block.unknown.begin()) += scaleRows(term.screw);
            }
            const Eigen::AngleAxisd turn(geometry::Mat3(terms.round.linear()));
            const Vec3 gap = terms.round * cycle.centre - cycle.centre;
            r.segment<3>(row) = kLoopArmMm * turn.angle() * turn.axis();
            r.segment<3>(row + 3) = gap;
            if (gap.norm() >= solved.gapMm) {
                solved.gapMm = gap.norm();
                solved.gapJoint = cycle.hops.front().joint;
            }
            solved.turnDeg = std::max(solved.turnDeg, base::radToDeg(std::abs(turn.angle())));
        }
        if (round == kMostNewton) break;
        Vector step;
        if (block.loose) {
            Eigen::CompleteOrthogonalDecomposition<Matrix> qr(J);
            qr.setThreshold(kSingular);
            step = qr.solve(-r);
        } else {
            Eigen::ColPivHouseholderQR<Matrix> qr(J);
            qr.setThreshold(kRankLoose);
            step = qr.solve(-r);
        }
        double size = 0;
        for (Eigen::Index i = 0; i < n; ++i)
            size = std::max(size, std::abs(step[i]) / (slides(project, at(block.unknown, i)) ? kLoopArmMm : 1));
        if (round == 0) solved.firstStep = size;
        if (size > 0.5) step *= 0.5 / size; // far away: not further than the linear picture holds
        for (Eigen::Index i = 0; i < n;) {
            const int joint = at(block.unknown, i).joint;
            Vec3 change = Vec3::Zero();
            for (; i < n && at(block.unknown, i).joint == joint; ++i) change[at(block.unknown, i).freedom] = step[i];
            addChange(*at(project.joints, joint).kind, at(values, joint), change);
        }
        if (size < kStepDone) break;
    }
    solved.jacobian = std::move(J);
    return solved;
}

bool LoopFollower::solveAll(LoopPlace& place, double mostStep, double& firstStep,
                            std::vector<Matrix>& jacobians) const {
    place.gapMm = place.turnDeg = 0;
    place.gapJoint = -1;
    jacobians.clear();
    firstStep = 0;
    for (const LoopBlock& block : m_plan.blocks) {
        Solved solved = solveBlock(block, place.values);
        firstStep = std::max(firstStep, solved.firstStep);
        if (firstStep > mostStep) return false;
        if (solved.gapMm >= place.gapMm) {
            place.gapMm = solved.gapMm;
            place.gapJoint = solved.gapJoint;
        }
        place.turnDeg = std::max(place.turnDeg, solved.turnDeg);
        jacobians.push_back(std::move(solved.jacobian));
    }
    return true;
}

void LoopFollower::findRates(LoopPlace& place, const LoopPlace* before, double h,
                             const std::vector<Matrix>& jacobians) const {
    const model::Project& project = m_kinematics.project();
    place.rates.assign(project.joints.size(), {});
    for (std::size_t j = 0; j < project.joints.size(); ++j)
        place.rates[j].assign(static_cast<std::size_t>(project.joints[j].kind->freedomCount()), 0.0);
    place.second = place.rates;
    const FreedomRef d = m_plan.driver;
    at(at(place.rates, d.joint), d.freedom) = 1;
    LoopTerms terms;
    for (std::size_t b = 0; b < m_plan.blocks.size(); ++b) {
        const LoopBlock& block = m_plan.blocks[b];
        Eigen::ColPivHouseholderQR<Matrix> qr(jacobians[b]);
        const auto n = static_cast<Eigen::Index>(block.unknown.size());
        const auto& pivots = qr.matrixR().diagonal();
        const bool singular = !block.loose && n > 0 && std::abs(pivots[n - 1]) < kTakenOver * std::abs(qr.maxPivot());
        if (singular && before) { // both ways are possible: it goes on as it came
            for (const FreedomRef f : block.unknown) {
                const double q2 = at(at(before->second, f.joint), f.freedom);
                at(at(place.second, f.joint), f.freedom) = q2;
                at(at(place.rates, f.joint), f.freedom) = at(at(before->rates, f.joint), f.freedom) + h * q2;
            }
            continue;
        }
        const auto solve = [&](const Vector& right) -> Vector {
            if (!block.loose && !singular) return qr.solve(right);
            Eigen::CompleteOrthogonalDecomposition<Matrix> smallest(jacobians[b]);
            smallest.setThreshold(kSingular);
            return smallest.solve(right);
        };
        const auto isUnknown = [&](FreedomRef f) {
            return std::binary_search(block.unknown.begin(), block.unknown.end(), f);
        };
        Vector right(jacobians[b].rows());
        for (std::size_t c = 0; c < block.cycles.size(); ++c) {
            evaluateCycle(m_kinematics, block.cycles[c], place.values, terms);
            Screw known = Screw::Zero();
            for (const LoopTerm& term : terms.terms)
                if (!isUnknown(term.freedom))
                    known += term.screw * at(at(place.rates, term.freedom.joint), term.freedom.freedom);
            right.segment<6>(static_cast<Eigen::Index>(6 * c)) = -scaleRows(known);
        }
        const Vector rates = solve(right);
        for (Eigen::Index i = 0; i < n; ++i)
            at(at(place.rates, at(block.unknown, i).joint), at(block.unknown, i).freedom) = rates[i];
        for (std::size_t c = 0; c < block.cycles.size(); ++c) {
            evaluateCycle(m_kinematics, block.cycles[c], place.values, terms);
            // d/dt of a screw that is fixed in the link before it: [V, S], V that link's velocity.
            Screw speed = Screw::Zero(), sum = Screw::Zero();
            for (std::size_t t = 0; t < terms.terms.size();) {
                const LoopTerm& first = terms.terms[t];
                std::size_t end = t + 1;
                if (first.base != LoopTerm::Base::Own)
                    while (end < terms.terms.size() && terms.terms[end].freedom.joint == first.freedom.joint) ++end;
                const Screw from = speed;
                for (std::size_t k = t; k < end; ++k)
                    speed += terms.terms[k].screw *
                             at(at(place.rates, terms.terms[k].freedom.joint), terms.terms[k].freedom.freedom);
                const Screw base = first.base == LoopTerm::Base::GroupEnd ? speed : from;
                for (std::size_t k = t; k < end; ++k) {
                    const LoopTerm& term = terms.terms[k];
                    const double rate = at(at(place.rates, term.freedom.joint), term.freedom.freedom);
                    sum += bracket(base, term.screw) * rate;
                    if (!isUnknown(term.freedom))
                        sum += term.screw * at(at(place.second, term.freedom.joint), term.freedom.freedom);
                }
                t = end;
            }
            right.segment<6>(static_cast<Eigen::Index>(6 * c)) = -scaleRows(sum);
        }
        const Vector second = solve(right);
        for (Eigen::Index i = 0; i < n; ++i)
            at(at(place.second, at(block.unknown, i).joint), at(block.unknown, i).freedom) = second[i];
    }
}

double LoopFollower::calcRateGap(const LoopPlace& place) const {
    LoopTerms terms;
    double most = 0;
    for (const LoopBlock& block : m_plan.blocks)
        for (const LoopCycle& cycle : block.cycles) {
            evaluateCycle(m_kinematics, cycle, place.values, terms);
            Screw sum = Screw::Zero();
            for (const LoopTerm& term : terms.terms)
                sum += term.screw * at(at(place.rates, term.freedom.joint), term.freedom.freedom);
            most = std::max(most, scaleRows(sum).norm());
        }
    return most;
}

LoopPlace LoopFollower::start(const JointValues& values) const {
    LoopPlace place;
    place.values = values;
    // A joint that closes a ring shows what the others make of it, whatever its own value says.
    const model::Project& project = m_kinematics.project();
    std::vector<geometry::Frame> X_WS;
    m_kinematics.place(values, X_WS);
    for (const int j : m_kinematics.tree().closing) {
        if (std::find(m_plan.moved.begin(), m_plan.moved.end(), j) == m_plan.moved.end()) continue;
        auto shown = calcMotionValues(*at(project.joints, j).kind, m_kinematics.motionBetween(X_WS, j));
        if (!at(project.joints, j).kind->tilts()) // as many turns as it has
            shown[0] += 360 * std::round((at(values, j)[0] - shown[0]) / 360);
        at(place.values, j) = std::move(shown);
    }
    double firstStep = 0;
    std::vector<Matrix> jacobians;
    solveAll(place, 1e300, firstStep, jacobians);
    place.mostGapMm = kRoundingMm + 3 * place.gapMm;
    place.mostTurnDeg = base::radToDeg(kRoundingMm / kLoopArmMm) + 3 * place.turnDeg;
    findRates(place, nullptr, 0, jacobians);
    place.reference = std::move(jacobians);
    return place;
}

int LoopFollower::findLimit(const JointValues& values) const {
    for (const int j : m_plan.moved)
        if (calcOwnExcess(*at(m_kinematics.project().joints, j).kind, at(values, j)) > kLimitSlack) return j;
    return -1;
}

namespace {

double calcSign(const Matrix& basis, const Matrix& columns) {
    double size = 1;
    for (Eigen::Index k = 0; k < columns.cols(); ++k) size *= columns.col(k).norm();
    const double sign = (basis.transpose() * columns).determinant() / std::max(size, 1e-300);
    return std::abs(sign) < kNoSign ? 0 : sign;
}
/// Has the block's determinant another sign than where it last had one? Both in the basis that the columns spanned
/// there.
bool flips(const Matrix& before, const Matrix& now) {
    if (before.cols() < 2) return false;
    Eigen::HouseholderQR<Matrix> qr(before);
    const Matrix basis = qr.householderQ() * Matrix::Identity(before.rows(), before.cols());
    return calcSign(basis, before) * calcSign(basis, now) < 0;
}
bool hasSign(const Matrix& columns) {
    if (columns.cols() < 2) return true;
    Eigen::HouseholderQR<Matrix> qr(columns);
    const Matrix basis = qr.householderQ() * Matrix::Identity(columns.rows(), columns.cols());
    return calcSign(basis, columns) != 0;
}

} // namespace

LoopEnd LoopFollower::advance(LoopPlace& place, double target, std::vector<double>* changePoints, int* limitOf) const {
    const model::Project& project = m_kinematics.project();
    const FreedomRef d = m_plan.driver;
    const auto driver = [&](LoopPlace& p) -> double& { return at(at(p.values, d.joint), d.freedom); };
    if (findLimit(place.values) >= 0) {
        if (limitOf) *limitOf = findLimit(place.values);
        return LoopEnd::Limit;
    }
    const double most = m_driverUnit == 1 ? kMostAhead * kLoopArmMm : kMostAhead;
    const double least = m_driverUnit == 1 ? kLeastStep * kLoopArmMm : kLeastStep;
    double step = most;
    std::vector<Matrix> next;
    const auto tellChange = [&](double point) {
        if (!changePoints) return;
        if (changePoints->empty() || std::abs(changePoints->back() - point) > kSamePoint)
            changePoints->push_back(point);
    };
    for (int round = 0; round < kMostSteps; ++round) {
        const double left = (target - driver(place)) * m_driverUnit;
        if (std::abs(left) < 1e-13) return LoopEnd::Reached;
        const double h = std::copysign(std::min(step, std::abs(left)), left);
        const bool last = std::abs(left) <= step;
        LoopPlace trial = place;
        for (const int j : m_plan.moved) {
            if (j == d.joint && at(project.joints, j).kind->freedomCount() == 1) continue;
            Vec3 change = Vec3::Zero();
            for (std::size_t f = 0; f < at(place.rates, j).size(); ++f)
                change[static_cast<Eigen::Index>(f)] = h * at(place.rates, j)[f] + 0.5 * h * h * at(place.second, j)[f];
            if (j == d.joint) change[d.freedom] = 0;
            addChange(*at(project.joints, j).kind, at(trial.values, j), change);
        }
        driver(trial) = last ? target : driver(place) + h / m_driverUnit;
        double firstStep = 0;
        bool good = solveAll(trial, kMostCorrection, firstStep, next) && trial.gapMm <= place.mostGapMm &&
                    trial.turnDeg <= place.mostTurnDeg;
        bool change = false;
        if (good)
            for (std::size_t b = 0; b < next.size(); ++b)
                if (!m_plan.blocks[b].loose && flips(place.reference[b], next[b])) {
                    const double size = m_driverUnit == 1 ? std::abs(h) / kLoopArmMm : std::abs(h);
                    if (size < kChangeStep && firstStep < kChangeCorrection)
                        change = true;
                    else
                        good = false;
                }
        if (good && findLimit(trial.values) >= 0) {
            if (limitOf) *limitOf = findLimit(trial.values);
            if (std::abs(h) <= least) return LoopEnd::Limit;
            step = std::abs(h) / 2;
            continue;
        }
        if (!good) {
            if (std::abs(h) <= least) return LoopEnd::Dead;
            step = std::abs(h) / 2;
            continue;
        }
        if (change) tellChange(0.5 * (driver(place) + driver(trial)));
        findRates(trial, &place, h, next);
        for (std::size_t b = 0; b < next.size(); ++b) {
            if (!hasSign(next[b])) continue;
            if (!m_plan.blocks[b].loose && !hasSign(place.reference[b])) tellChange(driver(place)); // it began at one
            trial.reference[b] = std::move(next[b]);
        }
        place = std::move(trial);
        step = std::min(most, std::max(step, std::abs(h)) * 2);
    }
    return LoopEnd::Dead;
}

namespace {

/// Of a block of three unknowns in one plane, walked round once: where its axes and its slide are, and after which of
/// them something moves that is known: there lies what drives the two links.
struct PlaneBlock {
    bool plane = true;
    std::vector<Vec3> points;
    std::vector<int> joints;
    std::vector<char> drivenAfter; ///< by turning axis
    std::optional<Vec3> axis, slide;
};

/// Sine of the angle between two links that meet at the middle one of three points.
double calcSine(const Vec3& axis, const Vec3& a, const Vec3& middle, const Vec3& b) {
    const auto flat = [&](const Vec3& p) -> Vec3 { return p - axis * axis.dot(p); };
    const Vec3 first = flat(middle - a), second = flat(b - middle);
    const double product = first.norm() * second.norm();
    return product > 1e-9 ? first.cross(second).norm() / product : 0;
}

/// The transmission angle of two links, if it is such a block: the links meet at the axis across from what drives them.
std::optional<std::pair<double, int>> findAngle(const PlaneBlock& block) {
    if (!block.plane || !block.axis) return std::nullopt;
    const auto& p = block.points;
    if (p.size() == 2 && block.slide && std::abs(block.axis->dot(*block.slide)) < kParallel) {
        Vec3 link = p[1] - p[0];
        link -= *block.axis * block.axis->dot(link);
        if (link.norm() < 1e-6) return std::nullopt;
        return std::pair(std::abs(link.dot(*block.slide)) / link.norm(), block.joints[1]);
    }
    if (p.size() != 3) return std::nullopt;
    std::optional<std::pair<double, int>> least;
    const auto driven = std::count(block.drivenAfter.begin(), block.drivenAfter.end(), 1);
    for (std::size_t k = 0; k < 3; ++k) { // what drives lies between the two others
        if (driven == 1 && block.drivenAfter[(k + 1) % 3] == 0) continue;
        const double sine = calcSine(*block.axis, p[(k + 2) % 3], p[k], p[(k + 1) % 3]);
        if (!least || sine < least->first) least = std::pair(sine, block.joints[k]);
    }
    return least;
}

} // namespace

std::vector<LoopFollower::BlockTransmission> LoopFollower::calcTransmissions(const LoopPlace& place) const {
    std::vector<BlockTransmission> list;
    const model::Project& project = m_kinematics.project();
    const auto rateOf = [&](FreedomRef f) { return at(at(place.rates, f.joint), f.freedom); };
    LoopTerms terms;
    for (std::size_t b = 0; b < m_plan.blocks.size(); ++b) {
        const LoopBlock& block = m_plan.blocks[b];
        if (block.unknown.size() < 2) continue;
        if (std::none_of(block.unknown.begin(), block.unknown.end(),
                         [&](const FreedomRef f) { return std::abs(rateOf(f)) > 1e-9; }))
            continue;
        BlockTransmission one;
        one.block = static_cast<int>(b);
        one.joint = block.unknown.front().joint;
        Matrix J = Matrix::Zero(static_cast<Eigen::Index>(6 * block.cycles.size()),
                                static_cast<Eigen::Index>(block.unknown.size()));
        PlaneBlock flat;
        flat.plane = block.cycles.size() == 1 && block.unknown.size() == 3;
        bool drivenAtLast = false; // before the first axis: it comes after the last
        for (std::size_t c = 0; c < block.cycles.size(); ++c) {
            evaluateCycle(m_kinematics, block.cycles[c], place.values, terms);
            for (const LoopTerm& term : terms.terms) {
                const auto found = std::lower_bound(block.unknown.begin(), block.unknown.end(), term.freedom);
                if (found == block.unknown.end() || *found != term.freedom) {
                    if (std::abs(rateOf(term.freedom)) < 1e-9) continue;
                    if (flat.drivenAfter.empty())
                        drivenAtLast = true;
                    else
                        flat.drivenAfter.back() = 1;
                    continue;
                }
                J.block<6, 1>(static_cast<Eigen::Index>(6 * c), found - block.unknown.begin()) += scaleRows(term.screw);
                const Vec3 w = term.screw.head<3>(), v = term.screw.tail<3>();
                if (slides(project, term.freedom)) {
                    flat.slide = v.normalized();
                    continue;
                }
                if (flat.axis && flat.axis->cross(w).norm() > kParallel) flat.plane = false;
                flat.axis = w;
                flat.points.push_back(w.cross(v));
                flat.joints.push_back(term.freedom.joint);
                flat.drivenAfter.push_back(0);
            }
        }
        if (drivenAtLast && !flat.drivenAfter.empty()) flat.drivenAfter.back() = 1;
        const Eigen::JacobiSVD<Matrix> svd(J);
        const double smallest = svd.singularValues().tail<1>()[0];
        one.gainRadPerMm = smallest > 1e-12 ? 1 / smallest : 1e12;
        if (const auto angle = findAngle(flat)) {
            one.angle = true;
            std::tie(one.sine, one.joint) = *angle;
        }
        list.push_back(one);
    }
    return list;
}

} // namespace ivrant::pose
