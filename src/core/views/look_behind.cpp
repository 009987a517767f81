#include "core/views/look_behind.h"

#include "core/defocus/repair/pixel_colour.h"
#include "core/views/one_surface.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace retinex::views {

Plane<std::uint8_t> wholePixels(const Plane<float>& distance, const Run& run)
{
    const int width = distance.width();
    const int height = distance.height();
    // Whether a pixel is of one surface with the next in its row, and with the one below.
    Plane<std::uint8_t> next(width, height);
    parallelFor(height, run, [&](int y) {
        const float* row = distance.row(y);
        const float* below = distance.row(std::min(y + 1, height - 1));
        for (int x = 0; x < width; ++x)
            next.at(x, y) = static_cast<std::uint8_t>(isOneSurface(row[x], row[std::min(x + 1, width - 1)]) &&
                                                      isOneSurface(row[x], below[x]));
    });
    Plane<std::uint8_t> result(width, height);
    parallelFor(height, run, [&](int y) {
        for (int x = 0; x < width; ++x) {
            bool isWhole = true;
            for (int ny = std::max(0, y - 1); ny <= y; ++ny)
                for (int nx = std::max(0, x - 1); nx <= x; ++nx)
                    isWhole &= next.at(nx, ny) != 0;
            // The corners that those leave out.
            isWhole &= x + 1 >= width || y == 0 || isOneSurface(distance.at(x, y), distance.at(x + 1, y - 1));
            isWhole &=
                x == 0 || y + 1 >= height || isOneSurface(distance.at(x, y), distance.at(x - 1, y + 1));
            isWhole &= x + 1 >= width || y + 1 >= height ||
                       isOneSurface(distance.at(x, y), distance.at(x + 1, y + 1));
            result.at(x, y) = static_cast<std::uint8_t>(isWhole);
        }
    });
    return result;
}

namespace {

using defocus::Colour;
using defocus::colourAt;
using defocus::isEdge;
using defocus::liesBehind;

constexpr double kFarAway = 1e7; ///< scene units: where nothing is, as good as infinitely far
constexpr float kDiffer = 0.3F;  ///< share of their brightness by which colours of one point differ at most
constexpr int kGrid = 2;         ///< px between the pixels that are asked whether they agree
constexpr float kEnough = 0.25F; ///< weight from which a surface counts as seen at a pixel

/// A neighbour's pixel, as it falls onto one of the frame's, behind what is visible there.
struct Sample
{
    int x = 0;
    int y = 0;
    float weight = 0.0F;
    float radius = 0.0F;
    float distance = 0.0F;
    Colour colour{};
};

bool differ(const Colour& a, const Colour& b)
{
    return defocus::coloursDiffer(a, b, kDiffer, 1e-3F);
}

/// Whether a neighbour's pixel is what the frame shows where it lands. Where all is of one colour, that says
/// little.
enum class Verdict : std::uint8_t { none, alike, fits, strays };

/// How a neighbour fits the frame.
struct Fit
{
    ViewCamera::To camera;    ///< from its pixels to the frame's
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
          m_isWhole(wholePixels(*frame.distance, run))
    {
    }

    /// Adds what a neighbour shows, unless too little of it agrees.
    Agreement add(const View& view)
    {
        Fit fit(view, m_frame, m_run);
        measure(view, fit);
        const Agreement agreement = fit.agreement();
        if (!agreement.isGood()) return agreement;
        std::vector<std::vector<Sample>> rows(static_cast<std::size_t>(view.distance->height()));
        parallelFor(view.distance->height(), m_run, [&](int y) {
            for (int x = 0; x < view.distance->width(); ++x)
                if (fit.isWhole.at(x, y) != 0) place(view, fit, x, y, rows[static_cast<std::size_t>(y)]);
        });
        for (auto& row : rows)
            m_samples.insert(m_samples.end(), row.begin(), row.end());
        return agreement;
    }

    SeenBehindPtr result() const
    {
        if (m_samples.empty()) return nullptr;
        auto seen = std::make_shared<SeenBehind>(m_width, m_height);
        // By rows of the frame, in the order they came.
        std::vector<std::vector<const Sample*>> rows(static_cast<std::size_t>(m_height));
        for (const Sample& sample : m_samples)
            rows[static_cast<std::size_t>(sample.y)].push_back(&sample);
        parallelFor(m_height, m_run, [&](int y) {
            auto& row = rows[static_cast<std::size_t>(y)];
            std::ranges::stable_sort(
                row, {}, [](const Sample* sample) { return std::pair(sample->x, sample->radius); });
            for (auto first = row.begin(); first != row.end();) {
                const auto end =
                    std::find_if(first, row.end(), [&](const Sample* s) { return s->x != (*first)->x; });
                settle({first, end}, *seen);
                first = end;
            }
        });
        return seen;
    }

private:
    struct Placed
    {
        double x, y;
        float distance;
    };
    [[nodiscard]] std::optional<Placed> placed(const View& view, const Fit& fit, int x, int y) const
    {
        const float distance = view.distance->at(x, y);
        const bool isFar = std::isinf(distance);
        const auto at = fit.camera.see(x + 0.5, y + 0.5, isFar ? kFarAway : static_cast<double>(distance));
        if (!(at.distance > 0.0) ||
            !(at.x > 1.0 && at.x < m_width - 1.0 && at.y > 1.0 && at.y < m_height - 1.0))
            return std::nullopt;
        return Placed{at.x, at.y,
                      isFar ? std::numeric_limits<float>::infinity() : static_cast<float>(at.distance)};
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
                    there[static_cast<std::size_t>(c)] += held(view.colour->plane(c).at(x, y));
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
            const float own = fit.gain[static_cast<std::size_t>(c)] * view.colour->plane(c).at(x, y);
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

    void place(const View& view, const Fit& fit, int x, int y, std::vector<Sample>& row) const
    {
        const auto at = placed(view, fit, x, y);
        if (!at) return;
        const double left = std::floor(at->x - 0.5);
        const double top = std::floor(at->y - 0.5);
        Sample sample;
        sample.distance = at->distance;
        bool isMade = false;
        for (int i = 0; i < 4; ++i) {
            sample.x = static_cast<int>(left) + i % 2;
            sample.y = static_cast<int>(top) + i / 2;
            const float visible = m_frame.distance->at(sample.x, sample.y);
            if (at->distance <= visible || isOneSurface(visible, at->distance)) continue;
            const double shareX = i % 2 == 1 ? at->x - 0.5 - left : left + 1.5 - at->x;
            const double shareY = i / 2 == 1 ? at->y - 0.5 - top : top + 1.5 - at->y;
            sample.weight = static_cast<float>(shareX * shareY);
            if (sample.weight <= 0.0F) continue;
            if (!isMade) {
                if (!isStill(view, fit, x, y)) return;
                isMade = true;
                sample.radius = static_cast<float>(m_model.radiusPx(static_cast<double>(at->distance)));
                sample.colour = colourAt(*view.colour, x, y);
                for (std::size_t c = 0; c < fit.gain.size(); ++c)
                    sample.colour[c] *= fit.gain[c];
            }
            if (liesBehind(sample.radius, m_radius.at(sample.x, sample.y))) row.push_back(sample);
        }
    }

    /// Of the surfaces that fell onto a pixel, sorted by radius, the nearest of which enough was seen.
    static void settle(std::span<const Sample* const> samples, SeenBehind& seen)
    {
        while (!samples.empty()) {
            std::size_t count = 1;
            while (count < samples.size() && !isEdge(samples[count]->radius, samples.front()->radius))
                ++count;
            const auto surface = samples.first(count);
            samples = samples.subspan(count);
            float weight = 0.0F;
            float distance = 0.0F;
            Colour colour{};
            for (const Sample* sample : surface) {
                weight += sample->weight;
                distance += sample->weight / sample->distance; // evenly in 1/distance
                for (std::size_t c = 0; c < colour.size(); ++c)
                    colour[c] += sample->weight * sample->colour[c];
            }
            if (weight < kEnough) continue;
            for (float& v : colour)
                v /= weight;
            // Neighbours that contradict each other tell nothing.
            for (const Sample* sample : surface)
                if (sample->weight > kEnough && differ(sample->colour, colour)) return;
            const auto [x, y] = std::pair(surface.front()->x, surface.front()->y);
            defocus::setColour(seen.colour, x, y, colour);
            seen.distance.at(x, y) = weight / distance;
            seen.weight.at(x, y) = std::min(1.0F, weight);
            return;
        }
    }

    const View& m_frame;
    const defocus::BlurModel& m_model;
    Run m_run;
    int m_width;
    int m_height;
    Plane<float> m_radius;
    Plane<std::uint8_t> m_isWhole;
    std::vector<Sample> m_samples;
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

} // namespace retinex::views
