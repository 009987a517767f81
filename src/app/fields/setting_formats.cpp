#include "app/fields/setting_formats.h"

#include "app/fields/number_formats.h"

#include <cmath>

namespace retinex::app {

namespace {

NumberFormat bladesFormat(const project::Range& range)
{
    NumberFormat blades = steppedFormat({}, range.minimum, range.maximum, 0.0, 1.0);
    blades.toText = [](double value) {
        return value < 3.0 ? QObject::tr("circle") : QString::number(static_cast<int>(value));
    };
    blades.fromText = [range](const QString& text) -> std::optional<double> {
        if (text.trimmed() == QObject::tr("circle")) return 0.0;
        bool ok = false;
        const int count = text.trimmed().toInt(&ok);
        return ok && (count == 0 || (count >= 3 && count <= range.maximum)) ? std::optional<double>(count)
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

NumberFormat settingFormat(const project::SettingInfo& info, double usual, const project::Project& project)
{
    using project::Kind;
    const auto [low, high] = info.range;
    switch (info.kind) {
    case Kind::distance: {
        NumberFormat format = distanceFormat(project, std::max(low, 1e-6), usual);
        if (low <= 0.0) format.minimum = 0.0;
        return format;
    }
    case Kind::length:
        return lengthFormat(project);
    case Kind::fStop:
        return plainFormat(QStringLiteral("f/"), {}, low, high, usual, 3);
    case Kind::millimetres:
        return plainFormat({}, QObject::tr("mm"), low, high, usual, 5);
    case Kind::metres:
        return plainFormat({}, QObject::tr("m"), low, high, usual, 5);
    case Kind::pixels:
        return plainFormat({},
                           info.path == project::setting::limitNear || info.path == project::setting::limitFar
                               ? QObject::tr("px radius")
                               : QObject::tr("px"),
                           low, high, usual, 4);
    case Kind::share:
        return percentFormat(low, high, usual);
    case Kind::fineShare: {
        NumberFormat format = percentFormat(low, high, usual);
        format.toText = [](double value) { return QStringLiteral("%1 %").arg(100.0 * value, 0, 'f', 1); };
        format.step = 0.001;
        return format;
    }
    case Kind::kelvin:
        return steppedFormat(QStringLiteral("K"), low, high, usual, 25.0, 5);
    case Kind::degrees:
        return steppedFormat(QStringLiteral("°"), low, high, usual, 1.0, 5);
    case Kind::stops:
        return steppedFormat(QObject::tr("stops"), low, high, usual, 0.1);
    case Kind::factor:
        return plainFormat({}, QStringLiteral("×"), low, high, usual, 3);
    case Kind::blades:
        return bladesFormat(info.range);
    case Kind::levels:
    case Kind::frame:
        return steppedFormat({}, low, high, usual, 1.0, 6);
    default: // what cannot be 0 is stepped by shares of itself
        return low > 0.0 ? plainFormat({}, {}, low, high, usual, 4)
                         : steppedFormat({}, low, high, usual, 0.01, 6);
    }
}

NumberFormat settingFormat(const SettingPath& path, const project::Project& project)
{
    const auto field = project::infoOf(path);
    return settingFormat(*field, field->defaultValue(), project);
}

NumberFormat takingShares(NumberFormat format, double whole)
{
    format.fromText = [plain = format.fromText, whole](const QString& text) -> std::optional<double> {
        if (!text.trimmed().endsWith(QLatin1Char('%'))) return plain(text);
        const auto share = percentFormat(-1e6, 1e6, 0.0).fromText(text);
        return share ? std::optional(*share * whole) : std::nullopt;
    };
    return format;
}

NumberFormat takingPerMille(NumberFormat format, double whole)
{
    format.fromText = [plain = format.fromText, whole](const QString& text) -> std::optional<double> {
        QString number = text.trimmed();
        if (!number.endsWith(QChar(0x2030))) return plain(text);
        number.chop(1);
        const auto share = percentFormat(-1e6, 1e6, 0.0).fromText(number);
        return share ? std::optional(0.1 * *share * whole) : std::nullopt;
    };
    return format;
}

} // namespace retinex::app
