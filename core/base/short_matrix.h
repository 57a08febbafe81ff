// A dense matrix in sixteen bits a number, each row by the largest in it: good to 2·10⁻⁵ of that. Half the memory of
// single precision and, where a product with a column or two waits for the memory, half the time.
#pragma once
#include <Eigen/Dense>
#include <cstdint>
#include <vector>

namespace mossbed {

class ShortMatrix {
  public:
    ShortMatrix(long rows, long cols);
    // Row i as the sum of `count` rows in single precision that lie one after the other, each times its weight.
    void set_row(long i, const float* rows, const float* weights, long count);
    float operator()(long i, long j) const { return scale_[size_t(i)] * float(number_[size_t(i * stride_ + j)]); }
    // out += a·x, in single precision, rows shared out over the cores.
    void add_product(const Eigen::Ref<const Eigen::VectorXd>& x, Eigen::Ref<Eigen::VectorXd> out) const;

  private:
    long cols_, stride_;
    std::vector<std::int16_t> number_;  // by rows, filled up with noughts
    std::vector<float> scale_;          // of a row
};

}  // namespace mossbed
