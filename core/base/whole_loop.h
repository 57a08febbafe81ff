// A loop over all cores that runs to its end even where the work that calls it is being stopped. An ordinary one called
// from a task whose group is cancelled returns at once with nothing done and throws nothing, so that what it should
// have made is taken for made. For short work only: nobody can stop it.
#pragma once
#include <tbb/parallel_for.h>

namespace mossbed {

template <class Body>
void for_each_whole(long from, long to, const Body& body) {
    tbb::task_group_context alone(tbb::task_group_context::isolated);
    tbb::parallel_for(from, to, body, tbb::auto_partitioner(), alone);
}

}  // namespace mossbed
