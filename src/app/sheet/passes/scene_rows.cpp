#include "app/sheet/passes/scene_rows.h"

#include "app/fields/chooser.h"
#include "app/fields/number_formats.h"
#include "app/fields/value_label.h"
#include "app/sheet/passes/pass_widgets.h"

#include <QFileDialog>
#include <QHBoxLayout>

namespace retinex::app {

SceneRows::SceneRows(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section), m_name(wordsLabel("sceneFile")),
      m_camera(sheetChooser(QStringLiteral("sceneCamera"))),
      m_point(sheetChooser(QStringLiteral("scenePoint"))), m_takePoint(new QPushButton(tr("Focus on it")))
{
    build();
}

void SceneRows::build()
{
    m_section.addRow(
        tr("Scene file"),
        withButton(m_name, tr("File…"), "chooseScene", tr("A glTF scene"), [this] { chooseFile(); }),
        tr("Cameras and points with their animation, from glTF 2.0."));
    m_section.addRow(tr("Its camera"), m_camera);
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(m_point, 1);
    layout->addWidget(m_takePoint);
    m_takePoint->setObjectName(QStringLiteral("takePoint"));
    m_section.addRow(tr("Its points"), row, tr("Distance of a point from the camera's plane at this frame."));
    connect(m_camera, &QComboBox::activated, this, [this] {
        project::Project changed = m_document.project();
        // Each shot of several has the camera that it was rendered with.
        if (changed.shots.size() > 1)
            changed.shotAt(m_document.frame()).camera = m_camera->currentText().toStdString();
        else
            changed.scene.camera = m_camera->currentText().toStdString();
        m_document.edit(tr("choose the scene's camera"), changed);
    });
    connect(m_takePoint, &QPushButton::clicked, this, &SceneRows::takePoint);
    connect(&m_document, &Document::frameChanged, this, &SceneRows::refresh);
}

void SceneRows::chooseFile()
{
    const QString file = QFileDialog::getOpenFileName(
        m_camera->window(), tr("A glTF scene with the camera"),
        QString::fromStdString(m_document.project().colour.file.parent_path().string()),
        tr("glTF (*.gltf *.glb)"));
    if (file.isEmpty()) return;
    project::Project changed = m_document.project();
    changed.scene.file = file.toStdString();
    changed.scene.camera.clear();
    m_document.edit(tr("choose scene file"), changed);
}

void SceneRows::refresh()
{
    const auto& scene = m_document.project().scene;
    if (scene.file != m_sceneName) {
        m_sceneName = scene.file;
        m_scene.reset();
        m_reading.drop();
        if (!scene.file.empty())
            m_reading.start(tr("Reading the scene"),
                            [this, file = scene.file](const Background::Task& task) {
                                const auto read =
                                    std::make_shared<const passes::SceneFile>(passes::SceneFile::load(file));
                                task.post([this, read] {
                                    m_scene = read;
                                    refresh();
                                });
                            },
                            {[this](const QString& message) { emit failed(message); }});
    }
    m_name->setText(scene.file.empty() ? tr("none") : QString::fromStdString(scene.file.filename().string()));
    const QString point = m_point->currentData().toString();
    m_camera->clear();
    m_point->clear();
    m_section.setRowVisible(m_camera, m_scene != nullptr);
    m_section.setRowVisible(m_point->parentWidget(), m_scene != nullptr);
    if (!m_scene) return;
    for (const auto& camera : m_scene->cameras())
        m_camera->addItem(QString::fromStdString(camera.name), QString::fromStdString(camera.name));
    for (const auto& named : m_scene->points())
        m_point->addItem(QString(), QString::fromStdString(named.name));
    select(*m_point, point);
    fillPoints();
    m_takePoint->setEnabled(m_point->count() > 0 && m_camera->count() > 0);
}

/// The camera of the present frame's shot, and how far the points are from it there.
void SceneRows::fillPoints()
{
    if (!m_scene) return;
    const auto& project = m_document.project();
    select(*m_camera, QString::fromStdString(project.cameraAt(m_document.frame())));
    const double seconds = project.scene.secondsAt(m_document.frame());
    int index = 0;
    for (const auto& named : m_scene->points()) {
        QString text = QString::fromStdString(named.name);
        if (m_camera->count() > 0) {
            const int camera =
                m_scene->cameras()[static_cast<std::size_t>(std::max(0, m_camera->currentIndex()))].node;
            const double distance = m_scene->planarDistance(camera, named.node, seconds);
            text +=
                distance > 0.0 ? tr(", %1").arg(shownDistance(project, distance)) : tr(", behind the camera");
        }
        m_point->setItemText(index++, text);
    }
}

void SceneRows::takePoint()
{
    if (!m_scene || m_scene->cameras().empty()) return;
    const int camera =
        m_scene->cameras()[static_cast<std::size_t>(std::max(0, m_camera->currentIndex()))].node;
    const std::string name = m_point->currentData().toString().toStdString();
    const double distance = m_scene->planarDistance(camera, m_scene->pointNamed(name),
                                                    m_document.project().scene.secondsAt(m_document.frame()));
    if (distance > 0.0)
        m_document.setFocusDistance(distance);
    else
        emit failed(tr("\"%1\" lies behind the camera at this frame. Choose another point or frame.")
                        .arg(QString::fromStdString(name)));
}

} // namespace retinex::app
