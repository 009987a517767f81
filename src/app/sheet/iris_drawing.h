#pragma once

#include "core/optics/iris.h"

#include <QWidget>

namespace retinex::app {

/// The iris as a point of light will show it: in front of the focal plane, behind it, and behind it in a
/// corner of the frame. Drawn from the engine's own kernels.
class IrisDrawing : public QWidget
{
    Q_OBJECT

public:
    explicit IrisDrawing(QWidget* parent = nullptr);

    void setIris(const optics::Iris& iris);
    /// What stands below the drawings: places whose discs are alike share one.
    [[nodiscard]] const QStringList& words() const noexcept { return m_words; }
    [[nodiscard]] QSize sizeHint() const override { return {300, 96}; }

    /// One disc as a grey picture, `radius` px large, white where it is brightest.
    [[nodiscard]] static QImage disc(const optics::Iris& iris, bool inFront, bool inCorner, double radius);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Place
    {
        QString words;
        bool inFront;
        bool inCorner;
    };
    void findPlaces();

    std::vector<Place> m_places;
    QStringList m_words;
    optics::Iris m_iris;
};

} // namespace retinex::app
