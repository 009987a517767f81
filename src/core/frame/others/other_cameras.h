#pragma once

#include "core/frame/purpose.h"
#include "core/others/frame_camera.h"
#include "core/others/motion_reading.h"
#include "core/passes/pass_source.h"

namespace retinex::frame {

/// Who tells where the frames of a sequence were seen from: the best of what there is.
enum class CameraFrom {
    nowhere,   ///< a still, a deep picture
    headers,   ///< of the colour pass
    sceneFile, ///< the project's, with its camera for the shot
    vectors,   ///< motion vectors and depth
    picture    ///< points followed from frame to frame, and depth
};

/// Told by the first frame's header and by what files there are.
[[nodiscard]] CameraFrom cameraFrom(const passes::PassSource& source, const Project& project, int frame);

/// The cameras of a frame and of others of its shot, in one world. Those that are solved go from frame to
/// frame, what was solved once is kept by the source. The source and the project must outlive it.
class FrameCameras
{
public:
    FrameCameras(const passes::PassSource& source, const Project& project, int frame,
                 const passes::FramePasses& passes, Run run);

    [[nodiscard]] CameraFrom from() const noexcept { return m_from; }
    [[nodiscard]] const std::optional<others::FrameCamera>& own() const noexcept { return m_own; }
    /// Nothing where none is told, or what was solved on the way is off by half a pixel or more.
    [[nodiscard]] std::optional<others::FrameCamera> at(int other);
    /// By how much those asked for are off at most, as far as it was solved; px.
    [[nodiscard]] double errorPx() const noexcept { return m_errorPx; }
    /// Whether any of those asked for was told.
    [[nodiscard]] bool isSolved() const noexcept { return m_isSolved; }

private:
    struct Stand
    {
        std::optional<Imath::M44d> fromOwn; ///< nothing: it could not be told
        double errorPx = 0.0;
    };
    [[nodiscard]] Stand standAt(int other) const;
    [[nodiscard]] double fieldOfView(int frame) const;
    [[nodiscard]] std::optional<others::FrameCamera> told(int frame, const passes::HeaderPtr& header) const;

    const passes::PassSource& m_source;
    const Project& m_project;
    int m_frame;
    double m_pixelAspect;
    Run m_run;
    CameraFrom m_from;
    std::optional<others::FrameCamera> m_own;
    double m_errorPx = 0.0;
    bool m_isSolved = false;
};

/// How the motion vectors of a frame are meant; nothing where there are none, or they cannot tell.
[[nodiscard]] std::optional<others::MotionProposal>
motionProposal(const passes::PassSource& source, const Project& project, int frame, const Run& run);

} // namespace retinex::frame

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 5> kWords<frame::CameraFrom>{"nowhere", "headers", "scene file",
                                                                           "motion vectors", "picture"};

} // namespace retinex
