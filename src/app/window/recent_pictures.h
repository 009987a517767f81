#pragma once

#include <QImage>
#include <QString>

namespace retinex::app {

/// Small pictures of what was open last, by its file; they are kept for this user and may be deleted at any
/// time.
inline constexpr QSize kRecentPicture{208, 117};

/// Nothing is kept, and nothing said, where it cannot be.
void keepRecentPicture(const QString& file, const QImage& picture);
/// Null where there is none.
[[nodiscard]] QImage recentPicture(const QString& file);
/// Deletes those of all other files.
void keepRecentPicturesOf(const QStringList& files);

} // namespace retinex::app
