#pragma once

#include "app/document/document.h"
#include "app/jobs/background.h"
#include "app/layout/section.h"
#include "core/passes/scene/scene_file.h"

#include <QComboBox>
#include <QPushButton>

namespace retinex::app {

/// The scene file in the Passes section: its camera for the shot, and its points with their distances.
class SceneRows : public QObject
{
    Q_OBJECT

public:
    SceneRows(Document& document, Section& section, QObject* parent);

    [[nodiscard]] bool isReading() const noexcept { return m_reading.isBusy(); }
    void refresh();

signals:
    void failed(const QString& message);

private:
    void build();
    void chooseFile();
    void fillPoints();
    void takePoint();

    Document& m_document;
    Section& m_section;
    std::shared_ptr<const passes::SceneFile> m_scene;
    std::filesystem::path m_sceneName;
    Background m_reading;
    QLabel* m_name;
    QComboBox* m_camera;
    QComboBox* m_point;
    QPushButton* m_takePoint;
};

} // namespace retinex::app
