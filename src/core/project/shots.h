#pragma once

#include "core/project/project.h"

/// Cuts and what goes from shot to shot.
namespace retinex::project {

/// A new shot begins on `frame`, with the settings of the one it was part of. The picture of no frame
/// changes: where a pull runs across, both shots get a mark at the cut with the value it has there. False
/// when a shot begins there already or the frame is not worked on.
bool cutAt(Project& project, int frame);

/// The shot that begins on `frame` becomes part of the one before, whose settings then hold; its marks are
/// added to those of the one before. False when no later shot begins there.
bool removeCut(Project& project, int frame);

/// The settings of some groups, their lists in place of the other shot's, and of each setting that is copied
/// its marks, moved by as many frames as the shots begin apart; marks beyond the other shot's end are left
/// out, the value there is not lost: it stays as a mark on the last frame.
void copySettings(Project& project, std::size_t from, std::size_t to, const Groups& groups);

} // namespace retinex::project
