#pragma once

#include <QCoreApplication>
#include <QEvent>
#include <QTimer>
#include <utility>

namespace retinex::app {

/// Calls `work` once what was unfolded, shown or filled has its place, scroll areas around it too; not after
/// `owner` is gone.
template <class Work>
void onceLaidOut(QObject* owner, Work work)
{
    QTimer::singleShot(0, owner, [work = std::move(work)] {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
        work();
    });
}

} // namespace retinex::app
