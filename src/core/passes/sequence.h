#pragma once

#include <filesystem>
#include <string>
#include <vector>

/// A still, or the numbered files of a sequence.
namespace retinex::passes {

/// One file, the frames of a sequence found on disk, or those of a movie (frame 1 is its first). Immutable.
class Sequence
{
public:
    /// Finds the frames that belong to `path`, which may be any one frame ("can.0007.exr"), a pattern
    /// ("can.####.exr", "can.%04d.exr") or a still. The number is the last run of digits in the name, with a
    /// minus before it where it follows a dot or an underscore; a lone numbered file is a still. Throws Error
    /// when nothing is there.
    [[nodiscard]] static Sequence find(const std::filesystem::path& path);

    /// What `path` is beside the colour pass: with a still, a numbered file is that one file; with a sequence
    /// it is one frame of many only where most of that sequence's numbers are there too. A pattern is a
    /// sequence always. Throws Error as find() does.
    [[nodiscard]] static Sequence findBeside(const Sequence& colour, const std::filesystem::path& path);

    /// A name that nothing is behind: a still of that name. For passes that are not there.
    [[nodiscard]] static Sequence absent(const std::filesystem::path& path);

    [[nodiscard]] bool isStill() const noexcept { return m_frames.empty(); }
    [[nodiscard]] bool isMovie() const noexcept { return m_isMovie; }
    /// Frame numbers that exist, rising; empty for a still.
    [[nodiscard]] const std::vector<int>& frames() const noexcept { return m_frames; }
    /// Numbers absent between the first and the last frame.
    [[nodiscard]] std::vector<int> missing() const;
    /// The file of `frame`; a still answers every frame with its one file.
    [[nodiscard]] std::filesystem::path file(int frame) const;
    /// True when the frame is there; a still has them all.
    [[nodiscard]] bool has(int frame) const;
    /// The last frame there is up to `frame`, or else the first one: what stands in for a missing frame.
    [[nodiscard]] int nearestTo(int frame) const;
    /// "can.####.exr", or the still's name; with its folder.
    [[nodiscard]] std::filesystem::path pattern() const;
    /// As file(), but throws Error naming the file and its neighbours when it is not there.
    [[nodiscard]] std::filesystem::path requireFile(int frame) const;

private:
    std::filesystem::path m_folder;
    std::string m_prefix; ///< the whole name of a still
    std::string m_suffix;
    int m_digits = 0; ///< digits that numbers are padded to
    bool m_isMovie = false;
    std::vector<int> m_frames;
    std::vector<std::string> m_names; ///< of the frames' files
};

/// Replaces the frame number in a pattern ("####" or "%04d"); a name without one is returned as it is.
[[nodiscard]] std::filesystem::path withFrame(const std::filesystem::path& pattern, int frame);
/// True when the name holds "#" or "%0Nd".
[[nodiscard]] bool isPattern(const std::filesystem::path& path);
/// A file by its name; of a pattern its first frame. Throws Error where no file fits.
[[nodiscard]] std::filesystem::path anyFrame(const std::filesystem::path& file);

/// "1-24, 30, 32-48": frames in ranges, for messages.
[[nodiscard]] std::string describeFrames(const std::vector<int>& frames);

} // namespace retinex::passes
