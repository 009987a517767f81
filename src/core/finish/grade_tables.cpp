#include "core/finish/grade_tables.h"

#include "core/finish/ocio_grade.h"

namespace retinex::finish {

namespace {

namespace ocio_ns = OCIO_NAMESPACE;

std::array<std::shared_ptr<const ToneTable>, 3> tabled(const ocio_ns::ConstTransformRcPtr& transform,
                                                       unsigned bits)
{
    const auto processor = ocio_ns::Config::CreateRaw()->getProcessor(transform)->getOptimizedCPUProcessor(
        ocio_ns::BIT_DEPTH_F32, ocio_ns::BIT_DEPTH_F32, ocio_ns::OPTIMIZATION_LOSSLESS);
    std::array<std::vector<float>, 3> values;
    std::array<std::shared_ptr<const ToneTable>, 3> tables;
    for (std::size_t c = 0; c < 3; ++c)
        tables[c] = std::make_shared<const ToneTable>(
            [&](std::span<float> places) {
                if (c == 0) { // all three at once
                    for (auto& plane : values)
                        plane.assign(places.begin(), places.end());
                    ocio_ns::PlanarImageDesc pixels(values[0].data(), values[1].data(), values[2].data(),
                                                    nullptr, static_cast<long>(places.size()), 1);
                    processor->apply(pixels);
                }
                std::copy(values[c].begin(), values[c].end(), places.begin());
            },
            bits);
    return tables;
}

} // namespace

GradeTables::GradeTables(const Grade& grade)
{
    for (const GradePiece& piece : gradePieces(grade)) {
        if (piece.perColour)
            m_pieces.emplace_back(tabled(piece.perColour, piece.isSteep ? 10 : 7));
        else
            m_pieces.emplace_back(piece.matrix);
    }
}

void GradeTables::apply(float* red, float* green, float* blue, long count) const
{
    for (const auto& piece : m_pieces) {
        if (const auto* tables = std::get_if<Tables>(&piece)) {
            const std::array<float*, 3> planes{red, green, blue};
            for (std::size_t c = 0; c < 3; ++c) {
                const ToneTable& table = *(*tables)[c];
                for (long i = 0; i < count; ++i)
                    planes[c][i] = table(planes[c][i]);
            }
            continue;
        }
        std::array<std::array<float, 3>, 3> m{};
        for (std::size_t r = 0; r < 3; ++r)
            for (std::size_t c = 0; c < 3; ++c)
                m[r][c] = static_cast<float>(std::get<Matrix>(piece)[r][c]);
        for (long i = 0; i < count; ++i) {
            const float r = red[i];
            const float g = green[i];
            const float b = blue[i];
            red[i] = m[0][0] * r + m[0][1] * g + m[0][2] * b;
            green[i] = m[1][0] * r + m[1][1] * g + m[1][2] * b;
            blue[i] = m[2][0] * r + m[2][1] * g + m[2][2] * b;
        }
    }
}

} // namespace retinex::finish
