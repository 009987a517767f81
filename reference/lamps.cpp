#include "reference/lamps.h"

#include "reference/shapes.h"

namespace retinex::reference {

Trial lampField(const optics::Iris& iris)
{
    Trial trial;
    trial.name = "lamp field";
    Scene& scene = trial.scene;
    const int object = scene.addObject("");
    const int wall =
        scene.addMaterial({{0.10F, 0.08F, 0.07F}, {0.05F, 0.06F, 0.07F}, Pattern::checker, 1.3F, {}});
    scene.add(box({-9.F, -5.F, -9.1F}, {9.F, 5.F, -9.F}, {wall, object}));
    const Vec colours[3] = {{12.F, 7.F, 3.F}, {4.F, 8.F, 12.F}, {9.F, 9.F, 8.F}};
    int count = 0;
    for (int column = -2; column <= 2; ++column) {
        for (int row = -1; row <= 1; ++row) {
            const bool isFront = (column + row) % 2 != 0;
            const float z = isFront ? 1.3F : 7.F;
            const float half = isFront ? 0.006F : 0.03F;
            const Vec at{0.07F * static_cast<float>(column) * z, 0.055F * static_cast<float>(row) * z, -z};
            const int lamp = scene.addMaterial({{}, {}, Pattern::plain, 1.F, colours[count++ % 3]});
            // Flat and square to the view: the passes hold all that the lens sees.
            scene.add(box(at - Vec{half, half, 1e-4F}, at + Vec{half, half, 0.F}, {lamp, object}));
        }
    }
    scene.addLight({{0.F, 2.F, -2.F}, {20.F, 20.F, 20.F}, false});
    scene.commit();
    trial.camera = {{0.F, 0.F, 0.F}, {0.F, 0.F, -1.F}, 100.F, 36.F, 480, 270};
    trial.lens = {0.8, 2.3, iris, 1024};
    return trial;
}

} // namespace retinex::reference
