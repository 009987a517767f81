#include "cli/insert_options.h"

#include "core/inserts/placing.h"
#include "core/system/error.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>

namespace retinex::cli {

namespace {

using inserts::DistanceFrom;
using inserts::Insert;

/// The numbers of a list; empty where one of them is none.
std::vector<double> listOf(const std::string& text)
{
    std::vector<double> numbers;
    const char* at = text.c_str();
    while (true) {
        char* end = nullptr;
        const double value = std::strtod(at, &end);
        if (end == at || !std::isfinite(value)) return {};
        numbers.push_back(value);
        if (*end == '\0') return numbers;
        if (*end != ',') return {};
        at = end + 1;
    }
}

/// "" where there is no @.
std::string takeLast(std::string& text)
{
    const std::size_t at = text.rfind('@');
    if (at == std::string::npos) return {};
    const std::string last = text.substr(at + 1);
    text.erase(at);
    return last;
}

/// #RRGGBB as it is on a display (sRGB), or R,G,B as light.
bool isColour(const std::string& text, Insert& insert)
{
    const auto light = [](long byte) {
        const double v = static_cast<double>(byte) / 255.0; // IEC 61966-2-1
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    if (text.size() == 7 && text[0] == '#' &&
        text.find_first_not_of("0123456789abcdefABCDEF", 1) == std::string::npos) {
        const long value = std::strtol(text.c_str() + 1, nullptr, 16);
        insert.red = light(value >> 16);
        insert.green = light(value >> 8 & 255);
        insert.blue = light(value & 255);
        return true;
    }
    const auto numbers = listOf(text);
    if (numbers.size() != 3 || numbers[0] < 0.0 || numbers[1] < 0.0 || numbers[2] < 0.0) return false;
    insert.red = numbers[0];
    insert.green = numbers[1];
    insert.blue = numbers[2];
    return true;
}

/// A number above 0, "inf" or "surface".
void setDistance(Insert& insert, const std::string& text, const std::string& option, const std::string& whole)
{
    if (text == "inf") {
        insert.distanceFrom = DistanceFrom::infinity;
        return;
    }
    if (text == "surface") {
        insert.distanceFrom = DistanceFrom::surface;
        return;
    }
    const auto numbers = listOf(text);
    if (numbers.size() == 4 && insert.placing == inserts::Placing::corners &&
        *std::min_element(numbers.begin(), numbers.end()) > 0.0) {
        insert.distanceFrom = DistanceFrom::corners;
        std::copy(numbers.begin(), numbers.end(), insert.cornerDistances.begin());
        return;
    }
    if (numbers.size() != 1 || !(numbers[0] > 0.0))
        throw Error(
            fmt::format("{} {}: the distance is \"{}\". Give a number above 0 in --unit, inf, or surface "
                        "for that of what lies below.",
                        option, whole, text));
    insert.distanceFrom = DistanceFrom::number;
    insert.distance = numbers[0];
}

Insert insertOf(const std::string& whole, bool byCorners)
{
    const std::string option = byCorners ? "--insert-corners" : "--insert";
    std::string text = whole;
    Insert insert;
    insert.placing = byCorners ? inserts::Placing::corners : inserts::Placing::upright;
    const std::string distance = takeLast(text);
    const auto place = listOf(takeLast(text));
    if (text.empty() || place.size() != (byCorners ? 8U : 3U))
        throw Error(
            byCorners
                ? fmt::format("{} {}: write FILE@X1,Y1,X2,Y2,X3,Y3,X4,Y4@DISTANCE, the corners from the top "
                              "left on, clockwise.",
                              option, whole)
                : fmt::format("{} {}: write FILE@X,Y,WIDTH@DISTANCE, the middle and the width in px.", option,
                              whole));
    insert.file = text;
    insert.name = std::filesystem::path(text).stem().string();
    if (byCorners) {
        for (std::size_t i = 0; i < 4; ++i)
            insert.corners[i] = {place[2 * i], place[2 * i + 1]};
        if (const std::string fault = inserts::faultOf(insert.corners); !fault.empty())
            throw Error(fmt::format("{} {}: the insert {}.", option, whole, fault));
    } else {
        insert.moveX = place[0];
        insert.moveY = place[1];
        insert.widthPx = place[2];
        if (!(insert.widthPx >= 1.0))
            throw Error(fmt::format("{} {}: the width is 1 px at least.", option, whole));
    }
    setDistance(insert, distance, option, whole);
    return insert;
}

} // namespace

void addInsertOptions(CLI::App& command, InsertOptions& options)
{
    command.add_option("--backdrop", options.backdrop,
                       "FILE|COLOUR[@DISTANCE]: behind the colour pass where its alpha is open; a colour is "
                       "#RRGGBB or R,G,B; infinitely far without a distance");
    command
        .add_option("--backdrop-fit", options.fit,
                    "fill (nothing stays open), whole, or centre (pixel by pixel)")
        ->check(CLI::IsMember(std::vector<std::string>{"fill", "whole", "centre"}));
    command
        .add_option("--insert", options.inserts,
                    "FILE@X,Y,WIDTH@DISTANCE: a picture in the scene, its middle and width in px; the first "
                    "is on top")
        ->allow_extra_args(false);
    command
        .add_option(
            "--insert-corners", options.corners,
            "FILE@X1,Y1,...,X4,Y4@DISTANCE: one laid on by its corners, from the top left on, clockwise; "
            "DISTANCE may be surface, or four numbers")
        ->allow_extra_args(false);
}

void addInserts(const InsertOptions& options, project::Project& project)
{
    auto& inserts = project.base().inserts;
    const auto add = [&](Insert insert) {
        insert.id = std::to_string(inserts.size() + 1);
        inserts.push_back(std::move(insert));
    };
    for (const std::string& text : options.inserts)
        add(insertOf(text, false));
    for (const std::string& text : options.corners)
        add(insertOf(text, true));
    if (options.backdrop.empty()) return;
    Insert backdrop;
    backdrop.name = "backdrop";
    backdrop.placing = inserts::Placing::backdrop;
    backdrop.distanceFrom = DistanceFrom::infinity;
    backdrop.fit = *fromWord<inserts::Fit>(options.fit);
    std::string text = options.backdrop;
    const std::string distance = takeLast(text);
    if (!distance.empty()) setDistance(backdrop, distance, "--backdrop", options.backdrop);
    if (isColour(text, backdrop))
        backdrop.content = inserts::Content::colour;
    else
        backdrop.file = text;
    add(std::move(backdrop));
}

} // namespace retinex::cli
