// Takes things apart on a thread of its own. What an answer of thousands of columns leaves behind takes some tenths of
// a second, and the last to hold it is mostly the window.
#pragma once
#include <condition_variable>
#include <memory>
#include <mutex>
#include <thread>
#include <vector>

namespace mossbed {

class Dismantling {
  public:
    Dismantling() : thread_([s = state_] { s->work(); }) {}
    // Waits for what was handed in. Things let go of later end where they are let go of.
    ~Dismantling() {
        {
            const std::lock_guard lock(state_->mutex);
            state_->quit = true;
        }
        state_->wake.notify_one();
        thread_.join();
    }
    Dismantling(const Dismantling&) = delete;

    // The same thing: who lets go of it last does not wait for its end.
    template <class T>
    std::shared_ptr<T> watch_over(std::shared_ptr<T> thing) {
        T* const at = thing.get();
        return {at, [s = state_, thing = std::move(thing)](T*) mutable { s->take(std::move(thing)); }};
    }

  private:
    struct State {
        std::mutex mutex;
        std::condition_variable wake;
        std::vector<std::shared_ptr<const void>> waiting;
        bool quit = false;

        void take(std::shared_ptr<const void> thing) {
            const std::lock_guard lock(mutex);
            if (quit) return;  // it ends with this call
            waiting.push_back(std::move(thing));
            wake.notify_one();
        }
        void work() {
            for (std::unique_lock lock(mutex);;) {
                wake.wait(lock, [this] { return quit || !waiting.empty(); });
                if (waiting.empty()) return;
                auto gone = std::move(waiting);
                waiting.clear();
                lock.unlock();
                gone.clear();
                lock.lock();
            }
        }
    };
    std::shared_ptr<State> state_ = std::make_shared<State>();
    std::thread thread_;
};

}  // namespace mossbed
