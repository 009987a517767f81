#pragma once

#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QSpinBox>
#include <QStringList>

namespace retinex::app {

/// Which delivery goes to the farm, and in what pieces.
class FarmDialog : public QDialog
{
    Q_OBJECT

public:
    FarmDialog(const QStringList& deliveries, const QString& chosen, QWidget* parent = nullptr);

    [[nodiscard]] QString delivery() const { return m_delivery->currentText(); }
    [[nodiscard]] int chunk() const { return m_chunk->value(); }
    [[nodiscard]] QString partition() const { return m_partition->text().trimmed(); }

private:
    QComboBox* m_delivery;
    QSpinBox* m_chunk;
    QLineEdit* m_partition;
};

} // namespace retinex::app
