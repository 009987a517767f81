#include "app/dialogs/farm_dialog.h"

#include "app/fields/chooser.h"
#include "app/look/style.h"

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

namespace retinex::app {

FarmDialog::FarmDialog(const QStringList& deliveries, const QString& chosen, QWidget* parent)
    : QDialog(parent), m_delivery(new Chooser), m_chunk(new QSpinBox), m_partition(new QLineEdit)
{
    setObjectName(QStringLiteral("farmDialog"));
    setWindowTitle(tr("To the farm"));
    m_delivery->setObjectName(QStringLiteral("farmDelivery"));
    m_delivery->addItems(deliveries);
    m_delivery->setCurrentIndex(std::max(0, static_cast<int>(deliveries.indexOf(chosen))));
    m_chunk->setObjectName(QStringLiteral("farmChunk"));
    m_chunk->setRange(1, 100000);
    m_chunk->setFont(style::numberFont());
    m_partition->setObjectName(QStringLiteral("farmPartition"));
    m_partition->setPlaceholderText(tr("the farm's usual one"));
    const QSettings settings;
    m_chunk->setValue(settings.value(QStringLiteral("farm/chunk"), 10).toInt());
    m_partition->setText(settings.value(QStringLiteral("farm/partition")).toString());
    auto* words = new QLabel(
        tr("The machines read the saved project and its passes from the same places as this one."));
    words->setWordWrap(true);
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->addRow(tr("Delivery"), m_delivery);
    form->addRow(tr("Frames in a chunk"), m_chunk);
    form->addRow(tr("Partition"), m_partition);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Submit"));
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        QSettings().setValue(QStringLiteral("farm/chunk"), m_chunk->value());
        QSettings().setValue(QStringLiteral("farm/partition"), m_partition->text());
        accept();
    });
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(14);
    layout->addWidget(words);
    layout->addLayout(form);
    layout->addWidget(buttons);
}

} // namespace retinex::app
