#include "core/defocus/lens/iris_opening.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

/// Neighbours in a row of an iris picture that differ by less than this share of its brightest are one span.
constexpr float kPictureStep = 1.0F / 48.0F;
constexpr int kTableSize = 4096;

/// Variance of y over the light, px^2.
double pictureVariance(const Plane<float>& picture)
{
    double mass = 0.0;
    double mean = 0.0;
    double square = 0.0;
    for (int y = 0; y < picture.height(); ++y) {
        for (int x = 0; x < picture.width(); ++x) {
            const auto w = static_cast<double>(picture.at(x, y));
            mass += w;
            mean += w * y;
            square += w * y * y;
        }
    }
    mean /= mass;
    return square / mass - mean * mean;
}

} // namespace

IrisOpening::IrisOpening(const optics::Iris& iris, bool turnedOver, int rings)
    : m_iris(iris), m_turnedOver(turnedOver), m_reach(optics::irisReach(iris))
{
    if (isPicture()) {
        const double half = 0.5 * std::min(iris.picture->width(), iris.picture->height());
        m_outlineVariance = pictureVariance(*iris.picture) / (half * half);
        m_rings = {Ring{}};
        return;
    }
    if (iris.blades != 0) tabulate();
    makeRings(rings);
}

/// The weight as a function of the way out, as steps: outlines within each other add up to it.
void IrisOpening::makeRings(int count)
{
    const double stop = m_iris.centreStop;
    if (m_iris.rim == 0.0) {
        m_rings = {Ring{1.0, 1.0}};
    } else {
        // Steps of equal width in rho^2, hence of equal area; each at the weight of its middle.
        double outer = 0.0;
        for (int i = count; i > 0; --i) {
            const double from = stop * stop + (1.0 - stop * stop) * (i - 1) / count;
            const double to = stop * stop + (1.0 - stop * stop) * i / count;
            const double weight = optics::rimWeight(m_iris.rim, std::sqrt(0.5 * (from + to)));
            m_rings.push_back({std::sqrt(to), weight - outer});
            outer = weight;
        }
        if (stop > 0.0) m_rings.push_back({stop, -outer});
        return;
    }
    if (stop > 0.0) m_rings.push_back({stop, -1.0});
}

namespace {

/// Mean of y^2 over the area: for a polygon about its centre the sum over its triangles of
/// (a^2 + a b + b^2) / 6, weighted by their areas (second moment of area of a polygon).
double varianceOf(const std::vector<optics::Point>& outline)
{
    double moment = 0.0;
    double area = 0.0;
    for (std::size_t i = 0; i < outline.size(); ++i) {
        const optics::Point& a = outline[i];
        const optics::Point& b = outline[(i + 1) % outline.size()];
        const double triangle = 0.5 * (a.x * b.y - b.x * a.y);
        moment += triangle * (a.y * a.y + a.y * b.y + b.y * b.y) / 6.0;
        area += triangle;
    }
    return moment / area;
}

} // namespace

void IrisOpening::tabulate()
{
    const auto outline = optics::irisOutline(m_iris, m_turnedOver);
    m_outlineVariance = varianceOf(outline);
    m_table.assign(kTableSize + 1, Span{0.0, 0.0, 0.0});
    for (int row = 0; row <= kTableSize; ++row) {
        const double y = m_reach * (2.0 * row / kTableSize - 1.0);
        bool hit = false;
        Span& span = m_table[static_cast<std::size_t>(row)];
        for (std::size_t i = 0; i < outline.size(); ++i) {
            const optics::Point& a = outline[i];
            const optics::Point& b = outline[(i + 1) % outline.size()];
            if ((a.y > y) == (b.y > y)) continue;
            const double x = a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x);
            span = hit ? Span{std::min(span.lo, x), std::max(span.hi, x), 1.0} : Span{x, x, 1.0};
            hit = true;
        }
    }
}

void IrisOpening::crossings(double y, std::vector<Span>& spans) const
{
    if (isPicture()) {
        pictureCrossings(y, spans);
        return;
    }
    if (m_table.empty()) {
        const double square = 1.0 - y * y;
        if (square <= 0.0) return;
        const double half = std::sqrt(square) / m_iris.squeeze;
        spans.push_back({-half, half, 1.0});
        return;
    }
    const double at = (y / m_reach + 1.0) * 0.5 * kTableSize;
    if (!(at >= 0.0 && at <= kTableSize)) return;
    const Span& span = m_table[static_cast<std::size_t>(at + 0.5)];
    if (span.hi > span.lo) spans.push_back(span);
}

void IrisOpening::pictureCrossings(double y, std::vector<Span>& spans) const
{
    const Plane<float>& picture = *m_iris.picture;
    const double half = 0.5 * std::min(picture.width(), picture.height());
    const double side = m_turnedOver ? -1.0 : 1.0;
    const auto row = static_cast<int>(std::floor(0.5 * picture.height() + side * y * half));
    if (row < 0 || row >= picture.height()) return;
    const float* values = picture.row(row);
    const float brightest = *std::max_element(picture.pixels().begin(), picture.pixels().end());
    const double centre = 0.5 * picture.width();
    const double toRadius = side / (half * m_iris.squeeze);
    for (int x = 0; x < picture.width();) {
        int end = x;
        double sum = 0.0;
        while (end < picture.width() && std::abs(values[end] - values[x]) <= kPictureStep * brightest)
            sum += static_cast<double>(values[end++]);
        if (sum > 0.0) {
            const double a = (x - centre) * toRadius;
            const double b = (end - centre) * toRadius;
            spans.push_back({std::min(a, b), std::max(a, b), sum / (end - x)});
        }
        x = end;
    }
}

} // namespace retinex::defocus
