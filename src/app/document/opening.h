#pragma once

#include "app/document/document.h"

#include <QStringList>

namespace retinex::app {

/// A project and its passes, ready to be shown.
struct Opened
{
    project::Project project;
    SourcePtr source;
    QString file; ///< of the project; "" for bare passes
    nlohmann::ordered_json kept;
    QString notice; ///< something the artist should know, such as missing frames
};

/// Opens what was chosen or dropped: a .retinex file, a frame of a sequence, two files for colour and depth
/// (in any order), or a folder with one of these. Reads headers and the first frame. Throws Error.
[[nodiscard]] Opened openFiles(const QStringList& files);

} // namespace retinex::app
