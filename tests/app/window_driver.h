#pragma once

#include "app/look/language.h"
#include "app/look/style.h"
#include "app/play/cache_bar.h"
#include "app/window/main_window.h"
#include "support/test_files.h"

#include <QApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QLabel>
#include <QMimeData>
#include <QPointer>
#include <QSettings>
#include <QTest>
#include <QTimer>
#include <QUrl>

/// The real window with a mouse and a keyboard, for tests. Each test function gets a new one.
namespace retinex::test {

using namespace retinex::app;

class WindowDriver : public QObject
{
    Q_OBJECT

protected:
    QTemporaryDir m_dir;
    std::unique_ptr<MainWindow> m_window;

    template <class T>
    T* child(const char* name)
    {
        T* found = m_window->findChild<T*>(QLatin1String(name));
        if (!found) qFatal("no widget called %s", name);
        return found;
    }
    Document& document() { return m_window->document(); }
    const project::Project& project() { return document().project(); }
    NumberField& field(const char* name) { return *child<NumberField>(name); }
    /// Where a widget lies, px of the window.
    QRect inWindow(QWidget& widget)
    {
        return QRect(widget.mapTo(m_window.get(), QPoint(0, 0)), widget.size());
    }
    QString message() { return child<QLabel>("messageText")->text(); }

    void settle() { QTRY_VERIFY_WITH_TIMEOUT(m_window->isSettled(), 300'000); }

    void drop(const QStringList& files)
    {
        QMimeData data;
        QList<QUrl> urls;
        for (const QString& file : files)
            urls.push_back(QUrl::fromLocalFile(file));
        data.setUrls(urls);
        QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(m_window.get(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent event(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(m_window.get(), &event);
        settle();
    }

    /// Types into the file dialog that is about to open, and confirms.
    void answerFileDialog(const QString& file)
    {
        auto* answer = new QTimer(this);
        auto* answered = new QPointer<QFileDialog>;
        // Looked at again: on a busy machine the folder may not be listed yet when the name is typed.
        connect(answer, &QTimer::timeout, this, [file, answer, answered, tries = 0]() mutable {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (tries > 0 && (!dialog || dialog != *answered)) {
                delete answered;
                answer->deleteLater();
                answer->stop();
                return;
            }
            if (!dialog) qFatal("no file dialog");
            if (++tries > 10) qFatal("the file dialog does not take %s", qPrintable(file));
            *answered = dialog;
            auto* name = dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
            name->setFocus();
            name->selectAll();
            QTest::keyClicks(name, file);
            QTest::keyClick(name, Qt::Key_Return);
        });
        answer->start(300);
    }

    void drag(QWidget* widget, QPoint from, QPoint to)
    {
        QTest::mousePress(widget, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i)
            QTest::mouseMove(widget, from + (to - from) * i / 6);
        QTest::mouseRelease(widget, Qt::LeftButton, {}, to);
    }

    void typeInto(NumberField& target, const QString& text)
    {
        QTest::mouseClick(&target, Qt::LeftButton);
        QTest::keyClick(&target, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(&target, text);
        QTest::keyClick(&target, Qt::Key_Return);
        QTest::keyClick(&target, Qt::Key_Escape);
    }

protected slots:
    void initTestCase()
    {
        loadLanguage(*qApp);
        style::apply(*qApp);
        QSettings().clear();
    }
    void init()
    {
        m_window = std::make_unique<MainWindow>();
        m_window->resize(1280, 800);
        m_window->show();
        m_window->activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(m_window.get()));
    }
    void cleanup()
    {
        document().setUnmodified();
        m_window.reset();
    }
};

} // namespace retinex::test
