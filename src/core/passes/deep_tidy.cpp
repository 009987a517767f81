#include "core/passes/deep_tidy.h"

#include "core/base/volume_share.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace retinex::passes {

namespace {

/// Samples of a pixel that are made tidy; each is held against all others. Renderers write tens.
constexpr std::size_t kMostTidied = 512;

/// One sample of a pixel: where it is, and where its values are found.
struct SampleSpan
{
    float from = 0.0F;
    float to = 0.0F; ///< from: a surface
    std::size_t sample = 0;
};

/// Light and alpha of all that fills one stretch of a pixel.
class Stretch
{
public:
    explicit Stretch(std::size_t channels) : m_light(channels) {}

    [[nodiscard]] bool isFilled() const noexcept { return m_isFilled; }
    [[nodiscard]] double alpha() const noexcept { return m_alpha; }
    [[nodiscard]] double light(std::size_t channel) const noexcept { return m_light[channel]; }

    void clear()
    {
        m_isFilled = false;
        m_alpha = 0.0;
        std::fill(m_light.begin(), m_light.end(), 0.0);
    }
    /// light(channel): of what is added. "Merging overlapping samples" in Kainz 2013: optical depths add up,
    /// and each is seen through what the others leave.
    template <class Light>
    void add(double alpha, Light light)
    {
        const bool wasOpaque = m_isFilled && m_alpha >= 1.0;
        if (!m_isFilled) {
            for (std::size_t c = 0; c < m_light.size(); ++c)
                m_light[c] = light(c);
            m_alpha = alpha;
        } else if (alpha >= 1.0 || wasOpaque) {
            // Of two opaque ones both are seen, of one only that.
            const double own = !wasOpaque ? 0.0 : alpha >= 1.0 ? 0.5 : 1.0;
            for (std::size_t c = 0; c < m_light.size(); ++c)
                m_light[c] = own * m_light[c] + (1.0 - own) * light(c);
            m_alpha = 1.0;
        } else {
            const double both = m_alpha + alpha - m_alpha * alpha;
            const double depth = opticalDepth(m_alpha) + opticalDepth(alpha);
            const double seen = depth > 0.0 ? both / depth : 1.0;
            for (std::size_t c = 0; c < m_light.size(); ++c)
                m_light[c] = seen * (m_light[c] * unabsorbed(m_alpha) + light(c) * unabsorbed(alpha));
            m_alpha = both;
        }
        m_isFilled = true;
    }

private:
    static double opticalDepth(double alpha) { return -std::log1p(-alpha); }
    /// How much more light there would be if nothing of it were absorbed on the way.
    static double unabsorbed(double alpha) { return alpha > 0.0 ? opticalDepth(alpha) / alpha : 1.0; }

    bool m_isFilled = false;
    double m_alpha = 0.0;
    std::vector<double> m_light;
};

/// Whether all values of a sample but its depths are.
bool isFinite(const DeepSamples& samples, std::size_t sample)
{
    for (std::size_t c = 0; c < samples.values.size(); ++c)
        if (samples.channels[c] != "Z" && samples.channels[c] != "ZBack" &&
            !std::isfinite(samples.values[c][sample]))
            return false;
    return true;
}

/// The samples of one pixel, sorted; whether any two of them overlap.
bool collect(const DeepSamples& samples, std::size_t pixel, const std::vector<float>& from,
             const std::vector<float>& to, std::vector<SampleSpan>& spans)
{
    spans.clear();
    if (samples.first[pixel + 1] - samples.first[pixel] > kMostTidied) return false;
    for (std::size_t i = samples.first[pixel]; i < samples.first[pixel + 1]; ++i) {
        // Left out, or reported, later on.
        if (std::isnan(from[i]) || !isFinite(samples, i)) return false;
        spans.push_back({from[i], std::isfinite(to[i]) ? std::max(from[i], to[i]) : from[i], i});
    }
    std::stable_sort(spans.begin(), spans.end(),
                     [](const SampleSpan& a, const SampleSpan& b) { return a.from < b.from; });
    float farthest = -std::numeric_limits<float>::infinity();
    for (const SampleSpan& span : spans) {
        if (span.from < farthest) return true;
        farthest = std::max(farthest, span.to);
    }
    return false;
}

/// Where something begins or ends; twice where a surface is, so that it is a stretch of its own.
void findEnds(const std::vector<SampleSpan>& spans, std::vector<float>& ends)
{
    ends.clear();
    std::vector<float> surfaces;
    for (const SampleSpan& span : spans) {
        ends.push_back(span.from);
        ends.push_back(span.to);
        if (span.from == span.to) surfaces.push_back(span.from);
    }
    for (auto* places : {&ends, &surfaces}) {
        std::sort(places->begin(), places->end());
        places->erase(std::unique(places->begin(), places->end()), places->end());
    }
    ends.insert(ends.end(), surfaces.begin(), surfaces.end());
    std::sort(ends.begin(), ends.end());
}

/// What of a sample lies in a stretch: its share; 0 where it does not reach.
double shareOf(const SampleSpan& span, float from, float to)
{
    if (span.from == span.to) return from == to && span.from == from ? 1.0 : 0.0;
    if (from == to || to <= span.from || from >= span.to) return 0.0;
    return (static_cast<double>(to) - static_cast<double>(from)) /
           (static_cast<double>(span.to) - static_cast<double>(span.from));
}

} // namespace

void makeTidy(DeepSamples& samples)
{
    const std::vector<float>* from = samples.find("Z");
    const std::vector<float>* to = samples.find("ZBack");
    const std::vector<float>* alpha = samples.find("A");
    if (!from || !to) return;
    std::vector<SampleSpan> spans;
    std::vector<SampleSpan> here; // those that reach a stretch
    std::vector<float> ends;
    Stretch stretch(samples.channels.size());
    std::vector<std::size_t> first{0};
    std::vector<std::vector<float>> values(samples.values.size());
    for (std::size_t pixel = 0; pixel + 1 < samples.first.size(); ++pixel) {
        if (!collect(samples, pixel, *from, *to, spans)) {
            for (std::size_t c = 0; c < values.size(); ++c) {
                const auto source = samples.values[c].begin();
                values[c].insert(values[c].end(), source + static_cast<std::ptrdiff_t>(samples.first[pixel]),
                                 source + static_cast<std::ptrdiff_t>(samples.first[pixel + 1]));
            }
            first.push_back(values[0].size());
            continue;
        }
        findEnds(spans, ends);
        std::size_t next = 0;
        here.clear();
        for (std::size_t i = 0; i + 1 < ends.size(); ++i) {
            while (next < spans.size() && spans[next].from <= ends[i])
                here.push_back(spans[next++]);
            here.erase(std::remove_if(here.begin(), here.end(),
                                      [&](const SampleSpan& span) { return span.to < ends[i]; }),
                       here.end());
            stretch.clear();
            for (const SampleSpan& span : here) {
                const double share = shareOf(span, ends[i], ends[i + 1]);
                if (share <= 0.0) continue;
                const double whole =
                    alpha ? std::clamp(static_cast<double>((*alpha)[span.sample]), 0.0, 1.0) : 1.0;
                const VolumeShare part = volumeShare(whole, share);
                stretch.add(part.alpha, [&](std::size_t c) {
                    return part.light * static_cast<double>(samples.values[c][span.sample]);
                });
            }
            if (!stretch.isFilled()) continue;
            for (std::size_t c = 0; c < values.size(); ++c) {
                const std::vector<float>* channel = &samples.values[c];
                values[c].push_back(channel == from    ? ends[i]
                                    : channel == to    ? ends[i + 1]
                                    : channel == alpha ? static_cast<float>(stretch.alpha())
                                                       : static_cast<float>(stretch.light(c)));
            }
        }
        first.push_back(values[0].size());
    }
    samples.first = std::move(first);
    samples.values = std::move(values);
}

} // namespace retinex::passes
