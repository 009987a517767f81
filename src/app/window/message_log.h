#pragma once

#include "app/window/message_bar.h"

#include <QDialog>

namespace retinex::app {

/// What was said since the program began, the newest first, to be read again and copied.
class MessageLog : public QDialog
{
    Q_OBJECT

public:
    MessageLog(const std::vector<MessageBar::Said>& said, QWidget* parent = nullptr);
};

} // namespace retinex::app
