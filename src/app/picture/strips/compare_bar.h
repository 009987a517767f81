#pragma once

#include "app/document/document.h"
#include "app/picture/comparison.h"
#include "app/picture/strips/strip.h"

#include <QComboBox>

class QActionGroup;
class QToolButton;

namespace retinex::app {

/// What can stand on a side of a comparison.
struct CompareSide
{
    enum class Kind { present, source, unfinished, take };
    Kind kind = Kind::present;
    std::string take{}; ///< its name

    friend bool operator==(const CompareSide&, const CompareSide&) = default;
};

/// Above the picture while two pictures are compared: which two, and how.
class CompareBar : public Strip
{
    Q_OBJECT

public:
    explicit CompareBar(Document& document, QWidget* parent = nullptr);

    [[nodiscard]] Comparison::Mode mode() const noexcept { return m_mode; }
    void setMode(Comparison::Mode mode);
    [[nodiscard]] CompareSide side(int which) const;
    void setSide(int which, const CompareSide& side);
    [[nodiscard]] static QString nameOf(const CompareSide& side);
    [[nodiscard]] int gain() const;

signals:
    void changed(); ///< mode, sides or gain

private:
    void refresh();

    Document& m_document;
    Comparison::Mode m_mode = Comparison::Mode::off;
    QComboBox* m_sides[2];
    QActionGroup* m_modes;
    QComboBox* m_gain;
    QToolButton* m_close = nullptr;
};

} // namespace retinex::app
