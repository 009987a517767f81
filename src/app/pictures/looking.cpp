#include "app/pictures/looking.h"

#include <QCoreApplication>
#include <QStringList>
#include <cmath>

namespace retinex::app {

QString Looking::words() const
{
    const auto tr = [](const char* text) { return QCoreApplication::translate("Looking", text); };
    QStringList all;
    if (stops != 0.0)
        all << (stops > 0.0 ? QStringLiteral("+") : QStringLiteral("−")) +
                   QString::number(std::abs(stops), 'g', 3) + QLatin1Char(' ') + tr("stops");
    const char* const names[] = {"", "red", "green", "blue", "alpha"};
    if (channel != Channel::all) all << tr(names[static_cast<int>(channel)]);
    if (isUnfinished) all << tr("without finish");
    return all.join(QStringLiteral(", "));
}

RgbaImage seenWith(const RgbaImage& values, const Looking& looking)
{
    RgbaImage seen = values;
    if (looking.channel != Looking::Channel::all)
        for (int c = 0; c < 3; ++c)
            seen.plane(c) = values.plane(static_cast<int>(looking.channel) - 1);
    const auto gain = static_cast<float>(std::exp2(looking.stops));
    if (gain != 1.0F)
        for (int c = 0; c < 3; ++c)
            for (float& value : seen.plane(c).pixels())
                value *= gain;
    return seen;
}

} // namespace retinex::app
