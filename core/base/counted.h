// How far a loop over many things is, told from any of its threads in some fifty steps that never go back.
#pragma once
#include <atomic>
#include <mutex>

#include "core/base/progress.h"

namespace mossbed {

class Counted {
  public:
    // `from`, `to`: shares of the whole work between which this loop lies.
    Counted(const Progress& progress, double from, double to, size_t total, const char* step)
        : progress_(progress), from_(from), to_(to), total_(total), step_(step) {}
    void one_more() {
        const size_t done = ++done_;
        if (done % (total_ / 50 + 1) != 0) return;
        const std::lock_guard<std::mutex> alone(telling_);
        if (done < told_) return;
        told_ = done;
        progress_.report(from_ + (to_ - from_) * double(done) / double(total_), step_);
    }

  private:
    const Progress& progress_;
    double from_, to_;
    size_t total_, told_ = 0;
    const char* step_;
    std::atomic<size_t> done_{0};
    std::mutex telling_;
};

}  // namespace mossbed
