#include "app/jobs/opener.h"

namespace retinex::app {

void Opener::open(const QStringList& files)
{
    m_work.start(tr("Opening"),
                 [this, files, keeping = m_keeping](const Background::Task& task) {
                     auto result = std::make_shared<Opened>(openFiles(files, keeping));
                     task.post([this, result] { emit opened(result); });
                 },
                 {[this](const QString& message) { emit failed(message); }});
}

void Opener::choose(const project::Project& project, const QString& what,
                    const std::optional<Rereading>& rereading)
{
    m_work.start(tr("Opening"),
                 [this, project, what, rereading, keeping = m_keeping](const Background::Task& task) {
                     auto result = std::make_shared<Opened>(openChoice(project, keeping, rereading));
                     task.post([this, result, what] { emit chosen(result, what); });
                 },
                 {[this](const QString& message) { emit choiceFailed(message); }});
}

} // namespace retinex::app
