#include "app/fields/number_formats.h"

#include "core/optics/units.h"

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
        // The unit may be left out, or be its first word alone: "px" of "px radius".
        int end = static_cast<int>(plain.size());
        while (end > 0 && !plain[end - 1].isDigit() && plain[end - 1] != QLatin1Char('.'))
            --end;
        const QString unit = plain.mid(end).trimmed();
        if (!unit.isEmpty() && (unit == suffix || unit == suffix.section(QLatin1Char(' '), 0, 0)))
            plain.truncate(end);
        bool ok = false;
        const double value = plain.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&ok);
        return ok && std::isfinite(value) ? std::optional(value) : std::nullopt;
    };
    return format;
}

NumberFormat scaleFormat()
{
    NumberFormat format = plainFormat(QObject::tr("1 unit = "), QObject::tr("m"), 1e-9, 1e6, 1.0, 5);
    format.fromText = [plain = format.fromText](const QString& text) -> std::optional<double> {
        if (const auto metres = plain(text)) return metres;
        const QString length =
            text.section(QLatin1Char('='), -1).trimmed(); // what stands before may be left out
        const auto metres = optics::parseDistanceMetres(length.toStdString(), optics::Unit::metre);
        return metres && std::isfinite(*metres) && *metres > 0.0 ? metres : std::nullopt;
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

} // namespace retinex::app
