// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/shaft_twist.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"

namespace ivrant::drive {
namespace {

struct Entry {
    double alongMm, nmm;
};

class Twists {
public:
    Twists(const DriveNet& net, const LoadResult& load) : m_net(net), m_load(load), m_entries(net.rotors.size()) {
        for (std::size_t r = 0; r < net.relations.size(); ++r) addRelation(r);
    }

    std::vector<double> run(const std::vector<OuterTorque>& outer) {
        std::vector<std::vector<double>> free(m_entries.size()); // torques that may come in at either end
        for (const OuterTorque& torque : outer)
            if (torque.alongMm)
                add(torque.rotor, *torque.alongMm, torque.nmm);
            else
                ivrant::at(free, torque.rotor).push_back(torque.nmm);
        std::vector<double> twists(m_entries.size(), 0.0);
        for (std::size_t t = 0; t < twists.size(); ++t) {
            if (m_net.rotors[t].kind != Rotor::Kind::Shaft) continue;
            double sum = 0;
            for (const double nmm : free[t]) sum += nmm;
            const double length = m_net.rotors[t].lengthMm;
            twists[t] = std::max(calcMost(m_entries[t], {0, sum}), calcMost(m_entries[t], {length, sum}));
        }
        return twists;
    }

private:
    void add(int rotor, double alongMm, double nmm) { ivrant::at(m_entries, rotor).push_back({alongMm, nmm}); }

    /// Of the wheel by which a rotor takes part in a relation, on the shaft's line.
    [[nodiscard]] double placeOf(std::size_t relation, std::size_t term, int rotor) const {
        const NetRelation& told = m_net.relations[relation];
        const Rotor& shaft = ivrant::at(m_net.rotors, rotor);
        const auto along = [&](const Vec3& point) { return (point - shaft.origin).dot(shaft.axis); };
        if (told.kind == RelationKind::Mesh || told.kind == RelationKind::Worm || told.kind == RelationKind::RackMesh ||
            told.kind == RelationKind::Chain || told.kind == RelationKind::Belt) {
            // The wheels are told in the order of the terms, loops after their own id.
            const std::size_t skip = told.ids.size() > 2 ? told.ids.size() - 2 : 0;
            if (const int ring = term + skip < told.ids.size() ? m_net.findRing(told.ids[term + skip]) : -1; ring >= 0)
                return along(ivrant::at(m_net.rings, ring).centre);
        }
        for (const std::string& id : told.ids) // a clutch wheel, a differential
            if (const int ring = m_net.findRing(id); ring >= 0) return along(ivrant::at(m_net.rings, ring).centre);
        for (const std::string& id : told.ids) // coupled: at the nearer end
            if (const int other = m_net.findRotor(id); other >= 0 && other != rotor) {
                const Rotor& fellow = ivrant::at(m_net.rotors, other);
                return along(fellow.origin + fellow.lengthMm / 2 * fellow.axis) > shaft.lengthMm / 2 ? shaft.lengthMm
                                                                                                     : 0;
            }
        return 0;
    }
    void addRelation(std::size_t r) {
        const auto& terms = ivrant::at(m_net.train.relations, static_cast<int>(r)).terms;
        for (std::size_t t = 0; t < terms.size(); ++t) {
            const double torque = m_load.onTerms[r][t];
            add(terms[t].thing, placeOf(r, t, terms[t].thing), torque);
            if (terms[t].carrier >= 0) add(terms[t].carrier, placeOf(r, t, terms[t].carrier), -terms[t].sense * torque);
        }
    }
    static double calcMost(std::vector<Entry> entries, const Entry& more) {
        if (more.nmm != 0) entries.push_back(more);
        std::sort(entries.begin(), entries.end(), [](const Entry& a, const Entry& b) { return a.alongMm < b.alongMm; });
        double sum = 0, most = 0;
        for (std::size_t i = 0; i + 1 < entries.size(); ++i) {
            sum += entries[i].nmm;
            if (entries[i + 1].alongMm - entries[i].alongMm > 1e-6) most = std::max(most, std::abs(sum));
        }
        return most;
    }

    const DriveNet& m_net;
    const LoadResult& m_load;
    std::vector<std::vector<Entry>> m_entries;
};

} // namespace

std::vector<double> calcTwists(const DriveNet& net, const LoadResult& load, const std::vector<OuterTorque>& outer) {
    return Twists(net, load).run(outer);
}

} // namespace ivrant::drive
