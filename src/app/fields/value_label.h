#pragma once

#include <QLabel>

namespace retinex::app {

/// A number or a few words beside a row's name, to be read and copied.
class ValueLabel : public QLabel
{
    Q_OBJECT

public:
    using QLabel::QLabel;
};

[[nodiscard]] QLabel* valueLabel(const char* name);
/// Words that wrap, in the quieter colour.
[[nodiscard]] QLabel* wordsLabel(const char* name);

} // namespace retinex::app
