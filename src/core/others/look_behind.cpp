#include "core/others/look_behind.h"

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/others/one_surface.h"
#include "core/others/seen_samples.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace retinex::others {

Plane<std::uint8_t> wholePixels(const Plane<float>& distance, const Run& run)
{
    const int width = distance.width();
    const int height = distance.height();
    // isOneSurface() in 1/distance, where infinity is a number like others: loops without a branch.
    Plane<float> inverse(width, height);
    parallelFor(height, run, [&](int y) {
        const float* from = distance.row(y);
        float* to = inverse.row(y);
        for (int x = 0; x < width; ++x)
            to[x] = 1.0F / from[x];
    });
    Plane<std::uint8_t> result(width, height);
    parallelFor(height, run, [&](int y) {
        const float* row = inverse.row(y);
        std::uint8_t* whole = result.row(y);
        std::fill_n(whole, width, std::uint8_t{1});
        for (int ny = std::max(0, y - 1); ny <= std::min(height - 1, y + 1); ++ny)
            for (int dx = -1; dx <= 1; ++dx) {
                if (ny == y && dx == 0) continue;
                const float* other = inverse.row(ny);
                const int end = std::min(width, width - dx);
                for (int x = std::max(0, -dx); x < end; ++x)
                    whole[x] &= static_cast<std::uint8_t>(std::abs(row[x] - other[x + dx]) <=
                                                          kOneSurface * std::min(row[x], other[x + dx]));
            }
    });
    return result;
}

namespace {

using defocus::Colour;
using defocus::colourAt;
using defocus::isEdge;
using defocus::liesBehind;

constexpr double kFarAway = 1e7;      ///< scene units: where nothing is, as good as infinitely far
constexpr double kBlurredAlike = 2.0; ///< px between the radii of surfaces that may mix
constexpr int kGrid = 2;              ///< px between the pixels that are asked whether they agree

/// Nearest and farthest of a pixel and those around it.
std::pair<float, float> extentAround(const Plane<float>& distance, int x, int y)
{
    std::pair<float, float> extent{distance.at(x, y), distance.at(x, y)};
    defocus::around(distance, x, y, 1, [&](int nx, int ny) {
        extent.first = std::min(extent.first, distance.at(nx, ny));
        extent.second = std::max(extent.second, distance.at(nx, ny));
    });
    return extent;
}

/// Whether a neighbour's pixel is what the frame shows where it lands. Where all is of one colour, that says
/// little.
enum class Verdict : std::uint8_t { none, alike, fits, strays };

/// Where something hidden shows at all: within the largest blur of a place where surfaces meet. In blocks.
class Needed
{
public:
    Needed(const Plane<float>& radius, const Run& run)
        : m_blocks((radius.width() + kBlock - 1) / kBlock, (radius.height() + kBlock - 1) / kBlock)
    {
        std::vector<float> largest(static_cast<std::size_t>(m_blocks.height()), 0.0F);
        parallelFor(m_blocks.height(), run, [&](int by) {
            for (int y = by * kBlock; y < std::min(radius.height(), (by + 1) * kBlock); ++y) {
                const float* row = radius.row(y);
                const float* below = radius.row(std::min(y + 1, radius.height() - 1));
                float most = 0.0F;
                for (int x = 0; x < radius.width(); ++x) {
                    most = std::max(most, std::abs(row[x]));
                    if (isEdge(row[x], row[std::min(x + 1, radius.width() - 1)]) || isEdge(row[x], below[x]))
                        m_blocks.at(x / kBlock, by) = 1;
                }
                largest[static_cast<std::size_t>(by)] = std::max(largest[static_cast<std::size_t>(by)], most);
            }
        });
        const auto reach = static_cast<int>(2.0F * *std::ranges::max_element(largest)) / kBlock + 2;
        spread(reach, 1, 0);
        spread(reach, 0, 1);
    }
    [[nodiscard]] bool at(int x, int y) const { return m_blocks.at(x / kBlock, y / kBlock) != 0; }

private:
    static constexpr int kBlock = 8; ///< px

    void spread(int reach, int dx, int dy)
    {
        const Plane<std::uint8_t> before = m_blocks;
        for (int y = 0; y < before.height(); ++y)
            for (int x = 0; x < before.width(); ++x) {
                if (before.at(x, y) == 0) continue;
                for (int i = -reach; i <= reach; ++i)
                    if (m_blocks.contains(x + i * dx, y + i * dy)) m_blocks.at(x + i * dx, y + i * dy) = 1;
            }
    }

    Plane<std::uint8_t> m_blocks;
};

/// How a neighbour fits the frame.
struct Fit
{
    FrameCamera::To camera;   ///< from its pixels to the frame's
    Plane<std::uint8_t> made; ///< of the pixels that are whole, where the view has none
    const Plane<std::uint8_t>& isWhole;
    Plane<std::uint8_t> verdicts;                ///< of pixels at distances of kGrid
    std::array<float, 3> gain{1.0F, 1.0F, 1.0F}; ///< from its light to the frame's

    Fit(const View& view, const View& frame, const Run& run)
        : camera(view.camera, frame.camera),
          made(view.whole ? Plane<std::uint8_t>() : wholePixels(*view.distance, run)),
          isWhole(view.whole ? *view.whole : made), verdicts((view.distance->width() + kGrid - 1) / kGrid,
                                                             (view.distance->height() + kGrid - 1) / kGrid)
    {
    }

    ~Fit() = default;
    Fit(const Fit&) = delete;
    Fit& operator=(const Fit&) = delete;

    [[nodiscard]] Verdict at(int x, int y) const { return static_cast<Verdict>(verdicts.at(x, y)); }
    /// The median of parts of the picture: a wrong camera is wrong everywhere, a thing that moves in its own
    /// place.
    [[nodiscard]] Agreement agreement() const
    {
        constexpr int part = 16;
        constexpr int fewest = 8;
        Agreement all;
        std::vector<double> shares;
        for (int top = 0; top < verdicts.height(); top += part)
            for (int left = 0; left < verdicts.width(); left += part) {
                int fits = 0;
                int strays = 0;
                for (int y = top; y < std::min(top + part, verdicts.height()); ++y)
                    for (int x = left; x < std::min(left + part, verdicts.width()); ++x) {
                        fits += static_cast<int>(at(x, y) == Verdict::fits);
                        strays += static_cast<int>(at(x, y) == Verdict::strays);
                    }
                all.placed += fits + strays;
                if (fits + strays >= fewest) shares.push_back(static_cast<double>(fits) / (fits + strays));
            }
        if (shares.empty()) return all;
        const auto middle = shares.begin() + static_cast<std::ptrdiff_t>(shares.size() / 2);
        std::ranges::nth_element(shares, middle);
        all.agrees = *middle;
        return all;
    }
};

class Looking
{
public:
    Looking(const View& frame, const defocus::BlurModel& model, const Run& run)
        : m_frame(frame), m_model(model), m_run(run), m_width(frame.distance->width()),
          m_height(frame.distance->height()), m_radius(radiusOfEach(*frame.distance, model, run)),
          m_isWhole(wholePixels(*frame.distance, run)), m_needed(m_radius, run), m_samples(m_width, m_height)
    {
    }

    /// Adds what a neighbour shows, unless too little of it agrees.
    Agreement add(const View& view)
    {
        Fit fit(view, m_frame, m_run);
        measure(view, fit);
        const Agreement agreement = fit.agreement();
        if (!agreement.isGood()) return agreement;
        std::vector<std::vector<PlacedSample>> rows(static_cast<std::size_t>(view.distance->height()));
        parallelFor(view.distance->height(), m_run, [&](int y) {
            std::vector<FrameCamera::Seen> seen(static_cast<std::size_t>(view.distance->width()));
            fit.camera.seeRow(y, view.distance->row(y), kFarAway, seen);
            Stillness stillness;
            for (int x = 0; x < view.distance->width(); ++x)
                place(view, fit, x, y, seen[static_cast<std::size_t>(x)], stillness,
                      rows[static_cast<std::size_t>(y)]);
        });
        m_samples.add(view, fit.gain, rows);
        return agreement;
    }

    SeenBehindPtr result() const { return m_samples.settled(m_run); }

private:
    struct Placed
    {
        double x, y;
        float distance;
    };
    /// A pixel of distance `distance` as the frame's camera sees it; nothing outside the picture.
    [[nodiscard]] std::optional<Placed> inside(const FrameCamera::Seen& at, float distance) const
    {
        if (!(at.distance > 0.0) ||
            !(at.x > 1.0 && at.x < m_width - 1.0 && at.y > 1.0 && at.y < m_height - 1.0))
            return std::nullopt;
        return Placed{at.x, at.y, std::isinf(distance) ? distance : static_cast<float>(at.distance)};
    }
    [[nodiscard]] std::optional<Placed> placed(const View& view, const Fit& fit, int x, int y) const
    {
        const float distance = view.distance->at(x, y);
        return inside(fit.camera.see(x + 0.5, y + 0.5, std::min(static_cast<double>(distance), kFarAway)),
                      distance);
    }

    void measure(const View& view, Fit& fit) const
    {
        fit.gain = gainOf(view, fit);
        parallelFor(fit.verdicts.height(), m_run, [&](int y) {
            for (int x = 0; x < fit.verdicts.width(); ++x)
                fit.verdicts.at(x, y) = static_cast<std::uint8_t>(verdictAt(view, fit, x * kGrid, y * kGrid));
        });
    }

    /// Where a neighbour's pixel lands, and whether what is visible there is as far away.
    struct Landed
    {
        int x, y;
        float distance;
        bool isVisible;
    };
    [[nodiscard]] std::optional<Landed> landed(const View& view, const Fit& fit, int x, int y) const
    {
        if (fit.isWhole.at(x, y) == 0) return std::nullopt;
        const auto at = placed(view, fit, x, y);
        if (!at) return std::nullopt;
        const int px = static_cast<int>(at->x);
        const int py = static_cast<int>(at->y);
        if (m_isWhole.at(px, py) == 0) return std::nullopt;
        return Landed{px, py, at->distance, isOneSurface(m_frame.distance->at(px, py), at->distance)};
    }

    [[nodiscard]] std::array<float, 3> gainOf(const View& view, const Fit& fit) const
    {
        constexpr int step = 4;
        std::array<double, 3> here{};
        std::array<double, 3> there{};
        for (int y = 0; y < view.distance->height(); y += step)
            for (int x = 0; x < view.distance->width(); x += step) {
                const auto at = landed(view, fit, x, y);
                if (!at || !at->isVisible) continue;
                for (int c = 0; c < 3; ++c) {
                    // Lamps, whose light no pixel tells twice alike, would outweigh all else.
                    const auto held = [](float v) { return static_cast<double>(v / (1.0F + std::abs(v))); };
                    here[static_cast<std::size_t>(c)] += held(m_frame.colour->plane(c).at(at->x, at->y));
                    there[static_cast<std::size_t>(c)] += held(view.colourAt(c, x, y));
                }
            }
        std::array<float, 3> gain{1.0F, 1.0F, 1.0F};
        for (std::size_t c = 0; c < gain.size(); ++c)
            if (there[c] > 0.0) gain[c] = static_cast<float>(std::clamp(here[c] / there[c], 0.5, 2.0));
        return gain;
    }

    [[nodiscard]] Verdict verdictAt(const View& view, const Fit& fit, int x, int y) const
    {
        const auto at = landed(view, fit, x, y);
        if (!at) return Verdict::none;
        if (!at->isVisible) // Hidden here; or it would stand before what is seen here, and be seen itself.
            return at->distance > m_frame.distance->at(at->x, at->y) ? Verdict::none : Verdict::strays;
        constexpr float tolerance = 0.15F; // of the light
        constexpr float dark = 3e-3F;
        bool isInside = true;
        for (int c = 0; c < 3; ++c) {
            float low = std::numeric_limits<float>::max();
            float high = 0.0F;
            defocus::around(*m_frame.distance, at->x, at->y, 1, [&](int nx, int ny) {
                const float v = m_frame.colour->plane(c).at(nx, ny);
                low = std::min(low, v);
                high = std::max(high, v);
            });
            const float own = fit.gain[static_cast<std::size_t>(c)] * view.colourAt(c, x, y);
            const float margin = tolerance * std::max(high, own) + dark;
            isInside &= own >= low - margin && own <= high + margin;
        }
        if (!isInside) return Verdict::strays;
        // A camera that is off by some pixels would not be noticed on a plain wall.
        constexpr int aside = 4;
        const Colour own = colourAt(*m_frame.colour, at->x, at->y);
        for (const auto& [dx, dy] : {std::pair{aside, 0}, {-aside, 0}, {0, aside}, {0, -aside}})
            if (m_frame.distance->contains(at->x + dx, at->y + dy) &&
                differ(own, colourAt(*m_frame.colour, at->x + dx, at->y + dy)))
                return Verdict::fits;
        return Verdict::alike;
    }

    /// Whether what a neighbour's pixel shows stands still, as far as the same surface around it tells.
    [[nodiscard]] static bool isStill(const View& view, const Fit& fit, int x, int y)
    {
        constexpr int reach = 8; // of the grid
        constexpr int step = 2;
        const float own = view.distance->at(x, y);
        int stays = 0;
        int strays = 0;
        for (int gy = y / kGrid - reach; gy <= y / kGrid + reach; gy += step)
            for (int gx = x / kGrid - reach; gx <= x / kGrid + reach; gx += step) {
                if (!fit.verdicts.contains(gx, gy)) continue;
                const Verdict verdict = fit.at(gx, gy);
                if (verdict == Verdict::none || !isOneSurface(own, view.distance->at(gx * kGrid, gy * kGrid)))
                    continue;
                ++(verdict == Verdict::strays ? strays : stays);
            }
        return 4 * strays <= stays;
    }

    /// What isStill() said some pixels before in the same row, on the same surface: it asks far around.
    struct Stillness
    {
        int x = -1;
        float distance = 0.0F;
        bool isStill = false;
    };

    void place(const View& view, const Fit& fit, int x, int y, const FrameCamera::Seen& seen,
               Stillness& stillness, std::vector<PlacedSample>& row) const
    {
        constexpr int askedEvery = 4; // px
        const float distance = view.distance->at(x, y);
        const auto at = inside(seen, distance);
        if (!at || !m_needed.at(static_cast<int>(at->x), static_cast<int>(at->y))) return;
        const double left = std::floor(at->x - 0.5);
        const double top = std::floor(at->y - 0.5);
        PlacedSample placed;
        placed.sample.distance = at->distance;
        // Where surfaces meet that are blurred about alike, mixed pixels do no harm; all that is mixed in
        // must be hidden here as well.
        float nearest = at->distance;
        if (fit.isWhole.at(x, y) == 0) {
            const auto [from, to] = extentAround(*view.distance, x, y);
            if (std::abs(m_model.radiusPx(static_cast<double>(from)) -
                         m_model.radiusPx(static_cast<double>(to))) > kBlurredAlike)
                return;
            nearest *= from / distance;
        }
        bool isMade = false;
        for (int i = 0; i < 4; ++i) {
            const int px = static_cast<int>(left) + i % 2;
            placed.y = static_cast<int>(top) + i / 2;
            const float visible = m_frame.distance->at(px, placed.y);
            if (!(nearest > visible) || isOneSurface(visible, nearest)) continue;
            const double shareX = i % 2 == 1 ? at->x - 0.5 - left : left + 1.5 - at->x;
            const double shareY = i / 2 == 1 ? at->y - 0.5 - top : top + 1.5 - at->y;
            placed.sample.x = static_cast<std::uint32_t>(px);
            placed.sample.weight = static_cast<float>(shareX * shareY);
            if (placed.sample.weight <= 0.0F) continue;
            if (!isMade) {
                if (stillness.x < 0 || x >= stillness.x + askedEvery ||
                    !isOneSurface(distance, stillness.distance))
                    stillness = {x, distance, isStill(view, fit, x, y)};
                if (!stillness.isStill) return;
                isMade = true;
                placed.sample.radius =
                    static_cast<float>(m_model.radiusPx(static_cast<double>(at->distance)));
                placed.sample.from = static_cast<std::uint32_t>(y * view.distance->width() + x);
            }
            if (liesBehind(placed.sample.radius, m_radius.at(px, placed.y))) row.push_back(placed);
        }
    }

    const View& m_frame;
    const defocus::BlurModel& m_model;
    Run m_run;
    int m_width;
    int m_height;
    Plane<float> m_radius;
    Plane<std::uint8_t> m_isWhole;
    Needed m_needed;
    SeenSamples m_samples;
};

} // namespace

SeenBehindPtr lookBehind(const View& frame, std::span<const View> neighbours, const defocus::BlurModel& model,
                         const Run& run, std::vector<Agreement>* agreements)
{
    const Run quiet{run.threads, {}, run.stop};
    Looking looking(frame, model, quiet);
    for (const View& neighbour : neighbours) {
        run.throwIfStopped();
        const Agreement agreement = looking.add(neighbour);
        if (agreements) agreements->push_back(agreement);
    }
    return looking.result();
}

} // namespace retinex::others
