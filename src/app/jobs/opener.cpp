#include "app/jobs/opener.h"

#include "core/base/error.h"

namespace retinex::app {

Opener::~Opener()
{
    if (m_thread.joinable()) m_thread.join();
}

void Opener::open(const QStringList& files)
{
    if (m_thread.joinable()) m_thread.join();
    const quint64 round = ++m_round;
    m_thread = std::thread([this, files, round] {
        std::shared_ptr<Opened> result;
        QString failure;
        try {
            result = std::make_shared<Opened>(openFiles(files));
        } catch (const Error& error) {
            failure = QString::fromStdString(error.what());
        } catch (const std::bad_alloc&) {
            failure =
                tr("%1: there is not enough memory to open this.").arg(files.join(QStringLiteral(", ")));
        }
        QMetaObject::invokeMethod(this, [this, round, result, failure] {
            if (round != m_round) return;
            if (result)
                emit opened(result);
            else
                emit failed(failure);
        });
    });
}

} // namespace retinex::app
