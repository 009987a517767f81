#include "app/jobs/frame_watch.h"

#include "core/base/error.h"
#include "core/passes/file_state.h"

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

void FrameWatch::watch(std::shared_ptr<const passes::PassSource> source,
                       const std::vector<std::filesystem::path>& others)
{
    m_source = std::move(source);
    if (!m_watcher.directories().isEmpty()) m_watcher.removePaths(m_watcher.directories());
    if (!m_source) return;
    m_patterns = {m_source->colourFiles().pattern(), m_source->depthFiles().pattern()};
    if (const auto& alpha = m_source->alphaFiles()) m_patterns.push_back(alpha->pattern());
    if (const auto& motion = m_source->motionFiles()) m_patterns.push_back(motion->pattern());
    m_patterns.insert(m_patterns.end(), others.begin(), others.end());
    std::erase_if(m_patterns, [](const auto& pattern) { return pattern.empty(); }); // of an empty frame
    for (const auto& pattern : m_patterns) {
        const auto folder = std::filesystem::absolute(pattern).parent_path();
        m_watcher.addPath(QString::fromStdString(folder.string()));
    }
    m_known = fingerprint();
}

QString FrameWatch::fingerprint() const
{
    QString all;
    try {
        for (const auto& pattern : m_patterns) {
            const auto files = passes::Sequence::find(pattern);
            for (const int frame : files.isStill() ? std::vector<int>{1} : files.frames())
                all += QString::number(frame) + QLatin1Char(' ') +
                       QString::fromStdString(passes::fileState(files, frame)) + QLatin1Char('\n');
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
