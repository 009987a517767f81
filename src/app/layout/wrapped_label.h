#pragma once

#include <QLabel>

namespace retinex::app {

/// Words that wrap to the width they get and are as high as that asks for, whatever the layout thinks.
class WrappedLabel : public QLabel
{
    Q_OBJECT

public:
    explicit WrappedLabel(const QString& text = {}, QWidget* parent = nullptr);

    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void resizeEvent(QResizeEvent* event) override;
};

} // namespace retinex::app
