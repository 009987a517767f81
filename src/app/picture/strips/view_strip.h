#pragma once

#include "app/fields/number_field.h"
#include "app/pictures/picture_maker.h"

#include <QComboBox>
#include <QLabel>
#include <QWidget>

class QAction;
class QActionGroup;

namespace retinex::app {

/// Above the picture: which view, how it is sized, the view transform, and whether it is final.
class ViewStrip : public QWidget
{
    Q_OBJECT

public:
    explicit ViewStrip(QWidget* parent = nullptr);

    [[nodiscard]] QAction* modeAction(ViewMode mode) const;
    [[nodiscard]] QList<QAction*> modeActions() const { return m_modes; }
    [[nodiscard]] ViewMode mode() const;
    [[nodiscard]] colour::View view() const;
    void setZoom(double scale); ///< 0: there is no picture
    void setQuality(const QString& words, const QString& meaning = {});
    [[nodiscard]] QString quality() const { return m_quality->text(); }

    [[nodiscard]] Looking looking() const;
    void setLooking(const Looking& looking);

signals:
    void lookingChanged();
    void modeChosen(ViewMode mode);
    void viewChosen();
    void fitAsked();
    void oneToOneAsked();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QList<QAction*> m_modes;
    QActionGroup* m_group;
    std::vector<colour::View> m_viewList;
    Looking m_looking;
    QList<QWidget*> m_sizing;
    NumberField* m_stops;
    QComboBox* m_channel;
    QComboBox* m_views;
    QLabel* m_zoom;
    QLabel* m_quality;
};

} // namespace retinex::app
