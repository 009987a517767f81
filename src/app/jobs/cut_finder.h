#pragma once

#include "app/jobs/background.h"
#include "core/passes/pass_source.h"
#include "core/project/project.h"

#include <QObject>
#include <memory>
#include <vector>

namespace retinex::app {

/// Looks through the colour pass for cuts, in the background.
class CutFinder : public QObject
{
    Q_OBJECT

public:
    explicit CutFinder(QObject* parent = nullptr) : QObject(parent) {}

    void start(std::shared_ptr<const passes::PassSource> source, const project::Project& project);
    void cancel() { m_work.requestStop(); }
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

signals:
    void progressed(int done, int total);
    /// Frames that begin a shot, without those that do already.
    void found(const std::vector<int>& cuts);
    void cancelled();
    void failed(const QString& message);

private:
    Background m_work;
};

} // namespace retinex::app
