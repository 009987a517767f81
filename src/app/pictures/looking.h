#pragma once

#include "core/image/image.h"

#include <QString>

namespace retinex::app {

/// How a picture is looked at: brighter or darker, or one channel alone. Nothing that is saved depends on it.
struct Looking
{
    enum class Channel { all, red, green, blue, alpha };

    double stops = 0.0;
    Channel channel = Channel::all;
    bool isUnfinished = false; ///< as the picture comes through the lens

    /// The values are shown as they are.
    [[nodiscard]] bool isPlain() const noexcept { return stops == 0.0 && channel == Channel::all; }
    /// "+1.5 stops, red"; "" where it is plain.
    [[nodiscard]] QString words() const;
    friend bool operator==(const Looking&, const Looking&) = default;
};

/// The values as they are looked at; alpha as a grey.
[[nodiscard]] RgbaImage seenWith(const RgbaImage& values, const Looking& looking);

} // namespace retinex::app
