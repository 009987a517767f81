// How quickly the window answers: drags the f-stop and the focal plane at 1280 x 800 and measures the time
// from each move of the mouse to the next picture on screen that knows of it, and how long dropping a
// refinement takes. And how long the interface thread is busy at a stretch (--stalls: this alone).
#include "app/desk/depth_profile.h"
#include "app/document/insert_edits.h"
#include "app/fields/number_field.h"
#include "app/layout/section.h"
#include "app/look/style.h"
#include "app/picture/picture_view.h"
#include "app/pictures/render_service.h"
#include "app/window/main_window.h"
#include "core/passes/exr/exr_write.h"
#include "reference/scenes.h"

#include <QAbstractEventDispatcher>
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <QToolButton>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <deque>
#include <fmt/format.h>
#include <utility>

using namespace retinex;
using namespace retinex::app;

namespace {

/// Writes the passes of the demo scene; returns the file.
QString writePasses(const QString& folder, int width)
{
    auto trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    const auto passes = reference::renderPasses(trial.scene, trial.camera, 16);
    const QString file = QStringLiteral("%1/view.exr").arg(folder);
    passes::writeExr(file.toStdString(), {&passes.colour, passes::SampleType::half, nullptr, 0, 0});
    RgbaImage depth(width, width * 9 / 16);
    for (int c = 0; c < RgbaImage::channels; ++c)
        depth.plane(c) = passes.depth;
    passes::writeExr(QStringLiteral("%1/depth.exr").arg(folder).toStdString(),
                     {&depth, passes::SampleType::float32, nullptr, 0, 0});
    return file;
}

/// As the program itself waits: what arrives is taken up at once. (QTest::qWait looks every 10 ms.)
void rest(int ms)
{
    QEventLoop loop;
    QTimer::singleShot(ms, Qt::PreciseTimer, &loop, &QEventLoop::quit);
    loop.exec();
}

/// Times in order.
class Spread
{
public:
    explicit Spread(std::vector<double> times) : m_times(std::move(times))
    {
        std::sort(m_times.begin(), m_times.end());
    }
    [[nodiscard]] std::size_t count() const { return m_times.size(); }
    [[nodiscard]] double at(double share) const
    {
        return m_times[static_cast<std::size_t>(share * static_cast<double>(m_times.size() - 1))];
    }

private:
    std::vector<double> m_times;
};

/// From each move to the picture that shows it.
class Watch : public QObject
{
public:
    Watch(RenderService& service, PictureView& view) : m_service(service)
    {
        connect(&service, &RenderService::pictureReady, this, [this, &view](const Picture& picture) {
            view.repaint();
            while (!m_waiting.empty() && m_waiting.front().number <= picture.number) {
                m_latencies.push_back(m_waiting.front().since.nsecsElapsed() / 1e6);
                m_waiting.pop_front();
            }
        });
    }
    /// Called after each move.
    void moved(const QElapsedTimer& since)
    {
        if (m_service.newest() == m_last) return;
        m_last = m_service.newest();
        m_waiting.push_back({m_last, since});
    }
    void print(const char* what, int width, double refinedAfter)
    {
        const Spread latency(std::exchange(m_latencies, {}));
        const Spread drop(m_service.takeDropTimesMs());
        if (latency.count() == 0)
            fmt::print("{:>5} px wide, {}: no answer\n", width, what);
        else
            fmt::print("{:>5} px wide, {:<12} {:>3} moves  median {:>5.1f} ms  95 % {:>5.1f} ms  longest "
                       "{:>5.1f} ms  refined after {:.2f} s\n",
                       width, what, latency.count(), latency.at(0.5), latency.at(0.95), latency.at(1.0),
                       refinedAfter);
        if (drop.count() > 0)
            fmt::print("{:27} {:>3} refinements dropped: median {:>4.1f} ms  95 % {:>4.1f} ms  longest "
                       "{:>4.1f} ms\n",
                       "", drop.count(), drop.at(0.5), drop.at(0.95), drop.at(1.0));
        m_waiting.clear();
    }

private:
    struct Move
    {
        quint64 number;
        QElapsedTimer since;
    };
    RenderService& m_service;
    std::deque<Move> m_waiting;
    std::vector<double> m_latencies;
    quint64 m_last = 0;
};

void settle(MainWindow& window)
{
    QElapsedTimer timer;
    timer.start();
    while (!window.isSettled() && timer.elapsed() < 120'000)
        QTest::qWait(20);
}

/// From the last move until the final picture is shown.
double secondsToRefine(MainWindow& window)
{
    QElapsedTimer timer;
    timer.start();
    settle(window);
    return timer.nsecsElapsed() / 1e9;
}

/// Back and forth in small steps; `pause` ms between moves.
void drag(QWidget* widget, QPoint from, QPoint reach, Watch& watch, int pause)
{
    QTest::mousePress(widget, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 80; ++i) {
        QElapsedTimer timer;
        timer.start();
        const double along = std::sin(0.12 * i);
        QTest::mouseMove(
            widget, from + QPoint(static_cast<int>(along * reach.x()), static_cast<int>(along * reach.y())));
        watch.moved(timer);
        rest(pause);
    }
    QTest::mouseRelease(widget, Qt::LeftButton, {}, from);
}

void measure(int width)
{
    QTemporaryDir folder;
    const QString file = writePasses(folder.path(), width);
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    window.open({file, folder.filePath(QStringLiteral("depth.exr"))});
    QTest::qWait(100);
    settle(window);
    auto* service = window.findChild<RenderService*>();
    auto* picture = window.findChild<PictureView*>();
    auto* profile = window.findChild<DepthProfile*>();
    auto* fStop = window.findChild<NumberField*>(QStringLiteral("lens/fStop"));
    if (!service || !picture || !profile || !fStop) qFatal("the window lacks a control");
    Watch watch(*service, *picture);
    for (const bool isFitted : {true, false}) {
        if (!isFitted) picture->oneToOne();
        for (const int pause : {8, 150}) { // moves that overtake the work, and moves that let refining begin
            fmt::print("{}, a move each {} ms\n", isFitted ? "all of it in the view" : "1:1", pause);
            drag(fStop, fStop->rect().center(), {120, 0}, watch, pause);
            watch.print("f-stop", width, secondsToRefine(window));
            drag(profile, profile->handlePoint(DepthProfile::Handle::focus), {40, 60}, watch, pause);
            watch.print("focal plane", width, secondsToRefine(window));
        }
    }
    picture->fit();
    settle(window);
    RegionTools& tools = picture->regions();
    tools.begin(RegionTool::ellipse, RegionStart::guard);
    QTest::mousePress(picture, Qt::LeftButton, {}, picture->rect().center() - QPoint(60, 60));
    QTest::mouseRelease(picture, Qt::LeftButton, {}, picture->rect().center() + QPoint(60, 60));
    settle(window);
    drag(picture, picture->rect().center(), {80, 40}, watch, 8);
    watch.print("a region", width, secondsToRefine(window));
    inserts::Insert insert = newInsert(window.document(), file.toStdString());
    insert.placing = inserts::Placing::corners;
    const double size = width / 4.0;
    insert.corners = {{{size, size}, {2 * size, size}, {2 * size, 1.5 * size}, {size, 1.5 * size}}};
    picture->inserts().choose(addInsert(window.document(), insert));
    picture->inserts().setPlacing(true);
    settle(window);
    drag(picture, picture->viewPoint(static_cast<int>(size), static_cast<int>(size)), {60, 30}, watch, 8);
    watch.print("an insert's corner", width, secondsToRefine(window));
    picture->inserts().setPlacing(false);
    window.document().undoStack().setIndex(0);
    settle(window);
    // Finish: a step alone, then every step there is.
    for (auto* section : window.findChildren<Section*>())
        section->setFolded(false);
    QTest::qWait(100);
    const auto dragField = [&](const char* name, const char* what) {
        auto* field = window.findChild<NumberField*>(QLatin1String(name));
        const int runs = window.lensPictures().runs();
        drag(field, field->rect().center(), {60, 0}, watch, 8);
        watch.print(what, width, secondsToRefine(window));
        fmt::print("{:27} {} times through the lens\n", "", window.lensPictures().runs() - runs);
    };
    dragField("finish/grade/exposureStops", "grade: exposure");
    window.findChild<QToolButton*>(QStringLiteral("add/glows"))->click();
    settle(window);
    dragField("glows/radius", "glow: radius");
    window.document().editSettings(QStringLiteral("all"), [](project::Settings& settings) {
        settings.finish.fringing.cornerPx = 2.0;
        settings.finish.vignette.stops = 0.7;
        settings.finish.grade.contrast = 1.1;
        settings.finish.grade.shadows[3] = 1.1;
        settings.finish.grade.curve = {{-7.0, -7.0}, {0.0, 0.2}, {7.0, 6.5}};
        settings.finish.grade.cdl.slope = {1.05, 1.0, 0.95};
        settings.finish.grain.amount = 0.02;
    });
    settle(window);
    for (const auto& [name, what] :
         {std::pair{"finish/grade/saturation", "all, grade"},
          std::pair{"finish/fringing/cornerPx", "all, fringing"},
          std::pair{"finish/grain/sizePx", "all, grain"}, std::pair{"glows/amount", "all, glow"}})
        dragField(name, what);
    window.document().setUnmodified();
}

/// How long the interface thread is busy at a stretch: between being woken and waiting again, and while it
/// takes a move of the mouse.
class Stalls
{
public:
    Stalls()
    {
        auto* dispatcher = QAbstractEventDispatcher::instance();
        QObject::connect(dispatcher, &QAbstractEventDispatcher::awake, &m_context,
                         [this] { m_since.start(); });
        QObject::connect(dispatcher, &QAbstractEventDispatcher::aboutToBlock, &m_context, [this] {
            if (m_since.isValid()) add(m_since.nsecsElapsed() / 1e6);
            m_since.invalidate();
        });
    }
    void add(double ms)
    {
        if (m_isCounting) m_stretches.push_back(ms);
    }
    void begin()
    {
        m_stretches.clear();
        m_isCounting = true;
    }
    void print(const char* what, int width)
    {
        m_isCounting = false;
        const Spread spread(std::exchange(m_stretches, {}));
        fmt::print("{:>5} px wide, {:<22} {:>4} stretches of the interface thread: median {:>5.2f} ms  95 % "
                   "{:>5.1f} "
                   "ms  longest {:>5.1f} ms\n",
                   width, what, spread.count(), spread.at(0.5), spread.at(0.95), spread.at(1.0));
    }

private:
    QObject m_context;
    QElapsedTimer m_since;
    std::vector<double> m_stretches;
    bool m_isCounting = false;
};

void stallingDrag(QWidget* widget, QPoint from, QPoint reach, Stalls& stalls, const char* what, int width)
{
    stalls.begin();
    QTest::mousePress(widget, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 120; ++i) {
        const double along = std::sin(0.12 * i);
        QElapsedTimer timer;
        timer.start();
        QTest::mouseMove(
            widget, from + QPoint(static_cast<int>(along * reach.x()), static_cast<int>(along * reach.y())));
        stalls.add(timer.nsecsElapsed() / 1e6);
        rest(12);
    }
    QTest::mouseRelease(widget, Qt::LeftButton, {}, from);
    rest(1500); // what follows counts too: the final picture, the desk
    stalls.print(what, width);
}

/// The interface thread while an end of the reading, the f-stop and a mark are dragged, on two frames.
void measureStalls(int width)
{
    QTemporaryDir folder;
    const QString file = writePasses(folder.path(), width);
    for (const char* name : {"view", "depth"})
        for (const int frame : {1, 2})
            QFile::copy(folder.filePath(QStringLiteral("%1.exr").arg(name)),
                        folder.filePath(QStringLiteral("%1.%2.exr").arg(name).arg(frame)));
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    window.open(
        {folder.filePath(QStringLiteral("view.1.exr")), folder.filePath(QStringLiteral("depth.1.exr"))});
    QTest::qWait(100);
    settle(window);
    window.document().setMarkHere(setting::focusDistance);
    settle(window);
    Stalls stalls;
    auto* desk = window.findChild<FocusDesk*>();
    auto* nearest = window.findChild<NumberField*>(QStringLiteral("reading/nearest"));
    auto* fStop = window.findChild<NumberField*>(QStringLiteral("lens/fStop"));
    stallingDrag(nearest, nearest->rect().center(), {60, 0}, stalls, "an end of the reading", width);
    settle(window);
    stallingDrag(fStop, fStop->rect().center(), {120, 0}, stalls, "the f-stop", width);
    settle(window);
    // A stroke of the brush, and a region that is dragged.
    auto* picture = window.findChild<PictureView*>();
    RegionTools& tools = picture->regions();
    tools.begin(RegionTool::brush, RegionStart::guard);
    stallingDrag(picture, picture->rect().center(), {200, 90}, stalls, "a brush stroke", width);
    settle(window);
    tools.begin(RegionTool::ellipse, RegionStart::guard);
    QTest::mousePress(picture, Qt::LeftButton, {}, picture->rect().center() - QPoint(60, 60));
    QTest::mouseRelease(picture, Qt::LeftButton, {}, picture->rect().center() + QPoint(60, 60));
    settle(window);
    stallingDrag(picture, picture->rect().center(), {80, 40}, stalls, "a region", width);
    settle(window);
    tools.leave();
    const double distance = window.document().marks().front().value;
    stallingDrag(desk, desk->pointFor(1, distance), {0, 40}, stalls, "a mark", width);
    settle(window);
    window.document().setUnmodified();
}

} // namespace

int main(int argc, char** argv)
{
    QApplication application(argc, argv);
    QTemporaryDir settings;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
    style::apply(application);
    std::vector<int> widths;
    const bool onlyStalls = argc > 1 && std::strcmp(argv[1], "--stalls") == 0;
    for (int i = onlyStalls ? 2 : 1; i < argc; ++i)
        widths.push_back(std::max(64, std::atoi(argv[i])));
    if (widths.empty()) widths = {1920, 3840};
    for (const int width : widths) {
        if (!onlyStalls) measure(width);
        measureStalls(width);
    }
    return 0;
}
