#pragma once

#include "core/passes/pass_source.h"

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <memory>

namespace retinex::app {

/// Watches the folders of a source for frames that a render is still adding, or writes again.
class FrameWatch : public QObject
{
    Q_OBJECT

public:
    explicit FrameWatch(QObject* parent = nullptr);
    /// `others`: more files that count, such as mattes and tables; patterns or stills.
    void watch(std::shared_ptr<const passes::PassSource> source,
               const std::vector<std::filesystem::path>& others = {});

signals:
    /// Frames have come, gone, or been written anew; not more often than twice a second.
    void changed();

private:
    void look();
    void watchStills();
    [[nodiscard]] QString fingerprint() const;

    QFileSystemWatcher m_watcher;
    QTimer m_calm;
    std::shared_ptr<const passes::PassSource> m_source;
    std::vector<std::filesystem::path> m_patterns;
    QString m_known;
    int m_looksLeft =
        0; ///< a file that grows changes no folder: after a change it is looked at again for a while
};

} // namespace retinex::app
