#pragma once

#include "app/picture/image_view_map.h"
#include "app/pictures/picture_maker.h"

#include <QString>
#include <functional>

class QPainter;

namespace retinex::app {

/// The second picture, and how it lies by the first.
class Comparison
{
public:
    enum class Mode { off, wipe, sideBySide, difference };
    static constexpr int gains[] = {1, 4, 16, 64}; ///< of differences

    Mode mode = Mode::off;
    bool isHeld = false; ///< the second one alone, while a key is held
    Picture other;       ///< null image until it is there
    QString names[2];    ///< of the first and the second
    int gain = 16;

    [[nodiscard]] bool showsWipe() const noexcept { return mode == Mode::wipe && !isHeld; }
    [[nodiscard]] bool isSideBySide() const noexcept { return mode == Mode::sideBySide && !isHeld; }
    /// Where the wipe's line is in a view so wide, px.
    [[nodiscard]] double wipeX(double width) const { return m_wipe * width; }
    void setWipeX(double x, double width);
    [[nodiscard]] bool isOnWipe(double x, double width) const;

    /// `draw` draws a picture as the view would, where the painter stands. `view` is the whole view.
    using Draw = std::function<void(QPainter& painter, const Picture& picture)>;
    void paint(QPainter& painter, const Picture& first, QSizeF view, double devicePixelRatio,
               const Draw& draw) const;

private:
    void paintDifference(QPainter& painter, const Picture& first, QSizeF view, double devicePixelRatio,
                         const Draw& draw) const;

    double m_wipe = 0.5; ///< share of the view's width
};

/// What two pictures of one size differ by, times `gain`, held to white; `largest`: the largest difference of
/// a channel, of 255.
[[nodiscard]] QImage differenceOf(const QImage& first, const QImage& second, int gain, int& largest);

} // namespace retinex::app
