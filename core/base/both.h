// Two pieces of work at once, each on a core of its own and each to its end, whatever becomes of the other or of the
// work that calls them: what one throws leaves nothing of the other half done. Throws what the first threw, else what
// the second did.
#pragma once
#include <tbb/parallel_invoke.h>

#include <exception>

namespace mossbed {

template <class First, class Second>
void both(const First& first, const Second& second) {
    std::exception_ptr thrown[2];
    auto whole = [&](const auto& work, int k) {
        return [&, k] {
            try {
                work();
            } catch (...) {
                thrown[k] = std::current_exception();
            }
        };
    };
    tbb::task_group_context alone(tbb::task_group_context::isolated);
    tbb::parallel_invoke(whole(first, 0), whole(second, 1), alone);
    for (const std::exception_ptr& e : thrown)
        if (e) std::rethrow_exception(e);
}

}  // namespace mossbed
