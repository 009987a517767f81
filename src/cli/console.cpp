#include "cli/console.h"

#include "core/delivery/frame_list.h"
#include "core/passes/image_file.h"
#include "core/passes/layers.h"
#include "core/project/file/project_file.h"

#include <atomic>
#include <charconv>
#include <csignal>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <thread>
#include <unistd.h>

namespace retinex::cli {

passes::PassChoice parsePassChoice(const std::string& text)
{
    std::error_code code;
    if (std::filesystem::is_regular_file(text, code)) return {text, {}}; // a name may have a colon
    const auto colon = text.rfind(':');
    if (colon == std::string::npos || text.find('/', colon) != std::string::npos) return {text, {}};
    // So may a pattern: what follows is no channel, then.
    if (passes::isPattern(text.substr(colon + 1))) return {text, {}};
    return {text.substr(0, colon), text.substr(colon + 1)};
}

namespace {

passes::FileInfo infoOf(const std::filesystem::path& file)
{
    return passes::inspectFile(passes::anyFrame(file));
}

} // namespace

passes::PassChoice colourBeside(const passes::PassChoice& depth)
{
    const auto info = infoOf(depth.file);
    if (!passes::colourLayers(info).empty()) return {depth.file, {}};
    return {depth.file, passes::chooseDepth(info, depth.name, true).channel};
}

passes::PassChoice depthChoice(const std::string& text)
{
    passes::PassChoice choice = parsePassChoice(text);
    if (!choice.name.empty()) return choice;
    const auto info = infoOf(choice.file);
    const auto layers = passes::colourLayers(info);
    if (passes::depthChannels(info).empty() && !layers.empty())
        choice.name = passes::luminanceName(layers.front().layer);
    return choice;
}

std::vector<int> framesGiven(const std::string& list, const project::Project& project)
{
    return namingOption("--frames " + list, [&] { return delivery::framesIn(list, project); });
}

project::Project loadTelling(const std::filesystem::path& file)
{
    std::vector<std::string> putRight;
    project::Project project = project::loadProject(file, &putRight);
    if (!putRight.empty()) tell("{}\n", project::putRightNotice(file, putRight));
    return project;
}

std::optional<int> namedFrame(const passes::Sequence& files, const std::filesystem::path& file)
{
    for (const int frame : files.frames())
        if (files.file(frame) == file) return frame;
    return std::nullopt;
}

ProgressPrinter::ProgressPrinter(ProgressKind kind, std::size_t frames)
    : m_kind(kind), m_terminal(isatty(STDERR_FILENO) != 0), m_frames(frames)
{
    if (m_kind == ProgressKind::automatic && !m_terminal)
        m_kind = frames > 1 ? ProgressKind::plain : ProgressKind::none;
}

ProgressPrinter::~ProgressPrinter()
{
    clearLine();
}

void ProgressPrinter::clearLine()
{
    if (m_kind == ProgressKind::automatic && m_percent >= 0) tell("\r\033[K");
}

void ProgressPrinter::stage(const std::string& words, double done)
{
    const int percent = static_cast<int>(100.0 * done);
    const bool isNew = m_stage != words;
    if (!isNew && percent == m_percent) return;
    const bool isNewTenth = isNew || percent / 10 != m_percent / 10;
    m_stage = words;
    m_percent = percent;
    if (m_kind == ProgressKind::automatic)
        tell("\r{:3} %  {}", percent, words);
    else if (m_kind == ProgressKind::plain && isNew)
        tell("{}\n", words);
    else if (m_kind == ProgressKind::json && isNewTenth)
        tell("{}\n", nlohmann::ordered_json{{"stage", words}, {"share", 0.01 * percent}}.dump());
}

void ProgressPrinter::share(double done)
{
    const int percent = static_cast<int>(100.0 * done);
    if (percent == m_percent) return;
    m_percent = percent;
    if (m_kind == ProgressKind::automatic) tell("\r{:3} %  {} of {} frames", percent, m_done, m_frames);
}

void ProgressPrinter::frame(int frame, const std::string& file, const std::string& failure)
{
    ++m_done;
    if (m_kind == ProgressKind::json) {
        nlohmann::ordered_json line{{"frame", frame}, {"file", file}, {"done", m_done}, {"of", m_frames}};
        if (!failure.empty()) line["failure"] = failure;
        // Names of files may be of any bytes; JSON is UTF-8.
        tell("{}\n", line.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace));
    } else if (m_kind == ProgressKind::plain && failure.empty()) {
        tell("frame {} ({} of {}): {}\n", frame, m_done, m_frames, file);
    }
    if (!failure.empty() && m_kind != ProgressKind::json) {
        clearLine();
        tell("frame {}: {}\n", frame, failure);
    }
}

namespace {

std::atomic<bool> interrupted{false};

extern "C" void onInterrupt(int)
{
    interrupted.store(true);
}

} // namespace

std::stop_token interruptToken()
{
    // A signal handler may only set a flag; a small thread turns it into the stop request.
    static std::stop_source source;
    static std::jthread watcher([](const std::stop_token& end) {
        while (!end.stop_requested()) {
            if (interrupted.load()) source.request_stop();
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
        }
    });
    static const bool installed = [] {
        std::signal(SIGINT, onInterrupt);
        std::signal(SIGTERM, onInterrupt);
        return true;
    }();
    (void)installed;
    return source.get_token();
}

} // namespace retinex::cli
