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

    void choose(int chapter); ///< from 0 on; held to what there is

private:
    void open(int chapter);

    QListWidget* m_chapters;
    QTextBrowser* m_text;
};

} // namespace retinex::app
