#pragma once

class QWidget;

namespace retinex::app {

/// Tab goes through all that can have the keys below `root` in the order of the layouts: as the eye does.
void orderTabs(QWidget& root);

} // namespace retinex::app
