#include "app/store/file_state.h"

#include <QDateTime>
#include <QFileInfo>

namespace retinex::app {

QByteArray fileState(const passes::Sequence& files, int frame)
{
    if (!files.has(frame)) return {};
    const QFileInfo info(QString::fromStdString(files.file(frame).string()));
    return QByteArray::number(info.size()) + '@' +
           QByteArray::number(info.lastModified().toMSecsSinceEpoch()) + '/';
}

} // namespace retinex::app
