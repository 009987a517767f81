#pragma once

#include <QByteArray>

namespace retinex::test {

/// A glTF 2.0 scene as text. Camera "main" stands at (0, 1, 5) turned by 90 degrees about y (it looks along
/// -x then), under a node "rig" that is scaled by 2; point "can" moves from (-6, 1, 10) to (-10, 1, 10) in
/// two seconds. `interpolation` is LINEAR, STEP or CUBICSPLINE (with tangents of 0).
[[nodiscard]] QByteArray gltfScene(const QByteArray& interpolation = "LINEAR");

} // namespace retinex::test
