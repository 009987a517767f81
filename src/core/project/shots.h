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

/// What of a shot is copied to others.
struct ShotParts
{
    bool reading = false;
    bool lens = false;  ///< f-stop, focal length, sensor width, accepted CoC, strength, limits, simple lens
    bool focus = false; ///< focus distance and held zone
    bool iris = false;  ///< iris and glints
    bool repair = false;
    bool regions = false; ///< all of them, in place of the other shot's
    bool inserts = false; ///< backdrop and inserts, likewise
    bool finish = false;  ///< glows and looks likewise
};
/// Plain settings, and of each setting that is copied its marks, moved by as many frames as the shots begin
/// apart; marks beyond the other shot's end are left out, the value there is not lost: it stays as a mark on
/// the last frame.
void copySettings(Project& project, std::size_t from, std::size_t to, const ShotParts& parts);

} // namespace retinex::project
