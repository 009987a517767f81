#include "core/passes/exr/deep_tidy.h"

#include "core/image/volume_share.h"

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

/// Makes the samples of a picture anew, pixel after pixel.
class Tidier
{
public:
    Tidier(const DeepSamples& samples, const std::vector<float>& from, const std::vector<float>& to)
        : m_samples(samples), m_from(from), m_to(to), m_alpha(samples.find("A")),
          m_stretch(samples.channels.size()), m_values(samples.values.size())
    {
    }

    void add(std::size_t pixel)
    {
        if (collect(pixel))
            addTidied();
        else
            addAsItIs(pixel);
        m_first.push_back(m_values[0].size());
    }
    void giveTo(DeepSamples& samples)
    {
        samples.first = std::move(m_first);
        samples.values = std::move(m_values);
    }

private:
    /// Whether all values of a sample but its depths are.
    [[nodiscard]] bool isFinite(std::size_t sample) const
    {
        return std::all_of(
            m_samples.values.begin(), m_samples.values.end(), [&](const std::vector<float>& channel) {
                return &channel == &m_from || &channel == &m_to || std::isfinite(channel[sample]);
            });
    }
    /// The samples of one pixel, sorted; whether any two of them overlap.
    bool collect(std::size_t pixel)
    {
        m_spans.clear();
        const std::size_t first = m_samples.first[pixel];
        const std::size_t end = m_samples.first[pixel + 1];
        if (end - first > kMostTidied) return false;
        for (std::size_t i = first; i < end; ++i) {
            // Left out, or reported, later on.
            if (std::isnan(m_from[i]) || !isFinite(i)) return false;
            m_spans.push_back(
                {m_from[i], std::isfinite(m_to[i]) ? std::max(m_from[i], m_to[i]) : m_from[i], i});
        }
        std::stable_sort(m_spans.begin(), m_spans.end(),
                         [](const SampleSpan& a, const SampleSpan& b) { return a.from < b.from; });
        float farthest = -std::numeric_limits<float>::infinity();
        for (const SampleSpan& span : m_spans) {
            if (span.from < farthest) return true;
            farthest = std::max(farthest, span.to);
        }
        return false;
    }
    void addAsItIs(std::size_t pixel)
    {
        const auto first = static_cast<std::ptrdiff_t>(m_samples.first[pixel]);
        const auto end = static_cast<std::ptrdiff_t>(m_samples.first[pixel + 1]);
        for (std::size_t c = 0; c < m_values.size(); ++c) {
            const auto source = m_samples.values[c].begin();
            m_values[c].insert(m_values[c].end(), source + first, source + end);
        }
    }
    void addTidied()
    {
        findEnds(m_spans, m_ends);
        std::size_t next = 0;
        m_here.clear();
        for (std::size_t i = 0; i + 1 < m_ends.size(); ++i) {
            while (next < m_spans.size() && m_spans[next].from <= m_ends[i])
                m_here.push_back(m_spans[next++]);
            m_here.erase(std::remove_if(m_here.begin(), m_here.end(),
                                        [&](const SampleSpan& span) { return span.to < m_ends[i]; }),
                         m_here.end());
            fill(m_ends[i], m_ends[i + 1]);
            if (m_stretch.isFilled()) put(m_ends[i], m_ends[i + 1]);
        }
    }
    /// All that reaches into a stretch.
    void fill(float from, float to)
    {
        m_stretch.clear();
        for (const SampleSpan& span : m_here) {
            const double share = shareOf(span, from, to);
            if (share <= 0.0) continue;
            const double whole =
                m_alpha ? std::clamp(static_cast<double>((*m_alpha)[span.sample]), 0.0, 1.0) : 1.0;
            const VolumeShare part = volumeShare(whole, share);
            m_stretch.add(part.alpha, [&](std::size_t c) {
                return part.light * static_cast<double>(m_samples.values[c][span.sample]);
            });
        }
    }
    /// The stretch as a sample.
    void put(float from, float to)
    {
        for (std::size_t c = 0; c < m_values.size(); ++c) {
            const std::vector<float>* channel = &m_samples.values[c];
            m_values[c].push_back(channel == &m_from   ? from
                                  : channel == &m_to   ? to
                                  : channel == m_alpha ? static_cast<float>(m_stretch.alpha())
                                                       : static_cast<float>(m_stretch.light(c)));
        }
    }

    const DeepSamples& m_samples;
    const std::vector<float>& m_from;
    const std::vector<float>& m_to;
    const std::vector<float>* m_alpha; ///< null: opaque
    std::vector<SampleSpan> m_spans;   ///< of one pixel
    std::vector<SampleSpan> m_here;    ///< those that reach a stretch
    std::vector<float> m_ends;
    Stretch m_stretch;
    std::vector<std::size_t> m_first{0};
    std::vector<std::vector<float>> m_values;
};

} // namespace

void makeTidy(DeepSamples& samples)
{
    const std::vector<float>* from = samples.find("Z");
    const std::vector<float>* to = samples.find("ZBack");
    if (!from || !to) return;
    // Surfaces do not overlap, and many a file has a ZBack that is nothing but Z.
    if (std::equal(from->begin(), from->end(), to->begin())) return;
    Tidier tidier(samples, *from, *to);
    for (std::size_t pixel = 0; pixel + 1 < samples.first.size(); ++pixel)
        tidier.add(pixel);
    tidier.giveTo(samples);
}

} // namespace retinex::passes
