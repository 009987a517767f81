#pragma once

#include "app/document/opening.h"
#include "app/jobs/background.h"

#include <QObject>
#include <memory>

namespace retinex::app {

/// Opens files in the background, so that a slow disk does not block the window. The newest wins.
class Opener : public QObject
{
    Q_OBJECT

public:
    /// Frames of what is opened are kept by `keeping`.
    explicit Opener(passes::Keeping keeping = {}) : m_keeping(std::move(keeping)) {}

    void open(const QStringList& files);
    /// Finds the passes that a changed project asks for. `what` names the change for undo; empty for one that
    /// the artist did not make (frames that came).
    void choose(const project::Project& project, const QString& what,
                const std::optional<Rereading>& rereading = std::nullopt);
    /// Whatever is being opened is not heard of any more.
    void drop() { m_work.drop(); }

signals:
    void opened(const std::shared_ptr<retinex::app::Opened>& opened);
    void failed(const QString& message);
    void chosen(const std::shared_ptr<retinex::app::Opened>& chosen, const QString& what);
    void choiceFailed(const QString& message);

private:
    passes::Keeping m_keeping;
    Background m_work;
};

} // namespace retinex::app
