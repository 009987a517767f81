#pragma once

#include "app/picture/tools/focus_tool.h"

namespace retinex::app {

/// A click picks a pixel: an end of the depth scale, or what is to come out grey.
class PickTool : public Tool
{
    Q_OBJECT

public:
    /// `onlyInDepth`: in other views a click focuses.
    PickTool(const Picture& picture, bool onlyInDepth, QObject* parent = nullptr)
        : Tool(parent), m_picture(picture), m_onlyInDepth(onlyInDepth)
    {
    }
    bool press(const Hand& hand) override;

signals:
    void picked(QPoint pixel);

private:
    const Picture& m_picture;
    bool m_onlyInDepth;
};

/// A drag in the Depth view from one pixel to another: a rectangle, or a line.
class DragTool : public Tool
{
    Q_OBJECT

public:
    enum class Shape { rectangle, line };
    DragTool(const Picture& picture, Shape shape, QObject* parent = nullptr)
        : Tool(parent), m_picture(picture), m_shape(shape)
    {
    }
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release(const Hand& hand) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    void leave() override { m_from.reset(); }

signals:
    void dragged(QPoint from, QPoint to);

private:
    const Picture& m_picture;
    Shape m_shape;
    std::optional<QPoint> m_from;
    QPointF m_at; ///< of the pointer
};

} // namespace retinex::app
