#pragma once

#include "app/picture/strips/compare_bar.h"
#include "app/picture/strips/depth_strip.h"
#include "app/pictures/picture_maker.h"

#include <QLabel>
#include <QStackedWidget>

namespace retinex::app {

/// The row over the picture, always there and always as high, so that nothing moves when another view is
/// chosen: comparing for the result, tools for depth, and for the other views words on what they show.
class ToolRow : public QStackedWidget
{
    Q_OBJECT

public:
    ToolRow(CompareBar& compare, DepthStrip& depth, QWidget* parent = nullptr);

    void setMode(ViewMode mode);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    CompareBar& m_compare;
    DepthStrip& m_depth;
    QLabel* m_words;
};

} // namespace retinex::app
