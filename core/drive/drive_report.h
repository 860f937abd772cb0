// SPDX-License-Identifier: GPL-3.0-or-later
// Everything there is to say about the drive of a project as it stands: freedom, ratios, locks, functions,
// selectors, working points.
//
// Pure: the same project and poses give the same report. Speeds rpm (racks mm/s), torques N·mm, power W.
#pragma once

#include <map>
#include <memory>

#include "core/drive/drive_net.h"
#include "core/drive/function_load.h"
#include "core/drive/motor.h"
#include "core/model/project.h"

namespace ivrant::drive {

// Starting values, not measured.
inline constexpr double kAxleTwistNmm = 300; ///< torque that winds an axle up for good
inline constexpr double kToothForceN = 30;   ///< force along the pitch line at which teeth jump

struct MotorState {
    model::DriveMotor motor; ///< of a board, or told of a part
    int rotor = 0;
    std::shared_ptr<const MotorLine> line; ///< null: no values are known for its kind
    std::optional<double> alongMm;         ///< where it turns its shaft, from the shaft's start; none: not told
};

struct MotorShare {     ///< a motor's part in a function
    int motor = 0;      ///< index into DriveReport::motors
    Rational ratio;     ///< turns of the function (teeth of a rack, mm of an actuator) for turns of the motor
    WorkingPoint point; ///< where the load is hardest
    bool known = false; ///< the motor's line is known and the load could be carried through
    bool helps = false; ///< it turns with `leader` and shares its load by its line; negative torque: it is dragged
    int leader = -1;    ///< of helpers: index into DriveReport::motors
};

struct FunctionState {
    const model::DriveFunction* function = nullptr;
    int board = 0;
    int rotor = 0;
    base::JointId joint;            ///< of the model that it turns: what is said of boards, what parts show; or none
    bool straight = false;          ///< a rack or a linear actuator: mm, N, mm/s
    double mmPerUnit = 0;           ///< Rotor::mmPerUnit
    std::vector<MotorShare> motors; ///< that move it
    std::vector<MotorShare>
        creep; ///< that move it only by turning what it stands on; they rest when its work is calculated
    bool locked = false, loose = false;
    Hardest hardest;
    double speed = 0;             ///< at the hardest, rpm or mm/s; 0 stalled or not driven
    std::optional<double> margin; ///< smallest stall over asked torque of its motors; none: nothing asked or unknown
    std::optional<double> travelS;
    double playDeg = 0;      ///< or mm on racks
    bool holds = false;      ///< without power it stays: what would have to move with it cannot be driven from behind
    bool stuck = false;      ///< a motor would move it only by turning a thread from behind, which it cannot
    bool together = false;   ///< its motors move other functions at the same time; all their loads are counted
    double mostTwistNmm = 0; ///< largest torque on a shaft on the way
    std::string mostTwistAt; ///< the shaft's name
    double mostToothN = 0;   ///< largest force on a tooth
    std::string mostToothAt;
    double inW = 0, outW = 0, lostW = 0; ///< at the hardest: what comes in goes out or is lost
};

/// What it does when the motors are off: "holds", "rests" by friction or without a load, "runs back" under a weight or
/// band that nothing holds.
[[nodiscard]] const char* getRestName(const FunctionState& state);

struct PositionState {
    std::string selector, name; ///< empty: there is no selector; of a combination: all of them, with commas between
    std::vector<std::pair<std::string, std::string>> setting; ///< selector and position; of a combination all
    int index = 0;                                            ///< of the position, or of the combination
    bool present = false;
    int freedom = 0;
    std::vector<FunctionState> functions;
    std::vector<int> fighting;     ///< motors whose speed several others already give
    std::vector<int> dragged;      ///< motors that brake where a function is hardest: their fellows run faster
    std::vector<int> alike;        ///< rotors that share evenly because they ask alike
    std::vector<std::string> lock; ///< why a driven thing cannot turn: one sentence for each relation of a smallest set
    std::vector<std::string> lockIds; ///< the wheels and shafts of that set
    std::vector<std::string> stuck;   ///< threads that a motor would have to turn from behind: one sentence each
    std::vector<std::string> stuckIds;
};

struct DriveReport {
    DriveNet net;             ///< as the selectors stand
    TrainMotion motion;       ///< the same; motors' shafts first
    std::vector<int> drivers; ///< rotors that motors turn, then functions that stay by their own friction; without
                              ///< motors the first shaft
    std::vector<MotorState> motors;
    Battery battery; ///< they run on
    std::vector<PositionState>
        positions;   ///< every position of every selector, others as they stand; one alone without selectors
    int present = 0; ///< index of the first one that is present
    std::vector<PositionState>
        combinations;        ///< of several selectors, those that are no position above; at most kMostCombinations
    std::size_t leftOut = 0; ///< combinations beyond those

    /// Positions, then combinations.
    [[nodiscard]] std::vector<const PositionState*> listStates() const;
};
inline constexpr std::size_t kMostCombinations = 64;

/// What the boards do not say themselves.
struct DriveInputs {
    Battery battery = getStartingBattery();        ///< for all motors
    std::vector<MotorLine> measured;               ///< take the place of starting values of the same name
    std::map<base::FunctionId, JointArm> armLoads; ///< of functions whose load is a joint of the model
    std::map<base::FunctionId, std::shared_ptr<const LoadCurve>> curves; ///< the same, where it lies on loops
};

/// `machine`: read from the project (board_reader.h), which must outlive the report. O(positions × train).
[[nodiscard]] DriveReport calcDriveReport(const model::Project& project, const DriveModel& machine,
                                          const DriveInputs& inputs = {});

/// Speeds (rpm) of all things as the selectors stand: motors at the working point of the function they drive, others
/// unloaded; without motors the first shaft at kByHandRpm.
[[nodiscard]] std::vector<double> calcShownSpeeds(const DriveReport& report);
inline constexpr double kByHandRpm = 30;

} // namespace ivrant::drive
