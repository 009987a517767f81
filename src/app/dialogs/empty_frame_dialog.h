#pragma once

#include "core/passes/pass_source.h"

#include <QDialog>
#include <QStringList>

class QSpinBox;

namespace retinex::app {

/// Size and frames of a project without passes; to begin with those of the first picture.
class EmptyFrameDialog : public QDialog
{
    Q_OBJECT

public:
    explicit EmptyFrameDialog(const QStringList& pictures, QWidget* parent = nullptr);
    [[nodiscard]] passes::PassOptions emptyFrame() const;

private:
    void proposeFor(const QStringList& pictures);

    QSpinBox* m_width;
    QSpinBox* m_height;
    QSpinBox* m_first;
    QSpinBox* m_last;
};

} // namespace retinex::app
