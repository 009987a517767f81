#pragma once

#include "app/controllers/workbench.h"
#include "app/pictures/render_service.h"

#include <QTimer>

namespace retinex::app {

/// What is seen in the picture: asks for it when something it depends on has changed, and shows it.
class PictureController : public QObject
{
    Q_OBJECT

public:
    explicit PictureController(Workbench& bench);

    void addActions(QMenu& menu);
    void setMode(ViewMode mode);
    /// The present frame in the present view.
    void request();
    /// The view is another: the picture is, and so are all that are played.
    void viewChanged();
    /// Another document: what was asked for is not shown any more.
    void forget();
    void updateAxis();

    /// Of the present frame in the present view; all of it.
    [[nodiscard]] PictureRequest wholeRequest() const;
    [[nodiscard]] const std::shared_ptr<const colour::ViewTransform>& transform() const noexcept
    {
        return m_transform;
    }
    /// Nothing is being rendered.
    [[nodiscard]] bool isSettled() const { return !m_viewMoved.isActive() && !m_renderer.isBusy(); }
    [[nodiscard]] bool isRendering() const { return m_renderer.isBusy(); }

    /// `prepare` changes each request; `companion` is called beside each with what is visible.
    void accompany(std::function<void(PictureRequest&)> prepare,
                   std::function<void(const PictureDetail&)> companion)
    {
        m_prepare = std::move(prepare);
        m_companion = std::move(companion);
    }

signals:
    void machineNeeded();
    void shownOtherwise();

private:
    void showMenu(QPoint pixel, QPointF place, QPoint at);
    void requestVisible();
    void ask(bool onlyViewMoved);
    void show(const Picture& picture);

    Workbench& m_bench;
    RenderService m_renderer{this};
    std::shared_ptr<const colour::ViewTransform> m_transform;
    PictureDetail m_asked; ///< of the newest request
    QTimer m_viewMoved;    ///< runs while the picture is zoomed and moved
    bool m_renderFailed = false;
    std::function<void(PictureRequest&)> m_prepare;
    std::function<void(const PictureDetail&)> m_companion;
    QAction* m_subjectsShown = nullptr;
};

} // namespace retinex::app
