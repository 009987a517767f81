#pragma once

#include "app/layout/section.h"

#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <vector>

namespace retinex::app {

/// Finds settings of the sheet: by their names, by what their tips say, and by what people call them.
class SettingSearch : public QWidget
{
    Q_OBJECT

public:
    /// Looks through all settings below `sheet`.
    explicit SettingSearch(QWidget& sheet, QWidget* parent = nullptr);

    /// Shows itself, ready to be typed into.
    void begin();

signals:
    /// A setting is to be shown: its control and the section that it is in; null: it is in none.
    void found(QWidget* control, retinex::app::Section* section);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    struct Hit
    {
        QWidget* control;
        Section* section;
        QString name;
        int rank; ///< lower is better
    };
    void search(const QString& text);
    void take(int row);
    void leave();

    QWidget& m_sheet;
    QLineEdit* m_text;
    QListWidget* m_list;
    std::vector<Hit> m_hits;
    QPointer<QWidget> m_before; ///< had the keys
};

} // namespace retinex::app
