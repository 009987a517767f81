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

/// A number or a few words beside a row's name, to be read and copied.
class ValueLabel : public WrappedLabel
{
    Q_OBJECT

public:
    using WrappedLabel::WrappedLabel;
};

[[nodiscard]] QLabel* valueLabel(const char* name);
/// Words that wrap, in the quieter colour.
[[nodiscard]] QLabel* wordsLabel(const char* name);

} // namespace retinex::app
