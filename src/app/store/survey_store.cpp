#include "app/store/survey_store.h"

#include "core/system/atomic_file.h"
#include "core/system/error.h"

#include <QCryptographicHash>
#include <QDataStream>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QIODevice>
#include <QStandardPaths>

namespace retinex::app {

namespace {

constexpr quint32 kSurveyMagic = 0x52445331;

QByteArray hashOf(const QByteArray& bytes)
{
    return QCryptographicHash::hash(bytes, QCryptographicHash::Md5);
}

QByteArray packed(const DepthColumn& column)
{
    QByteArray bytes;
    QDataStream stream(&bytes, QIODevice::WriteOnly);
    stream.setFloatingPointPrecision(QDataStream::DoublePrecision);
    stream << column.range.nearest << column.range.farthest << quint64(column.range.gapCount)
           << quint64(column.range.pixelCount) << quint32(column.bins.size());
    for (const float count : column.bins)
        stream << quint32(count);
    return qCompress(bytes, 1);
}

std::optional<DepthColumn> unpacked(const QByteArray& packed)
{
    const QByteArray bytes = qUncompress(packed);
    QDataStream stream(bytes);
    stream.setFloatingPointPrecision(QDataStream::DoublePrecision);
    DepthColumn column;
    quint64 gaps = 0;
    quint64 pixels = 0;
    quint32 bins = 0;
    stream >> column.range.nearest >> column.range.farthest >> gaps >> pixels >> bins;
    if (bins > 100'000) return std::nullopt;
    column.range.gapCount = gaps;
    column.range.pixelCount = pixels;
    for (quint32 i = 0; i < bins; ++i) {
        quint32 count = 0;
        stream >> count;
        column.bins.push_back(static_cast<float>(count));
    }
    if (stream.status() != QDataStream::Ok) return std::nullopt;
    return column;
}

} // namespace

SurveyStore::SurveyStore(const passes::PassSource& source)
{
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
                           QStringLiteral("/retinex/depth");
    const std::string files =
        source.colourFiles().pattern().string() + '\n' + source.depthFiles().pattern().string();
    m_file = folder + QLatin1Char('/') +
             QString::fromLatin1(hashOf(QByteArray::fromStdString(files)).toHex()) +
             QStringLiteral(".columns");
    QFile file(m_file);
    if (!file.open(QIODevice::ReadOnly)) return;
    QDataStream stream(&file);
    quint32 magic = 0;
    quint32 count = 0;
    stream >> magic >> count;
    if (magic != kSurveyMagic) return;
    for (quint32 i = 0; i < count && stream.status() == QDataStream::Ok; ++i) {
        qint32 frame = 0;
        Entry entry;
        stream >> frame >> entry.key >> entry.packed;
        if (stream.status() == QDataStream::Ok) m_entries[frame] = std::move(entry);
    }
}

std::optional<DepthColumn> SurveyStore::find(int frame, const std::string& fingerprint) const
{
    const auto it = m_entries.find(frame);
    if (it == m_entries.end() || it->second.key != QByteArray::fromStdString(fingerprint))
        return std::nullopt;
    return unpacked(it->second.packed);
}

void SurveyStore::add(int frame, const std::string& fingerprint, const DepthColumn& column)
{
    m_entries[frame] = {QByteArray::fromStdString(fingerprint), packed(column)};
    m_changed = true;
}

void SurveyStore::save()
{
    if (!m_changed) return;
    m_changed = false;
    QByteArray bytes;
    QDataStream stream(&bytes, QIODevice::WriteOnly);
    stream << kSurveyMagic << quint32(m_entries.size());
    for (const auto& [frame, entry] : m_entries)
        stream << qint32(frame) << entry.key << entry.packed;
    try {
        QDir().mkpath(QFileInfo(m_file).absolutePath());
        writeFileAtomically(m_file.toStdString(),
                            std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())));
    } catch (const Error&) {
        // There is less to find the next time.
    }
}

} // namespace retinex::app
