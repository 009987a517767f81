#pragma once

#include "app/document/document.h"
#include "app/jobs/bracket_job.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QToolButton>

namespace retinex::app {

/// The bracket: the present frame at several focus distances or f-stops. A click on one adopts it.
class BracketSheet : public QDialog
{
    Q_OBJECT

public:
    static constexpr int count = 9;

    /// `range`: of the frame's distances, scene units.
    BracketSheet(Document& document, std::shared_ptr<const colour::ViewTransform> view,
                 const depth::DepthRange& range, QWidget* parent = nullptr);

private:
    void start();
    void adopt(int index);

    Document& m_document;
    std::shared_ptr<const colour::ViewTransform> m_view;
    depth::DepthRange m_range;
    BracketJob m_job;
    QComboBox* m_over;
    QLabel* m_trouble;
    QList<QToolButton*> m_pictures;
    project::SettingPath m_setting = project::setting::focusDistance;
    std::vector<double> m_values;
};

} // namespace retinex::app
