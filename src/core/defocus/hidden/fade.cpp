#include "core/defocus/hidden/fade.h"

#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace retinex::defocus {

namespace {

constexpr float kNear = 4.0F;       ///< px from what is seen, within which a guess is left as it is
constexpr float kWidening = 0.5F;   ///< px of width for each px farther
constexpr float kWidest = 16.0F;    ///< px
constexpr int kFades = 2;           ///< one after the other, so that the few places leave no pattern
constexpr std::size_t kPlaces = 24; ///< that the mean around a pixel is taken of

/// Evenly spread over a disc of radius 1: Vogel, "A better way to construct the sunflower head", Mathematical
/// Biosciences 44, 1979.
std::array<std::array<float, 2>, kPlaces> discPlaces()
{
    std::array<std::array<float, 2>, kPlaces> places{};
    const double golden = std::numbers::pi * (3.0 - std::sqrt(5.0));
    for (std::size_t i = 0; i < kPlaces; ++i) {
        const double radius = std::sqrt((static_cast<double>(i) + 0.5) / kPlaces);
        const double angle = golden * static_cast<double>(i);
        places[i] = {static_cast<float>(radius * std::cos(angle)),
                     static_cast<float>(radius * std::sin(angle))};
    }
    return places;
}

/// The mean of what lies behind the thing at a pixel, within `width` px of it.
Colour meanAround(const Surfaces& surfaces, const Rings& rings, const PixelPlace& at, float width)
{
    static const auto kDisc = discPlaces();
    const SurfaceLayer& visible = surfaces.visible;
    const float before = visible.radiusPx.at(at.x, at.y);
    Colour mean = colourAt(surfaces.hidden.colour, at.x, at.y);
    float count = 1.0F;
    for (const auto& place : kDisc) {
        const int x = at.x + static_cast<int>(std::lround(width * place[0]));
        const int y = at.y + static_cast<int>(std::lround(width * place[1]));
        if (!rings.contains(x, y)) continue;
        const bool isHidden = rings.has(x, y);
        if (!isHidden && (visible.coverage.at(x, y) < 1.0F || !liesBehind(visible.radiusPx.at(x, y), before)))
            continue;
        const Colour its = colourAt(isHidden ? surfaces.hidden.colour : visible.colour, x, y);
        for (std::size_t c = 0; c < mean.size(); ++c)
            mean[c] += its[c];
        count += 1.0F;
    }
    for (float& v : mean)
        v /= count;
    return mean;
}

} // namespace

void fadeGuesses(Surfaces& surfaces, const Rings& rings, const Plane<float>& sure, const Run& run)
{
    struct Faded
    {
        PixelPlace place;
        Colour colour;
    };
    std::vector<std::vector<Faded>> rows(static_cast<std::size_t>(rings.height()));
    for (int fade = 0; fade < kFades; ++fade) {
        parallelFor(rings.height(), run, [&](int y) {
            auto& row = rows[static_cast<std::size_t>(y)];
            row.clear();
            for (int x = 0; x < rings.width(); ++x) {
                const float away = static_cast<float>(rings.ring(x, y)) - kNear;
                if (away <= 0.0F) continue;
                const float doubt = std::min(1.0F, away) * (1.0F - sure.at(x, y));
                if (doubt == 0.0F) continue;
                const float width = std::min(kWidest, kWidening * away);
                const PixelPlace at{x, y};
                const Colour own = colourAt(surfaces.hidden.colour, x, y);
                row.push_back({at, between(own, meanAround(surfaces, rings, at, width), doubt)});
            }
        });
        parallelFor(rings.height(), run, [&](int y) {
            for (const Faded& faded : rows[static_cast<std::size_t>(y)])
                setColour(surfaces.hidden.colour, faded.place.x, faded.place.y, faded.colour);
        });
    }
}

} // namespace retinex::defocus
