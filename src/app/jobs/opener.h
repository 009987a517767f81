#pragma once

#include "app/document/opening.h"

#include <QObject>
#include <memory>
#include <thread>

namespace retinex::app {

/// Opens files on a thread of its own, so that a slow disk does not block the window. The newest wins.
class Opener : public QObject
{
    Q_OBJECT

public:
    explicit Opener(QObject* parent = nullptr) : QObject(parent) {}
    ~Opener() override;

    void open(const QStringList& files);
    /// Finds the passes that a changed project asks for. `what` names the change for undo; empty for one that
    /// the artist did not make (frames that came).
    void choose(const project::Project& project, const QString& what);

signals:
    void opened(const std::shared_ptr<retinex::app::Opened>& opened);
    void failed(const QString& message);
    void chosen(const std::shared_ptr<retinex::app::Opened>& chosen, const QString& what);
    void choiceFailed(const QString& message);

private:
    template <class Work, class Done, class Failed>
    void run(Work work, Done done, Failed failed);

    std::thread m_thread;
    quint64 m_round = 0;
};

} // namespace retinex::app
