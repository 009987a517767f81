#pragma once

#include <QDialog>

class QLineEdit;
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
    void search(const QString& words);
    void mark();
    void findNext();
    [[nodiscard]] static QString textOf(int chapter);

    QLineEdit* m_search;
    QListWidget* m_chapters;
    QTextBrowser* m_text;
};

} // namespace retinex::app
