#pragma once

#include "app/store/frame_store.h"

#include <QDialog>
#include <QDoubleSpinBox>
#include <QLabel>

namespace retinex::app {

/// What is the artist's and not the project's: how much memory and disk rendered frames may take.
class PreferencesDialog : public QDialog
{
    Q_OBJECT

public:
    explicit PreferencesDialog(FrameStore& store, QWidget* parent = nullptr);

    /// As chosen the last time; otherwise by the memory the machine has.
    [[nodiscard]] static FrameStore::Limits cacheLimits();

    void accept() override;

private:
    void refresh();

    FrameStore& m_store;
    QDoubleSpinBox* m_memory;
    QDoubleSpinBox* m_disk;
    QLabel* m_used;
};

} // namespace retinex::app
