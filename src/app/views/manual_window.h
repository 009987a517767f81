#pragma once

#include <QDialog>

class QListWidget;
class QTextBrowser;

namespace retinex::app {

/// The manual: chapters at left, text at right. It is part of the program; no network is needed.
class ManualWindow : public QDialog
{
    Q_OBJECT

public:
    explicit ManualWindow(QWidget* parent = nullptr);

private:
    void open(int chapter);

    QListWidget* m_chapters;
    QTextBrowser* m_text;
};

} // namespace retinex::app
