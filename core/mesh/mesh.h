// The mesh of a slab: quadrilaterals, with triangles where needed, that conform to the rim, the openings, the edges of
// patches of the slab and of the ground, the axes of ribs and walls and the footprints of columns, with a node at the
// centre of each column, or on a line that passes it within a twentieth of the size. Lengths in m. Deterministic: the
// same model gives the same mesh. No element is inverted or without area; where that cannot be had, build_mesh says
// why.
#pragma once
#include <array>
#include <string>
#include <vector>

#include "core/base/box_bins.h"
#include "core/base/geometry.h"
#include "core/base/progress.h"
#include "core/model/model.h"

namespace mossbed {

using Element = std::array<int, 4>;  // nodes anticlockwise, from 0; a triangle has −1 in the last place

inline int corners(const Element& e) { return e[3] < 0 ? 3 : 4; }

// What a line of the mesh belongs to; an index into the model's list of that kind.
struct LineOwner {
    enum class Kind : char { rim, opening, patch, ground_patch, footprint, rib, wall };
    Kind kind = Kind::rim;
    int index = 0;  // of a rim: 0 the outer one, 1 the hole of a ring
    bool operator==(const LineOwner&) const = default;
};
struct MeshLine {  // a side of an element on a line of the model; a side that belongs to several stands there for each
    int a = 0, b = 0;
    LineOwner owner;
};

// The corners of an element, anticlockwise.
class CellOutline {
  public:
    CellOutline(const std::vector<Point>& nodes, const Element& e) : size_(size_t(corners(e))) {
        for (size_t k = 0; k < size_; ++k) at_[k] = nodes[size_t(e[k])];
    }
    size_t size() const { return size_; }
    Point operator[](size_t k) const { return at_[k]; }
    const Point* data() const { return at_.data(); }
    const Point* begin() const { return data(); }
    const Point* end() const { return data() + size_; }
    operator Polygon() const { return {begin(), end()}; }

  private:
    std::array<Point, 4> at_;
    size_t size_;
};

struct Mesh {
    std::vector<Point> nodes;
    std::vector<Element> elements;
    std::vector<int> patch;         // per element: index into slab.patches, −1 for the slab itself
    std::vector<int> ground_patch;  // per element: index into ground.patches, −1 outside; where they act
    std::vector<int> footprint;     // per element: index of the column whose footprint it lies in, −1 for none
    std::vector<int> column_node;   // per column
    std::vector<MeshLine> lines;
    std::vector<std::vector<int>> rims;  // closed chains of nodes: outer rim first, then openings
    double size = 0;                     // target edge length, m

    CellOutline polygon(int element) const { return {nodes, elements[size_t(element)]}; }
    double area(int element) const;
};

struct MeshQuality {
    int nodes = 0, elements = 0;
    double quad_share = 0;      // of the elements
    double smallest_angle = 0;  // degrees, at any corner
    double worst_aspect = 0;    // longest over shortest side
    double worst_shape = 1;     // least shape_of, of worst_cell
    int worst_cell = -1;
    // Cells by shape_of: from the first of these bounds up, from the second up to the first, …, below the last. From
    // the last up a cell is sound; 1 is the best.
    static constexpr std::array<double, 3> shape_bounds{0.8, 0.5, 0.2};
    std::array<int, 4> by_shape{};
};
// Scaled Jacobian of a cell: the least sine between its sides, 1 for a rectangle; of a triangle over that of an
// equilateral one.
double shape_of(const Mesh& mesh, int element);
MeshQuality quality_of(const Mesh& mesh);

// Throws Trouble naming what collides, Stopped when asked to stop. `size` ≤ 0 takes the model's. Without `footprints` a
// column is a node only and the cells round it stay coarse: for quick first looks.
Mesh build_mesh(const Model& model, double size = 0, const Progress& progress = {}, bool footprints = true);

// For every point: the element it lies in and the weights of that element's nodes (bilinear or linear).
class Finder {
  public:
    explicit Finder(const Mesh& mesh);
    struct Hit {
        int element = -1;  // −1: off the mesh
        std::array<double, 4> weight{};
    };
    Hit at(Point p) const;
    Hit nearest(Point p) const;  // as at(), or the nearest node of a mesh that p lies just off
    template <class F>
    void over(const Box& box, F each) const {  // elements whose box may overlap
        boxes_.over(box, each);
    }

  private:
    const Mesh& mesh_;
    BoxBins boxes_;
};

// Weights of an element's nodes at p (inverse of the bilinear map by Newton's method; may fall outside 0…1).
std::array<double, 4> weights_at(const Mesh& mesh, int element, Point p);

}  // namespace mossbed
