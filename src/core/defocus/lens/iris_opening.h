#pragma once

#include "core/optics/iris.h"

#include <vector>

namespace retinex::defocus {

/// An iris as kernels need it: where horizontal lines cross it, in units of its radius, y down. Squeeze is
/// within it, rim and centre stop are drawn as outlines within each other.
class IrisOpening
{
public:
    struct Span
    {
        double lo = 0.0;
        double hi = 0.0;
        double weight = 1.0;
    };
    struct Ring
    {
        double scale = 1.0;  ///< of the outline
        double weight = 1.0; ///< added within it
    };

    /// `rings`: steps in which rim and centre stop are drawn.
    IrisOpening(const optics::Iris& iris, bool turnedOver, int rings);

    /// The outlines that make up the opening. A picture has one ring, whose lines have many spans.
    [[nodiscard]] const std::vector<Ring>& rings() const noexcept { return m_rings; }
    /// Where the line at `y` crosses the full outline; nothing is added when it misses. One span unless the
    /// opening is a picture.
    void crossings(double y, std::vector<Span>& spans) const;
    [[nodiscard]] bool isPicture() const noexcept { return m_iris.picture != nullptr; }
    /// Mean of y^2 over the area of the outline, or over the light of a picture.
    [[nodiscard]] double outlineVariance() const noexcept { return m_outlineVariance; }
    /// Largest distance of the outline from its centre.
    [[nodiscard]] double reach() const noexcept { return m_reach; }

private:
    void pictureCrossings(double y, std::vector<Span>& spans) const;
    void makeRings(int count);
    void tabulate();

    optics::Iris m_iris;
    bool m_turnedOver;
    double m_reach;
    double m_outlineVariance = 0.25;
    std::vector<Span> m_table; ///< crossings from -reach to reach; empty for a circle or a picture
    std::vector<Ring> m_rings;
};

/// Of one iris, both ways round.
struct IrisOpenings
{
    IrisOpening front; ///< turned over
    IrisOpening behind;

    IrisOpenings(const optics::Iris& iris, int rings) : front(iris, true, rings), behind(iris, false, rings)
    {
    }
};

} // namespace retinex::defocus
