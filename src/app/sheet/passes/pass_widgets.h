#pragma once

#include <QComboBox>
#include <functional>

namespace retinex::app {

/// A heading inside a chooser, which cannot be chosen.
void addHeading(QComboBox& box, const QString& text);
/// Shows what has this data, where it is there.
void select(QComboBox& box, const QString& data);
/// A field with a button beside it; `work` is done at a click. One sign makes the button narrow.
[[nodiscard]] QWidget* withButton(QWidget* field, const QString& text, const char* name, const QString& help,
                                  const std::function<void()>& work);
/// Asks for a picture; `folder` is where the dialog opens. Empty where nothing is chosen.
[[nodiscard]] QString askForPicture(QWidget* window, const QString& title, const QString& folder);

} // namespace retinex::app
