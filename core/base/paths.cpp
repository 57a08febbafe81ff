#include "core/base/paths.h"

namespace mossbed {

double length_of(const std::vector<Point>& path) {
    double l = 0;
    for (size_t k = 0; k + 1 < path.size(); ++k) l += distance(path[k], path[k + 1]);
    return l;
}

size_t longest_piece(const std::vector<Point>& path) {
    size_t longest = 0;
    for (size_t k = 0; k + 1 < path.size(); ++k)
        if (distance(path[k], path[k + 1]) > distance(path[longest], path[longest + 1]) + 1e-9) longest = k;
    return longest;
}

}  // namespace mossbed
