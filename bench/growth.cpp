#include "bench/growth.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace mossbed {
namespace {

Polygon square(Point middle, double side, double degrees) { return rectangle(middle, side, side, degrees); }

struct Grid {  // n places on a slab of x by y m
    int nx, ny;
    double x, y;
    Grid(int n, double width, double depth)
        : nx(int(std::ceil(std::sqrt(n * width / depth)))), ny((n + nx - 1) / nx), x(width), y(depth) {}
    Point at(int i) const { return {x * (i % nx + 0.5) / nx, y * (double(i / nx) + 0.5) / ny}; }
};

void add_columns(Model& m, int n, double x, double y, double N) {
    const Grid grid(n, x, y);
    for (int i = 0; i < n; ++i) {
        Column c;
        c.id = fmt::format("C{}", i + 1), c.at = grid.at(i), c.size = {0.3, 0.3};
        m.columns.push_back(c);
        m.loads.cases[0].items.push_back({ColumnLoad{c.id, N, 0, 0, 0, 0}, {}});
    }
}

Combination combination(int i, Purpose purpose, double factor) {
    Combination c;
    c.id = fmt::format("K{}", i + 1), c.purpose = purpose, c.factors = {{"G", factor}};
    return c;
}

}  // namespace

Model with_many(Many what, int n, const Model& on) {
    Model m;
    m.ground = on.ground, m.concretes = on.concretes, m.steels = on.steels;
    m.slab.concrete = on.slab.concrete, m.slab.top_level = on.slab.top_level;
    m.slab.thickness = 0.7;
    LoadCase g;
    g.id = "G";
    m.loads.cases = {g};
    m.loads.combinations =
        std::vector<Combination>{combination(0, Purpose::service, 1), combination(1, Purpose::strength, 1.35)};
    double x = 30, y = 20;
    if (what == Many::columns) x = 1.5 * std::sqrt(n * 1.5), y = x / 1.5, m.mesh_size = 1;
    if (what == Many::openings || what == Many::patches) x = 60, y = 40;
    m.slab.outline = Polygon{{0, 0}, {x, 0}, {x, y}, {0, y}};
    if (what == Many::columns)
        add_columns(m, n, x, y, 60);
    else
        add_columns(m, 24, x, y, x < 40 ? 700 : 2000);
    if (what == Many::corners) {
        Polygon p;
        for (int i = 0; i < n; ++i) {
            const double t = 2 * std::numbers::pi * i / n, r = 17.5 * (1 + 0.01 * std::cos(20 * t));
            p.push_back({15 + r * std::cos(t), 10 + r * std::sin(t)});
        }
        m.slab.outline = p;
    }
    const Grid grid(n, x, y);
    for (int i = 0; i < n; ++i) {
        const std::string id = fmt::format("X{}", i + 1);
        // beside the columns, none of which stands nearer than a metre to the middle between two of them
        const Point at = grid.at(i);
        bool clear = true;
        for (const Column& c : m.columns) clear = clear && distance(c.at, at) > 1.2;
        if (what == Many::openings && clear) m.slab.openings.push_back({id, square(at, 0.8, 0), {}});
        if (what == Many::patches) {
            SlabPatch t;
            t.id = id, t.outline = square(at, 1.1, 7.0 * i), t.thickness = 0.9, t.flush = Flush::middle;
            m.slab.patches.push_back(t);
        }
        if (what == Many::items) {
            const Point q = at + Point{0.4, 0.2};
            LoadItem item{PointLoad{at, 5, 0, 0}, {}};
            if (i % 3 == 1) item.load = LineLoad{{at, q}, {3, 5}};
            if (i % 3 == 2) item.load = AreaLoad{{at, {q.x, at.y}, q, {at.x, q.y}}, 2};
            m.loads.cases[0].items.push_back(item);
        }
    }
    if (what == Many::combinations) {
        m.loads.combinations->clear();
        for (int i = 0; i < n; ++i)
            m.loads.combinations->push_back(
                combination(i, i % 2 ? Purpose::service : Purpose::strength, 0.8 + 0.5 * (i * 37 % n) / n));
    }
    return m;
}

}  // namespace mossbed
