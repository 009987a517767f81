#pragma once

#include <cmath>

/// Small vectors for the reference tracer. World: x right, y up, z towards the viewer; lengths in metres.
namespace retinex::reference {

struct Vec
{
    float x = 0.F, y = 0.F, z = 0.F;
    friend Vec operator+(Vec a, Vec b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
    friend Vec operator-(Vec a, Vec b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
    friend Vec operator*(Vec a, float s) { return {a.x * s, a.y * s, a.z * s}; }
    friend Vec operator*(Vec a, Vec b) { return {a.x * b.x, a.y * b.y, a.z * b.z}; }
};

inline float dot(Vec a, Vec b)
{
    return a.x * b.x + a.y * b.y + a.z * b.z;
}
inline Vec cross(Vec a, Vec b)
{
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
inline float length(Vec a)
{
    return std::sqrt(dot(a, a));
}
inline Vec normalised(Vec a)
{
    return a * (1.F / length(a));
}
inline Vec mix(Vec a, Vec b, float t)
{
    return a * (1.F - t) + b * t;
}

} // namespace retinex::reference
