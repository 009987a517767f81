#include "support/gltf_scene.h"

#include <vector>

namespace retinex::test {

QByteArray gltfScene(const QByteArray& interpolation)
{
    std::vector<float> numbers{0.0F, 2.0F};
    const std::vector<float> keys{-6, 1, 10, -10, 1, 10};
    if (interpolation == "CUBICSPLINE")
        for (int key = 0; key < 2; ++key) {
            numbers.insert(numbers.end(), {0, 0, 0});
            numbers.insert(numbers.end(), keys.begin() + 3 * key, keys.begin() + 3 * key + 3);
            numbers.insert(numbers.end(), {0, 0, 0});
        }
    else
        numbers.insert(numbers.end(), keys.begin(), keys.end());
    const auto size = static_cast<qsizetype>(numbers.size() * sizeof(float));
    const QByteArray data(reinterpret_cast<const char*>(numbers.data()), size);
    const auto values = QByteArray::number(static_cast<int>(numbers.size() - 2) / 3);
    return R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0,2]}],)"
           R"("nodes":[{"name":"rig","scale":[2,2,2],"children":[1]},)"
           R"({"name":"main","camera":0,"translation":[0,0.5,2.5],"rotation":[0,0.70710678,0,0.70710678]},)"
           R"({"name":"can","translation":[9,9,9]}],)"
           R"("cameras":[{"type":"perspective","perspective":{"yfov":0.6,"aspectRatio":1.5,"znear":0.1}}],)"
           R"("animations":[{"channels":[{"sampler":0,"target":{"node":2,"path":"translation"}}],)"
           R"("samplers":[{"input":0,"output":1,"interpolation":")" +
           interpolation +
           R"("}]}],"accessors":[{"bufferView":0,"componentType":5126,"count":2,"type":"SCALAR"},)"
           R"({"bufferView":1,"componentType":5126,"count":)" +
           values +
           R"(,"type":"VEC3"}],"bufferViews":[{"buffer":0,"byteLength":8},{"buffer":0,"byteOffset":8,"byteLength":)" +
           QByteArray::number(size - 8) + R"(}],"buffers":[{"byteLength":)" + QByteArray::number(size) +
           R"(,"uri":"data:application/octet-stream;base64,)" + data.toBase64() + "\"}]}";
}

} // namespace retinex::test
