#include "app/sheet/passes/pass_widgets.h"

#include "app/document/opening.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStandardItemModel>

namespace retinex::app {

void select(QComboBox& box, const QString& data)
{
    const int index = box.findData(data);
    if (index >= 0) box.setCurrentIndex(index);
}

void addHeading(QComboBox& box, const QString& text)
{
    box.addItem(text);
    auto* model = qobject_cast<QStandardItemModel*>(box.model());
    QStandardItem* item = model->item(box.count() - 1);
    item->setFlags(Qt::NoItemFlags);
    QFont font = box.font();
    font.setBold(true);
    item->setFont(font);
}

QWidget* withButton(QWidget* field, const QString& text, const char* name, const QString& help,
                    const std::function<void()>& work)
{
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    auto* button = new QPushButton(text);
    button->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    if (text.size() == 1) { // a sign
        button->setStyleSheet(QStringLiteral("padding: 3px 2px;"));
        button->setFixedWidth(24);
    }
    button->setObjectName(QLatin1String(name));
    button->setToolTip(help);
    button->setAccessibleName(help);
    layout->addWidget(field, 1);
    layout->addWidget(button);
    QObject::connect(button, &QPushButton::clicked, button, work);
    return row;
}

QString askForPicture(QWidget* window, const QString& title, const QString& folder)
{
    return QFileDialog::getOpenFileName(window, title, folder, pictureFilter());
}

} // namespace retinex::app
