#include "app/jobs/frame_watch.h"

#include "core/base/error.h"

#include <QFileInfo>
#include <algorithm>

namespace retinex::app {

namespace {

/// At half a second each: a frame that has not grown for 20 s is taken to be whole.
constexpr int kLooks = 40;

} // namespace

FrameWatch::FrameWatch(QObject* parent) : QObject(parent)
{
    m_calm.setSingleShot(true);
    m_calm.setInterval(500); // a renderer writes in bursts
    connect(&m_watcher, &QFileSystemWatcher::directoryChanged, this, [this] {
        if (!m_calm.isActive()) m_calm.start();
    });
    connect(&m_calm, &QTimer::timeout, this, &FrameWatch::look);
}

void FrameWatch::watch(std::shared_ptr<const passes::PassSource> source)
{
    m_source = std::move(source);
    if (!m_watcher.directories().isEmpty()) m_watcher.removePaths(m_watcher.directories());
    if (!m_source) return;
    for (const passes::Sequence* files : {&m_source->colourFiles(), &m_source->depthFiles()}) {
        const auto folder = std::filesystem::absolute(files->pattern()).parent_path();
        m_watcher.addPath(QString::fromStdString(folder.string()));
    }
    m_known = fingerprint();
}

QString FrameWatch::fingerprint() const
{
    QString all;
    try {
        for (const passes::Sequence* known : {&m_source->colourFiles(), &m_source->depthFiles()}) {
            const auto files = passes::Sequence::find(known->pattern());
            for (const int frame : files.isStill() ? std::vector<int>{1} : files.frames()) {
                const QFileInfo info(QString::fromStdString(files.file(frame).string()));
                all += QStringLiteral("%1 %2 %3\n")
                           .arg(frame)
                           .arg(info.size())
                           .arg(info.lastModified().toMSecsSinceEpoch());
            }
        }
    } catch (const Error&) {
        return {}; // all gone: when they come back that is a change
    }
    return all;
}

void FrameWatch::look()
{
    if (!m_source) return;
    const QString now = fingerprint();
    const bool same = now == m_known || now.isEmpty();
    m_looksLeft = same ? std::max(0, m_looksLeft - 1) : kLooks;
    if (m_looksLeft > 0) m_calm.start();
    if (same) return;
    m_known = now;
    emit changed();
}

} // namespace retinex::app
