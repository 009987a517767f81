#pragma once

#include "app/document/document.h"
#include "app/picture/subject_overlay.h"
#include "app/picture/tools/focus_tool.h"

#include <QPolygonF>

namespace retinex::app {

/// A click beside all subjects places one, a drag moves one. Places in px of the frame.
class SubjectTool : public Tool
{
    Q_OBJECT

public:
    SubjectTool(Document& document, const Picture& picture, const SubjectOverlay& subjects,
                QObject* parent = nullptr)
        : Tool(parent), m_document(document), m_picture(picture), m_subjects(subjects)
    {
    }
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release(const Hand& hand) override;
    void leave() override { m_dragged.clear(); }
    [[nodiscard]] QString hint() const override;

signals:
    void placed(QPointF at);
    void dragged(const std::string& name, QPointF at, int gesture);

private:
    Document& m_document;
    const Picture& m_picture;
    const SubjectOverlay& m_subjects;
    std::string m_dragged;
    int m_gesture = 0;
};

/// A click for each corner draws round a subject; Enter closes it.
class SubjectOutlineTool : public Tool
{
    Q_OBJECT

public:
    using Tool::Tool;
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    bool key(int key) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    [[nodiscard]] QString hint() const override;
    void leave() override { m_corners.clear(); }

signals:
    void drawn(const QPolygonF& corners); ///< px of the frame

private:
    QPolygonF m_corners;
    QPointF m_at; ///< of the pointer
};

} // namespace retinex::app
