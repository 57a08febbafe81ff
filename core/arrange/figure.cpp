#include "core/arrange/figure.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/arrange/rims.h"

namespace mossbed {

namespace {

constexpr double no_length = 1e-6;  // m

std::string trimmed(const std::string& s) {
    const size_t from = s.find_first_not_of(" \t"), to = s.find_last_not_of(" \t");
    return from == std::string::npos ? "" : s.substr(from, to - from + 1);
}

size_t points_of(FigureKind kind) {
    switch (kind) {
        case FigureKind::point:
            return 1;
        case FigureKind::rectangle:
        case FigureKind::circle:
            return 2;
        case FigureKind::ring:
            return 3;
        default:
            return 0;
    }
}

}  // namespace

std::optional<TypedParts> parts_of_typed(const std::string& text) {
    std::string s = trimmed(text);
    TypedParts out{TypedPlace::length, {}};
    if (s.rfind("by ", 0) == 0) out.way = TypedPlace::by, s = trimmed(s.substr(3));
    auto split = [&](const std::string& at, TypedPlace::Way way) {
        const size_t k = s.find(at);
        if (k == std::string::npos) return false;
        out.way = way, out.numbers = {trimmed(s.substr(0, k)), trimmed(s.substr(k + at.size()))};
        return true;
    };
    if (out.way == TypedPlace::by) {
        if (!split(",", TypedPlace::by)) return {};
    } else if (!split(" at ", TypedPlace::polar) && !split(" x ", TypedPlace::size) && !split("×", TypedPlace::size) &&
               !split(",", TypedPlace::place)) {
        out.numbers = {s};
    }
    const bool between = out.way == TypedPlace::place || out.way == TypedPlace::by;  // the comma, not in a number
    for (const std::string& n : out.numbers)
        if (n.empty() || (between && n.find(',') != std::string::npos)) return {};
    return out;
}

std::string FigureDraft::add(Point p) {
    if (!points_.empty() && distance(points_.back(), p) < no_length) return "it would have no length";
    std::vector<Point> next = points_;
    next.push_back(p);
    switch (kind_) {
        case FigureKind::rectangle:
            if (next.size() == 2 && std::min(std::abs(p.x - next[0].x), std::abs(p.y - next[0].y)) < 0.01)
                return "a rectangle needs two sides";
            break;
        case FigureKind::circle:
        case FigureKind::ring:
            if (next.size() > 1 && distance(p, next[0]) < 0.01) return "a circle needs a radius";
            if (next.size() == 3 && std::abs(distance(next[0], next[1]) - distance(next[0], p)) < 0.01)
                return "the ring would have no width";
            break;
        case FigureKind::corners:
            for (size_t i = 0; i + 2 < points_.size(); ++i)
                if (const auto at = segment_crossing(points_[i], points_[i + 1], points_.back(), p);
                    at && distance(*at, p) > no_length)
                    return fmt::format("the side would cross side {}", i + 1);
            break;
        default:
            break;
    }
    points_ = std::move(next);
    return {};
}

void FigureDraft::take_back() {
    if (!points_.empty()) points_.pop_back();
}

std::optional<Point> FigureDraft::point_of(const TypedPlace& t, Point pointer, std::string* why) const {
    const bool round = kind_ == FigureKind::circle || kind_ == FigureKind::ring;
    const Point from = points_.empty() ? Point{} : round ? points_.front() : points_.back();
    const bool needs_a_point = t.way != TypedPlace::place;
    if (needs_a_point && points_.empty()) {
        *why = "set the first point by a click or as “x, y”";
        return {};
    }
    switch (t.way) {
        case TypedPlace::place:
            return Point{t.a, t.b};
        case TypedPlace::by:
            return from + Point{t.a, t.b};
        case TypedPlace::polar:
            return from + t.a * turned({1, 0}, t.b);
        case TypedPlace::size: {
            if (kind_ != FigureKind::rectangle) {
                *why = "two sizes are for a rectangle";
                return {};
            }
            const Point to{pointer.x < from.x ? -1.0 : 1.0, pointer.y < from.y ? -1.0 : 1.0};
            return from + Point{t.a * to.x, t.b * to.y};
        }
        case TypedPlace::length:
            if (kind_ == FigureKind::rectangle) {
                *why = "a rectangle needs two sizes: type “12 x 8”";
                return {};
            }
            if (distance(pointer, from) < no_length && !round) {
                *why = "move the pointer to the side it should go, or type an angle: “4.5 at 30”";
                return {};
            }
            return from + t.a * unit(pointer - from);
    }
    return {};
}

bool FigureDraft::is_complete() const { return !ends_by_hand() && points_.size() >= points_of(kind_); }

Figure FigureDraft::with(Point next) const {
    std::vector<Point> points = points_;
    if (points.size() < points_of(kind_) || ends_by_hand())
        if (points.empty() || distance(points.back(), next) >= no_length) points.push_back(next);
    return of(points);
}

Figure FigureDraft::of(const std::vector<Point>& p) const {
    Figure f;
    const size_t n = p.size();
    switch (kind_) {
        case FigureKind::point:
        case FigureKind::path:
            f.points = p;
            break;
        case FigureKind::corners:
            f.points = p, f.is_closed = n > 2;
            if (f.is_closed) f.points = anticlockwise(without_repeats(p, no_length));
            break;
        case FigureKind::rectangle:
            if (n == 2) f.points = anticlockwise({p[0], {p[1].x, p[0].y}, p[1], {p[0].x, p[1].y}}), f.is_closed = true;
            break;
        case FigureKind::circle:
            if (n == 2) {
                f.circle = Circle{p[0], distance(p[0], p[1])}, f.is_closed = true;
                f.points = Shape(*f.circle);
            }
            break;
        case FigureKind::ring:
            if (n == 2) f.points = Shape(Circle{p[0], distance(p[0], p[1])}), f.is_closed = true;
            if (n == 3) {
                const double a = distance(p[0], p[1]), b = distance(p[0], p[2]);
                f.ring = Ring{p[0], std::min(a, b), std::max(a, b)}, f.is_closed = true;
                f.points = Shape(Circle{p[0], std::max(a, b)});
            }
            break;
    }
    return f;
}

std::string FigureDraft::fault() const {
    if (kind_ == FigureKind::path) return points_.size() < 2 ? "it needs two points at least" : "";
    if (kind_ == FigureKind::corners) return fault_of_outline(without_repeats(points_, no_length));
    return is_complete() ? "" : "it is not finished";
}

const char* FigureDraft::next() const {
    const size_t n = points_.size();
    switch (kind_) {
        case FigureKind::point:
            return "place";
        case FigureKind::path:
            return n == 0 ? "beginning" : "next point";
        case FigureKind::corners:
            return n == 0 ? "first corner" : "next corner";
        case FigureKind::rectangle:
            return n == 0 ? "first corner" : "corner across";
        case FigureKind::circle:
            return n == 0 ? "middle" : "rim";
        case FigureKind::ring:
            return n == 0 ? "middle" : n == 1 ? "outer rim" : "inner rim";
    }
    return "";
}

}  // namespace mossbed
