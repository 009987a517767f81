#pragma once

#include "core/image/crop.h"

#include <memory>
#include <mutex>

namespace retinex {

/// The part of a picture that is the frame, where the picture holds more than that; made when it is asked for
/// first. A copy makes its own: what it is copied with may change before anyone asks. Thread-safe.
template <class Picture>
class FramePart
{
public:
    FramePart() = default;
    FramePart(const FramePart&) noexcept {}
    FramePart& operator=(const FramePart&) noexcept
    {
        m_made.reset();
        return *this;
    }
    ~FramePart() = default;

    /// `all` itself where the frame is all of it.
    [[nodiscard]] const Picture& of(const Picture& all, const PixelBox& frame) const
    {
        if (frame == PixelBox::at(0, 0, all.width(), all.height())) return all;
        const std::lock_guard lock(m_mutex);
        if (!m_made) m_made = std::make_unique<Picture>(cropped(all, frame));
        return *m_made;
    }

private:
    mutable std::mutex m_mutex;
    mutable std::unique_ptr<const Picture> m_made;
};

} // namespace retinex
