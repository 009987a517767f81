#include "app/layout/icon_button.h"

#include "app/look/style.h"

namespace retinex::app {

QToolButton* iconButton(const char* icon, const QString& help, const QString& name, int iconPx)
{
    auto* button = new QToolButton;
    button->setIcon(QIcon(style::iconPath(icon)));
    button->setIconSize(QSize(iconPx, iconPx));
    button->setToolTip(help);
    button->setAccessibleName(help);
    button->setObjectName(name);
    button->setFocusPolicy(Qt::TabFocus);
    return button;
}

} // namespace retinex::app
