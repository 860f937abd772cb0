// SPDX-License-Identifier: GPL-3.0-or-later
// What does a typed line put on a gear board: "24", "clutch 24", "bevel 12 right at 3 2", "worm", "motor medium",
// "chain", "belt 96", "string off 2 gap 1 slack 3", "function lift load arm 40 g radius 80 mm", "walls", "seat", "lid"?
//
// What is put are parts of the board's section; a board that lives alone begins one. Boards of older files that have a
// list of things of their own go on with that.
// Lengths without a unit count in pitches; "4mm", "1p" are taken as everywhere. Docs: docs/guide.md, Drive.
#pragma once

#include "core/base/result.h"
#include "core/drive/ratio_search.h"
#include "core/model/edits_boards.h"

namespace ivrant::drive {

struct BoardLine {
    enum class What {
        Gear,
        Shaft,
        Motor,
        Function,
        Asks, ///< load, travel and the rest of a function that is there
        Selector,
        Chain,
        Belt,
        Couple,
        Wall,  ///< at a height
        Walls, ///< all there are to be, with a floor and seats; name "seat" or "lid": those alone
        Strand
    } what = What::Gear;
    model::GearKind kind = model::GearKind::Spur;
    int teeth = 0;
    bool loose = false, leftHand = false, crossed = false;
    int count = 0;                                  ///< chains: links; belts: mm; 0: what fits
    bool wire = false;                              ///< strands
    std::int64_t offUm = 0, gapUm = 0, slackUm = 0; ///< strands
    bool atEnd = false;                             ///< motors: beyond the end of the shaft
    std::string name;                               ///< of the function, selector or motor line; "walls", "seat", "lid"
    std::vector<std::string> asks;                  ///< of a function (function_words.h)
    std::optional<model::BoardAxis> axis;           ///< way of a new shaft
    std::optional<std::int64_t> lengthUm;           ///< of a new shaft
    std::optional<std::array<std::int64_t, 2>> atUm;
    std::optional<std::int64_t> heightUm; ///< third number after "at", or of a wall
};

/// Error "line.syntax" with what was not understood.
base::Result<BoardLine> parseBoardLine(const std::string& text);

/// What the person points at while typing.
struct BoardHand {
    model::BoardId board;
    std::vector<std::string> chosen;        ///< shafts and racks
    std::array<std::int64_t, 2> cursorUm{}; ///< where new things go
    std::int64_t layerUm = 0;               ///< height of the layer looked at
    bool ownThings = false;                 ///< lay things on the board's own list, as older files have them
};

struct BoardLineResult {
    model::Project project;
    std::string added;              ///< the shaft or rack to choose next; may be empty
    std::vector<std::string> notes; ///< what could not be done, in words
};

/// A board where nothing is yet: upright, seen from the front, its middle on a hole that a brick can have. It lives
/// alone until its first part.
model::EditResult beginBoard(const model::Project& project, model::BoardId& newId);

/// Wheels go on the chosen shaft (exactly one), else on a new shaft at the line's place or the cursor: through the
/// walls, or three pitches round the layer. Errors: those of the edits; "line.choose" when something must be chosen
/// first.
base::Result<BoardLineResult> applyBoardLine(const model::Project& project, const BoardHand& hand,
                                             const BoardLine& line);

/// The stages of a found train as shafts in a row to the right of the chosen shaft, or of the cursor, each stage one
/// layer higher. A worm's shaft lies across under its wheel, so a worm stage must be the last; `found` is reordered so
/// (its ratio stays).
base::Result<BoardLineResult> placeTrain(const model::Project& project, const BoardHand& hand, const FoundTrain& found);

} // namespace ivrant::drive
