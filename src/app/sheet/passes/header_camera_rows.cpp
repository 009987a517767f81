#include "app/sheet/passes/header_camera_rows.h"

#include "app/fields/value_label.h"

namespace retinex::app {

HeaderCameraRows::HeaderCameraRows(Document& document, const AnalysisService& analysis, Section& section,
                                   QObject* parent)
    : QObject(parent), m_document(document), m_analysis(analysis), m_section(section),
      m_words(wordsLabel("cameraData")), m_use(new QPushButton(tr("Use for the lens")))
{
    m_section.addWide(m_words);
    m_section.addWide(m_use);
    m_use->setObjectName(QStringLiteral("useCamera"));
    connect(m_use, &QPushButton::clicked, this, &HeaderCameraRows::apply);
}

void HeaderCameraRows::refresh()
{
    const auto& analysis = m_analysis.analysis();
    const bool isTold = m_document.isOpen() && analysis && !analysis->camera.isEmpty();
    if (isTold)
        m_words->setText(
            tr("The file's header says: %1.").arg(QString::fromStdString(analysis->camera.inWords())));
    m_section.setRowVisible(m_words, isTold);
    m_section.setRowVisible(m_use, isTold && (analysis->camera.focusMetres || analysis->camera.fStop ||
                                              analysis->camera.fieldOfViewDeg));
}

void HeaderCameraRows::apply()
{
    const auto& analysis = m_analysis.analysis();
    if (!analysis) return;
    const passes::CameraData& camera = analysis->camera;
    const int gesture = newGesture(); // one step
    const QString what = tr("use the file's camera");
    if (camera.framesPerSecond) {
        project::Project changed = m_document.project();
        changed.scene.framesPerSecond = *camera.framesPerSecond;
        m_document.edit(what, changed, gesture);
    }
    const bool hasMarks = !m_document.marks().empty();
    const auto& project = m_document.project();
    m_document.editSettings(
        what,
        [&](project::Settings& settings) {
            if (camera.fStop) settings.fStop = *camera.fStop;
            if (camera.fieldOfViewDeg) {
                settings.focalLengthMm =
                    passes::focalLengthFor(*camera.fieldOfViewDeg, settings.sensorWidthMm);
                if (settings.reading.reading == depth::Reading::distanceAlongRay)
                    settings.reading.fieldOfViewDeg = *camera.fieldOfViewDeg;
            }
            if (camera.focusMetres && !hasMarks)
                settings.focusDistance = std::max(*camera.focusMetres / project.metresPerUnit,
                                                  project.nearestFocus(settings.focalLengthMm));
        },
        gesture);
}

} // namespace retinex::app
