// Dense rows, each as long as it likes, in sixteen bits a number, by the largest in it: good to 2·10⁻⁵ of that. Half
// the memory of single precision and, where a product with a column waits for the memory, half the time.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/base/wide.h"

namespace mossbed {

class ShortRows {
  public:
    // All nought. A product reads as many numbers as padded() says, of which those beyond `length` are nought too.
    explicit ShortRows(const std::vector<long>& lengths, Registers registers = widest_registers());
    static long padded(long length);
    // Row i as the sum of `count` rows in single precision that lie one after the other, each times its weight.
    void set_row(long i, const float* rows, const float* weights, long count);
    float operator()(long i, long j) const { return scale_[size_t(i)] * float(number_[size_t(start_[size_t(i)] + j)]); }
    // Row i times x, in single precision.
    double times(long i, const float* x) const;

  private:
    float (*dot_)(const std::int16_t*, const float*, long);
    void (*add_up_)(const float*, const float*, long, long, float*);
    std::vector<long> length_, start_;
    std::vector<std::int16_t> number_;
    std::vector<float> scale_;  // of a row
};

}  // namespace mossbed
