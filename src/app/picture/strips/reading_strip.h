#pragma once

#include "app/picture/strips/reading_choices.h"

#include <QLabel>
#include <QToolButton>
#include <QWidget>

namespace retinex::app {

/// Over the upper edge of the picture while it is not sure how depth is to be read: the likeliest readings as
/// small pictures, one click takes one.
class ReadingStrip : public QWidget
{
    Q_OBJECT

public:
    explicit ReadingStrip(QWidget* over);

    void show(const QString& file, const std::vector<ReadingChoice>& choices);

signals:
    void chosen(const retinex::depth::ReadingSettings& reading, const QString& words);
    /// The artist does not want to be asked.
    void dismissed();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();

    static constexpr int kMost = 3;
    QLabel* m_title;
    QToolButton* m_cards[kMost];
    std::vector<ReadingChoice> m_choices;
};

} // namespace retinex::app
