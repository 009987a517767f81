#pragma once

#include <QWidget>

class QGridLayout;

namespace retinex::app {

/// What there is to begin with when nothing is open: open something, the demo, pictures without passes, or
/// what was open before, each with a small picture. It lies in the middle of the picture.
class StartPage : public QWidget
{
    Q_OBJECT

public:
    explicit StartPage(QWidget& over);

    /// Paths, the newest first. Those that are gone stay away.
    void setRecent(const QStringList& files);

signals:
    void openAsked();
    void demoAsked();
    void picturesAsked();
    void recentAsked(const QString& file);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();

    QGridLayout* m_recent;
    QWidget* m_recentPart;
};

} // namespace retinex::app
