#pragma once

#include <string>
#include <vector>

namespace retinex::bench {

/// What a renderer may do to the edges of its passes.
struct RimRow
{
    std::string filter;    ///< of colour, or where depth was sampled
    double radiusPx = 0.0; ///< that the silhouette is blurred by
    double beyond =
        0.0; ///< by how much the picture leaves what the traced one has within 5 x 5, toned: at most
    double beyondShare = 0.0; ///< share of the silhouette's pixels where it does so by more than 0.02
    double beyondProbe = 0.0; ///< the same of the probe
    double probeShare = 0.0;
};

/// A ball and a slanted bar before a wall, in front of the focal plane by radii of 0.5 to 4 px, with colour
/// made by filters of 1 to 3 px (box, Gaussian, Blackman-Harris), averaged in gamma, adaptively, and depth
/// sampled off the pixel's middle by up to half a pixel: how far lines around silhouettes stand out, as a
/// dark, bright or dotted line does. `width` px wide.
[[nodiscard]] std::vector<RimRow> rims(int width, int samples);

} // namespace retinex::bench
