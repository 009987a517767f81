#include "core/tracking/tracking_picture.h"

#include "core/passes/frames/luminance.h"
#include "core/tracking/cv_picture.h"

#include <algorithm>
#include <cmath>

namespace retinex::tracking {

Plane<float> trackingPicture(const RgbaImage& colour, const Run& run)
{
    Plane<float> picture = passes::luminanceOf(colour.plane(0), colour.plane(1), colour.plane(2));
    parallelFor(picture.height(), {run.threads, {}, run.stop}, [&](int y) {
        for (int x = 0; x < picture.width(); ++x) {
            const float light = std::max(0.F, picture.at(x, y));
            picture.at(x, y) = std::pow(light / (1.F + light), 1.F / 2.2F);
        }
    });
    return picture;
}

cv::Mat toMat(const Plane<float>& picture)
{
    cv::Mat mat(picture.height(), picture.width(), CV_8U);
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            mat.at<std::uint8_t>(y, x) = cv::saturate_cast<std::uint8_t>(255.0F * picture.at(x, y));
    return mat;
}

} // namespace retinex::tracking
