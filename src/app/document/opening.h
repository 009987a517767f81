#pragma once

#include "app/document/document.h"

#include "core/passes/pass_check.h"
#include "core/passes/pass_roles.h"
#include "core/project/missing_files.h"

#include <QStringList>

namespace retinex::app {

/// A project and its passes, ready to be shown.
struct Opened
{
    project::Project project;
    SourcePtr source;
    QString file;                              ///< of the project; "" for bare passes
    std::vector<project::MissingFile> missing; ///< that the project names and that are not there
    std::optional<int> frame;                  ///< that was chosen; none: the first
    bool isUnsaved = false;                    ///< work that was recovered
    bool lacksDepth = false;                   ///< bare passes without a depth pass: it is made by hand
    QString notice;                            ///< something the artist should know, such as missing frames
    std::shared_ptr<const passes::PassAnalysis> analysis;
    std::vector<passes::RoleProposal> roles; ///< of bare passes
};

/// "*.exr", "*.png", ...
[[nodiscard]] QStringList picturePatterns();
/// For file dialogs: "Pictures (*.exr *.png ...)".
[[nodiscard]] QString pictureFilter();

/// Opens what was chosen or dropped: a .retinex file, a frame of a sequence, several files that are sorted
/// into their roles (colour, depth, mattes, a glTF scene), or a folder with one of these. Reads headers and
/// the first frame, and for bare passes takes the reading that is proposed. Frames are kept by `keeping`.
/// Throws Error.
[[nodiscard]] Opened openFiles(const QStringList& files, const passes::Keeping& keeping = {});

/// A project whose passes may be missing: it opens nevertheless (see PassSource::standIn). `file` is where it
/// was saved; "" of one that never was.
[[nodiscard]] Opened openLoaded(project::Project project, const QString& file,
                                const passes::Keeping& keeping = {});

/// A project without passes, of pictures in an empty frame (see project::projectOfPictures). Throws Error.
[[nodiscard]] Opened openPictures(const QStringList& pictures, const passes::PassOptions& emptyFrame,
                                  const passes::Keeping& keeping = {});

/// How a depth pass was looked at before another one takes its place.
struct Rereading
{
    int frame = 1;
    depth::ReadingSettings reading;        ///< of the frame
    depth::DepthRange range;               ///< of its distances
    std::optional<project::Pixel> focused; ///< what focus is on
    bool wasProposed = false; ///< nobody has corrected the reading: that of the other is proposed
};

/// The same project with other passes, or with frames that came: finds them and takes over their frame range.
/// With another depth pass reading, ends and focus follow (project::followReading). Throws Error.
[[nodiscard]] Opened openChoice(project::Project project, const passes::Keeping& keeping = {},
                                const std::optional<Rereading>& rereading = std::nullopt);

} // namespace retinex::app
