#include "app/layout/flow_row.h"

#include <QResizeEvent>
#include <algorithm>

namespace retinex::app {

namespace {

int leastWidth(const QLayoutItem& item)
{
    return item.minimumSize().width();
}

int usualWidth(const QLayoutItem& item)
{
    return std::clamp(item.sizeHint().width(), leastWidth(item), item.maximumSize().width());
}

} // namespace

FlowRow::FlowRow(QWidget* parent) : QLayout(parent)
{
    setSpacing(4);
}

FlowRow::~FlowRow()
{
    for (const Cell& cell : m_cells)
        delete cell.item;
}

void FlowRow::addGap(int least, bool stretches)
{
    m_gap = least;
    m_stretches = stretches;
}

void FlowRow::addItem(QLayoutItem* item)
{
    m_cells.push_back({item, m_gap, m_stretches});
    m_gap = 0;
    m_stretches = false;
}

QLayoutItem* FlowRow::itemAt(int index) const
{
    return index >= 0 && index < count() ? m_cells[static_cast<std::size_t>(index)].item : nullptr;
}

QLayoutItem* FlowRow::takeAt(int index)
{
    if (index < 0 || index >= count()) return nullptr;
    QLayoutItem* item = m_cells[static_cast<std::size_t>(index)].item;
    m_cells.erase(m_cells.begin() + index);
    invalidate();
    return item;
}

int FlowRow::gapBefore(const Line& line, std::size_t index) const
{
    return index == line.first ? 0 : spacing() + m_cells[index].gap;
}

std::vector<FlowRow::Line> FlowRow::linesIn(int width) const
{
    std::vector<Line> lines;
    int used = 0;
    for (std::size_t i = 0; i < m_cells.size(); ++i) {
        QLayoutItem& item = *m_cells[i].item;
        if (item.isEmpty()) {
            if (!lines.empty()) lines.back().last = i + 1;
            continue;
        }
        const int height = std::max(item.sizeHint().height(), item.minimumSize().height());
        if (!lines.empty()) {
            const int more = spacing() + m_cells[i].gap + leastWidth(item);
            if (used + more <= width) {
                used += more;
                lines.back().last = i + 1;
                lines.back().height = std::max(lines.back().height, height);
                continue;
            }
        }
        lines.push_back({i, i + 1, height});
        used = leastWidth(item);
    }
    return lines;
}

int FlowRow::heightForWidth(int width) const
{
    const QMargins margins = contentsMargins();
    int height = margins.top() + margins.bottom();
    const std::vector<Line> lines = linesIn(width - margins.left() - margins.right());
    for (const Line& line : lines)
        height += line.height;
    return height + std::max(0, static_cast<int>(lines.size()) - 1) * spacing();
}

QSize FlowRow::minimumSize() const
{
    QSize size(0, 0);
    for (const Cell& cell : m_cells)
        if (!cell.item->isEmpty()) size = size.expandedTo(cell.item->minimumSize());
    const QMargins margins = contentsMargins();
    return size + QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
}

QSize FlowRow::sizeHint() const
{
    QSize size(0, 0);
    for (const Cell& cell : m_cells) {
        if (cell.item->isEmpty()) continue;
        size.rwidth() += usualWidth(*cell.item) + cell.gap + spacing();
        size.setHeight(std::max(size.height(), cell.item->sizeHint().height()));
    }
    const QMargins margins = contentsMargins();
    return size + QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
}

void FlowRow::setGeometry(const QRect& rect)
{
    QLayout::setGeometry(rect);
    const QRect inside = rect.marginsRemoved(contentsMargins());
    const std::vector<Line> lines = linesIn(inside.width());
    int needed = std::max(0, static_cast<int>(lines.size()) - 1) * spacing();
    for (const Line& line : lines)
        needed += line.height;
    int y = inside.top() + std::max(0, (inside.height() - needed) / 2);
    for (const Line& line : lines) {
        place(line, QRect(inside.left(), y, inside.width(), line.height));
        y += line.height + spacing();
    }
}

void FlowRow::place(const Line& line, const QRect& rect) const
{
    // What is wider as a rule than it has to be shares the room that there is, in proportion.
    int least = 0;
    int wanted = 0;
    int stretching = 0;
    for (std::size_t i = line.first; i < line.last; ++i) {
        const Cell& cell = m_cells[i];
        if (cell.item->isEmpty()) continue;
        least += gapBefore(line, i) + leastWidth(*cell.item);
        wanted += usualWidth(*cell.item) - leastWidth(*cell.item);
        if (cell.stretches && i != line.first) ++stretching;
    }
    const int room = std::max(0, rect.width() - least);
    const double share = wanted > 0 ? std::min(1.0, static_cast<double>(room) / wanted) : 0.0;
    const int rest = std::max(0, room - wanted);
    int x = rect.left();
    for (std::size_t i = line.first; i < line.last; ++i) {
        const Cell& cell = m_cells[i];
        if (cell.item->isEmpty()) continue;
        x += gapBefore(line, i);
        if (cell.stretches && i != line.first) x += rest / stretching;
        const int width = leastWidth(*cell.item) +
                          static_cast<int>((usualWidth(*cell.item) - leastWidth(*cell.item)) * share);
        const int height =
            std::clamp(cell.item->sizeHint().height(), cell.item->minimumSize().height(), rect.height());
        cell.item->setGeometry(QRect(x, rect.top() + (rect.height() - height) / 2, width, height));
        x += width;
    }
}

QSize FlowPane::minimumSizeHint() const
{
    QSize size = QWidget::minimumSizeHint();
    if (layout() && layout()->hasHeightForWidth())
        size.setHeight(std::max(size.height(), layout()->minimumHeightForWidth(width())));
    return size;
}

void FlowPane::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    if (event->oldSize().width() != width()) updateGeometry();
}

} // namespace retinex::app
