#include "app/jobs/frame_watch.h"

#include "core/frame/depends_on.h"
#include "core/system/error.h"

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
    const auto lookSoon = [this] {
        if (!m_calm.isActive()) m_calm.start();
    };
    connect(&m_watcher, &QFileSystemWatcher::directoryChanged, this, lookSoon);
    connect(&m_watcher, &QFileSystemWatcher::fileChanged, this, lookSoon);
    connect(&m_calm, &QTimer::timeout, this, &FrameWatch::look);
}

void FrameWatch::watch(std::shared_ptr<const passes::PassSource> source,
                       const std::vector<std::filesystem::path>& others)
{
    m_source = std::move(source);
    if (const QStringList all = m_watcher.directories() + m_watcher.files(); !all.isEmpty())
        m_watcher.removePaths(all);
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
    watchStills();
    m_known = fingerprint();
}

void FrameWatch::watchStills()
{
    for (const auto& pattern : m_patterns)
        if (std::error_code code; std::filesystem::is_regular_file(pattern, code))
            m_watcher.addPath(QString::fromStdString(std::filesystem::absolute(pattern).string()));
}

QString FrameWatch::fingerprint() const
{
    QString all;
    frame::FileStates states;
    for (const auto& pattern : m_patterns) {
        try {
            const auto files = passes::Sequence::find(pattern);
            for (const int frame : files.isStill() ? std::vector<int>{1} : files.frames())
                all += QString::number(frame) + QLatin1Char(' ') +
                       QString::fromStdString(states.of(files.file(frame))) + QLatin1Char('\n');
        } catch (const Error&) {
            if (pattern == m_patterns.front()) return {}; // all gone: when they come back that is a change
        }
    }
    return all;
}

void FrameWatch::look()
{
    if (!m_source) return;
    watchStills(); // one that was put in the place of another is not watched yet
    const QString now = fingerprint();
    const bool same = now == m_known || now.isEmpty();
    m_looksLeft = same ? std::max(0, m_looksLeft - 1) : kLooks;
    if (m_looksLeft > 0) m_calm.start();
    if (same) return;
    m_known = now;
    emit changed();
}

} // namespace retinex::app
