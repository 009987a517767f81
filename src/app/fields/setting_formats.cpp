#include "app/fields/setting_formats.h"

#include "app/fields/number_formats.h"

#include <cmath>

namespace retinex::app {

namespace {

NumberFormat bladesFormat()
{
    NumberFormat blades = steppedFormat({}, 0.0, 16.0, 0.0, 1.0);
    blades.toText = [](double value) {
        return value < 3.0 ? QObject::tr("circle") : QString::number(static_cast<int>(value));
    };
    blades.fromText = [](const QString& text) -> std::optional<double> {
        if (text.trimmed() == QObject::tr("circle")) return 0.0;
        bool ok = false;
        const int count = text.trimmed().toInt(&ok);
        return ok && (count == 0 || (count >= 3 && count <= 16)) ? std::optional<double>(count)
                                                                 : std::nullopt;
    };
    // There is no polygon of one or two blades: stepping goes from the circle to three.
    blades.settle = [](double value, double before) {
        const double wanted = std::round(value);
        return wanted >= 3.0 ? wanted : before < 3.0 && wanted > before ? 3.0 : 0.0;
    };
    return blades;
}

} // namespace

NumberFormat lengthFormat(const project::Project& project)
{
    NumberFormat format = distanceFormat(project, 0.0, 0.0);
    const double scale = project.metresPerUnit;
    const auto unit = project.unit;
    format.geometric = false;
    format.step = 0.01 / scale;
    format.fromText = [=](const QString& text) -> std::optional<double> {
        const auto metres = optics::parseDistanceMetres(text.toStdString(), unit);
        return metres && *metres >= 0.0 && std::isfinite(*metres) ? std::optional(*metres / scale)
                                                                  : std::nullopt;
    };
    return format;
}

NumberFormat steppedFormat(const QString& suffix, double minimum, double maximum, double defaultValue,
                           double step, int digits)
{
    NumberFormat format = plainFormat({}, suffix, minimum, maximum, defaultValue, digits);
    format.geometric = false;
    format.step = step;
    return format;
}

NumberFormat percentFormat(double minimum, double maximum, double defaultValue)
{
    NumberFormat format = steppedFormat(QStringLiteral("%"), minimum, maximum, defaultValue, 0.01);
    format.toText = [](double value) { return QStringLiteral("%1 %").arg(100.0 * value, 0, 'f', 0); };
    format.fromText = [](const QString& text) -> std::optional<double> {
        QString plain = text.trimmed();
        if (plain.endsWith(QLatin1Char('%'))) plain.chop(1);
        bool ok = false;
        const double value = plain.trimmed().replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&ok);
        return ok && std::isfinite(value) ? std::optional(value / 100.0) : std::nullopt;
    };
    return format;
}

NumberFormat settingFormat(SettingId id, const project::Project& project)
{
    const QString px = QObject::tr("px");
    switch (id) {
    case SettingId::focusDistance:
    case SettingId::nearest:
    case SettingId::farthest:
        return distanceFormat(project, 1e-6, project.base().focusDistance);
    case SettingId::fStop:
        return plainFormat(QStringLiteral("f/"), {}, 0.1, 128.0, 2.8, 3);
    case SettingId::focalLength:
        return plainFormat({}, QObject::tr("mm"), 1.0, 5000.0, 50.0, 5);
    case SettingId::strength:
        return percentFormat(0.0, 2.0, 1.0);
    case SettingId::heldNear:
    case SettingId::heldFar:
        return lengthFormat(project);
    case SettingId::limitNear:
    case SettingId::limitFar:
        return plainFormat({}, px, 0.0, 2000.0, 500.0, 4);
    case SettingId::simpleRadius:
        return plainFormat({}, px, 0.0, 2000.0, 20.0, 4);
    case SettingId::blades:
        return bladesFormat();
    case SettingId::turn:
        return steppedFormat(QStringLiteral("°"), -360.0, 360.0, 0.0, 1.0, 5);
    case SettingId::squeeze:
        return plainFormat({}, QStringLiteral("×"), 0.5, 2.0, 1.0, 3);
    case SettingId::rim:
        return percentFormat(-1.0, 1.0, 0.0);
    case SettingId::centreStop:
        return percentFormat(0.0, 0.95, 0.0);
    case SettingId::rounding:
    case SettingId::catsEye:
        return percentFormat(0.0, 1.0, 0.0);
    case SettingId::glintLevel:
        return plainFormat({}, {}, 0.001, 1e5, 0.8, 4);
    case SettingId::glintLift:
        return steppedFormat(QObject::tr("stops"), 0.0, 12.0, 0.0, 0.1);
    default: // stored numbers
        return steppedFormat({}, -1e12, 1e12, 0.0, 0.01, 6);
    }
}

bool isLength(SettingId id) noexcept
{
    return id == SettingId::heldNear || id == SettingId::heldFar;
}

} // namespace retinex::app
