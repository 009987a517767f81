#pragma once

#include "app/jobs/background.h"
#include "core/colour/view_transform.h"
#include "core/depth/reading_proposal.h"
#include "core/project/project.h"

#include <QImage>
#include <QObject>
#include <memory>
#include <vector>

namespace retinex::app {

/// A reading that a depth pass may have, as a small picture in Zones with near and far marked.
struct ReadingChoice
{
    depth::ReadingSettings settings;
    QString words;
    double likelihood = 0.0;
    QImage picture;
};

/// Makes the small pictures of the likeliest readings in the background. The newest request wins.
class ReadingChoices : public QObject
{
    Q_OBJECT

public:
    explicit ReadingChoices(QObject* parent = nullptr) : QObject(parent) {}

    void start(std::shared_ptr<const passes::PassSource> source,
               std::shared_ptr<const project::Project> project, int frame,
               std::vector<depth::LikelyReading> likely, std::shared_ptr<const colour::ViewTransform> view);
    void drop() { m_work.drop(); }
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

signals:
    void ready(const std::vector<retinex::app::ReadingChoice>& choices);

private:
    Background m_work;
};

} // namespace retinex::app
