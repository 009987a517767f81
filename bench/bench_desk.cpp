// The focus desk with 2,000 frames: how long a step of dragging a mark, the focal plane and a limit takes,
// from the mouse's move to the window drawn again, and how long such a project takes to load.
#include "app/look/style.h"
#include "app/window/main_window.h"
#include "core/passes/exr/exr_write.h"
#include "core/project/file/project_file.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

using namespace retinex;
using namespace retinex::app;

namespace {

constexpr int kFrames = 2000;

/// One small frame, under 2,000 names.
QString writeSequence(const QTemporaryDir& dir)
{
    RgbaImage image(96, 54);
    for (int y = 0; y < 54; ++y)
        for (int x = 0; x < 96; ++x)
            for (int c = 0; c < RgbaImage::channels; ++c)
                image.plane(c).at(x, y) = 1.F + 0.05F * static_cast<float>(x + (x * y) % 7);
    const QString first = dir.filePath("long.0001.exr");
    passes::writeExr(first.toStdString(), {&image, passes::SampleType::float32, nullptr, 0, 0});
    for (int frame = 2; frame <= kFrames; ++frame)
        QFile::link(first, dir.filePath(QStringLiteral("long.%1.exr").arg(frame, 4, 10, QLatin1Char('0'))));
    return first;
}

project::Project longProject(const QString& file)
{
    project::Project project;
    project.colour = {file.toStdString(), {}};
    project.depth = {file.toStdString(), "R"};
    project.firstFrame = 1;
    project.lastFrame = kFrames;
    for (int i = 0; i < 6; ++i) {
        timeline::Subject subject{"subject " + std::to_string(i)};
        subject.places = {{1, 40.0, 20.0}};
        std::vector<timeline::Place> tracked;
        std::vector<timeline::Sample> samples;
        for (int frame = 1; frame <= kFrames; ++frame) {
            tracked.push_back({frame, 40.0, 20.0, 0.9});
            samples.push_back({frame, 2.0 + 0.4 * i + 0.3 * std::sin(0.01 * frame)});
        }
        subject.tracked = std::move(tracked);
        subject.samples = std::move(samples);
        project.subjects.push_back(std::move(subject));
    }
    auto& marks = project.shots.front().tracks[project::setting::focusDistance];
    for (int frame = 20; frame < kFrames; frame += 40)
        timeline::setMark(marks, {frame, 2.0 + frame % 3});
    for (int frame = 10; frame < kFrames; frame += 100)
        timeline::setMark(project.shots.front().tracks[project::setting::fStop], {frame, 2.0 + frame % 5});
    return project;
}

void report(const char* what, std::vector<double>& ms)
{
    std::sort(ms.begin(), ms.end());
    fmt::print(" {:24} median {:5.1f} ms, 95 % {:5.1f} ms: {:.0f} and {:.0f} a second\n", what,
               ms[ms.size() / 2], ms[ms.size() * 95 / 100], 1000.0 / ms[ms.size() / 2],
               1000.0 / ms[ms.size() * 95 / 100]);
}

std::vector<double> dragged(QWidget* widget, QPoint from)
{
    std::vector<double> ms;
    QTest::mousePress(widget, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 120; ++i) {
        QElapsedTimer timer;
        timer.start();
        QTest::mouseMove(widget, from + QPoint(0, static_cast<int>(30.0 * std::sin(0.1 * i))));
        widget->repaint(); // with all that the move has made out of date in the window
        ms.push_back(timer.nsecsElapsed() / 1e6);
        QTest::qWait(4);
    }
    QTest::mouseRelease(widget, Qt::LeftButton, {}, from);
    return ms;
}

} // namespace

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    QTemporaryDir config;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, config.path());
    style::apply(application);
    QTemporaryDir dir;
    const std::string file = dir.filePath("long.retinex").toStdString();
    project::saveProject(file, longProject(writeSequence(dir)));
    std::vector<double> loads;
    for (int i = 0; i < 5; ++i) {
        QElapsedTimer timer;
        timer.start();
        const auto loaded = project::loadProject(file);
        const passes::PassSource source(loaded.colour, loaded.depth);
        loads.push_back(timer.nsecsElapsed() / 1e6);
    }
    std::sort(loads.begin(), loads.end());
    fmt::print(
        "a project of {} frames, {} kB: loaded with its sequence found in {:.0f} ms (median of five)\n",
        kFrames, QFileInfo(QString::fromStdString(file)).size() / 1000, loads[2]);
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    window.open({QString::fromStdString(file)});
    if (!QTest::qWaitFor([&] { return window.isSettled(); }, 120'000)) return 1;
    auto* desk = window.findChild<FocusDesk*>();
    auto* profile = window.findChild<DepthProfile*>();
    window.document().setFrame(1020);
    if (!QTest::qWaitFor([&] { return window.isSettled(); }, 20'000)) return 1;
    fmt::print("dragging, a step from the move to the window drawn again, all {} frames in sight\n", kFrames);
    const auto& mark = *timeline::markOn(window.document().marks(), 1020);
    auto ms = dragged(desk, desk->pointFor(1020, mark.value));
    report("a mark", ms);
    ms = dragged(profile, profile->handlePoint(DepthProfile::Handle::focus));
    report("the focal plane", ms);
    ms = dragged(profile, profile->handlePoint(DepthProfile::Handle::farLimit));
    report("the far limit", ms);
    window.document().undoStack().setClean();
    return 0;
}
