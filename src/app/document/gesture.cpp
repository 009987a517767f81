#include "app/document/gesture.h"

namespace retinex::app {

int newGesture() noexcept
{
    static int last = 0;
    return ++last;
}

} // namespace retinex::app
