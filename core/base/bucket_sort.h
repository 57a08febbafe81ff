// Sorts what has a small whole number for its foremost key, as nodes and cells do: by counting, then each bucket by <.
#pragma once
#include <algorithm>
#include <vector>

namespace mossbed {

// `bucket`(t) lies between 0 and `buckets` − 1, and orders as < does. Gives where each bucket begins, and the end.
template <class T, class Bucket>
std::vector<size_t> sort_in_buckets(std::vector<T>& all, size_t buckets, Bucket bucket) {
    std::vector<size_t> start(buckets + 1, 0);
    for (const T& t : all) ++start[size_t(bucket(t)) + 1];
    for (size_t i = 1; i < start.size(); ++i) start[i] += start[i - 1];
    std::vector<size_t> next(start.begin(), start.end() - 1);
    std::vector<T> sorted(all.size());
    for (const T& t : all) sorted[next[size_t(bucket(t))]++] = t;
    for (size_t b = 0; b < buckets; ++b)
        std::sort(sorted.begin() + long(start[b]), sorted.begin() + long(start[b + 1]));
    all = std::move(sorted);
    return start;
}

}  // namespace mossbed
