// Playing frames in the window at 1280 x 800: the rate against the one that is set, how evenly frames come,
// and how many are late; from memory, and from disk with a memory that holds a few frames only.
#include "app/look/style.h"
#include "app/play/cache_bar.h"
#include "app/window/main_window.h"
#include "core/passes/exr/exr_write.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
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

constexpr int kFrames = 48;
constexpr double kSeconds = 10.0;

/// One frame under many names: a floor that leans away, with texture.
QString writeSequence(const QTemporaryDir& dir, int width)
{
    RgbaImage image(width, width * 9 / 16);
    RgbaImage depth(width, width * 9 / 16);
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < width; ++x)
            for (int c = 0; c < RgbaImage::channels; ++c) {
                image.plane(c).at(x, y) =
                    0.1F + 0.03F * static_cast<float>((x / 8 * 7 + y / 8 * 13 + c) % 17);
                depth.plane(c).at(x, y) =
                    1.F + 9.F * static_cast<float>(y) / static_cast<float>(image.height());
            }
    const QString first = dir.filePath("play.0001.exr");
    const QString firstDepth = dir.filePath("depth.0001.exr");
    passes::writeExr(first.toStdString(), {&image, passes::SampleType::half, nullptr, 0, 0});
    passes::writeExr(firstDepth.toStdString(), {&depth, passes::SampleType::float32, nullptr, 0, 0});
    for (int frame = 2; frame <= kFrames; ++frame)
        for (const auto& [name, target] : {std::pair{"play", first}, std::pair{"depth", firstDepth}})
            QFile::link(
                target,
                dir.filePath(QStringLiteral("%1.%2.exr").arg(name).arg(frame, 4, 10, QLatin1Char('0'))));
    return first;
}

template <class Condition>
bool waitFor(Condition condition, int ms)
{
    QElapsedTimer timer;
    timer.start();
    while (!condition() && timer.elapsed() < ms)
        QTest::qWait(20);
    return condition();
}

void play(MainWindow& window, int width, double rate, const char* from)
{
    project::Project changed = window.document().project();
    changed.playing.framesPerSecond = rate;
    window.document().edit(QStringLiteral("rate"), changed);
    window.document().setFrame(1);
    waitFor([&] { return window.isSettled(); }, 60'000);
    QTest::qWait(300);
    QElapsedTimer clock;
    std::vector<double> times;
    const auto connection = QObject::connect(&window.playback(), &Playback::shown, &window, [&] {
        times.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e9);
    });
    clock.start();
    QTest::keyClick(&window, Qt::Key_Space);
    QEventLoop loop; // nothing else takes time
    QTimer::singleShot(static_cast<int>(kSeconds * 1000.0), &loop, &QEventLoop::quit);
    loop.exec();
    QTest::keyClick(&window, Qt::Key_Space);
    QObject::disconnect(connection);
    if (times.size() < 3) {
        fmt::print("{:>5} px wide, from {:<6} at {} fps: nothing was shown\n", width, from, rate);
        return;
    }
    const double shown = static_cast<double>(times.size() - 1) / (times.back() - times.front());
    std::vector<double> offs; // of the time between frames from what it should be, ms
    for (std::size_t i = 1; i < times.size(); ++i)
        offs.push_back(1000.0 * std::abs(times[i] - times[i - 1] - 1.0 / rate));
    std::sort(offs.begin(), offs.end());
    fmt::print(
        "{:>5} px wide, from {:<6} at {:>6.3f} fps: {:>6.3f} shown a second, {:+.2f} %; {} of {} late; "
        "between frames off by {:.1f} ms (median), {:.1f} ms (95 %)\n",
        width, from, rate, shown, 100.0 * (shown / rate - 1.0), window.playback().lateFrames(),
        static_cast<int>(times.size()) + window.playback().lateFrames(), offs[offs.size() / 2],
        offs[offs.size() * 95 / 100]);
    std::fflush(stdout);
}

void measure(int width)
{
    QTemporaryDir folder;
    const QString file = writeSequence(folder, width);
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    window.activateWindow();
    window.open({file, folder.filePath(QStringLiteral("depth.0001.exr"))});
    QTest::qWait(100);
    waitFor([&] { return window.isSettled(); }, 120'000);
    auto* bar = window.findChild<CacheBar*>();
    QElapsedTimer filling;
    filling.start();
    if (!waitFor([&] { return bar->readyFrames() == kFrames; }, 600'000)) qFatal("frames were not made");
    fmt::print("{:>5} px wide: {} frames made ready in {:.1f} s while nothing else was done, {:.0f} MB\n",
               width, kFrames, filling.nsecsElapsed() / 1e9,
               static_cast<double>(window.frameStore().bytesInMemory()) / 1e6);
    for (const double rate : {24.0, 25.0, 30.0, 60.0})
        play(window, width, rate, "memory");
    auto limits = window.frameStore().limits();
    limits.memory = window.frameStore().bytesInMemory() / 3;
    window.frameStore().setLimits(limits);
    play(window, width, 24.0, "disk");
    window.document().undoStack().setClean();
    window.frameStore().clear();
}

} // namespace

int main(int argc, char** argv)
{
    qputenv("QT_QPA_PLATFORM",
            qgetenv("QT_QPA_PLATFORM").isEmpty() ? "offscreen" : qgetenv("QT_QPA_PLATFORM"));
    const QTemporaryDir settings;
    qputenv("XDG_CONFIG_HOME", settings.path().toLocal8Bit());
    qputenv("XDG_CACHE_HOME", settings.path().toLocal8Bit());
    QApplication application(argc, argv);
    QApplication::setApplicationName(QStringLiteral("retinex-bench-play"));
    style::apply(application);
    for (const int width : {640, 1920, 3840})
        measure(width);
    return 0;
}
