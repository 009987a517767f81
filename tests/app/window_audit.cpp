#include "app/window_audit.h"

#include "app/drawn_texts.h"
#include "app/fields/chooser.h"
#include "app/picture/picture_view.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractScrollArea>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QApplication>
#include <QComboBox>
#include <QHash>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QScrollArea>
#include <QScrollBar>
#include <QSizeGrip>
#include <QSplitter>
#include <QStackedWidget>
#include <QTabBar>
#include <QTest>
#include <cmath>

namespace retinex::test {

namespace {

constexpr double kLeastContrast = 4.5;
constexpr int kLeastLetters = 6; ///< of a text that is shortened
constexpr double kSlack = 1.5;   ///< px that ink may stand over: rounding, and letters that lean out

/// Where it is, from the next named ones above it.
QString placeOf(const QWidget& widget)
{
    QStringList names;
    for (const QWidget* at = &widget; at && names.size() < 3; at = at->parentWidget())
        if (!at->objectName().isEmpty() && !at->objectName().startsWith(QStringLiteral("qt_")))
            names.prepend(at->objectName());
    const QString kind = QLatin1String(widget.metaObject()->className());
    return kind.section(QStringLiteral("::"), -1) + QLatin1Char(' ') + names.join(QLatin1Char('/'));
}

QList<QWidget*> shownBelow(QWidget& root)
{
    QList<QWidget*> all{&root};
    for (QWidget* child : root.findChildren<QWidget*>())
        if (child->isVisibleTo(&root) && child->window() == root.window()) all << child;
    return all;
}

/// The toolkit lays these out itself.
bool laysItselfOut(const QWidget* widget)
{
    return qobject_cast<const QAbstractScrollArea*>(widget) || qobject_cast<const QComboBox*>(widget) ||
           qobject_cast<const QAbstractSpinBox*>(widget) || qobject_cast<const QLineEdit*>(widget) ||
           qobject_cast<const QTabBar*>(widget) || qobject_cast<const QHeaderView*>(widget) ||
           qobject_cast<const QScrollBar*>(widget) || widget->inherits("QKeySequenceEdit");
}

/// The part of a list or a table that scrolls with it is no flaw where it is cut.
bool scrollsInside(const QWidget* widget)
{
    for (const QWidget* at = widget; at; at = at->parentWidget())
        if (qobject_cast<const QAbstractItemView*>(at) || at->inherits("QTextEdit") ||
            at->inherits("QPlainTextEdit"))
            return true;
    return false;
}

QString ownText(const QWidget& widget)
{
    if (auto* label = qobject_cast<const QLabel*>(&widget)) return label->text();
    if (auto* button = qobject_cast<const QAbstractButton*>(&widget)) return button->text();
    if (auto* box = qobject_cast<const QComboBox*>(&widget)) return box->currentText();
    if (auto* edit = qobject_cast<const QLineEdit*>(&widget)) return edit->text();
    return {};
}

double luminance(QColor colour)
{
    const auto linear = [](double v) {
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) +
           0.0722 * linear(colour.blueF());
}

double contrast(QColor a, QColor b)
{
    const double l = luminance(a);
    const double k = luminance(b);
    return (std::max(l, k) + 0.05) / (std::min(l, k) + 0.05);
}

/// What stands most often in a part of a picture beside the words: what they are written on.
QColor groundOf(const QImage& picture, QRect part, QColor words)
{
    const auto isWords = [&](QColor at) {
        return std::abs(at.red() - words.red()) + std::abs(at.green() - words.green()) +
                   std::abs(at.blue() - words.blue()) <
               90;
    };
    part &= picture.rect();
    QHash<QRgb, int> counts;
    for (int y = part.top(); y <= part.bottom(); ++y)
        for (int x = part.left(); x <= part.right(); ++x)
            if (!isWords(QColor::fromRgb(picture.pixel(x, y)))) ++counts[picture.pixel(x, y) | 0xff000000U];
    QRgb most = words.rgb();
    int best = 0;
    for (auto i = counts.cbegin(); i != counts.cend(); ++i)
        if (i.value() > best) {
            best = i.value();
            most = i.key();
        }
    return QColor::fromRgb(most);
}

/// How two widgets of one parent may lie on each other.
bool mayLieOn(const QWidget& a, const QWidget& b)
{
    const auto isThin = [](const QWidget& w) {
        return w.inherits("QSplitterHandle") || w.inherits("QSizeGrip") || w.inherits("QRubberBand");
    };
    return isThin(a) || isThin(b);
}

void placesOf(QWidget& widget, QStringList& flaws)
{
    if (laysItselfOut(&widget)) return;
    const bool scrolls = widget.parentWidget() && laysItselfOut(widget.parentWidget()); // a viewport
    QList<QWidget*> children;
    for (QWidget* child : widget.findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
        if (child->isVisibleTo(&widget) && !child->isWindow()) children << child;
    for (int i = 0; i < children.size(); ++i) {
        QWidget& child = *children[i];
        if (mayLieOn(child, child)) continue;
        const QRect room = scrolls ? widget.rect().adjusted(0, -100'000, 0, 100'000) : widget.rect();
        if (!room.contains(child.geometry()))
            flaws << QStringLiteral("%1 sticks out of its parent: %2,%3 %4x%5 in %6x%7")
                         .arg(placeOf(child))
                         .arg(child.x())
                         .arg(child.y())
                         .arg(child.width())
                         .arg(child.height())
                         .arg(widget.width())
                         .arg(widget.height());
        int least = child.minimumSizeHint().height();
        if (child.hasHeightForWidth()) least = std::min(least, child.heightForWidth(child.width()));
        least = std::min(least, child.maximumHeight());
        if (child.height() < least - 1)
            flaws << QStringLiteral("%1 is %2 px high and needs %3")
                         .arg(placeOf(child))
                         .arg(child.height())
                         .arg(least);
        for (int k = i + 1; k < children.size(); ++k) {
            const QRect both = child.geometry() & children[k]->geometry();
            if (both.width() > 0 && both.height() > 0 && !mayLieOn(child, *children[k]))
                flaws << QStringLiteral("%1 lies on %2 by %3x%4 px")
                             .arg(placeOf(child), placeOf(*children[k]))
                             .arg(both.width())
                             .arg(both.height());
        }
    }
}

/// A text that ends in dots of its own is whole.
bool isShortened(const QString& drawn, const QString& own)
{
    QString plain = own;
    return drawn.contains(QChar(0x2026)) && !plain.remove(QLatin1Char('&')).contains(drawn.trimmed());
}

void wordsOf(QWidget& widget, const QImage& picture, QWidget& root, QStringList& flaws)
{
    const std::vector<DrawnText> texts = drawnTexts(widget);
    const QPoint origin = widget.mapTo(&root, QPoint(0, 0));
    const double ratio = picture.devicePixelRatio();
    const bool tells = !widget.toolTip().isEmpty() || qobject_cast<app::Chooser*>(&widget);
    const bool scrolls = scrollsInside(&widget);
    for (std::size_t i = 0; i < texts.size(); ++i) {
        const DrawnText& t = texts[i];
        const auto where = [&] { return QStringLiteral("%1 \"%2\"").arg(placeOf(widget), t.text.left(60)); };
        if (!qobject_cast<app::PictureView*>(&widget) && isShortened(t.text, ownText(widget))) {
            if (!tells && !scrolls) flaws << where() + QStringLiteral(" is shortened without a tip");
            if (t.text.trimmed().size() < kLeastLetters)
                flaws << where() + QStringLiteral(" is shortened to nothing");
        }
        const QRectF seen = t.seen.adjusted(-kSlack, -kSlack, kSlack, kSlack);
        if (!scrolls && !seen.contains(t.box))
            flaws << where() + QStringLiteral(" is cut: %1..%2, %3..%4 in %5..%6, %7..%8")
                                   .arg(t.box.left(), 0, 'f', 0)
                                   .arg(t.box.right(), 0, 'f', 0)
                                   .arg(t.box.top(), 0, 'f', 0)
                                   .arg(t.box.bottom(), 0, 'f', 0)
                                   .arg(t.seen.left(), 0, 'f', 0)
                                   .arg(t.seen.right(), 0, 'f', 0)
                                   .arg(t.seen.top(), 0, 'f', 0)
                                   .arg(t.seen.bottom(), 0, 'f', 0);
        for (std::size_t k = i + 1; k < texts.size(); ++k) {
            const QRectF both = t.box & texts[k].box;
            if (both.width() > kSlack && both.height() > kSlack && texts[k].text != t.text)
                flaws << where() + QStringLiteral(" is written over \"%1\"").arg(texts[k].text.left(60));
        }
        if (!widget.isEnabled()) continue;
        // Only what is in sight now has a ground.
        const QRect box = t.box.toAlignedRect();
        if (!widget.visibleRegion().contains(box)) continue;
        const QRect part(((QPointF(box.topLeft()) + origin) * ratio).toPoint(), QSize(box.size() * ratio));
        const QColor ground = groundOf(picture, part.adjusted(-2, -2, 2, 2), t.colour);
        const double apart = contrast(t.colour, ground);
        if (apart < kLeastContrast)
            flaws << where() + QStringLiteral(" has a contrast of %1: %2 on %3")
                                   .arg(apart, 0, 'f', 1)
                                   .arg(t.colour.name(), ground.name());
    }
}

bool isControl(const QWidget& widget)
{
    return (widget.focusPolicy() & Qt::TabFocus) != 0 && !qobject_cast<const QScrollArea*>(&widget) &&
           !(widget.parentWidget() && laysItselfOut(widget.parentWidget()));
}

/// The panel whose controls need names that differ.
const QWidget* panelOf(const QWidget& widget)
{
    for (const QWidget* at = widget.parentWidget(); at; at = at->parentWidget())
        if (at->inherits("retinex::app::Section") || at->isWindow() || qobject_cast<const QMenuBar*>(at))
            return at;
    return nullptr;
}

void namesOf(const QList<QWidget*>& shown, QStringList& flaws)
{
    QHash<std::pair<const QWidget*, QString>, const QWidget*> seen;
    for (QWidget* widget : shown) {
        if (!isControl(*widget) || widget->isWindow()) continue;
        const auto* face = QAccessible::queryAccessibleInterface(widget);
        const QString name = face ? face->text(QAccessible::Name) : QString();
        if (name.isEmpty()) {
            flaws << placeOf(*widget) + QStringLiteral(" has no name for assistive tools");
            continue;
        }
        auto& other = seen[{panelOf(*widget), name}];
        if (other)
            flaws << QStringLiteral("%1 is called \"%2\" as %3 is")
                         .arg(placeOf(*widget), name, placeOf(*other));
        else
            other = widget;
    }
}

} // namespace

QStringList flawsOf(QWidget& root)
{
    QApplication::processEvents();
    const QImage picture = root.grab().toImage();
    const QList<QWidget*> shown = shownBelow(root);
    QStringList flaws;
    for (QWidget* widget : shown) {
        if (qobject_cast<QMenu*>(widget)) continue;
        placesOf(*widget, flaws);
        wordsOf(*widget, picture, root, flaws);
    }
    namesOf(shown, flaws);
    return flaws;
}

QStringList outOfTabsReach(QWidget& root)
{
    QSet<const QWidget*> missing;
    for (QWidget* widget : shownBelow(root))
        if (isControl(*widget) && widget->isEnabled() && !widget->isWindow()) missing.insert(widget);
    const auto count = missing.size();
    QWidget* start = root.focusWidget();
    for (qsizetype i = 0; i < 2 * count + 10 && !missing.isEmpty(); ++i) {
        QWidget* at = root.focusWidget();
        for (QWidget* up = at; up; up = up->parentWidget())
            missing.remove(up);
        QTest::keyClick(at ? at : &root, Qt::Key_Tab);
    }
    if (start) start->setFocus();
    QStringList flaws;
    for (const QWidget* widget : missing)
        flaws << placeOf(*widget) + QStringLiteral(" is not reached by Tab");
    flaws.sort();
    return flaws;
}

bool isInSight(QWidget& widget)
{
    if (!widget.isVisible()) return false;
    for (QWidget* at = widget.parentWidget(); at; at = at->parentWidget())
        if (auto* area = qobject_cast<QScrollArea*>(at)) area->ensureWidgetVisible(&widget);
    QApplication::processEvents();
    const int needed = std::min(widget.minimumSizeHint().height(), widget.maximumHeight());
    if (widget.height() < needed - 1 || widget.width() < 8) return false;
    if (widget.visibleRegion().boundingRect().size() != widget.size()) return false;
    QWidget* top = widget.window()->childAt(widget.mapTo(widget.window(), widget.rect().center()));
    return top && (top == &widget || widget.isAncestorOf(top));
}

} // namespace retinex::test
