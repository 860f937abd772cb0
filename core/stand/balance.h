// SPDX-License-Identifier: GPL-3.0-or-later
// The balance of forces and moments of a bond net as rows and columns. Part of equilibrium.h and certificate.h; for use
// inside core/stand.
//
// Six rows a body about its centre: three forces in N and three moments divided by a pitch, so that all rows are
// forces.
#pragma once

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/stand/equilibrium.h"
#include "core/stand/interior_point.h"

namespace ivrant::stand {

inline constexpr double kLeverMm = base::kPitchMm; ///< moment rows are divided by it
inline constexpr double kWeightless = 1e-9;        ///< N

/// Errors as calcEquilibrium: without parts, without weight, a limit that is not above 0.
base::Status checkProblem(const BondNet& net, const std::vector<BodyLoad>& loads);

/// Rows and columns of the bodies that something joins to the ground.
class Balance {
public:
    Balance(const BondNet& net, const std::vector<BodyLoad>& loads)
        : m_net(net), m_loads(loads), m_rowOf(net.bodies.size(), 0) {
        for (const int b : net.floating) at(m_rowOf, b) = -1;
        for (const Contact& contact : net.contacts) // what is held fast needs no balance of its own
            if (contact.kind == ContactKind::Hand) at(m_rowOf, contact.b) = -1;
        for (int& row : m_rowOf)
            if (row == 0) {
                row = m_rows;
                m_rows += 6;
            }
        for (std::size_t b = 0; b < m_rowOf.size(); ++b) {
            m_size.push_back(loads[b].force.norm() + loads[b].moment.norm() / kLeverMm);
            if (m_rowOf[b] >= 0) m_total += m_size.back();
        }
        for (const Contact& contact : net.contacts)
            if (isIn(contact))
                for (const ForceColumn& column : contact.columns) {
                    m_columns.push_back(&column);
                    m_bodies.emplace_back(contact.a, contact.b);
                }
    }

    [[nodiscard]] int rows() const { return m_rows; }
    /// First of a body's six; −1: it floats, or is held fast.
    [[nodiscard]] int rowOf(std::size_t body) const { return m_rowOf[body]; }
    [[nodiscard]] double total() const { return m_total; }
    [[nodiscard]] bool isIn(const Contact& contact) const {
        return at(m_rowOf, contact.b) >= 0 || (contact.a >= 0 && at(m_rowOf, contact.a) >= 0);
    }
    [[nodiscard]] const std::vector<const ForceColumn*>& columns() const { return m_columns; }
    [[nodiscard]] bool isLoaded(std::size_t body) const { return m_rowOf[body] >= 0 && m_size[body] > kWeightless; }
    [[nodiscard]] double size(std::size_t body) const { return m_size[body]; }

    /// One column for each force column, in their order.
    [[nodiscard]] SparseMatrix makeMatrix() const {
        SparseMatrix A;
        A.rows = m_rows;
        for (std::size_t c = 0; c < m_columns.size(); ++c) addColumn(A, c);
        return A;
    }
    /// Force columns, shifted so that they start at 0; b becomes what the shift asks.
    [[nodiscard]] Program makeProgram() const {
        Program program;
        program.A = makeMatrix();
        program.b.assign(static_cast<std::size_t>(m_rows), 0.0);
        program.usual = std::max(1e-3, 4 * m_total / std::max(1.0, m_rows / 6.0));
        std::vector<double> shift;
        for (std::size_t c = 0; c < m_columns.size(); ++c) {
            const ForceColumn& column = *m_columns[c];
            program.u.push_back(m_scale * (column.high - column.low) / unitOf(column));
            program.c.push_back(0);
            program.q.push_back(0);
            shift.push_back(-m_scale * column.low / unitOf(column));
        }
        program.A.multiply(shift, program.b); // A (x + low) = r  →  A x = r − A low
        return program;
    }
    /// Load of a body on the right side, as rows: A f = −load.
    void addLoad(std::vector<double>& right, std::size_t body, double factor) const {
        if (m_rowOf[body] < 0) return;
        const auto row = static_cast<std::size_t>(m_rowOf[body]);
        for (std::size_t k = 0; k < 3; ++k) {
            right[row + k] -= factor * m_loads[body].force[static_cast<int>(k)];
            right[row + 3 + k] -= factor * m_loads[body].moment[static_cast<int>(k)] / kLeverMm;
        }
    }
    /// One column: the load of a body for one unit of its size.
    void addShareColumn(SparseMatrix& A, std::size_t body) const {
        for (int k = 0; k < 3; ++k) A.add(m_rowOf[body] + k, m_loads[body].force[k] / m_size[body]);
        for (int k = 0; k < 3; ++k) A.add(m_rowOf[body] + 3 + k, m_loads[body].moment[k] / kLeverMm / m_size[body]);
        A.endColumn();
    }
    /// Value of a force column in N or N·mm.
    [[nodiscard]] double valueOf(std::size_t column, const std::vector<double>& x) const {
        return x[column] * unitOf(*m_columns[column]) + m_scale * m_columns[column]->low;
    }
    /// From now on only that share of every limit counts.
    void setScale(double scale) { m_scale = scale; }
    [[nodiscard]] double scale() const { return m_scale; }
    /// Moments are counted in steps of N at a lever of a pitch.
    static double unitOf(const ForceColumn& column) { return column.force.isZero() ? kLeverMm : 1; }

private:
    void addColumn(SparseMatrix& A, std::size_t c) const {
        const ForceColumn& column = *m_columns[c];
        const auto put = [&](int body, double sign) {
            if (body < 0) return;
            const int row = at(m_rowOf, body);
            if (row < 0) return;
            const Vec3 moment = column.moment + (column.at - at(m_net.bodies, body).centre).cross(column.force);
            for (int k = 0; k < 3; ++k) A.add(row + k, sign * column.force[k] * unitOf(column));
            for (int k = 0; k < 3; ++k) A.add(row + 3 + k, sign * moment[k] / kLeverMm * unitOf(column));
        };
        put(m_bodies[c].first, -1);
        put(m_bodies[c].second, 1);
        A.endColumn();
    }

    const BondNet& m_net;
    const std::vector<BodyLoad>& m_loads;
    std::vector<int> m_rowOf; ///< first of six; −1: floats, or is held fast
    int m_rows = 0;
    std::vector<double> m_size; ///< N: force and moment at a pitch
    double m_total = 0, m_scale = 1;
    std::vector<const ForceColumn*> m_columns;
    std::vector<std::pair<int, int>> m_bodies; ///< of the columns
};

} // namespace ivrant::stand
