// Linear algebra libraries hold themselves to one thread: our own tasks are spread over the cores, and threads below
// threads cost more than they gain on our sizes.
#pragma once

namespace mossbed {

// For the calling thread; to be called by each before it enters CHOLMOD or BLAS. Cheap after the first time.
void hold_algebra_to_one_thread();

}  // namespace mossbed
