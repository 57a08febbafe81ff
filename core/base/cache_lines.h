// Memory for numbers that wide registers go through: it begins with a line of the cache, since a register that lies
// across two of them is fetched twice. Nothing in it is set.
#pragma once
#include <cstddef>
#include <memory>

namespace mossbed {

template <class Real>
class CacheLines {
  public:
    explicit CacheLines(long count)
        : lines_(std::make_unique_for_overwrite<Line[]>((size_t(count) * sizeof(Real) + sizeof(Line) - 1) /
                                                        sizeof(Line))) {}
    Real* data() { return reinterpret_cast<Real*>(lines_.get()); }

  private:
    struct alignas(64) Line {
        std::byte of[64];
    };
    std::unique_ptr<Line[]> lines_;
};

}  // namespace mossbed
