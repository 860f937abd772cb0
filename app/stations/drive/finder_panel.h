// SPDX-License-Identifier: GPL-3.0-or-later
// Desk of the Drive station: trains for a wanted ratio, speed or torque, and what each does with a motor under a load.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

#include "app/shell/session.h"
#include "core/drive/wanted_ratio.h"

namespace ivrant::app {

class FinderPanel : public QWidget {
    Q_OBJECT
public:
    explicit FinderPanel(QWidget* parent = nullptr);
    /// Motors to choose from, and the battery they run on.
    void setMotors(std::vector<drive::MotorLine> motors, const drive::Battery& battery);
    /// Takes a wanted ratio and searches.
    void look(const QString& ratio);
    [[nodiscard]] QLineEdit* ratioEdit() { return m_ratio; }

signals:
    void placeAsked(const drive::FoundTrain& train);

private:
    void search();
    /// What was typed: a ratio, or the speed or torque at the output.
    struct Wish {
        std::optional<double> ratio, rpm, torqueNmm;
    };
    struct Row {
        drive::FoundTrain train;
        drive::Rational ratio;
        double error = 0;
        drive::TrainOutput output;
    };
    [[nodiscard]] std::optional<Wish> readWish() const;
    /// Ratio that fulfils the wish with a train of this efficiency.
    [[nodiscard]] base::Result<double> ratioFor(const Wish& wish, double efficiency) const;
    /// Adds what comes near enough; else the nearest when nothing was found before. Returns what to say when it cannot
    /// be.
    QString collect(double ratio, std::optional<bool> worm, bool onlyNear);
    void showRows();
    [[nodiscard]] std::optional<drive::LoadedMotor> loadedMotor() const;
    void place();

    QLineEdit *m_ratio, *m_tolerance, *m_load, *m_stock;
    QComboBox *m_stages, *m_hold, *m_sense, *m_motor;
    QCheckBox* m_holes;
    QLabel* m_found;
    QTableWidget* m_trains;
    std::vector<drive::MotorLine> m_motors;
    drive::Battery m_battery = drive::getStartingBattery();
    std::vector<Row> m_rows;
};

} // namespace ivrant::app
