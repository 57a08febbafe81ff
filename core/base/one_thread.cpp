#include "core/base/one_thread.h"

#include <omp.h>

#include <mutex>

extern "C" void openblas_set_num_threads(int);

namespace mossbed {

void hold_algebra_to_one_thread() {
    static std::once_flag once;
    std::call_once(once, [] { openblas_set_num_threads(1); });
    // OpenMP keeps this number by thread: set in one, the others would still fork.
    thread_local const bool held = [] {
        omp_set_max_active_levels(0);
        return true;
    }();
    (void)held;
}

}  // namespace mossbed
