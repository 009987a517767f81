#pragma once

#include "app/document/document.h"

/// Changes of the regions of the present shot, each one step to undo.
namespace retinex::app {

/// What a new region does at first.
enum class RegionStart {
    guard, ///< 0 % of the blur
    blur,  ///< some that is added
    patch, ///< the median distance of what lies under it
    plain  ///< nothing yet
};

[[nodiscard]] const regions::Region* regionWith(const Document& document, const std::string& id) noexcept;
/// Path of one of its settings.
[[nodiscard]] SettingPath regionPath(const std::string& id, std::string_view key);
/// "guard", "patch 2": what no other region of the shot is called.
[[nodiscard]] std::string nameForRegion(const Document& document, RegionStart start);

/// Adds a region with one piece and returns its id.
std::string addRegion(Document& document, RegionStart start, regions::Piece piece);
/// A change of one region; nothing where it is gone.
void changeRegion(Document& document, const QString& what, const std::string& id,
                  const std::function<void(regions::Region&)>& change, int gesture = 0);
/// A change of its pieces.
void changePieces(Document& document, const QString& what, const std::string& id,
                  const std::function<void(std::vector<regions::Piece>&)>& change, int gesture = 0);
/// The region and its marks.
void removeRegion(Document& document, const std::string& id);
/// Puts regions into the order of `ids`.
void orderRegions(Document& document, const std::vector<std::string>& ids);
/// The outline of a piece gets a mark with the points it has on the present frame; where it has one, that
/// goes, unless it is the last.
void toggleOutlineMark(Document& document, const std::string& id);
/// The points of an outline on the present frame, to be changed: on the mark of this frame, on a new one
/// between marks, or on the only one.
[[nodiscard]] std::vector<regions::OutlinePoint>& pointsToChange(regions::Piece& piece, int frame);

} // namespace retinex::app
