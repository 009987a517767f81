#include "app/layout/tab_order.h"

#include <QAbstractScrollArea>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QLayout>
#include <QSplitter>
#include <QWidget>

namespace retinex::app {

namespace {

void collect(QLayout& layout, QList<QWidget*>& found);

void collect(QWidget& widget, QList<QWidget*>& found)
{
    if ((widget.focusPolicy() & Qt::TabFocus) != 0) found.append(&widget);
    if (qobject_cast<QAbstractSpinBox*>(&widget) || qobject_cast<QComboBox*>(&widget)) return;
    if (auto* area = qobject_cast<QAbstractScrollArea*>(&widget)) {
        for (QWidget* child : area->findChildren<QWidget*>(Qt::FindDirectChildrenOnly)) // what is pinned
            if (child != area->viewport() && child->layout()) collect(*child->layout(), found);
        for (QWidget* child : area->viewport()->findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
            collect(*child, found);
        return;
    }
    if (auto* splitter = qobject_cast<QSplitter*>(&widget)) {
        for (int i = 0; i < splitter->count(); ++i)
            collect(*splitter->widget(i), found);
        return;
    }
    if (widget.layout()) collect(*widget.layout(), found);
}

void collect(QLayout& layout, QList<QWidget*>& found)
{
    for (int i = 0; i < layout.count(); ++i) {
        QLayoutItem* item = layout.itemAt(i);
        if (item->widget()) collect(*item->widget(), found);
        if (item->layout()) collect(*item->layout(), found);
    }
}

/// Where Tab goes from here now.
QWidget* nextTab(const QWidget& from)
{
    QWidget* next = from.nextInFocusChain();
    while (next != &from && (next->focusPolicy() & Qt::TabFocus) == 0)
        next = next->nextInFocusChain();
    return next;
}

} // namespace

void orderTabs(QWidget& root)
{
    QList<QWidget*> order;
    collect(root, order);
    for (int i = 1; i < order.size(); ++i)
        if (nextTab(*order[i - 1]) != order[i]) QWidget::setTabOrder(order[i - 1], order[i]);
}

} // namespace retinex::app
