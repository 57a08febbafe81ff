// A stop request and a progress report for long work. Both may be left empty.
#pragma once
#include <atomic>
#include <functional>

namespace mossbed {

struct Stopped {};  // thrown when a stop was asked for

struct Progress {
    const std::atomic<bool>* stop = nullptr;                   // set by another thread to end the work early
    std::function<void(double share, const char* step)> tell;  // share of the work done, 0 to 1

    bool stopped() const { return stop && stop->load(std::memory_order_relaxed); }
    void end_if_stopped() const {  // to be asked every tenth of a second or so
        if (stopped()) throw Stopped{};
    }
    void report(double share, const char* step) const {
        if (tell) tell(share, step);
    }
};

}  // namespace mossbed
