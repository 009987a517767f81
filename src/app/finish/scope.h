#pragma once

#include <QImage>
#include <QWidget>
#include <array>
#include <vector>

namespace retinex::app {

/// What the picture on the screen holds, to judge a grade by: a histogram of red, green and blue, or a
/// waveform (how bright each column is). Numbers of the screen, 0 to 100 %.
class Scope : public QWidget
{
    Q_OBJECT

public:
    enum class Kind { histogram, waveform };

    explicit Scope(QWidget* parent = nullptr);

    void setKind(Kind kind);
    [[nodiscard]] Kind kind() const noexcept { return m_kind; }
    void setPicture(const QImage& picture);
    /// Of a channel, 0 to 255: the share of pixels at that number.
    [[nodiscard]] const std::array<double, 256>& histogram(int channel) const
    {
        return m_histogram[static_cast<std::size_t>(channel)];
    }
    [[nodiscard]] QSize sizeHint() const override { return {240, 110}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override; ///< the other kind

private:
    void measure();

    Kind m_kind = Kind::histogram;
    QImage m_picture;
    bool m_isMeasured = false;
    std::array<std::array<double, 256>, 3> m_histogram{};
    QImage m_waveform;
};

} // namespace retinex::app
