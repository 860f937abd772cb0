// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/train.h"

#include <algorithm>
#include <deque>
#include <stdexcept>

#include "core/base/at.h"

namespace ivrant::drive {
namespace {

Relation makePair(int a, const Rational& factorA, int b, const Rational& factorB) {
    return {{{a, factorA, -1}, {b, factorB, -1}}};
}

Rational teeth(long z) {
    if (z <= 0) throw std::invalid_argument("a wheel needs at least one tooth");
    return makeRational(z);
}

/// sum += factor · other, entries that vanish dropped.
void addTo(Motion& sum, const Motion& other, const Rational& factor) {
    for (const auto& [thing, value] : other) {
        const auto [found, fresh] = sum.try_emplace(thing, 0);
        found->second += factor * value;
        if (sgn(found->second) == 0) sum.erase(found);
    }
}

Motion gather(const Relation& relation) {
    Motion sum;
    for (const Term& term : relation.terms) {
        addTo(sum, {{term.thing, term.factor}}, 1);
        if (term.carrier >= 0) addTo(sum, {{term.carrier, term.factor}}, -term.sense);
    }
    return sum;
}

/// The elimination, kept so that it can be run backwards for a proof.
class Elimination {
public:
    Elimination(const Train& train, const std::vector<int>& driven)
        : m_motions(static_cast<std::size_t>(train.things)) {
        m_known.assign(m_motions.size(), 0);
        std::vector<std::vector<int>> relationsOf(m_motions.size());
        for (const Relation& relation : train.relations) {
            for (const Term& term : relation.terms)
                if (term.thing < 0 || term.thing >= train.things || term.carrier >= train.things)
                    throw std::out_of_range("a relation names a thing that is not there");
            m_rows.push_back(gather(relation));
        }
        m_unknown.resize(m_rows.size());
        m_used.assign(m_rows.size(), 0);
        for (std::size_t r = 0; r < m_rows.size(); ++r) {
            m_unknown[r] = static_cast<int>(m_rows[r].size());
            for (const auto& entry : m_rows[r]) ivrant::at(relationsOf, entry.first).push_back(static_cast<int>(r));
        }
        m_relationsOf = std::move(relationsOf);
        for (std::size_t r = 0; r < m_rows.size(); ++r) note(static_cast<int>(r));
        for (int thing : driven) {
            if (thing < 0 || thing >= train.things) throw std::out_of_range("a driven thing is not there");
            m_rank.emplace(thing, static_cast<int>(m_rank.size()));
        }
        for (int thing : driven) makeIndependent(thing);
        spread();
        // Rather a thing beside what is known than one far away: its relations then give the next.
        for (int thing = 0; thing < train.things; ++thing) {
            makeIndependent(thing);
            spread();
        }
        closeUp();
    }

    struct Step { ///< `thing` follows from `relation`
        int thing, relation;
    };

    [[nodiscard]] const std::vector<Motion>& motions() const { return m_motions; }
    [[nodiscard]] const std::vector<Step>& steps() const { return m_steps; }
    [[nodiscard]] const std::vector<int>& leftOver() const { return m_leftOver; }
    [[nodiscard]] const std::vector<Motion>& rows() const { return m_rows; }
    /// In terms of the things first taken as independent, before leftovers bind them.
    [[nodiscard]] Motion reduce(const Motion& combination) const {
        Motion sum;
        for (const auto& [thing, factor] : combination) addTo(sum, ivrant::at(m_motions, thing), factor);
        return sum;
    }

    struct Bound { ///< of the leftover system: its pivot is given by the rest
        int pivot;
        Motion row;                 ///< reduced: pivot factor 1, no other pivot
        std::map<int, Rational> of; ///< which leftover relations it is made of
    };
    [[nodiscard]] const std::vector<Bound>& bounds() const { return m_bounds; }
    [[nodiscard]] const std::vector<int>& redundant() const { return m_redundant; }
    [[nodiscard]] const std::vector<int>& parameters() const { return m_parameters; }

private:
    void note(int relation) {
        const auto at = static_cast<std::size_t>(relation);
        if (m_used[at]) return;
        if (m_unknown[at] == 1) m_ready.push_back(relation);
        if (m_unknown[at] == 0) m_leftOver.push_back(relation);
    }
    void learn(int thing) {
        ivrant::at(m_known, thing) = 1;
        for (int relation : ivrant::at(m_relationsOf, thing)) {
            --ivrant::at(m_unknown, relation);
            note(relation);
        }
    }
    void makeIndependent(int thing) {
        if (ivrant::at(m_known, thing)) return;
        ivrant::at(m_motions, thing) = {{thing, 1}};
        m_parameters.push_back(thing);
        learn(thing);
    }
    void spread() {
        while (!m_ready.empty()) {
            const int relation = m_ready.front();
            m_ready.pop_front();
            const Motion& row = ivrant::at(m_rows, relation);
            const auto open = std::find_if(row.begin(), row.end(),
                                           [&](const auto& entry) { return !ivrant::at(m_known, entry.first); });
            if (open == row.end()) continue; // became a leftover in the meantime
            Motion motion;
            for (const auto& [thing, factor] : row)
                if (thing != open->first) addTo(motion, ivrant::at(m_motions, thing), -factor / open->second);
            ivrant::at(m_motions, open->first) = std::move(motion);
            m_steps.push_back({open->first, relation});
            ivrant::at(m_used, relation) = 1; // it served to find this one, so it binds nothing more
            learn(open->first);
        }
    }
    /// Driven things stay independent as long as anything else can give way; among them the first named stays longest.
    [[nodiscard]] int pickPivot(const Motion& row) const {
        int best = -1, bestRank = -1;
        for (const auto& entry : row) {
            const auto found = m_rank.find(entry.first);
            const int rank = found == m_rank.end() ? static_cast<int>(m_rank.size()) : found->second;
            if (rank > bestRank) {
                best = entry.first;
                bestRank = rank;
            }
        }
        return best;
    }
    void closeUp() {
        for (int relation : m_leftOver) {
            Motion row = reduce(ivrant::at(m_rows, relation));
            std::map<int, Rational> of{{relation, 1}};
            for (const Bound& bound : m_bounds) {
                const auto found = row.find(bound.pivot);
                if (found == row.end()) continue;
                const Rational factor = -found->second;
                addTo(row, bound.row, factor);
                addTo(of, bound.of, factor);
            }
            if (row.empty()) {
                m_redundant.push_back(relation);
                continue;
            }
            const int pivot = pickPivot(row);
            const Rational scale = 1 / row.at(pivot);
            for (auto& entry : row) entry.second *= scale;
            for (auto& entry : of) entry.second *= scale;
            for (Bound& bound : m_bounds) {
                const auto found = bound.row.find(pivot);
                if (found == bound.row.end()) continue;
                const Rational factor = -found->second;
                addTo(bound.row, row, factor);
                addTo(bound.of, of, factor);
            }
            m_bounds.push_back({pivot, std::move(row), std::move(of)});
        }
    }

    std::vector<Motion> m_rows, m_motions;
    std::vector<std::vector<int>> m_relationsOf;
    std::vector<int> m_unknown;
    std::vector<char> m_known, m_used;
    std::deque<int> m_ready;
    std::vector<int> m_leftOver, m_parameters, m_redundant;
    std::vector<Step> m_steps;
    std::vector<Bound> m_bounds;
    std::map<int, int> m_rank;
};

} // namespace

Relation makeSpur(int a, long zA, int b, long zB) { return makePair(a, teeth(zA), b, teeth(zB)); }
Relation makeChain(int a, long zA, int b, long zB) { return makePair(a, teeth(zA), b, -teeth(zB)); }
Relation makeBevel(int a, long zA, int b, long zB, bool sameSense) {
    return sameSense ? makeChain(a, zA, b, zB) : makeSpur(a, zA, b, zB);
}
Relation makeWorm(int worm, long starts, int wheel, long z, bool rightHand) {
    return makeBevel(worm, starts, wheel, z, rightHand);
}
Relation makeDifferential(int housing, int left, int right) {
    return makeCarried(makeSpur(left, 1, right, 1), housing);
}
Relation makeTogether(int a, int b) { return makePair(a, 1, b, -1); }
Relation makeHeld(int thing) { return {{{thing, 1, -1}}}; }

Relation makeCarried(const Relation& relation, int carrier, const std::vector<int>& onCarrier) {
    Relation carried = relation;
    for (Term& term : carried.terms)
        if (std::find(onCarrier.begin(), onCarrier.end(), term.thing) == onCarrier.end()) term.carrier = carrier;
    return carried;
}

Rational TrainMotion::ratio(int output, int input) const {
    const Motion& motion = ivrant::at(motions, output);
    const auto found = motion.find(input);
    return found == motion.end() ? Rational(0) : found->second;
}

std::vector<double> TrainMotion::speeds(const std::map<int, double>& given) const {
    std::vector<double> all(motions.size(), 0.0);
    for (std::size_t i = 0; i < all.size(); ++i)
        for (const auto& [thing, factor] : motions[i])
            if (const auto found = given.find(thing); found != given.end()) all[i] += factor.get_d() * found->second;
    return all;
}

std::vector<int> TrainMotion::listLoose(const std::vector<int>& driven) const {
    std::vector<int> loose;
    for (std::size_t i = 0; i < motions.size(); ++i)
        if (std::any_of(motions[i].begin(), motions[i].end(), [&](const auto& entry) {
                return std::find(driven.begin(), driven.end(), entry.first) == driven.end();
            }))
            loose.push_back(static_cast<int>(i));
    return loose;
}

TrainMotion solveTrain(const Train& train, const std::vector<int>& driven) {
    const Elimination elimination(train, driven);
    TrainMotion solved;
    solved.motions = elimination.motions();
    solved.redundant = elimination.redundant();
    std::map<int, const Motion*> bound;
    for (const auto& b : elimination.bounds()) bound.emplace(b.pivot, &b.row);
    for (int parameter : elimination.parameters())
        if (bound.count(parameter) == 0) solved.independent.push_back(parameter);
    for (int thing : driven)
        if (std::find(solved.independent.begin(), solved.independent.end(), thing) == solved.independent.end() &&
            std::find(solved.opposed.begin(), solved.opposed.end(), thing) == solved.opposed.end())
            solved.opposed.push_back(thing);
    if (bound.empty()) return solved;
    for (Motion& motion : solved.motions) {
        const Motion before = motion;
        for (const auto& [thing, factor] : before)
            if (const auto found = bound.find(thing); found != bound.end()) addTo(motion, *found->second, -factor);
    }
    return solved;
}

std::vector<Share> proveZero(const Train& train, const Motion& combination) {
    const Elimination elimination(train, {});
    Motion target = combination;
    std::map<int, Rational> shares;
    // First the leftovers that are needed, then what gave each thing, backwards.
    Motion reduced = elimination.reduce(combination);
    for (const auto& bound : elimination.bounds()) {
        const auto found = reduced.find(bound.pivot);
        if (found == reduced.end()) continue;
        const Rational factor = found->second;
        addTo(reduced, bound.row, -factor);
        addTo(shares, bound.of, factor);
    }
    if (!reduced.empty()) return {};
    for (const auto& [relation, factor] : shares) addTo(target, ivrant::at(elimination.rows(), relation), -factor);
    for (auto step = elimination.steps().rbegin(); step != elimination.steps().rend(); ++step) {
        const auto found = target.find(step->thing);
        if (found == target.end()) continue;
        const Motion& row = ivrant::at(elimination.rows(), step->relation);
        const Rational factor = found->second / row.at(step->thing);
        addTo(target, row, -factor);
        addTo(shares, {{step->relation, 1}}, factor);
    }
    std::vector<Share> proof;
    proof.reserve(shares.size());
    for (const auto& [relation, factor] : shares) proof.push_back({relation, factor});
    return proof;
}

std::vector<int> explainLock(const Train& train, int thing) {
    std::vector<int> set;
    for (const Share& share : proveZero(train, {{thing, 1}})) set.push_back(share.relation);
    return set;
}

} // namespace ivrant::drive
