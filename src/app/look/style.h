#pragma once

#include <QColor>
#include <QFont>
#include <QString>

class QApplication;
class QPainter;
class QRectF;

/// The look: exact neutral greys, warm off-white text, one signal colour for the focal plane and nothing
/// else, ochre for the near side and slate violet for the far side.
namespace retinex::app::style {

inline const QColor surround{56, 56, 56}; ///< around the picture
inline const QColor panel{40, 40, 40};
inline const QColor well{28, 28, 28};   ///< fields and plots
inline const QColor raised{58, 58, 58}; ///< buttons
inline const QColor line{78, 78, 78};   ///< thin separating lines
inline const QColor text{240, 233, 220};
inline const QColor dimText{176, 170, 160};
inline const QColor focal{110, 231, 183}; ///< the focal plane
inline const QColor nearSide{214, 158, 72};
inline const QColor farSide{154, 146, 214};
inline const QColor trouble{236, 120, 96};

/// Loads the fonts and icons of the program and dresses the application. Call once.
void apply(QApplication& application);

/// Its figures are all of one width.
[[nodiscard]] QFont textFont(double points = 9.5);
[[nodiscard]] inline QFont numberFont(double points = 9.5)
{
    return textFont(points);
}
/// Every character of one width, for figures that stand in columns.
[[nodiscard]] QFont columnFont(double points = 9.5);
[[nodiscard]] QString iconPath(const char* name);
/// A dark plate behind words that lie on the picture.
void plate(QPainter& painter, const QRectF& rect);
/// What the mouse does now, at the upper edge of a view; nothing where there are no words.
void hintPlate(QPainter& painter, QSize view, const QString& words);
/// Around what has the keys.
void keysFrame(QPainter& painter, const QRectF& rect);

} // namespace retinex::app::style
