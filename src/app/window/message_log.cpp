#include "app/window/message_log.h"

#include <QDialogButtonBox>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace retinex::app {

MessageLog::MessageLog(const std::vector<MessageBar::Said>& said, QWidget* parent) : QDialog(parent)
{
    setObjectName(QStringLiteral("messageLog"));
    setWindowTitle(tr("Messages"));
    auto* text = new QPlainTextEdit;
    text->setObjectName(QStringLiteral("messageLogText"));
    text->setAccessibleName(tr("Messages"));
    text->setReadOnly(true);
    QStringList lines;
    for (auto it = said.rbegin(); it != said.rend(); ++it)
        lines << it->time.toString(QStringLiteral("HH:mm:ss  ")) + it->text;
    text->setPlainText(lines.isEmpty() ? tr("Nothing was said yet.") : lines.join(QStringLiteral("\n\n")));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(text);
    layout->addWidget(buttons);
    resize(620, 380);
}

} // namespace retinex::app
