#include "app/fields/number_formats.h"

#include "app/look/style.h"
#include "core/optics/units.h"

#include <QEvent>
#include <cmath>

namespace retinex::app {

NumberFormat plainFormat(const QString& prefix, const QString& suffix, double minimum, double maximum,
                         double defaultValue, int digits)
{
    NumberFormat format;
    format.minimum = minimum;
    format.maximum = maximum;
    format.defaultValue = defaultValue;
    format.toText = [=](double value) {
        return prefix + QString::number(value, 'g', digits) +
               (suffix.isEmpty() ? QString() : QStringLiteral(" ") + suffix);
    };
    format.fromText = [=](const QString& text) -> std::optional<double> {
        QString plain = text.trimmed();
        if (!prefix.isEmpty() && plain.startsWith(prefix, Qt::CaseInsensitive))
            plain = plain.mid(prefix.size());
        if (!suffix.isEmpty() && plain.endsWith(suffix)) plain.chop(suffix.size());
        bool ok = false;
        const double value = plain.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&ok);
        return ok && std::isfinite(value) ? std::optional(value) : std::nullopt;
    };
    return format;
}

NumberFormat distanceFormat(const project::Project& project, double minimum, double defaultValue)
{
    NumberFormat format;
    const auto unit = project.unit;
    const double scale = project.metresPerUnit;
    format.minimum = minimum;
    format.maximum = 1e7;
    format.defaultValue = defaultValue;
    format.step = 0.01;
    format.toText = [=](double value) {
        return QString::fromStdString(optics::formatDistance(value * scale, unit));
    };
    format.fromText = [=](const QString& text) -> std::optional<double> {
        const auto metres = optics::parseDistanceMetres(text.toStdString(), unit);
        return metres && *metres > 0.0 ? std::optional(*metres / scale) : std::nullopt;
    };
    return format;
}

QString shownDistance(const project::Project& project, double units)
{
    return QString::fromStdString(optics::formatDistance(project.metres(units), project.unit));
}

QLabel* valueLabel(const char* name)
{
    auto* label = new QLabel;
    label->setObjectName(QLatin1String(name));
    label->setFont(style::numberFont(9));
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    label->setContentsMargins(0, 1, 2, 1);
    label->setMinimumWidth(20);
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    return label;
}

namespace {

/// Words that wrap to the width they get and are as high as that asks for, whatever the layout thinks.
class WrappedLabel : public QLabel
{
public:
    WrappedLabel()
    {
        setWordWrap(true);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Minimum);
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        QLabel::resizeEvent(event);
        fit();
    }
    bool event(QEvent* event) override
    {
        const bool taken = QLabel::event(event);
        if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Show) fit();
        return taken;
    }

private:
    void fit() { setMinimumHeight(text().isEmpty() ? 0 : heightForWidth(width())); }
};

} // namespace

QLabel* wordsLabel(const char* name)
{
    auto* label = new WrappedLabel;
    label->setObjectName(QLatin1String(name));
    label->setFont(style::textFont(8.5));
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    return label;
}

} // namespace retinex::app
