#pragma once

#include "app/jobs/background.h"
#include "core/colour/view_transform.h"
#include "core/frame/render_frame.h"
#include "core/project/settings/settings.h"

#include <QImage>
#include <QObject>
#include <memory>
#include <vector>

namespace retinex::app {

/// Renders one frame with several values of a setting, small, one after the other in the background.
class BracketJob : public QObject
{
    Q_OBJECT

public:
    explicit BracketJob(QObject* parent = nullptr) : QObject(parent) {}

    struct Request
    {
        std::shared_ptr<const passes::PassSource> source;
        project::Project project;
        std::shared_ptr<const colour::ViewTransform> view;
        int frame = 1;
        project::SettingPath setting = project::setting::focusDistance;
        std::vector<double> values;
        int width = 320; ///< px that a picture should have at least
    };
    /// Drops what it was doing.
    void start(Request request);

signals:
    void pictureReady(int index, const QImage& picture);
    void failed(const QString& message);

private:
    Background m_work;
};

/// Focus distances for a bracket: from the nearest to the farthest, even in dioptres, as sharpness is.
[[nodiscard]] std::vector<double> bracketDistances(double nearest, double farthest, int count);
/// f-stops for a bracket: the whole stops from f/1 on, as engraved (ISO 517).
[[nodiscard]] std::vector<double> bracketStops(int count);

} // namespace retinex::app
