#pragma once

#include "app/desk/desk_state.h"
#include "app/document/document.h"

#include <QPainter>
#include <QRectF>

namespace retinex::app {

/// Draws what lies on the desk, and knows where things are.
class DeskPainter
{
public:
    DeskPainter(const Document& document, const DeskState& state, const QRectF& plot);

    [[nodiscard]] const QRectF& plot() const noexcept { return m_plot; }
    [[nodiscard]] const FrameScale& frames() const noexcept { return m_frames; }
    [[nodiscard]] const DistanceAxis& axis() const noexcept { return m_axis; }
    [[nodiscard]] QPointF pointFor(double frame, double distance) const;
    [[nodiscard]] QPointF pointFor(const timeline::Mark& mark) const;
    /// Where the handle of a side with a curve is; nothing for other sides and for ends without a neighbour.
    [[nodiscard]] std::optional<QPointF> handleOf(const timeline::Mark& mark, bool leaving) const;

    void paintRuler(QPainter& painter) const; ///< numbers and grid
    void paintPresentFrame(QPainter& painter) const;
    void paintPlayedRange(QPainter& painter) const; ///< where in and out are set
    void paintShots(QPainter& painter) const;
    void paintSubjects(QPainter& painter) const;
    void paintFocus(QPainter& painter) const;
    void paintMarks(QPainter& painter) const;

private:
    struct Name
    {
        QPointF at; ///< of the base line's beginning
        QString words;
        QRectF ground;
    };

    [[nodiscard]] Name freePlace(QPointF wanted, const QString& words, const QFontMetrics& metrics,
                                 const std::vector<Name>& others) const;
    [[nodiscard]] std::vector<int> rulerFrames() const;
    [[nodiscard]] static QRectF numberBox(double x);
    [[nodiscard]] bool isCrowded(int frame) const;
    void paintFocusOf(QPainter& painter, std::size_t shot) const;
    void paintHandles(QPainter& painter, const timeline::Mark& mark) const;
    void paintLabel(QPainter& painter, QPointF at, const QString& words) const;

    const Document& m_document;
    const DeskState& m_state;
    QRectF m_plot;
    FrameScale m_frames;
    DistanceAxis m_axis;
};

} // namespace retinex::app
