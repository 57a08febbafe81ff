// A figure while it is being drawn: points set one after the other by a hand that points or types, and what they come
// to. Knows no thing that will be made of it and no screen. Lengths in m.
#pragma once
#include <string>

#include "core/model/model.h"

namespace mossbed {

enum class FigureKind : char {
    point,
    path,       // open, of straight pieces
    corners,    // of a closed ring
    rectangle,  // two corners, along x and y
    circle,     // middle, then a point of the rim
    ring        // middle, then a point of the outer and one of the inner rim
};

struct Figure {
    std::vector<Point> points;  // of a point, a path or a ring; of circle and ring their rims as chords
    std::optional<Circle> circle;
    std::optional<Ring> ring;
    bool is_closed = false;
    bool none() const { return points.empty(); }
};

// What was typed: one of the ways to say where the next point is.
struct TypedPlace {
    enum Way : char {
        place,   // "3, 2": coordinates
        by,      // "by 3, 2": from the last point
        length,  // "4.5": towards the pointer
        polar,   // "4.5 at 30": length and angle, degrees anticlockwise from +x
        size     // "12 x 8": the sides of a rectangle, towards the pointer
    };
    Way way = place;
    double a = 0, b = 0;
};
// The parts of such a text, numbers still to be read: {"4.5", "30"} of "4.5 at 30". Nothing where it is none.
struct TypedParts {
    TypedPlace::Way way;
    std::vector<std::string> numbers;  // one or two
};
std::optional<TypedParts> parts_of_typed(const std::string& text);

class FigureDraft {
  public:
    explicit FigureDraft(FigureKind kind) : kind_(kind) {}
    FigureKind kind() const { return kind_; }
    const std::vector<Point>& points() const { return points_; }
    bool begun() const { return !points_.empty(); }

    // The next point. Why it is not taken, empty when it is.
    std::string add(Point p);
    void take_back();
    void clear() { points_.clear(); }
    // Where the typed words put the next point; nothing, and why, where they do not say.
    std::optional<Point> point_of(const TypedPlace& typed, Point pointer, std::string* why) const;

    // All points are there: of a point, rectangle, circle, ring. Paths and corners end when the hand says so.
    bool is_complete() const;
    bool ends_by_hand() const { return kind_ == FigureKind::path || kind_ == FigureKind::corners; }
    // As it is, or as it would be with one more point; none while that is nothing yet.
    Figure figure() const { return of(points_); }
    Figure with(Point next) const;
    // Why it cannot end as it is, empty when it can.
    std::string fault() const;
    // What the next point is called: "first corner", "middle", "outer rim".
    const char* next() const;

  private:
    Figure of(const std::vector<Point>& points) const;
    FigureKind kind_;
    std::vector<Point> points_;
};

}  // namespace mossbed
