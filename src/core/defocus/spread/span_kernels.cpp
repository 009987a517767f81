// clang-format off
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/defocus/spread/span_kernels.cpp"
#include <hwy/foreach_target.h>
// foreach_target.h comes first: it includes this file once per instruction set
#include "core/defocus/spread/span_kernels.h"

#include "core/defocus/surfaces/surfaces.h"

#include <algorithm>
#include <cmath>
#include <hwy/highway.h>
// clang-format on

#ifndef RETINEX_SPAN_KERNELS_PLAIN
#define RETINEX_SPAN_KERNELS_PLAIN
namespace retinex::defocus {

/// The rest of a row, from x on.
template <class Real>
void addSpansFrom(const SpanRow<Real>& row, int first)
{
    for (int c = 0; c < row.channels; ++c) {
        for (int x = first; x < row.count; ++x) {
            Real sum = 0;
            for (int i = 0; i < row.spanCount; ++i) {
                const Span<Real>& span = row.spans[i];
                if (x < span.from || x >= span.to) continue;
                const Real* from = span.start + c * row.prefixStride + x;
                const Real* to = span.end + c * row.prefixStride + x;
                sum += span.end0 * to[0] + span.start0 * from[0] + span.end1 * to[1] + span.start1 * from[1];
            }
            row.sums[c * row.sumsStride + x] = sum;
        }
    }
}

} // namespace retinex::defocus
#endif

HWY_BEFORE_NAMESPACE();
namespace retinex::defocus::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

/// One channel of Vectors * lanes pixels from x on: their sums stay in registers.
template <int Vectors, class Real>
void addSpansAt(const SpanRow<Real>& row, int channel, int x)
{
    const hn::ScalableTag<Real> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const int end = x + Vectors * lanes;
    auto sum0 = hn::Zero(d);
    auto sum1 = hn::Zero(d);
    auto sum2 = hn::Zero(d);
    auto sum3 = hn::Zero(d);
    for (int i = 0; i < row.spanCount; ++i) {
        const Span<Real>& span = row.spans[i];
        if (span.to <= x || span.from >= end) continue;
        const Real* from = span.start + channel * row.prefixStride + x;
        const Real* to = span.end + channel * row.prefixStride + x;
        const auto from0 = hn::Set(d, span.start0);
        const auto from1 = hn::Set(d, span.start1);
        const auto to0 = hn::Set(d, span.end0);
        const auto to1 = hn::Set(d, span.end1);
        const auto add = [&](auto& sum, int at) HWY_ATTR {
            // The two ends nearly cancel: add each pair first.
            auto part = hn::Mul(to0, hn::LoadU(d, to + at));
            part = hn::MulAdd(from0, hn::LoadU(d, from + at), part);
            part = hn::MulAdd(to1, hn::LoadU(d, to + at + 1), part);
            part = hn::MulAdd(from1, hn::LoadU(d, from + at + 1), part);
            sum = hn::Add(sum, part);
        };
        add(sum0, 0);
        if constexpr (Vectors == 4) {
            add(sum1, lanes);
            add(sum2, 2 * lanes);
            add(sum3, 3 * lanes);
        }
    }
    Real* out = row.sums + channel * row.sumsStride + x;
    hn::StoreU(sum0, d, out);
    if constexpr (Vectors == 4) {
        hn::StoreU(sum1, d, out + lanes);
        hn::StoreU(sum2, d, out + 2 * lanes);
        hn::StoreU(sum3, d, out + 3 * lanes);
    }
}

template <class Real>
void addSpansOf(const SpanRow<Real>& row)
{
    const hn::ScalableTag<Real> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int x = 0;
    for (; x + 4 * lanes <= row.count; x += 4 * lanes)
        for (int c = 0; c < row.channels; ++c)
            addSpansAt<4>(row, c, x);
    for (; x < row.count && row.count >= lanes; x += lanes)
        for (int c = 0; c < row.channels; ++c)
            addSpansAt<1>(row, c, std::min(x, row.count - lanes)); // the last ones are written twice
    addSpansFrom(row, x);
}

void addSpansFloat(const SpanRow<float>& row)
{
    addSpansOf(row);
}

void addSpansDouble(const SpanRow<double>& row)
{
    addSpansOf(row);
}

/// Pixels from the middle of cell i - 1 to the middle of cell i lie on one line; `Cell` of them at a time.
template <int Cell>
void expandLines(const float* cells, float* out, int lines)
{
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto at = [&](auto a, auto rise, float part)
                        HWY_ATTR { return hn::MulAdd(rise, hn::Set(d, part), a); };
    int i = 0;
    for (; i + lanes <= lines; i += lanes) {
        const auto a = hn::LoadU(d, cells + i);
        const auto rise = hn::Sub(hn::LoadU(d, cells + i + 1), a);
        if constexpr (Cell == 2)
            hn::StoreInterleaved2(at(a, rise, 0.25F), at(a, rise, 0.75F), d, out + 2 * i);
        else
            hn::StoreInterleaved4(at(a, rise, 0.125F), at(a, rise, 0.375F), at(a, rise, 0.625F),
                                  at(a, rise, 0.875F), d, out + 4 * i);
    }
    for (; i < lines; ++i)
        for (int k = 0; k < Cell; ++k)
            out[Cell * i + k] =
                cells[i] + (cells[i + 1] - cells[i]) * ((static_cast<float>(k) + 0.5F) / Cell);
}

/// The same for large cells: one line after the other.
void expandLongLines(const float* cells, int cell, float* out, int lines)
{
    const hn::CappedTag<float, 8> d;
    const int lanes = static_cast<int>(hn::Lanes(d)); // a part of a cell, which is 8 or more
    const float step = 1.0F / static_cast<float>(cell);
    const auto middles = hn::Add(hn::Iota(d, 0), hn::Set(d, 0.5F));
    for (int i = 0; i < lines; ++i) {
        const auto a = hn::Set(d, cells[i]);
        const auto slope = hn::Set(d, (cells[i + 1] - cells[i]) * step);
        for (int k = 0; k < cell; k += lanes)
            hn::StoreU(hn::MulAdd(slope, hn::Add(middles, hn::Set(d, static_cast<float>(k))), a), d,
                       out + i * cell + k);
    }
}

void expandCellsSimd(const float* cells, int cell, float* out, int count)
{
    const float step = 1.0F / static_cast<float>(cell);
    const int half = cell / 2;
    // The first line and the last one are not whole.
    const auto part = [&](int line, int from, int to) {
        for (int x = from; x < to; ++x)
            out[x] = cells[line] + (cells[line + 1] - cells[line]) * step *
                                       (static_cast<float>(x - (line * cell - half)) + 0.5F);
    };
    part(0, 0, std::min(half, count));
    const int lines = std::max(0, (count - half) / cell);
    if (cell == 2)
        expandLines<2>(cells + 1, out + half, lines);
    else if (cell == 4)
        expandLines<4>(cells + 1, out + half, lines);
    else
        expandLongLines(cells + 1, cell, out + half, lines);
    if (half + lines * cell < count) part(lines + 1, half + lines * cell, count);
}

/// Sums of `Cell` neighbours; `to` may be `from`, or lie before it.
template <int Cell>
void joinBy(const float* from, float* to, int cells)
{
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= cells; i += lanes) {
        auto a = hn::Zero(d);
        auto b = hn::Zero(d);
        if constexpr (Cell == 2) {
            hn::LoadInterleaved2(d, from + 2 * i, a, b);
            hn::StoreU(hn::Add(a, b), d, to + i);
        } else {
            auto e = hn::Zero(d);
            auto f = hn::Zero(d);
            hn::LoadInterleaved4(d, from + 4 * i, a, b, e, f);
            hn::StoreU(hn::Add(hn::Add(a, b), hn::Add(e, f)), d, to + i);
        }
    }
    for (; i < cells; ++i) {
        const float* its = from + Cell * i;
        to[i] = Cell == 2 ? its[0] + its[1] : (its[0] + its[1]) + (its[Cell - 2] + its[Cell - 1]);
    }
}

void joinCellsSimd(const float* pixels, int cell, float* to, int cells, float scale)
{
    // Four at a time, then two: 8 is 4 times 2, 32 is 4 times 4 times 2.
    int left = cell;
    for (; left >= 4; left /= 4, pixels = to)
        joinBy<4>(pixels, to, cells * (left / 4));
    if (left == 2) joinBy<2>(pixels, to, cells);
    for (int i = 0; i < cells; ++i)
        to[i] *= scale;
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

/// How much of what covers and is evident so far shows past what is nearer.
template <class D, class V = hn::Vec<D>>
V seenPast(D d, V covered, V evidence, V nearer)
{
    const auto open = hn::Sub(hn::Set(d, 1.0F), nearer);
    const auto guessed =
        hn::Max(hn::Zero(d), hn::Mul(hn::Set(d, 1.0F / (1.0F - kGuessEvidence)), hn::Sub(covered, evidence)));
    const auto shown = hn::Max(hn::Zero(d), hn::Sub(covered, guessed));
    const auto apart = hn::Min(shown, open);
    const auto goesOn =
        hn::Min(hn::Set(d, 1.0F),
                hn::Div(hn::Mul(guessed, open), hn::Max(hn::Set(d, 1e-7F), hn::Mul(shown, nearer))));
    return hn::MulAdd(goesOn, hn::Sub(hn::Mul(covered, open), apart), apart);
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
        if (hn::AllFalse(d, hn::Gt(covered, least))) continue; // a third of all that is within reach
        const auto evidence = hn::LoadU(d, row.evidence + x);
        if (row.nearer) covered = seenPast(d, covered, evidence, hn::LoadU(d, row.nearer + x));
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
        if (row.inside) scale = hn::Mul(scale, inside);
        const auto add = [&](int c, auto light) {
            hn::StoreU(hn::MulAdd(light, scale, hn::LoadU(d, row.colour[c] + x)), d, row.colour[c] + x);
        };
        for (int c = 0; c < 3; ++c)
            add(c, hn::LoadU(d, row.light[c] + x));
        add(3, hn::Min(hn::LoadU(d, row.light[3] + x), evidence)); // sums are rounded
    }
    BudgetRow rest = row;
    for (int c = 0; c < 4; ++c) {
        rest.light[c] += x;
        rest.colour[c] += x;
    }
    rest.evidence += x;
    rest.covered += x;
    if (rest.inside) rest.inside += x;
    if (rest.nearer) rest.nearer += x;
    rest.coverage += x;
    addWithinBudgetScalar(rest, count - x);
}

} // namespace retinex::defocus::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace retinex::defocus {

HWY_EXPORT(addSpansFloat);
HWY_EXPORT(addSpansDouble);

template <class Real>
Span<Real>::Span(const Real* prefix, double startAt, double endAt, double weight)
{
    const double startWhole = std::floor(startAt);
    const double endWhole = std::floor(endAt);
    start = prefix + static_cast<std::ptrdiff_t>(startWhole);
    end = prefix + static_cast<std::ptrdiff_t>(endWhole);
    start0 = static_cast<Real>(-weight * (1.0 - (startAt - startWhole)));
    start1 = static_cast<Real>(-weight * (startAt - startWhole));
    end0 = static_cast<Real>(weight * (1.0 - (endAt - endWhole)));
    end1 = static_cast<Real>(weight * (endAt - endWhole));
}

template struct Span<float>;
template struct Span<double>;

void addSpans(const SpanRow<float>& row)
{
    HWY_DYNAMIC_DISPATCH(addSpansFloat)(row);
}

void addSpans(const SpanRow<double>& row)
{
    HWY_DYNAMIC_DISPATCH(addSpansDouble)(row);
}

HWY_EXPORT(expandCellsSimd);
HWY_EXPORT(joinCellsSimd);
HWY_EXPORT(mixRowsSimd);
HWY_EXPORT(addSharedSimd);
HWY_EXPORT(addWithinBudgetSimd);

void expandCells(const float* cells, int cell, float* out, int count)
{
    HWY_DYNAMIC_DISPATCH(expandCellsSimd)(cells, cell, out, count);
}

void joinCells(const float* pixels, int cell, float* to, int cells, float scale)
{
    HWY_DYNAMIC_DISPATCH(joinCellsSimd)(pixels, cell, to, cells, scale);
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

namespace {

/// Plain twin of the above.
float seenPast(float covered, float evidence, float nearer)
{
    const float open = 1.0F - nearer;
    const float guessed = std::max(0.0F, (covered - evidence) / (1.0F - kGuessEvidence));
    const float shown = std::max(0.0F, covered - guessed);
    const float apart = std::min(shown, open);
    const float goesOn = std::min(1.0F, guessed * open / std::max(1e-7F, shown * nearer));
    return apart + goesOn * (covered * open - apart);
}

} // namespace

void addWithinBudgetScalar(const BudgetRow& row, int count)
{
    constexpr float least = 1e-7F;
    for (int x = 0; x < count; ++x) {
        const float inside = row.inside ? std::max(row.inside[x], 1e-3F) : 1.0F;
        const float covered =
            (row.nearer ? seenPast(row.covered[x], row.evidence[x], row.nearer[x]) : row.covered[x]) / inside;
        const float left = std::max(1.0F - row.coverage[x], 0.0F);
        if (!(covered > least && row.evidence[x] > least)) continue;
        const float taken = std::min(covered, left);
        row.coverage[x] += taken;
        // The mean colour of what is seen stands for what is hidden too.
        const float scale = taken / row.evidence[x] * inside;
        for (int c = 0; c < 3; ++c)
            row.colour[c][x] += row.light[c][x] * scale;
        row.colour[3][x] += std::min(row.light[3][x], row.evidence[x]) * scale; // sums are rounded
    }
}

void addSpansScalar(const SpanRow<float>& row)
{
    addSpansFrom(row, 0);
}

void addSpansScalar(const SpanRow<double>& row)
{
    addSpansFrom(row, 0);
}

} // namespace retinex::defocus
#endif
