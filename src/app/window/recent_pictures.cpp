#include "app/window/recent_pictures.h"

#include <QCryptographicHash>
#include <QDir>
#include <QSaveFile>
#include <QStandardPaths>

namespace retinex::app {

namespace {

QDir folder()
{
    return QDir(QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/recent"));
}

QString nameFor(const QString& file)
{
    return QString::fromLatin1(QCryptographicHash::hash(file.toUtf8(), QCryptographicHash::Sha1).toHex()) +
           QStringLiteral(".png");
}

} // namespace

void keepRecentPicture(const QString& file, const QImage& picture)
{
    if (file.isEmpty() || picture.isNull() || !folder().mkpath(QStringLiteral("."))) return;
    QSaveFile out(folder().filePath(nameFor(file)));
    if (out.open(QIODevice::WriteOnly) &&
        picture.scaled(2 * kRecentPicture, Qt::KeepAspectRatio, Qt::SmoothTransformation).save(&out, "PNG"))
        out.commit();
}

QImage recentPicture(const QString& file)
{
    return QImage(folder().filePath(nameFor(file)));
}

void keepRecentPicturesOf(const QStringList& files)
{
    QStringList kept;
    for (const QString& file : files)
        kept << nameFor(file);
    for (const QString& name : folder().entryList({QStringLiteral("*.png")}, QDir::Files))
        if (!kept.contains(name)) QFile::remove(folder().filePath(name));
}

} // namespace retinex::app
