#include "core/mesh/refine_slivers.h"

#include <algorithm>
#include <map>
#include <set>

namespace mossbed {
namespace {

constexpr int most_rounds = 20;
constexpr double finest = 1.0 / 40;  // of the size

double shape_of(const std::array<Point, 3>& p) {
    double least = 1e300;
    for (size_t k = 0; k < 3; ++k) {
        const Point u = p[(k + 1) % 3] - p[k], v = p[(k + 2) % 3] - p[k];
        least = std::min(least, cross(u, v) / std::max(length(u) * length(v), 1e-300));
    }
    return least * 2 / std::sqrt(3.0);
}

Point circumcentre(const std::array<Point, 3>& p) {
    const Point u = p[1] - p[0], v = p[2] - p[0];
    const double d = 2 * cross(u, v), uu = dot(u, u), vv = dot(v, v);
    return p[0] + Point{(v.y * uu - u.y * vv) / d, (u.x * vv - v.x * uu) / d};
}

class Refiner {
  public:
    Refiner(Seeds& seeds, const std::function<bool(Point)>& keep, double size, double shape)
        : s_(seeds), keep_(keep), size_(size), shape_(shape) {}

    Triangulation run(const Progress& progress) {
        for (int round = 0;; ++round) {
            progress.end_if_stopped();
            Triangulation t = triangulate(s_.points, s_.edges, keep_, progress);
            if (!t.added.empty() || round == most_rounds || !mend(t)) return t;
        }
    }

  private:
    // One round; false when there is nothing (more) to do.
    bool mend(const Triangulation& t) {
        auto corners_of = [&](const std::array<int, 3>& corner) {
            return std::array{s_.points[size_t(corner[0])], s_.points[size_t(corner[1])], s_.points[size_t(corner[2])]};
        };
        std::vector<std::array<int, 3>> slivers;
        std::copy_if(t.triangles.begin(), t.triangles.end(), std::back_inserter(slivers),
                     [&](const auto& corner) { return shape_of(corners_of(corner)) < shape_; });
        if (slivers.empty()) return false;
        sides_.clear();
        for (size_t e = 0; e < s_.edges.size(); ++e) sides_[std::minmax(s_.edges[e].a, s_.edges[e].b)] = int(e);
        std::vector<Box> boxes;
        for (const FeatureEdge& e : s_.edges) {
            const Point a = s_.points[size_t(e.a)], b = s_.points[size_t(e.b)], m = 0.5 * (a + b);
            boxes.push_back(Box{m, m}.grown(distance(a, b) / 2));
        }
        const BoxBins circles(boxes);
        std::vector<Point> centres;
        std::set<int> to_split;
        for (const auto& corner : slivers) {
            const std::array<Point, 3> p = corners_of(corner);
            if (is_between_lines(corner, p)) continue;
            if (const int e = side_with_a_corner_close(corner, p); e >= 0) {
                to_split.insert(e);
                continue;
            }
            const Point c = circumcentre(p);
            if (distance(c, p[0]) < finest * size_) continue;
            std::vector<int> close;
            circles.over({c, c}, [&](int e) {
                const Point a = s_.points[size_t(s_.edges[size_t(e)].a)], b = s_.points[size_t(s_.edges[size_t(e)].b)];
                if (dot(a - c, b - c) < 0 && is_long(a, b)) close.push_back(e);
            });
            if (!close.empty())
                to_split.insert(close.begin(), close.end());
            else if (keep_(c) && std::none_of(centres.begin(), centres.end(),
                                              [&](Point q) { return distance(q, c) < 0.7 * distance(c, p[0]); }))
                centres.push_back(c);
        }
        for (int e : to_split) split(size_t(e));
        for (Point c : centres) add(c, false);
        return !to_split.empty() || !centres.empty();
    }

    bool is_long(Point a, Point b) const { return distance(a, b) > 2 * finest * size_; }
    // A feature edge of it in whose circle its other corner lies; −1 where there is none that may be split.
    int side_with_a_corner_close(const std::array<int, 3>& corner, const std::array<Point, 3>& p) const {
        for (size_t k = 0; k < 3; ++k) {
            const Point a = p[(k + 1) % 3], b = p[(k + 2) % 3];
            const auto it = sides_.find(std::minmax(corner[(k + 1) % 3], corner[(k + 2) % 3]));
            if (it != sides_.end() && dot(a - p[k], b - p[k]) < 0 && is_long(a, b)) return it->second;
        }
        return -1;
    }

    // Its smallest angle lies between two feature edges.
    bool is_between_lines(const std::array<int, 3>& corner, const std::array<Point, 3>& p) const {
        size_t smallest = 0;
        double shortest = 1e300;
        for (size_t k = 0; k < 3; ++k)
            if (const double l = distance(p[(k + 1) % 3], p[(k + 2) % 3]); l < shortest) shortest = l, smallest = k;
        auto is_feature = [&](size_t i, size_t j) { return sides_.count(std::minmax(corner[i], corner[j])) > 0; };
        return is_feature(smallest, (smallest + 1) % 3) && is_feature(smallest, (smallest + 2) % 3);
    }

    int add(Point p, bool fixed) {
        s_.points.push_back(p), s_.fixed.push_back(fixed);
        return int(s_.points.size()) - 1;
    }
    void split(size_t e) {
        const FeatureEdge whole = s_.edges[e];
        const int m = add(0.5 * (s_.points[size_t(whole.a)] + s_.points[size_t(whole.b)]), true);
        s_.edges[e].b = m;
        s_.edges.push_back({m, whole.b, whole.owners});
    }

    Seeds& s_;
    const std::function<bool(Point)>& keep_;
    double size_, shape_;
    std::map<std::pair<int, int>, int> sides_;  // feature edges by their ends
};

}  // namespace

Triangulation refine_slivers(Seeds& seeds, const std::function<bool(Point)>& keep, double size, double shape,
                             const Progress& progress) {
    return Refiner(seeds, keep, size, shape).run(progress);
}

}  // namespace mossbed
