#pragma once

#include "app/look/language.h"
#include "app/look/style.h"
#include "app/play/cache_bar.h"
#include "app/window/main_window.h"
#include "app/window_audit.h"
#include "support/test_files.h"

#include <QApplication>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QLabel>
#include <QListWidget>
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
        connect(answer, &QTimer::timeout, this, [file, answer, answered, tries = 0, waits = 0]() mutable {
            constexpr int patience = 100;
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (tries > 0 && (!dialog || dialog != *answered)) {
                delete answered;
                answer->deleteLater();
                answer->stop();
                return;
            }
            if (!dialog && ++waits > patience) qFatal("no file dialog");
            if (!dialog) return;
            if (++tries > patience) qFatal("the file dialog does not take %s", qPrintable(file));
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

    /// A click on what a person can see; otherwise the test ends.
    void press(QWidget* button, QPoint at = {})
    {
        seeable(button);
        QTest::mouseClick(button, Qt::LeftButton, {}, at);
    }
    void seeable(QWidget* widget)
    {
        for (int i = 0; i < 50 && !isInSight(*widget); ++i)
            QTest::qWait(10); // rows are laid out
        if (!isInSight(*widget))
            qFatal("%s is not in sight: visible %d, %dx%d px, needs %d, %dx%d seen",
                   qPrintable(widget->objectName()), static_cast<int>(widget->isVisible()), widget->width(),
                   widget->height(), widget->minimumSizeHint().height(),
                   widget->visibleRegion().boundingRect().width(),
                   widget->visibleRegion().boundingRect().height());
    }

    /// Names a row of a list by F2.
    void nameInList(const char* name, int row, const QString& text)
    {
        auto* list = child<QListWidget>(name);
        seeable(list);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                          list->visualItemRect(list->item(row)).center());
        list->setFocus();
        QTest::keyClick(list, Qt::Key_F2);
        auto* editor = list->findChild<QLineEdit*>();
        if (!editor) qFatal("%s: F2 opens no editor", name);
        editor->selectAll();
        QTest::keyClicks(editor, text);
        QTest::keyClick(editor, Qt::Key_Return);
        QApplication::processEvents();
    }

    void typeInto(NumberField& target, const QString& text)
    {
        seeable(&target);
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
