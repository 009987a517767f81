#include "app/look/tips.h"

#include <QApplication>
#include <QEvent>
#include <QToolTip>
#include <QWidget>

namespace retinex::app {

namespace {

constexpr int kTallest = 60; ///< px, of fields and buttons
const QPoint kQtsOwn(2, 16); ///< that Qt moves a tip by, to clear the pointer
constexpr int kGap = 3;

class TipPlacer : public QObject
{
public:
    using QObject::QObject;
    bool eventFilter(QObject* watched, QEvent* event) override
    {
        if (event->type() != QEvent::ToolTip || !watched->isWidgetType()) return false;
        auto* widget = static_cast<QWidget*>(watched);
        if (widget->toolTip().isEmpty() || widget->height() > kTallest || widget->property(kOwnTip).toBool())
            return false;
        QToolTip::showText(belowFor(*widget), widget->toolTip(), widget);
        return true;
    }
};

} // namespace

QPoint belowFor(const QWidget& widget)
{
    return widget.mapToGlobal(QPoint(0, widget.height() + kGap)) - kQtsOwn;
}

void placeTipsBelow(QApplication& application)
{
    application.installEventFilter(new TipPlacer(&application));
}

} // namespace retinex::app
