// clang-format off
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/defocus/span_kernels.cpp"
#include <hwy/foreach_target.h>
// foreach_target.h comes first: it includes this file once per instruction set
#include "core/defocus/span_kernels.h"

#include <algorithm>
#include <cmath>
#include <hwy/highway.h>
// clang-format on

HWY_BEFORE_NAMESPACE();
namespace retinex::defocus::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

template <class Real>
void addSpanOf(const SpanRow<Real>& row)
{
    const hn::ScalableTag<Real> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const double startFloor = std::floor(row.startAt);
    const double endFloor = std::floor(row.endAt);
    const double startFraction = row.startAt - startFloor;
    const double endFraction = row.endAt - endFloor;
    const auto s0 = static_cast<Real>(-row.weight * (1.0 - startFraction));
    const auto s1 = static_cast<Real>(-row.weight * startFraction);
    const auto e0 = static_cast<Real>(row.weight * (1.0 - endFraction));
    const auto e1 = static_cast<Real>(row.weight * endFraction);
    const auto vs0 = hn::Set(d, s0);
    const auto vs1 = hn::Set(d, s1);
    const auto ve0 = hn::Set(d, e0);
    const auto ve1 = hn::Set(d, e1);
    for (int c = 0; c < row.channels; ++c) {
        const Real* start = row.prefix + c * row.prefixStride + static_cast<std::ptrdiff_t>(startFloor);
        const Real* end = row.prefix + c * row.prefixStride + static_cast<std::ptrdiff_t>(endFloor);
        Real* sums = row.sums + c * row.sumsStride;
        int x = 0;
        for (; x + lanes <= row.count; x += lanes) {
            // The two ends nearly cancel: add each pair first.
            auto sum = hn::Mul(ve0, hn::LoadU(d, end + x));
            sum = hn::MulAdd(vs0, hn::LoadU(d, start + x), sum);
            sum = hn::MulAdd(ve1, hn::LoadU(d, end + x + 1), sum);
            sum = hn::MulAdd(vs1, hn::LoadU(d, start + x + 1), sum);
            hn::StoreU(hn::Add(hn::LoadU(d, sums + x), sum), d, sums + x);
        }
        for (; x < row.count; ++x)
            sums[x] += e0 * end[x] + e1 * end[x + 1] + s0 * start[x] + s1 * start[x + 1];
    }
}

void addSpanFloat(const SpanRow<float>& row)
{
    addSpanOf(row);
}

void addSpanDouble(const SpanRow<double>& row)
{
    addSpanOf(row);
}

void expandCellsSimd(const float* cells, int cell, float* out, int count)
{
    const float step = 1.0F / static_cast<float>(cell);
    const int half = cell / 2;
    // Pixels from the middle of cell i - 1 to the middle of cell i lie on one line.
    int x = 0;
    for (int i = 1; x < count; ++i) {
        const int first = (i - 1) * cell - half; // of the line, in pixels
        const float a = cells[i - 1];
        const float slope = (cells[i] - a) * step;
        const int end = first + cell < count ? first + cell : count;
        for (; x < end; ++x)
            out[x] = a + slope * (static_cast<float>(x - first) + 0.5F);
    }
}

void mixRowsSimd(const float* a, const float* b, float share, float* out, int count)
{
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto part = hn::Set(d, share);
    int x = 0;
    for (; x + lanes <= count; x += lanes) {
        const auto from = hn::LoadU(d, a + x);
        hn::StoreU(hn::MulAdd(part, hn::Sub(hn::LoadU(d, b + x), from), from), d, out + x);
    }
    for (; x < count; ++x)
        out[x] = a[x] + share * (b[x] - a[x]);
}

void addSharedSimd(const SharedRow& row, int count)
{
    const hn::ScalableTag<float> d;
    const hn::RebindToSigned<decltype(d)> di;
    const hn::Rebind<std::uint8_t, decltype(d)> d8;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto slice = hn::Set(di, row.slice);
    const auto before = hn::Set(di, row.slice - 1);
    const auto one = hn::Set(d, 1.0F);
    int x = 0;
    for (; x + lanes <= count; x += lanes) {
        const auto rung = hn::PromoteTo(di, hn::LoadU(d8, row.rung + x));
        const auto isHere = hn::RebindMask(d, hn::Eq(rung, slice));
        const auto isBefore = hn::RebindMask(d, hn::Eq(rung, before));
        if (hn::AllFalse(d, hn::Or(isHere, isBefore))) continue;
        const auto behind = hn::LoadU(d, row.behind + x);
        const auto share = hn::IfThenElse(isHere, hn::Sub(one, behind), hn::IfThenElseZero(isBefore, behind));
        for (int c = 0; c < row.channels; ++c)
            hn::StoreU(hn::MulAdd(share, hn::LoadU(d, row.value[c] + x), hn::LoadU(d, row.sum[c] + x)), d,
                       row.sum[c] + x);
    }
    SharedRow rest = row;
    rest.rung += x;
    rest.behind += x;
    for (int c = 0; c < row.channels; ++c) {
        rest.value[c] += x;
        rest.sum[c] += x;
    }
    addSharedScalar(rest, count - x);
}

void addWithinBudgetSimd(const BudgetRow& row, int count)
{
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto one = hn::Set(d, 1.0F);
    const auto zero = hn::Zero(d);
    const auto least = hn::Set(d, 1e-7F);
    int x = 0;
    for (; x + lanes <= count; x += lanes) {
        auto covered = hn::LoadU(d, row.covered + x);
        const auto evidence = hn::LoadU(d, row.evidence + x);
        auto inside = one;
        if (row.inside) {
            inside = hn::Max(hn::LoadU(d, row.inside + x), hn::Set(d, 1e-3F));
            covered = hn::Div(covered, inside);
        }
        const auto before = hn::LoadU(d, row.coverage + x);
        const auto left = hn::Max(hn::Sub(one, before), zero);
        const auto seen = hn::And(hn::Gt(covered, least), hn::Gt(evidence, least));
        const auto taken = hn::IfThenElseZero(seen, hn::Min(covered, left));
        hn::StoreU(hn::Add(before, taken), d, row.coverage + x);
        auto scale = hn::Div(taken, hn::Max(evidence, least));
        if (row.inside && row.darkOutside) scale = hn::Mul(scale, inside);
        for (int c = 0; c < 4; ++c)
            hn::StoreU(hn::MulAdd(hn::LoadU(d, row.light[c] + x), scale, hn::LoadU(d, row.colour[c] + x)), d,
                       row.colour[c] + x);
    }
    BudgetRow rest = row;
    for (int c = 0; c < 4; ++c) {
        rest.light[c] += x;
        rest.colour[c] += x;
    }
    rest.evidence += x;
    rest.covered += x;
    if (rest.inside) rest.inside += x;
    rest.coverage += x;
    addWithinBudgetScalar(rest, count - x);
}

} // namespace retinex::defocus::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace retinex::defocus {

HWY_EXPORT(addSpanFloat);
HWY_EXPORT(addSpanDouble);

void addSpan(const SpanRow<float>& row)
{
    HWY_DYNAMIC_DISPATCH(addSpanFloat)(row);
}

void addSpan(const SpanRow<double>& row)
{
    HWY_DYNAMIC_DISPATCH(addSpanDouble)(row);
}

HWY_EXPORT(expandCellsSimd);
HWY_EXPORT(mixRowsSimd);
HWY_EXPORT(addSharedSimd);
HWY_EXPORT(addWithinBudgetSimd);

void expandCells(const float* cells, int cell, float* out, int count)
{
    HWY_DYNAMIC_DISPATCH(expandCellsSimd)(cells, cell, out, count);
}

void mixRows(const float* a, const float* b, float share, float* out, int count)
{
    HWY_DYNAMIC_DISPATCH(mixRowsSimd)(a, b, share, out, count);
}

void addShared(const SharedRow& row, int count)
{
    HWY_DYNAMIC_DISPATCH(addSharedSimd)(row, count);
}

void addSharedScalar(const SharedRow& row, int count)
{
    for (int x = 0; x < count; ++x) {
        const float share = row.rung[x] == row.slice       ? 1.0F - row.behind[x]
                            : row.rung[x] + 1 == row.slice ? row.behind[x]
                                                           : 0.0F;
        if (share == 0.0F) continue;
        for (int c = 0; c < row.channels; ++c)
            row.sum[c][x] += share * row.value[c][x];
    }
}

void addWithinBudget(const BudgetRow& row, int count)
{
    HWY_DYNAMIC_DISPATCH(addWithinBudgetSimd)(row, count);
}

void addWithinBudgetScalar(const BudgetRow& row, int count)
{
    constexpr float least = 1e-7F;
    for (int x = 0; x < count; ++x) {
        const float inside = row.inside ? std::max(row.inside[x], 1e-3F) : 1.0F;
        const float covered = row.covered[x] / inside;
        const float left = std::max(1.0F - row.coverage[x], 0.0F);
        if (!(covered > least && row.evidence[x] > least)) continue;
        const float taken = std::min(covered, left);
        row.coverage[x] += taken;
        // The mean colour of what is seen stands for what is hidden too.
        const float scale = taken / row.evidence[x] * (row.darkOutside ? inside : 1.0F);
        for (int c = 0; c < 4; ++c)
            row.colour[c][x] += row.light[c][x] * scale;
    }
}

namespace {

template <class Real>
void addSpanPlain(const SpanRow<Real>& row)
{
    for (int c = 0; c < row.channels; ++c) {
        const Real* prefix = row.prefix + c * row.prefixStride;
        const auto lerp = [prefix](double at) {
            const double whole = std::floor(at);
            const Real* p = prefix + static_cast<std::ptrdiff_t>(whole);
            const auto first = static_cast<double>(p[0]);
            return first + (at - whole) * (static_cast<double>(p[1]) - first);
        };
        for (int x = 0; x < row.count; ++x)
            row.sums[c * row.sumsStride + x] +=
                static_cast<Real>(row.weight * (lerp(x + row.endAt) - lerp(x + row.startAt)));
    }
}

} // namespace

void addSpanScalar(const SpanRow<float>& row)
{
    addSpanPlain(row);
}

void addSpanScalar(const SpanRow<double>& row)
{
    addSpanPlain(row);
}

} // namespace retinex::defocus
#endif
