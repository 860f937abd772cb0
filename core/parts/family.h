// SPDX-License-Identifier: GPL-3.0-or-later
// Which shapes are there, and which one does a text mean?
//
// A family makes shapes from at most two sizes. Names are bags of words: "2x4 plate", "plate 2 x 4" and
// "plate 2x4" are the same; the canonical name is "<family> <sizes>". Shapes are made once and shared; all functions
// may be called from any thread.
#pragma once

#include <optional>
#include <span>

#include "core/base/result.h"
#include "core/parts/shape.h"

namespace ivrant::parts {

enum class SizeForm { None, Count, Pair };

struct Size {
    int a = 0;
    int b = 0;
};

struct Family {
    std::string name;       ///< words of the canonical name
    std::string otherNames; ///< further bags of words, separated by '/'; may be empty
    SizeForm form;
    Size low, high, usual; ///< legal range, and the size taken when none is typed
    double fillFactor;     ///< starting value, not weighed
    Shape (*make)(const Family&, Size);
    std::string about;              ///< one sentence for docs and tooltips
    bool (*allows)(Size) = nullptr; ///< further restriction, or nullptr
    std::string sizesText;          ///< "A 1–16, B 1–16"
};

[[nodiscard]] std::span<const Family> getFamilies();

/// Reads a shape text and returns the canonical name. Errors: "shape.unknown" (with the nearest family),
/// "shape.size" (which sizes exist).
base::Result<std::string> parseShapeName(std::string_view text);

/// The shape of that name, made at first use. Same errors as parseShapeName.
base::Result<ShapePtr> makeShape(std::string_view text);

/// Canonical names to offer for what has been typed so far, best first, at most `most`.
[[nodiscard]] std::vector<std::string> suggestShapes(std::string_view typed, std::size_t most);

/// "plate 4x2" and "plate 2x4" are one thing on a shopping list: the name with the smaller size first where the shape
/// looks the same after a quarter turn.
[[nodiscard]] std::string getListName(const Shape& shape);

namespace detail { // the makers, one file per group of families
[[nodiscard]] std::span<const Family> getStudFamilies();
[[nodiscard]] std::span<const Family> getSideFamilies();
[[nodiscard]] std::span<const Family> getJointFamilies();
[[nodiscard]] std::span<const Family> getHoleFamilies();
[[nodiscard]] std::span<const Family> getShapeFamilies();
[[nodiscard]] std::span<const Family> getLinkFamilies();
[[nodiscard]] std::span<const Family> getBearingFamilies();
[[nodiscard]] std::span<const Family> getDriveFamilies();
[[nodiscard]] std::string makeName(const Family& family, Size size);
} // namespace detail

} // namespace ivrant::parts
