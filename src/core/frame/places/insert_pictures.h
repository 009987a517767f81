#pragma once

#include "core/frame/purpose.h"
#include "core/inserts/placing.h"
#include "core/passes/pass_source.h"
#include "core/regions/region.h"
#include "core/system/run.h"

/// Pictures of backdrop and inserts: which of them are on a frame, and where their corners lie.
namespace retinex::frame {

class DependsOn;

/// Whether it lays anything into a frame.
[[nodiscard]] bool isUsed(const inserts::Insert& insert);
/// Whether any is there on a frame.
[[nodiscard]] bool hasInserts(const Project& project, int frame);

/// What moves it with the subjects that it follows, as a region is moved.
[[nodiscard]] regions::Region carrierOf(const inserts::Insert& insert);

/// Where its picture is read from; throws Error where that cannot be, or it is too large or too small.
[[nodiscard]] std::shared_ptr<const passes::PassSource> sourceOf(const passes::PassSource& source,
                                                                 const inserts::Insert& insert);

/// A picture of an insert, premultiplied, and its distances where it has any.
struct Shown
{
    std::shared_ptr<const RgbaImage> picture; ///< null: nothing on this frame
    passes::FramePassesPtr passes;            ///< of one with a depth pass
    double width = 0.0;
    double height = 0.0;
};
/// Throws Error naming the file where it cannot be read.
[[nodiscard]] Shown shownOn(const passes::PassSource& source, const Project& project,
                            const inserts::Insert& insert, int frame, const Run& run);

/// The corners of one with a picture of that size, px of the frame.
[[nodiscard]] std::array<inserts::Point, 4> cornersOn(const passes::PassSource& source,
                                                      const Project& project, const inserts::Insert& insert,
                                                      int frame, double width, double height);
/// The same, by its file; throws Error where that cannot be read.
[[nodiscard]] std::array<inserts::Point, 4> insertCorners(const passes::PassSource& source,
                                                          const Project& project,
                                                          const inserts::Insert& insert, int frame);

/// What stands before the backdrop: titles of mattes. A lone matte needs no choosing.
[[nodiscard]] std::string openMattesOf(const Project& project, const Settings& values);

/// All that one depends on besides its settings.
void addInsert(DependsOn& on, const inserts::Insert& insert);

} // namespace retinex::frame
