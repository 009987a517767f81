#pragma once

#include "core/frame/purpose.h"
#include "core/frame/stages.h"
#include "core/passes/pass_source.h"

#include <map>
#include <string>

/// What pictures depend on, and texts that are equal when, and only when, all of that is: for caches, also
/// those that outlive a run. This is the one place that says it: the window's store, kept lens pictures, the
/// survey, deliveries that are resumed, the queue and the farm ask here.
namespace retinex::frame {

/// In which state files are: each is looked at once. For a pass over many frames of one project.
class FileStates
{
public:
    /// Size and time of change, of small ones what is in them too; "" where there is no such file.
    [[nodiscard]] const std::string& of(const std::filesystem::path& file);
    /// What others that look at a frame depend on, as `make` tells it once.
    template <class Make>
    [[nodiscard]] const std::string& ofNeighbour(int frame, Make make)
    {
        const auto [state, isNew] = m_neighbours.try_emplace(frame);
        if (isNew) state->second = make();
        return state->second;
    }

private:
    std::map<std::filesystem::path, std::string> m_states;
    std::map<int, std::string> m_neighbours;
};

/// Gathers what one frame depends on.
class DependsOn
{
public:
    DependsOn(const passes::PassSource& source, const Project& project, int frame, FileStates& files);

    [[nodiscard]] const passes::PassSource& source() const noexcept { return m_source; }
    [[nodiscard]] const Project& project() const noexcept { return m_project; }
    [[nodiscard]] int frame() const noexcept { return m_frame; }
    [[nodiscard]] FileStates& files() const noexcept { return m_files; }
    /// At the frame, with the reading as far as distances depend on it.
    [[nodiscard]] const Settings& values() const noexcept { return m_values; }

    void text(std::string_view text);
    void file(const std::filesystem::path& file);
    /// What a frame is read from; where it is not there, and missing frames are held, what stands in.
    void frameOf(const passes::Sequence& files, int frame);
    /// All that a frame's passes are read from.
    void passes(int frame);
    /// A matte by its name and its file for a frame; one that is not there counts as such.
    void matte(const passes::MatteChoice& matte, int frame);
    /// Those of the project with the titles of a list ("door, can"), for the frame.
    void mattesTitled(const std::string& titles);
    /// Of another source, such as an insert's picture.
    void passesOf(const passes::PassSource& other, int frame);
    /// The configuration of colour spaces.
    void colourConfiguration();
    /// All settings that a stage takes, at their values.
    void settingsOf(Stage stage);
    /// What another frame is once it has passed a stage.
    void frameUpTo(int frame, Stage last);
    /// What a stage and those before it depend on.
    void stagesUpTo(Stage last);

    /// Sixteen hexadecimal digits.
    [[nodiscard]] std::string fingerprint() const;

private:
    const passes::PassSource& m_source;
    const Project& m_project;
    int m_frame;
    FileStates& m_files;
    Settings m_values;
    std::string m_text;
};

/// Of what a frame is once it has passed a stage.
[[nodiscard]] std::string fingerprint(const passes::PassSource& source, const Project& project, int frame,
                                      Stage last);
[[nodiscard]] std::string fingerprint(const passes::PassSource& source, const Project& project, int frame,
                                      Stage last, FileStates& files);

/// What a subject's samples depend on: its places and how it is measured, the shots, how depth is read and
/// what is in the files; or of a subject in the scene file the scene.
[[nodiscard]] std::string subjectFingerprint(const Project& project, const timeline::Subject& subject,
                                             const passes::PassSource& source);

/// Every file and pattern that the project names, as its settings are described: what is worth watching.
[[nodiscard]] std::vector<std::filesystem::path> filesNamed(const Project& project);

} // namespace retinex::frame
