#pragma once

#include "app/document/document.h"
#include "app/document/insert_edits.h"
#include "app/picture/tools/tool.h"
#include "core/regions/placement.h"

namespace retinex::app {

/// Placing an insert or a backdrop in the picture: corners, sides and turn by handles, the whole by its
/// inside. Corners snap to the frame and to its middle.
class PlacingTool : public Tool
{
    Q_OBJECT

public:
    explicit PlacingTool(Document& document, QObject* parent = nullptr);

    void choose(const std::string& id);
    [[nodiscard]] const std::string& chosen() const noexcept { return m_chosen; }
    /// Handles are shown and take the mouse.
    void setPlacing(bool on);
    [[nodiscard]] bool isPlacing() const noexcept { return m_isPlacing; }

    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release(const Hand& hand) override;
    bool key(int key) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    [[nodiscard]] QString hint() const override;
    void leave() override { setPlacing(false); }

    /// The corners of the chosen one as they lie on the present frame, px; nothing where that is not known.
    [[nodiscard]] std::optional<std::array<inserts::Point, 4>> corners() const;

signals:
    void placingChanged();
    void chosenChanged();

private:
    enum class Grip { none, corner, side, turn, inside };

    [[nodiscard]] const inserts::Insert* insert() const noexcept { return insertWith(m_document, m_chosen); }
    [[nodiscard]] std::pair<Grip, std::size_t> gripAt(QPointF at, const ImageViewMap& map) const;
    [[nodiscard]] inserts::Point placeOf(QPointF at, const ImageViewMap& map) const;
    [[nodiscard]] inserts::Point snapped(inserts::Point place, const ImageViewMap& map) const;
    void drag(const inserts::Point& to);
    void dragByCorners(inserts::Insert& changed, const inserts::Point& to) const;
    void dragAsAWhole(inserts::Insert& changed, const inserts::Point& to) const;

    Document& m_document;
    std::string m_chosen;
    bool m_isPlacing = false;
    Grip m_grip = Grip::none;
    std::size_t m_index = 0;
    int m_gesture = 0;
    inserts::Point m_from;    ///< where the drag began, as placed
    inserts::Insert m_before; ///< as it was then
    std::array<inserts::Point, 4> m_cornersBefore{};
};

} // namespace retinex::app
