#pragma once

#include "app/layout/wrapped_label.h"

namespace retinex::app {

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
