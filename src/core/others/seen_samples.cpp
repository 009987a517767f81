#include "core/others/seen_samples.h"

#include <algorithm>

namespace retinex::others {

namespace {

using defocus::Colour;
using defocus::isEdge;

constexpr float kEnough = 0.25F; ///< weight from which a surface counts as seen at a pixel

constexpr float kFull = 0.75F; ///< ... and from which farther neighbours need not be asked

/// Those of the first neighbours that see enough together: what shines looks another way from farther off.
/// Moves them to the front.
std::span<const Sample*> nearestViews(std::span<const Sample*> surface)
{
    std::ranges::stable_sort(surface, {}, [](const Sample* sample) { return sample->view; });
    float weight = 0.0F;
    for (std::size_t i = 0; i < surface.size(); ++i) {
        if (weight >= kFull && surface[i]->view != surface[i - 1]->view) return surface.first(i);
        weight += surface[i]->weight;
    }
    return surface;
}

} // namespace

void SeenSamples::add(const View& view, const std::array<float, 3>& gain,
                      const std::vector<std::vector<PlacedSample>>& rows)
{
    const auto number = static_cast<std::uint8_t>(m_views.size());
    m_views.push_back({&view, gain});
    for (const auto& row : rows)
        for (const PlacedSample& placed : row) {
            m_rows[static_cast<std::size_t>(placed.y)].push_back(placed.sample);
            m_rows[static_cast<std::size_t>(placed.y)].back().view = number;
        }
}

SeenBehindPtr SeenSamples::settled(const Run& run) const
{
    if (std::ranges::all_of(m_rows, [](const auto& row) { return row.empty(); })) return nullptr;
    auto seen = std::make_shared<SeenBehind>(m_width, static_cast<int>(m_rows.size()));
    parallelFor(static_cast<int>(m_rows.size()), run, [&](int y) {
        const auto& row = m_rows[static_cast<std::size_t>(y)];
        if (row.empty()) return;
        // Counted, then laid out by pixel.
        std::vector<std::uint32_t> ends(static_cast<std::size_t>(m_width) + 1, 0);
        for (const Sample& sample : row)
            ++ends[sample.x + 1];
        for (std::size_t x = 1; x < ends.size(); ++x)
            ends[x] += ends[x - 1];
        std::vector<const Sample*> sorted(row.size());
        std::vector<std::uint32_t> next(ends.begin(), ends.end() - 1);
        for (const Sample& sample : row)
            sorted[next[sample.x]++] = &sample;
        for (std::size_t x = 0; x + 1 < ends.size(); ++x)
            if (ends[x] < ends[x + 1])
                settle(y, std::span(sorted).subspan(ends[x], ends[x + 1] - ends[x]), *seen);
    });
    return seen;
}

Colour SeenSamples::colourOf(const Sample& sample) const
{
    const From& from = m_views[sample.view];
    const auto width = static_cast<std::uint32_t>(from.view->distance->width());
    Colour colour{};
    for (int c = 0; c < RgbaImage::channels; ++c)
        colour[static_cast<std::size_t>(c)] = (c < 3 ? from.gain[static_cast<std::size_t>(c)] : 1.0F) *
                                              from.view->colourAt(c, static_cast<int>(sample.from % width),
                                                                  static_cast<int>(sample.from / width));
    return colour;
}

void SeenSamples::settle(int y, std::span<const Sample*> samples, SeenBehind& seen) const
{
    const auto byRadius = [](const Sample* sample) { return sample->radius; };
    // A handful each, mostly in order.
    for (auto it = samples.begin(); it != samples.end(); ++it)
        std::rotate(std::ranges::upper_bound(samples.begin(), it, (*it)->radius, {}, byRadius), it, it + 1);
    std::vector<Colour> colours;
    while (!samples.empty()) {
        std::size_t count = 1;
        while (count < samples.size() && !isEdge(samples[count]->radius, samples.front()->radius))
            ++count;
        const auto surface = nearestViews(samples.first(count));
        samples = samples.subspan(count);
        float weight = 0.0F;
        float distance = 0.0F;
        for (const Sample* sample : surface) {
            weight += sample->weight;
            distance += sample->weight / sample->distance; // evenly in 1/distance
        }
        if (weight < kEnough) continue;
        Colour colour{};
        colours.clear();
        for (const Sample* sample : surface) {
            colours.push_back(colourOf(*sample));
            for (std::size_t c = 0; c < colour.size(); ++c)
                colour[c] += sample->weight * colours.back()[c];
        }
        for (float& v : colour)
            v /= weight;
        // Neighbours that contradict each other tell nothing.
        for (std::size_t i = 0; i < surface.size(); ++i)
            if (surface[i]->weight > kEnough && differ(colours[i], colour)) return;
        const int x = static_cast<int>(surface.front()->x);
        defocus::setColour(seen.colour, x, y, colour);
        seen.distance.at(x, y) = weight / distance;
        seen.weight.at(x, y) = std::min(1.0F, weight);
        return;
    }
}

} // namespace retinex::others
