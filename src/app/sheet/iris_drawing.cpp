#include "app/sheet/iris_drawing.h"

#include "app/look/style.h"
#include "core/defocus/lens/cats_eye.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kRings = 32;
constexpr double kCompared = 24.0; ///< px: at this radius two discs are held against each other

} // namespace

IrisDrawing::IrisDrawing(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("irisDrawing"));
    setAccessibleName(tr("The iris, in front of and behind the focal plane"));
    setMinimumHeight(96);
    findPlaces();
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void IrisDrawing::setIris(const optics::Iris& iris)
{
    if (iris == m_iris) return;
    m_iris = iris;
    findPlaces();
    update();
}

QImage IrisDrawing::disc(const optics::Iris& iris, bool inFront, bool inCorner, double radius)
{
    const defocus::IrisKernel kernel(defocus::IrisOpenings(iris, kRings),
                                     {inFront ? -radius : radius, 1.0, 1, false});
    std::vector<defocus::IrisKernel::RowSpan> spans = kernel.rows();
    if (inCorner && iris.catsEye > 0.0) {
        // The upper right corner of a frame of 16 to 9.
        const defocus::CatsEye eye(iris, {0.0, 0.0}, 1000.0);
        eye.clip(kernel, inFront, 872.0, -490.0, spans);
    }
    const int reachX = kernel.reachX() + 1;
    const int reachY = kernel.reachY() + 1;
    Plane<float> light(2 * reachX + 1, 2 * reachY + 1);
    for (const auto& span : spans) {
        for (int x = -reachX; x <= reachX; ++x) {
            const double covered = std::min(span.hi, x + 0.5) - std::max(span.lo, x - 0.5);
            if (covered > 0.0)
                light.at(x + reachX, span.dy + reachY) += static_cast<float>(covered * span.weight);
        }
    }
    const float brightest = *std::max_element(light.pixels().begin(), light.pixels().end());
    QImage image(light.width(), light.height(), QImage::Format_ARGB32);
    const QColor ink = style::text;
    for (int y = 0; y < light.height(); ++y) {
        for (int x = 0; x < light.width(); ++x) {
            const float share = std::clamp(light.at(x, y) / brightest, 0.0F, 1.0F);
            const int alpha = static_cast<int>(std::lround(255.0F * std::pow(share, 1.0F / 2.2F)));
            image.setPixelColor(x, y, QColor(ink.red(), ink.green(), ink.blue(), alpha));
        }
    }
    return image;
}

void IrisDrawing::findPlaces()
{
    const Place front{tr("in front"), true, false};
    const Place behind{tr("behind"), false, false};
    const Place corner{tr("behind, corner"), false, true};
    const auto drawn = [this](const Place& place) {
        return disc(m_iris, place.inFront, place.inCorner, kCompared);
    };
    const bool turns = drawn(front) != drawn(behind);
    const bool clips = drawn(corner) != drawn(behind);
    m_places.clear();
    if (turns) m_places = {front, behind};
    if (!turns && clips) m_places = {{tr("in front and behind"), false, false}};
    if (clips) m_places.push_back(corner);
    if (m_places.empty()) m_places = {{tr("the same everywhere"), false, false}};
    m_words.clear();
    for (const Place& place : m_places)
        m_words << place.words;
}

void IrisDrawing::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::well);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setFont(style::textFont(8.0));
    const auto count = static_cast<int>(m_places.size());
    const double column = width() / static_cast<double>(count);
    const double room = std::min(column - 12.0, height() - 26.0);
    const double half = 0.5 * optics::irisReach(m_iris) * std::max(1.0, 1.0 / m_iris.squeeze);
    const double scale = devicePixelRatioF();
    const double radius = std::max(4.0, scale * 0.5 * room / std::max(1.0, 2.0 * half));
    for (int i = 0; i < count; ++i) {
        QImage image = disc(m_iris, m_places[static_cast<std::size_t>(i)].inFront,
                            m_places[static_cast<std::size_t>(i)].inCorner, radius);
        image.setDevicePixelRatio(scale);
        const QSizeF size = image.deviceIndependentSize();
        painter.drawImage(
            QPointF((i + 0.5) * column - 0.5 * size.width(), 4.0 + 0.5 * (room - size.height())), image);
        painter.setPen(style::dimText);
        painter.drawText(QRectF(i * column, height() - 19.0, column, 16.0), Qt::AlignCenter,
                         m_places[static_cast<std::size_t>(i)].words);
    }
}

} // namespace retinex::app
