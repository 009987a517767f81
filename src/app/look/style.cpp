#include "app/look/style.h"

#include "app/look/tips.h"

#include <QApplication>
#include <QFontDatabase>
#include <QIcon>
#include <QPainter>
#include <QPalette>
#include <QStyleFactory>

namespace retinex::app::style {

namespace {

QPalette palette()
{
    QPalette p;
    p.setColor(QPalette::Window, panel);
    p.setColor(QPalette::WindowText, text);
    p.setColor(QPalette::Base, well);
    p.setColor(QPalette::AlternateBase, panel);
    p.setColor(QPalette::Text, text);
    p.setColor(QPalette::PlaceholderText, dimText);
    p.setColor(QPalette::Button, raised);
    p.setColor(QPalette::ButtonText, text);
    p.setColor(QPalette::ToolTipBase, well);
    p.setColor(QPalette::ToolTipText, text);
    p.setColor(QPalette::Highlight, QColor(92, 92, 92));
    p.setColor(QPalette::HighlightedText, text);
    p.setColor(QPalette::Link, text);
    p.setColor(QPalette::Light, line);
    p.setColor(QPalette::Midlight, line);
    p.setColor(QPalette::Mid, QColor(34, 34, 34));
    p.setColor(QPalette::Dark, QColor(24, 24, 24));
    p.setColor(QPalette::Shadow, QColor(16, 16, 16));
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, QColor(118, 114, 108));
    return p;
}

const char* const sheet = R"(
QToolTip { background: #1c1c1c; color: #f0e9dc; border: 1px solid #4e4e4e; padding: 3px; }
QMenuBar { background: #282828; } QMenuBar::item { padding: 4px 9px; background: transparent; }
QMenuBar::item:selected { background: #4e4e4e; }
QMenu { background: #282828; border: 1px solid #4e4e4e; } QMenu::item { padding: 4px 26px 4px 22px; }
QMenu::item:selected { background: #4e4e4e; } QMenu::item:disabled { color: #76726c; }
QMenu::separator { height: 1px; background: #4e4e4e; margin: 4px 8px; }
QToolButton, QPushButton { background: #3a3a3a; border: 1px solid #4e4e4e; padding: 3px 9px; border-radius: 0; }
QToolButton:hover, QPushButton:hover { background: #464646; }
QToolButton:checked, QPushButton:checked { background: #f0e9dc; color: #1c1c1c; }
QToolButton:disabled, QPushButton:disabled { color: #76726c; }
QToolButton:focus, QPushButton:focus { border: 1px solid #b0aaa0; }
QLineEdit, QComboBox, QSpinBox { background: #1c1c1c; border: 1px solid #4e4e4e; padding: 2px 5px; border-radius: 0; }
QLineEdit:focus, QComboBox:focus { border: 1px solid #b0aaa0; }
QComboBox::drop-down { border: none; width: 16px; } QComboBox::down-arrow { image: url(:/icons/down.svg); width: 10px; height: 10px; }
QCheckBox::indicator, QMenu::indicator { width: 12px; height: 12px; border: 1px solid #b0aaa0; background: #1c1c1c; }
QCheckBox::indicator:checked, QMenu::indicator:checked { image: url(:/icons/tick.svg); }
QCheckBox::indicator:disabled { border: 1px solid #5e5e5e; } QMenu::indicator { margin-left: 6px; }
QScrollArea { border: none; } QScrollBar:vertical { background: #282828; width: 10px; }
QScrollBar::handle:vertical { background: #4e4e4e; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; }
QProgressBar { background: #1c1c1c; border: 1px solid #4e4e4e; text-align: center; }
QProgressBar::chunk { background: #5a5a5a; }
)";

} // namespace

void apply(QApplication& application)
{
    // The mono file claims the family of the text face too; whichever comes last is taken for it.
    for (const char* file : {"B612Mono-Regular", "B612-Regular", "B612-Bold"})
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/%1.otf").arg(QLatin1String(file)));
    QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
    QApplication::setPalette(palette());
    QApplication::setFont(textFont());
    QApplication::setWindowIcon(QIcon(iconPath("retinex")));
    application.setStyleSheet(QLatin1String(sheet));
    placeTipsBelow(application);
}

QFont textFont(double points)
{
    QFont font(QStringLiteral("B612"));
    font.setPointSizeF(points);
    return font;
}

QFont columnFont(double points)
{
    QFont font(QStringLiteral("B612 Mono"));
    font.setPointSizeF(points);
    return font;
}

void plate(QPainter& painter, const QRectF& rect)
{
    painter.fillRect(rect, QColor(20, 20, 20, 210));
    painter.setPen(line);
    painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5));
}

void hintPlate(QPainter& painter, QSize view, const QString& words)
{
    if (words.isEmpty()) return;
    painter.setFont(textFont(8.5));
    const QRect needed = painter.fontMetrics().boundingRect(QRect(0, 0, view.width() - 44, view.height()),
                                                            Qt::AlignCenter | Qt::TextWordWrap, words);
    const double wide = needed.width() + 24;
    const QRectF box(0.5 * view.width() - 0.5 * wide, 10.5, wide, needed.height() + 8);
    painter.setBrush(Qt::NoBrush);
    plate(painter, box);
    painter.setPen(text);
    painter.drawText(box, Qt::AlignCenter | Qt::TextWordWrap, words);
}

void keysFrame(QPainter& painter, const QRectF& rect)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(dimText, 1));
    painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5));
}

QString iconPath(const char* name)
{
    return QStringLiteral(":/icons/%1.svg").arg(QLatin1String(name));
}

} // namespace retinex::app::style
