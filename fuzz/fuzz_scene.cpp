// Any bytes as a glTF scene; every camera and point is asked for.
#include "core/passes/scene/scene_file.h"
#include "core/system/error.h"
#include "fuzz/input_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace retinex;
    const bool binary = size >= 4 && data[0] == 'g' && data[1] == 'l' && data[2] == 'T' && data[3] == 'F';
    const fuzz::InputFile input(data, size, binary ? ".glb" : ".gltf");
    try {
        const auto scene = passes::SceneFile::load(input.path());
        for (const auto& camera : scene.cameras())
            for (const auto& point : scene.points())
                (void)scene.planarDistance(camera.node, point.node, 0.7);
    } catch (const Error&) {
    }
    return 0;
}
