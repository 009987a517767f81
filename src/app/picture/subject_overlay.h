#pragma once

#include "app/picture/image_view_map.h"
#include "core/passes/scene/scene_file.h"
#include "core/project/project.h"

#include <QPainter>
#include <QPointF>
#include <memory>

namespace retinex::app {

/// Subjects drawn over the picture: a ring as large as what is measured, or the outline, with the name.
class SubjectOverlay
{
public:
    /// For subjects that are points of the scene; may be null.
    void setScene(std::shared_ptr<const passes::SceneFile> scene) { m_scene = std::move(scene); }
    void setChosen(const std::string& name) { m_chosen = name; }
    [[nodiscard]] const std::string& chosen() const noexcept { return m_chosen; }

    void paint(QPainter& painter, const project::Project& project, int frame, const ImageViewMap& map,
               QSizeF frameSize) const;
    /// The subject seen near a position of the view; "" where there is none. Points of the scene are where
    /// they are and are not found.
    [[nodiscard]] std::string at(QPointF position, const project::Project& project, int frame,
                                 const ImageViewMap& map) const;

private:
    std::shared_ptr<const passes::SceneFile> m_scene;
    std::string m_chosen;
};

} // namespace retinex::app
