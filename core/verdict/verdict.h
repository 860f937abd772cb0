// SPDX-License-Identifier: GPL-3.0-or-later
// What has been found out about a model, and how well does it pass?
//
// Every analysis ends in verdicts: what was checked, the value, the limit, the margin (1.0 just passes), the place,
// whether the numbers behind it were measured, and what would mend it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/model/edits_boards.h"

namespace ivrant::verdict {

enum class State {
    Fail,
    Thin,
    Good,
    Note ///< has no consequence: shown below what passes
};
enum class Basis {
    Measured, ///< by the person's own bench tests or weighing
    Starting, ///< rests on starting values that nobody has measured
    Geometry  ///< sizes and places only
};
enum class Station { Brief, Shape, Pose, Drive, Stand, Make, Diary };

struct Place {
    std::vector<model::PartId> parts;
    std::optional<model::SectionId> section;
    std::optional<model::JointId> joint;
    std::optional<model::PoseId> pose;
    std::string freedom; ///< "turn", "s1" … for ranges
    std::optional<model::BoardId> board;
    std::vector<std::string> things; ///< on the boards, by id; of a move its key
};

/// A change the program can make itself.
struct Mend {
    std::string text; ///< "use stepped hinge large here"
    std::function<model::EditResult(const model::Project&)> apply;
    std::string caution = {}; ///< what to mind when doing it on the table; may be empty
    bool tried = false;       ///< known to mend it without failing anything else
};

struct Verdict {
    std::string id;    ///< stable: "hold/j1/q2"
    std::string check; ///< "hold", "range", "overlap" …
    std::string group; ///< of checks that made it (checks.h)
    Station station = Station::Shape;
    Place place;
    double value = 0;
    double limit = 0;
    std::string unit;
    std::optional<double> margin; ///< none for yes/no checks and where nothing is needed
    State state = State::Good;
    Basis basis = Basis::Geometry;
    double weight =
        0; ///< of findings without a margin, how much they matter among those of their state: 0 least, 1 most
    std::string text;   ///< "Neck 3 sags in Reach"
    std::string detail; ///< "needs 42 N·mm, has 18 (starting value)"
    bool stale = false; ///< of the snapshot before: it is being looked at anew
};

inline constexpr double kGoodMargin = 1.5; ///< below it a pass is thin

/// Fail below 1, thin below kGoodMargin, good from there (none: good).
[[nodiscard]] State getStateOfMargin(std::optional<double> margin);
[[nodiscard]] const char* getStateName(State state);
[[nodiscard]] const char* getBasisName(Basis basis);

/// Does l matter more than r? By state, then margin; without one by weight; equal ones by id.
[[nodiscard]] bool isWorse(const Verdict& l, const Verdict& r);
/// Worst first: failing by margin, then thin, then good, then notes.
void sortWorstFirst(std::vector<Verdict>& verdicts);
/// One verdict per check and joint (or id without pose): the worst over the poses, for the slip.
[[nodiscard]] std::vector<Verdict> collapsePoses(const std::vector<Verdict>& verdicts);

struct Summary {
    int fail = 0, thin = 0, good = 0, note = 0;
};
[[nodiscard]] Summary countStates(const std::vector<Verdict>& verdicts);

} // namespace ivrant::verdict
