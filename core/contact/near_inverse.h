// An approximate inverse of the ground's flexibility among the patches that count: row by row the inverse of what is
// near by (Vavasis 1992). What is left after it is smooth, so that a dozen steps of a Krylov method do instead of
// forty.
#pragma once
#include <tbb/spin_mutex.h>

#include <Eigen/Dense>
#include <memory>
#include <vector>

#include "core/ground/layered_ground.h"

namespace mossbed {

// For each patch those near by, itself last, and the flexibility among them: gathered once, since it lies far apart.
// The mean of what two do to each other: strata and secants differ from place to place, and half of the flexibility
// taken for the whole of a symmetric one is no inverse of it (half as many rounds more where strain is by index).
class Neighbours {
  public:
    static constexpr double reach = 2.3, next = 1.5;  // of the larger patch's size, between centres
    Neighbours(const ContactPatches& patches, const Flexibility& flexibility);
    int count() const { return int(start_.size()) - 1; }
    int first(int i) const { return start_[size_t(i)]; }  // of those near i among those near any
    int size(int i) const { return first(i + 1) - first(i); }
    const int* of(int i) const { return patch_.data() + first(i); }
    // Between the near by of patch i, by rows up to the diagonal, m/kN.
    const float* among(int i) const { return among_.data() + block_[size_t(i)]; }
    bool is_next(int i, int k) const { return next_[size_t(first(i) + k)] != 0; }  // the k-th of those near i

  private:
    std::vector<int> start_{0}, patch_;
    std::vector<char> next_;
    std::vector<long> block_{0};  // where a patch's part of `among_` begins
    std::vector<float> among_;
};

// Rows of inverses, each made once: combinations that lift or yield at the same places ask for the same. May be asked
// from several threads at once.
class NearRows {
  public:
    explicit NearRows(std::shared_ptr<const Neighbours> of);
    const Neighbours& neighbours() const { return *of_; }
    // A patch's row of the inverse among those near by, kN/m, where all of them count; in the order of Neighbours::of.
    // Where what is near by is not positive definite, a row has the inverse of the patch's own flexibility alone.
    const float* whole(int i) const { return whole_.data() + of_->first(i); }
    // For each of `patches`, which all count: its row among those near by that count, noughts for the rest. What is
    // pointed to stays.
    std::vector<const float*> rows(const std::vector<int>& patches, const std::vector<char>& counts);

  private:
    struct Row {
        std::vector<char> counts;  // of those near by
        std::vector<float> value;
    };
    struct Wanted {
        int patch, size;  // how many of those near by count
        float* to;        // noughts
    };
    const float* find(int i, const std::vector<char>& counts) const;
    void make(std::vector<Wanted> wanted, const std::vector<char>& counts) const;
    // At most eight, the largest last.
    void make_eight(const Wanted* some, size_t many, const std::vector<char>& counts) const;

    std::shared_ptr<const Neighbours> of_;
    std::vector<float> whole_;
    std::vector<std::vector<Row>> made_;  // per patch; their values stay where they are
    std::vector<tbb::spin_mutex> busy_;
};

class NearInverse {
  public:
    explicit NearInverse(std::shared_ptr<NearRows> rows);  // all count
    void restrict_to(const std::vector<char>& counts);
    Eigen::VectorXd times(const Eigen::VectorXd& w) const;
    const Neighbours& neighbours() const { return rows_->neighbours(); }

  private:
    std::shared_ptr<NearRows> rows_;
    std::vector<const float*> row_;  // of the patches that count
    std::vector<char> counts_;
};

}  // namespace mossbed
