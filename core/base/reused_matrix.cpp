#include "core/base/reused_matrix.h"

#include <tbb/spin_mutex.h>

#include <utility>
#include <vector>

namespace mossbed {
namespace {

struct Kept {
    tbb::spin_mutex busy;
    std::vector<Eigen::VectorXf> memory;  // the last to come last
    size_t bytes = 0;
};
Kept& what_is_kept() {
    static Kept* const kept = new Kept;  // for good: matrices may end after all else
    return *kept;
}
size_t bytes_of(const Eigen::VectorXf& memory) { return sizeof(float) * size_t(memory.size()); }

}  // namespace

void ReusedMatrix::exchange(ReusedMatrix& other) noexcept {
    const long r = rows(), c = cols(), other_r = other.rows(), other_c = other.cols();
    memory_.swap(other.memory_);
    show(other_r, other_c), other.show(r, c);
}

void ReusedMatrix::give_up() noexcept {
    Eigen::VectorXf memory;
    memory.swap(memory_);
    show(0, 0);
    const size_t bytes = bytes_of(memory);
    if (bytes == 0 || bytes > most_kept) return;
    std::vector<Eigen::VectorXf> gone;  // ended once others may go on
    Kept& kept = what_is_kept();
    const tbb::spin_mutex::scoped_lock lock(kept.busy);
    while (kept.bytes + bytes > most_kept) {
        kept.bytes -= bytes_of(kept.memory.front());
        gone.push_back(std::move(kept.memory.front()));
        kept.memory.erase(kept.memory.begin());
    }
    kept.bytes += bytes;
    kept.memory.push_back(std::move(memory));
}

void ReusedMatrix::make(long rows, long columns) {
    const long size = rows * columns;
    if (size > memory_.size() || 2 * size < memory_.size()) {
        give_up();
        Kept& kept = what_is_kept();
        tbb::spin_mutex::scoped_lock lock(kept.busy);
        auto best = kept.memory.end();  // the least that will do, if it is no more than twice as much
        for (auto it = kept.memory.begin(); it != kept.memory.end(); ++it)
            if (it->size() >= size && it->size() <= 2 * size &&
                (best == kept.memory.end() || it->size() < best->size()))
                best = it;
        if (best != kept.memory.end()) {
            memory_.swap(*best);
            kept.bytes -= bytes_of(memory_);
            kept.memory.erase(best);
        } else {
            lock.release();
            memory_.resize(size + size / 16);  // for one that is a little larger next time; no page of it is touched
        }
    }
    show(rows, columns);
}

size_t ReusedMatrix::kept() {
    Kept& kept = what_is_kept();
    const tbb::spin_mutex::scoped_lock lock(kept.busy);
    return kept.bytes;
}

}  // namespace mossbed
