// clang-format off
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/defocus/span_kernels.cpp"
#include <hwy/foreach_target.h>
// foreach_target.h comes first: it includes this file once per instruction set
#include "core/defocus/span_kernels.h"

#include <cmath>
#include <hwy/highway.h>
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace retinex::defocus::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void addSpanSimd(const double* prefix, double startAt, double endAt, double weight, double* sums, int count)
{
    const hn::ScalableTag<double> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const double startFloor = std::floor(startAt);
    const double endFloor = std::floor(endAt);
    const double* start = prefix + static_cast<long>(startFloor);
    const double* end = prefix + static_cast<long>(endFloor);
    const double startFraction = startAt - startFloor;
    const double endFraction = endAt - endFloor;
    const double s0 = -weight * (1.0 - startFraction);
    const double s1 = -weight * startFraction;
    const double e0 = weight * (1.0 - endFraction);
    const double e1 = weight * endFraction;
    const auto vs0 = hn::Set(d, s0);
    const auto vs1 = hn::Set(d, s1);
    const auto ve0 = hn::Set(d, e0);
    const auto ve1 = hn::Set(d, e1);
    int x = 0;
    for (; x + lanes <= count; x += lanes) {
        auto sum = hn::LoadU(d, sums + x);
        sum = hn::MulAdd(ve0, hn::LoadU(d, end + x), sum);
        sum = hn::MulAdd(ve1, hn::LoadU(d, end + x + 1), sum);
        sum = hn::MulAdd(vs0, hn::LoadU(d, start + x), sum);
        sum = hn::MulAdd(vs1, hn::LoadU(d, start + x + 1), sum);
        hn::StoreU(sum, d, sums + x);
    }
    for (; x < count; ++x)
        sums[x] += e0 * end[x] + e1 * end[x + 1] + s0 * start[x] + s1 * start[x + 1];
}

} // namespace retinex::defocus::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace retinex::defocus {

HWY_EXPORT(addSpanSimd);

void addSpan(const double* prefix, double startAt, double endAt, double weight, double* sums, int count)
{
    HWY_DYNAMIC_DISPATCH(addSpanSimd)(prefix, startAt, endAt, weight, sums, count);
}

void addSpanScalar(const double* prefix, double startAt, double endAt, double weight, double* sums, int count)
{
    const auto lerp = [prefix](double at) {
        const double whole = std::floor(at);
        const double* p = prefix + static_cast<long>(whole);
        return p[0] + (at - whole) * (p[1] - p[0]);
    };
    for (int x = 0; x < count; ++x)
        sums[x] += weight * (lerp(x + endAt) - lerp(x + startAt));
}

} // namespace retinex::defocus
#endif
