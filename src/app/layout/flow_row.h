#pragma once

#include <QLayout>
#include <QWidget>
#include <vector>

namespace retinex::app {

/// Widgets beside each other, from left to right. Where there is not room for all of them they first get
/// narrower, down to their least width, and then go on in a line below: nothing vanishes and nothing is cut.
/// Room that is left goes to the gaps that were added by addGap(), evenly.
class FlowRow : public QLayout
{
    Q_OBJECT

public:
    explicit FlowRow(QWidget* parent);
    ~FlowRow() override;

    /// What is added next stands apart: by the rest of the room, but for the least that is given, px. At the
    /// end of a line it is nothing.
    void addGap(int least = 0, bool stretches = true);

    void addItem(QLayoutItem* item) override;
    [[nodiscard]] int count() const override { return static_cast<int>(m_cells.size()); }
    [[nodiscard]] QLayoutItem* itemAt(int index) const override;
    QLayoutItem* takeAt(int index) override;
    [[nodiscard]] Qt::Orientations expandingDirections() const override { return {}; }
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize minimumSize() const override;
    [[nodiscard]] QSize sizeHint() const override;
    void setGeometry(const QRect& rect) override;

private:
    struct Cell
    {
        QLayoutItem* item; ///< owned
        int gap = 0;       ///< before it, at least
        bool stretches = false;
    };
    struct Line
    {
        std::size_t first;
        std::size_t last; ///< one past it
        int height;
    };
    [[nodiscard]] std::vector<Line> linesIn(int width) const;
    [[nodiscard]] int gapBefore(const Line& line, std::size_t index) const;
    void place(const Line& line, const QRect& rect) const;

    std::vector<Cell> m_cells;
    int m_gap = 0;
    bool m_stretches = false;
};

/// A part of a splitter that asks for as much height as its rows need at its width.
class FlowPane : public QWidget
{
    Q_OBJECT

public:
    using QWidget::QWidget;
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void resizeEvent(QResizeEvent* event) override;
};

} // namespace retinex::app
