// A matrix in memory that others have left. What is fresh from the system costs a fault for each page of it, which for
// matrices that every answer makes anew is two fifths of all its faults.
#pragma once
#include "core/base/dense.h"

namespace mossbed {

class ReusedMatrix : public Eigen::Map<RowMatrix> {
  public:
    ReusedMatrix() : Map(nullptr, 0, 0) {}
    ReusedMatrix(ReusedMatrix&& other) noexcept : ReusedMatrix() { exchange(other); }
    ReusedMatrix& operator=(ReusedMatrix&& other) noexcept { return exchange(other), *this; }
    ~ReusedMatrix() { give_up(); }       // its memory is kept, as long as all that is kept is within `most_kept` bytes
    void make(long rows, long columns);  // its numbers unset; what it had is gone

    static constexpr size_t most_kept = 64 << 20;
    static size_t kept();  // bytes

  private:
    void exchange(ReusedMatrix& other) noexcept;
    void give_up() noexcept;
    void show(long rows, long columns) { new (static_cast<Map*>(this)) Map(memory_.data(), rows, columns); }
    Eigen::VectorXf memory_;  // as long as the matrix, or longer
};

}  // namespace mossbed
