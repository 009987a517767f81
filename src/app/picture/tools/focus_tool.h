#pragma once

#include "app/picture/tools/tool.h"
#include "app/pictures/picture_maker.h"

namespace retinex::app {

/// The pixel of a picture under a position; may lie outside.
[[nodiscard]] QPoint pixelAt(const Hand& hand);
/// Whether it is one of the frame's.
[[nodiscard]] bool isInFrame(const Picture& picture, QPoint pixel);

/// A click puts the focal plane on what is seen there.
class FocusTool : public Tool
{
    Q_OBJECT

public:
    /// `picture` is the one in the view.
    explicit FocusTool(const Picture& picture, QObject* parent = nullptr) : Tool(parent), m_picture(picture)
    {
    }
    bool press(const Hand& hand) override;

signals:
    void picked(double distance, QPoint pixel);
    void gapPicked(int x, int y);

private:
    const Picture& m_picture;
};

} // namespace retinex::app
