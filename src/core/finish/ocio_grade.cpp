#include "core/finish/ocio_grade.h"

#include "core/finish/colour_steps.h"
#include "core/finish/white_balance.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <cmath>

namespace retinex::finish {

namespace {

namespace ocio = OCIO_NAMESPACE;

ocio::GradingPrimaryTransformRcPtr primary(const Grade& grade)
{
    ocio::GradingPrimary values(ocio::GRADING_LIN);
    values.m_exposure.m_master = grade.exposureStops;
    values.m_contrast.m_master = grade.contrast;
    values.m_pivot = std::log2(grade.pivot / 0.18); // in stops from mid grey
    auto transform = ocio::GradingPrimaryTransform::Create(ocio::GRADING_LIN);
    transform->setValue(values);
    return transform;
}

/// Its own matrix: GradingPrimaryTransform of OpenColorIO 2.1 leaves a picture as it is for a saturation of
/// 0.
Matrix saturation(double share)
{
    constexpr double luma[3] = {0.2126, 0.7152, 0.0722}; // Rec. ITU-R BT.709-6
    Matrix m{};
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t column = 0; column < 3; ++column)
            m[row][column] = (1.0 - share) * luma[column] + (row == column ? share : 0.0);
    return m;
}

ocio::GradingToneTransformRcPtr tone(const Grade& grade)
{
    ocio::GradingTone values(ocio::GRADING_LIN);
    const auto take = [](const Tones& from, ocio::GradingRGBMSW& to) {
        to.m_red = from[0];
        to.m_green = from[1];
        to.m_blue = from[2];
        to.m_master = from[3];
    };
    take(grade.shadows, values.m_shadows);
    take(grade.midtones, values.m_midtones);
    take(grade.highlights, values.m_highlights);
    auto transform = ocio::GradingToneTransform::Create(ocio::GRADING_LIN);
    transform->setValue(values);
    return transform;
}

ocio::GradingBSplineCurveRcPtr spline(const Curve& curve)
{
    if (curve.size() < 2)
        return ocio::GradingBSplineCurve::Create({{-7.0F, -7.0F}, {0.0F, 0.0F}, {7.0F, 7.0F}});
    auto made = ocio::GradingBSplineCurve::Create(curve.size());
    for (std::size_t i = 0; i < curve.size(); ++i) {
        made->getControlPoint(i).m_x = static_cast<float>(curve[i].first);
        made->getControlPoint(i).m_y = static_cast<float>(curve[i].second);
    }
    return made;
}

/// ACEScct (Academy S-2016-001): its curve alone, on the scene-linear space's own primaries.
ocio::LogCameraTransformRcPtr acesCct(ocio::TransformDirection direction)
{
    const double lowEnd[3] = {0.0078125, 0.0078125, 0.0078125};
    auto log = ocio::LogCameraTransform::Create(lowEnd);
    const double slope[3] = {1.0 / 17.52, 1.0 / 17.52, 1.0 / 17.52};
    const double offset[3] = {9.72 / 17.52, 9.72 / 17.52, 9.72 / 17.52};
    const double linear[3] = {10.5402377416545, 10.5402377416545, 10.5402377416545};
    log->setBase(2.0);
    log->setLogSideSlopeValue(slope);
    log->setLogSideOffsetValue(offset);
    log->setLinearSlopeValue(linear);
    log->setDirection(direction);
    return log;
}

/// Without its saturation.
ocio::CDLTransformRcPtr slopeOffsetPower(const Cdl& cdl)
{
    auto transform = ocio::CDLTransform::Create();
    transform->setSlope(cdl.slope.data());
    transform->setOffset(cdl.offset.data());
    transform->setPower(cdl.power.data());
    transform->setStyle(ocio::CDL_NO_CLAMP);
    return transform;
}

} // namespace

std::vector<GradePiece> gradePieces(const Grade& grade)
{
    const Tones none{1.0, 1.0, 1.0, 1.0};
    std::vector<GradePiece> pieces;
    auto group = ocio::GroupTransform::Create();
    bool isSteep = false;
    const auto close = [&] {
        if (group->getNumTransforms() > 0) pieces.push_back({{}, group, isSteep});
        group = ocio::GroupTransform::Create();
    };
    const auto add = [&](const Matrix& matrix) {
        close();
        pieces.push_back({matrix, nullptr, false});
    };
    if (!grade.white.isNeutral()) add(balanceMatrix(grade.white));
    if (grade.exposureStops != 0.0 || grade.contrast != 1.0) group->appendTransform(primary(grade));
    if (grade.saturation != 1.0) add(saturation(grade.saturation));
    if (grade.shadows != none || grade.midtones != none || grade.highlights != none)
        group->appendTransform(tone(grade));
    if (grade.curve.size() > 1 || grade.redCurve.size() > 1 || grade.greenCurve.size() > 1 ||
        grade.blueCurve.size() > 1) {
        auto transform = ocio::GradingRGBCurveTransform::Create(ocio::GRADING_LIN);
        transform->setValue(ocio::GradingRGBCurve::Create(spline(grade.redCurve), spline(grade.greenCurve),
                                                          spline(grade.blueCurve), spline(grade.curve)));
        group->appendTransform(transform);
    }
    if (!grade.cdl.isNeutral()) {
        const bool isLog = grade.cdl.scale == Cdl::Scale::log;
        if (isLog) group->appendTransform(acesCct(ocio::TRANSFORM_DIR_FORWARD));
        group->appendTransform(slopeOffsetPower(grade.cdl));
        if (grade.cdl.saturation != 1.0) {
            add(saturation(grade.cdl.saturation));
            isSteep = isLog;
        }
        if (isLog) group->appendTransform(acesCct(ocio::TRANSFORM_DIR_INVERSE));
    }
    close();
    return pieces;
}

ocio::ConstTransformRcPtr gradeTransform(const Grade& grade)
{
    auto group = ocio::GroupTransform::Create();
    for (const GradePiece& piece : gradePieces(grade)) {
        if (piece.perColour) {
            group->appendTransform(piece.perColour->createEditableCopy());
            continue;
        }
        std::array<double, 16> four{};
        for (std::size_t row = 0; row < 3; ++row)
            for (std::size_t column = 0; column < 3; ++column)
                four[4 * row + column] = piece.matrix[row][column];
        four[15] = 1.0;
        auto matrix = ocio::MatrixTransform::Create();
        matrix->setMatrix(four.data());
        group->appendTransform(matrix);
    }
    return group;
}

void checkCurves(const Grade& grade)
{
    const std::pair<const char*, const Curve*> curves[] = {{"master", &grade.curve},
                                                           {"red", &grade.redCurve},
                                                           {"green", &grade.greenCurve},
                                                           {"blue", &grade.blueCurve}};
    for (const auto& [name, curve] : curves)
        for (std::size_t i = 0; i < curve->size(); ++i) {
            const auto& [in, out] = (*curve)[i];
            const bool isFinite = std::isfinite(in) && std::isfinite(out);
            if (isFinite && (i == 0 || (in > (*curve)[i - 1].first && out >= (*curve)[i - 1].second)))
                continue;
            throw Error(
                say("Point {} of the {} curve does not lie beyond the one before it: points rise from one "
                    "to the next. Move or delete it.",
                    i + 1, name));
        }
}

} // namespace retinex::finish
