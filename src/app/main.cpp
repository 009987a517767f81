#include "app/look/language.h"
#include "app/look/style.h"
#include "app/window/main_window.h"
#include "core/system/failure.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDialog>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>
#include <QTimer>
#include <cstdio>

namespace {

using namespace retinex::app;

/// Where the demo lies: beside the installed program, or in the source tree whose build/PRESET/bin it is in.
QString demoProject()
{
    const QDir here(QApplication::applicationDirPath());
    const QString installed = here.filePath(QStringLiteral("../share/retinex/demo/greenhouse.retinex"));
    return QFileInfo::exists(installed)
               ? installed
               : QDir::cleanPath(here.filePath(QStringLiteral("../../../demo/data/greenhouse.retinex")));
}

/// The system may have B612 too; its mono files claim both families and would be taken for the text face.
/// Fontconfig is told to leave them aside. Must run before the application is made.
void hideSystemB612(const QTemporaryDir& folder)
{
    QFile file(folder.filePath(QStringLiteral("fonts.conf")));
    if (!file.open(QIODevice::WriteOnly)) return;
    file.write("<?xml version=\"1.0\"?><!DOCTYPE fontconfig SYSTEM \"fonts.dtd\"><fontconfig>"
               "<include ignore_missing=\"yes\">/etc/fonts/fonts.conf</include>"
               "<selectfont><rejectfont><glob>*/B612*.otf</glob></rejectfont></selectfont></fontconfig>");
    qputenv("FONTCONFIG_FILE", file.fileName().toLocal8Bit());
}

/// What a handler of an event throws must not end the program: it is told, and the work goes on.
class Application : public QApplication
{
public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override
    {
        try {
            return QApplication::notify(receiver, event);
        } catch (...) {
            const QString words =
                QString::fromStdString(retinex::failureText(std::current_exception(), "What was asked for"));
            for (QWidget* widget : topLevelWidgets())
                if (auto* window = qobject_cast<MainWindow*>(widget)) window->tell(words);
            return true;
        }
    }
};

/// Waits until the window has its final picture, then saves a picture of the window and leaves.
void takeShot(MainWindow& window, const QString& file)
{
    auto* timer = new QTimer(&window);
    auto calm = std::make_shared<int>(0);
    QObject::connect(timer, &QTimer::timeout, &window, [&window, file, calm] {
        *calm = window.isSettled() ? *calm + 1 : 0;
        if (*calm < 5) return;
        QWidget* manual = window.findChild<QDialog*>(QStringLiteral("manual"));
        const bool saved = (manual ? manual : &window)->grab().save(file);
        if (!saved)
            std::fprintf(stderr, "%s: not written. Check that the folder is there and may be written to.\n",
                         qPrintable(file));
        QApplication::exit(saved ? 0 : 1);
    });
    timer->start(60);
}

/// Whatever way main is left, work in the background ends before the libraries it needs do.
struct LastWork
{
    ~LastWork() { Background::waitForAll(); }
};

} // namespace

int main(int argc, char** argv)
{
    retinex::letWritesFail();
    const QTemporaryDir fontFolder;
    hideSystemB612(fontFolder);
    Application application(argc, argv);
    const LastWork lastWork;
    QApplication::setApplicationName(QStringLiteral("retinex"));
    QApplication::setOrganizationName(QStringLiteral("retinex"));
    QApplication::setApplicationDisplayName(QStringLiteral("Retinex"));
    QApplication::setApplicationVersion(QStringLiteral(RETINEX_VERSION));
    loadLanguage(application);
    style::apply(application);

    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Depth of field for rendered pictures, from their depth passes."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("files"), QStringLiteral("A project, or passes to open."),
                                 QStringLiteral("[files...]"));
    const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("Open the demo, as a copy."));
    const QCommandLineOption shot(QStringLiteral("shot"),
                                  QStringLiteral("Save a picture of the window and leave."),
                                  QStringLiteral("FILE.png"));
    const QCommandLineOption frame(QStringLiteral("frame"), QStringLiteral("Go to this frame."),
                                   QStringLiteral("N"));
    const QCommandLineOption view(
        QStringLiteral("view"), QStringLiteral("Show result, source, depth, zones, blur, mattes or repair."),
        QStringLiteral("VIEW"));
    const QCommandLineOption size(QStringLiteral("size"),
                                  QStringLiteral("Size of the window; 1280x800 for --shot."),
                                  QStringLiteral("WxH"));
    const QCommandLineOption manual(
        QStringLiteral("manual"),
        QStringLiteral("Open the manual at a chapter (1, 2, ...); --shot takes it."),
        QStringLiteral("chapter"));
    parser.addOptions({demo, shot, frame, view, size, manual});
    parser.process(application);

    try {
        MainWindow window;
        window.setDemo(demoProject());
        if (parser.isSet(size) || parser.isSet(shot)) {
            // A picture does not hang on a monitor, which may not be there.
            const QString wanted = parser.isSet(size) ? parser.value(size) : QStringLiteral("1280x800");
            const QStringList numbers = wanted.split(QLatin1Char('x'));
            const QSize both(numbers.value(0).toInt(), numbers.value(1).toInt());
            if (numbers.size() != 2 || both.isEmpty()) {
                std::fprintf(stderr, "--size %s: give a width and a height in px, as 1280x800.\n",
                             qPrintable(wanted));
                return 2;
            }
            window.resize(both);
        }
        const QStringList views{QStringLiteral("result"), QStringLiteral("source"), QStringLiteral("depth"),
                                QStringLiteral("zones"),  QStringLiteral("blur"),   QStringLiteral("mattes"),
                                QStringLiteral("repair")};
        if (parser.isSet(view)) {
            if (!views.contains(parser.value(view))) {
                std::fprintf(stderr, "--view wants result, source, depth, zones, blur, mattes or repair.\n");
                return 2;
            }
            window.setMode(static_cast<ViewMode>(views.indexOf(parser.value(view))));
        }
        if (parser.isSet(frame)) {
            const int number = parser.value(frame).toInt();
            QObject::connect(&window.document(), &Document::opened, &window, [&window, number] {
                QTimer::singleShot(0, &window, [&window, number] { window.document().setFrame(number); });
            });
        }
        window.show();
        if (parser.isSet(demo))
            window.openAsCopy(demoProject());
        else if (!parser.positionalArguments().isEmpty())
            window.open(parser.positionalArguments());
        if (!parser.isSet(shot)) QTimer::singleShot(0, &window, [&window] { window.offerRecovered(); });
        if (parser.isSet(manual)) window.showManual(parser.value(manual).toInt() - 1);
        if (parser.isSet(shot)) takeShot(window, parser.value(shot));
        return QApplication::exec();
    } catch (...) {
        std::fprintf(stderr, "%s\n",
                     retinex::failureText(std::current_exception(), "Starting Retinex").c_str());
        return 1;
    }
}
