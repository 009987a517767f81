#pragma once

#include "app/picture/image_view_map.h"

#include <QMenu>
#include <QObject>
#include <QPainter>

namespace retinex::app {

/// The pointer over the picture: where in the view, and the map that tells where the picture lies.
struct Hand
{
    QPointF at;
    const ImageViewMap& map;
    Qt::KeyboardModifiers modifiers{};
    double pressure = 1.0; ///< 0..1; of a mouse 1
};

/// What has the mouse and the keys over the picture. The view has one at a time.
class Tool : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    /// The left button; false where the press is not for the tool: the focus tool has it then.
    virtual bool press(const Hand& hand) = 0;
    virtual void move(const Hand& hand) { Q_UNUSED(hand) }
    virtual void release(const Hand& hand) { Q_UNUSED(hand) }
    /// False: it is one more press.
    virtual bool doubleClick(const Hand& hand)
    {
        Q_UNUSED(hand)
        return false;
    }
    /// True where the key was for the tool.
    virtual bool key(int key)
    {
        Q_UNUSED(key)
        return false;
    }
    /// What can be done with what is under the pointer; false where there is nothing.
    virtual bool fillMenu(QMenu& menu, const Hand& hand)
    {
        Q_UNUSED(menu)
        Q_UNUSED(hand)
        return false;
    }
    /// Over the picture: what is being drawn or moved.
    virtual void paint(QPainter& painter, const ImageViewMap& map)
    {
        Q_UNUSED(painter)
        Q_UNUSED(map)
    }
    /// "" or words on what the mouse does now.
    [[nodiscard]] virtual QString hint() const { return {}; }
    [[nodiscard]] virtual Qt::CursorShape cursor() const { return Qt::CrossCursor; }
    /// A pen is more than a mouse to it: it asks for the pressure.
    [[nodiscard]] virtual bool takesPen() const { return false; }
    /// Another tool comes: what was begun is left.
    virtual void leave() {}

signals:
    void changed(); ///< the picture wants to be painted anew
};

} // namespace retinex::app
