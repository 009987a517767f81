#include "app/jobs/opener.h"

#include "core/base/error.h"

namespace retinex::app {

Opener::~Opener()
{
    if (m_thread.joinable()) m_thread.join();
}

template <class Work, class Done, class Failed>
void Opener::run(Work work, Done done, Failed failed)
{
    if (m_thread.joinable()) m_thread.join();
    const quint64 round = ++m_round;
    m_thread = std::thread([this, work, done, failed, round] {
        std::shared_ptr<Opened> result;
        QString failure;
        try {
            result = std::make_shared<Opened>(work());
        } catch (const Error& error) {
            failure = QString::fromStdString(error.what());
        } catch (const std::bad_alloc&) {
            failure = tr(
                "There is not enough memory to open this. Close other programs, or work on a smaller one.");
        }
        QMetaObject::invokeMethod(this, [this, round, result, failure, done, failed] {
            if (round != m_round) return;
            if (result)
                done(result);
            else
                failed(failure);
        });
    });
}

void Opener::open(const QStringList& files)
{
    run([files] { return openFiles(files); }, [this](const auto& result) { emit opened(result); },
        [this](const QString& message) { emit failed(message); });
}

void Opener::choose(const project::Project& project, const QString& what)
{
    run([project] { return openChoice(project); },
        [this, what](const auto& result) { emit chosen(result, what); },
        [this](const QString& message) { emit choiceFailed(message); });
}

} // namespace retinex::app
