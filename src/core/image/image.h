#pragma once

#include <array>
#include <cassert>
#include <cstddef>
#include <memory>
#include <new>
#include <span>
#include <type_traits>
#include <utility>
#include <vector>

/// Pictures are planar: one tightly packed plane per channel, row after row, x to the right, y down.
namespace retinex {

/// From this size on, memory that was used before would have to be cleared, all of it at once, by whoever
/// asks.
inline constexpr std::size_t kLargeBytes = std::size_t{1} << 20;

/// Large pieces come from the system, zero and untouched, and go back to it.
[[nodiscard]] void* allocateZeroed(std::size_t count, std::size_t size);
void freeZeroed(void* memory, std::size_t bytes) noexcept;
/// Before a large piece is touched: only little of it will be. In large pages much would be cleared for that.
void expectFewTouched(void* memory, std::size_t bytes) noexcept;
/// The first `end` bytes of a large piece are of no use any more, the first `known` of which had been
/// forgotten before: whole pages go back to the system, soon.
void forgetStart(void* memory, std::size_t known, std::size_t end) noexcept;

/// Takes memory that is zero already. Of a fresh plane no byte is touched before it is used: a large one
/// costs nothing where nothing is written, and whoever writes first does so in his own cache.
template <class T>
struct ZeroedMemory
{
    static_assert(std::is_trivially_copyable_v<T>);
    using value_type = T;

    ZeroedMemory() = default;
    template <class U>
    explicit ZeroedMemory(const ZeroedMemory<U>&) noexcept
    {
    }
    T* allocate(std::size_t count) { return static_cast<T*>(allocateZeroed(count, sizeof(T))); }
    void deallocate(T* memory, std::size_t count) noexcept { freeZeroed(memory, count * sizeof(T)); }
    /// Of values that are all zero bits nothing needs to be written.
    template <class U>
    void construct(U*) noexcept
    {
    }
    template <class U, class... Args>
    void construct(U* at, Args&&... args)
    {
        ::new (static_cast<void*>(at)) U(std::forward<Args>(args)...);
    }
    friend bool operator==(const ZeroedMemory&, const ZeroedMemory&) noexcept { return true; }
};

/// A width x height array of T, row after row, without padding. Empty by default.
template <class T>
class Plane
{
public:
    Plane() = default;
    Plane(int width, int height)
        : m_width(width), m_height(height),
          m_data(static_cast<std::size_t>(width) * static_cast<std::size_t>(height))
    {
    }
    Plane(int width, int height, T value)
        : m_width(width), m_height(height),
          m_data(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), value)
    {
    }

    [[nodiscard]] int width() const noexcept { return m_width; }
    [[nodiscard]] int height() const noexcept { return m_height; }
    [[nodiscard]] bool empty() const noexcept { return m_data.empty(); }
    [[nodiscard]] std::size_t size() const noexcept { return m_data.size(); }

    [[nodiscard]] T* row(int y) noexcept { return m_data.data() + offset(y); }
    [[nodiscard]] const T* row(int y) const noexcept { return m_data.data() + offset(y); }
    [[nodiscard]] T& at(int x, int y) noexcept { return row(y)[x]; }
    [[nodiscard]] const T& at(int x, int y) const noexcept { return row(y)[x]; }
    [[nodiscard]] std::span<T> pixels() noexcept { return m_data; }
    [[nodiscard]] std::span<const T> pixels() const noexcept { return m_data; }
    /// Of a fresh plane: that only few of its pixels will be written.
    void expectFewWritten() noexcept requires std::is_arithmetic_v<T>
    {
        expectFewTouched(m_data.data(), m_data.size() * sizeof(T));
    }
    /// Rows up to before `end` will be looked at no more, as those before `known` already: their memory is
    /// given back before the plane's is.
    void forgetRows(int known, int end) noexcept requires std::is_arithmetic_v<T>
    {
        const std::size_t rowBytes = static_cast<std::size_t>(m_width) * sizeof(T);
        if (m_data.size() * sizeof(T) >= kLargeBytes)
            forgetStart(m_data.data(), static_cast<std::size_t>(known) * rowBytes,
                        static_cast<std::size_t>(end) * rowBytes);
    }
    [[nodiscard]] bool contains(int x, int y) const noexcept
    {
        return x >= 0 && y >= 0 && x < m_width && y < m_height;
    }

private:
    [[nodiscard]] std::size_t offset(int y) const noexcept
    {
        assert(y >= 0 && y < m_height);
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(m_width);
    }

    using Memory = std::conditional_t<std::is_arithmetic_v<T>, ZeroedMemory<T>, std::allocator<T>>;

    int m_width = 0;
    int m_height = 0;
    std::vector<T, Memory> m_data;
};

/// Colour: scene-linear, premultiplied by alpha. Channels are R, G, B, A.
class RgbaImage
{
public:
    static constexpr int channels = 4;

    RgbaImage() = default;
    RgbaImage(int width, int height)
    {
        for (auto& plane : m_planes)
            plane = Plane<float>(width, height); // copies would be touched
    }

    [[nodiscard]] int width() const noexcept { return m_planes[0].width(); }
    [[nodiscard]] int height() const noexcept { return m_planes[0].height(); }
    [[nodiscard]] bool empty() const noexcept { return m_planes[0].empty(); }
    [[nodiscard]] Plane<float>& plane(int channel) noexcept { return m_planes[index(channel)]; }
    [[nodiscard]] const Plane<float>& plane(int channel) const noexcept { return m_planes[index(channel)]; }

private:
    static std::size_t index(int channel) noexcept { return static_cast<std::size_t>(channel); }
    std::array<Plane<float>, channels> m_planes;
};

} // namespace retinex
