#pragma once

#include "app/jobs/background.h"
#include "core/delivery/farm.h"

#include <QObject>

namespace retinex::app {

/// A delivery on the farm, in the background: submitted, followed to its end, and what is missing found out.
/// The farm goes on whatever becomes of this.
class FarmWork : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    void start(const delivery::FarmJob& job);
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

signals:
    void told(const QString& words);
    void failed(const QString& message);
    /// It has ended; `missing` are the frames that are not there.
    void ended(const std::vector<int>& missing, const QString& logs);

private:
    Background m_work;
};

} // namespace retinex::app
