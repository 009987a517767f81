#pragma once

#include "app/fields/number_field.h"
#include "app/picture/strips/strip.h"
#include "app/pictures/picture_maker.h"

#include <QComboBox>
#include <QLabel>

class QAction;
class QActionGroup;

namespace retinex::app {

/// How good what is shown is by now.
enum class Quality {
    none,
    reading,
    rendering,
    coarse, ///< and getting finer
    view,   ///< as fine as this zoom shows
    full,
    absent, ///< no picture can be made
    playing
};

/// Above the picture: which view, how it is sized, the view transform, and whether it is final.
class ViewStrip : public Strip
{
    Q_OBJECT

public:
    explicit ViewStrip(QWidget* parent = nullptr);

    [[nodiscard]] QAction* modeAction(ViewMode mode) const;
    [[nodiscard]] QList<QAction*> modeActions() const { return m_modes; }
    [[nodiscard]] ViewMode mode() const;
    [[nodiscard]] colour::View view() const;
    void setZoom(double scale); ///< 0: there is no picture
    void setQuality(Quality quality);
    [[nodiscard]] QString quality() const { return m_quality->text(); }

    [[nodiscard]] Looking looking() const;
    void setLooking(const Looking& looking);

signals:
    void lookingChanged();
    void modeChosen(ViewMode mode);
    void viewChosen();
    void fitAsked();
    void oneToOneAsked();

private:
    QList<QAction*> m_modes;
    QActionGroup* m_group;
    std::vector<colour::View> m_viewList;
    Looking m_looking;
    NumberField* m_stops;
    QComboBox* m_channel;
    QComboBox* m_views;
    QLabel* m_zoom;
    QLabel* m_quality;
};

} // namespace retinex::app
